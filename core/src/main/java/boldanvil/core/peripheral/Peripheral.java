package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Everything a kind of peripheral is: where a board has it, what its settings need, the figures that follow, how it turns signals into
 * counts, the registers of a stand-in that hold these counts, and the C of the program's side. A new kind is a class of its own and a line
 * in {@link Peripherals}; a jar of its own names it in {@code META-INF/services}.
 */
public abstract class Peripheral {
    /** How terminals share the unit a channel is part of. */
    public enum Sharing {
        /** Each channel has one terminal; others may use the other channels of the unit. */
        CHANNELS,
        /** A terminal takes the whole timer. */
        WHOLE_TIMER,
        /** Several terminals take turns on one line. */
        BUS
    }

    private final TerminalKind kind;

    protected Peripheral(TerminalKind kind) {
        this.kind = kind;
    }

    public final TerminalKind kind() {
        return kind;
    }

    // ---- where it is

    /** Whether it has pins; the others stay within the device and need no place on the patch sheet. */
    public boolean hasPins() {
        return true;
    }

    /** Every channel of a board that can serve such a terminal. */
    public abstract List<Channel> channels(Board board);

    public Sharing sharing() {
        return Sharing.CHANNELS;
    }

    /** Whether it is an output of a PWM timer, so that its frequency and alignment are those of the timer. */
    public boolean isPwm() {
        return false;
    }

    /**
     * How well a channel suits; the smallest is tried first.
     *
     * @param pin the first pin there
     * @param neighbours placed terminals on the same unit
     */
    public int rank(Board board, String pin, int neighbours) {
        return 0;
    }

    /** What one of a terminal's pins is, behind the terminal's name; empty where it has one pin. */
    public String pinRole(int pin) {
        return "";
    }

    /** Electrical level at the pins, for whoever wires them. */
    public String level(BoardSetup setup, Terminal t) {
        return "0 / " + Fact.sig(setup.board().digital().highVolts()) + " V" + (t.texts().containsKey("active")
                ? ", active " + t.texts().get("active") : "")
                + (t.texts().containsKey("pull") && !t.has("pull", "none") ? ", pull " + t.texts().get("pull") : "");
    }

    // ---- what its settings mean

    /** Reports what a terminal's settings need and its board cannot do. */
    public void check(PatchReport report, Terminal t) { }

    /** The figures that follow from a terminal's place and settings. */
    public List<Fact> figures(BoardSetup setup, Terminal t) {
        return List.of();
    }

    /** Seconds from the beginning of a step until the value of an input can be read. */
    public double readySeconds(BoardSetup setup, Terminal t) {
        return 0;
    }

    /**
     * When an output takes effect, in seconds from the beginning of the step.
     *
     * @param written when the program writes it, in seconds from there
     */
    public double effectSeconds(BoardSetup setup, Terminal t, double written) {
        return written;
    }

    // ---- how it works

    /**
     * The peripheral at work; null for one without pins, or whose setting is out of reach.
     *
     * @param single whether the program computes in float32
     */
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return null;
    }

    /** The registers of the stand-in that hold the counts of {@link #model}, in its order. */
    public int[] registers(BoardSetup setup, Terminal t) {
        throw new IllegalStateException(t.path());
    }

    /** Bits the registers have in hardware; higher ones of a count are not there. */
    public long mask(BoardSetup setup, Terminal t) {
        return 0xFFFF_FFFFL;
    }

    /** Values of other registers at power-up, such as the addresses of devices on a bus. */
    public Map<Integer, Long> presets(BoardSetup setup, Terminal t) {
        return Map.of();
    }

    /** The register that shows whether the outputs rest in their safe state, and at which level plus one; -1 for none. */
    public int restRegister(BoardSetup setup, Terminal t) {
        return -1;
    }

    // ---- the program's side in C

    /** Headers of C that its functions need. */
    public Set<String> includes() {
        return Set.of();
    }

    /** Declares what is kept from step to step. */
    public void members(BoardCode c, Terminal t) { }

    /** Asks for the C functions it calls. */
    public void helpers(BoardCode c, Terminal t) { }

    /** Sets the hardware up. */
    public void setUp(BoardCode c, Terminal t) { }

    /** Registers to signals, before the step; for inputs. */
    public void read(BoardCode c, Terminal t) {
        throw new IllegalStateException(t.path());
    }

    /** Signals to registers, after the step; for outputs. */
    public void write(BoardCode c, Terminal t) {
        throw new IllegalStateException(t.path());
    }

    /** Puts the outputs into their safe state. */
    public void safe(BoardCode c, Terminal t) { }
}
