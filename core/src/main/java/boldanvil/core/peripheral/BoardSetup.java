package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.board.ClockSetting;
import boldanvil.core.board.ClockTree;
import boldanvil.core.diagram.Patch;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.program.Program;
import boldanvil.core.program.Terminal;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A board set up for one part: its clocks, and for each terminal the peripheral that serves it and how that is set. A terminal
 * that has no place yet is given the first channel that could serve it, so that its numbers can be shown.
 */
public final class BoardSetup {
    private final Board board;
    private final Patch patch;
    private final Program program;
    private final ClockSetting clock;
    private final List<Finding> findings = new ArrayList<>();

    public BoardSetup(Board board, Patch patch, Program program) {
        this.board = board;
        this.patch = patch;
        this.program = program;
        Map<String, Double> asked = new HashMap<>();
        patch.clock().forEach((domain, text) -> {
            Place place = new Place.Patch(program.name(), "", "clock");
            if (domain.equals(Patch.SOURCE)) {
                if (board.clock().source(text).isEmpty()) {
                    findings.add(Finding.error(place, board.title() + " has no clock source '" + text + "'.", "Sources are: "
                            + String.join(", ", board.clock().sources().stream().map(ClockTree.Source::name).toList()) + "."));
                }
            } else if (board.clock().domain(domain).isEmpty()) {
                findings.add(Finding.warning(place, board.title() + " has no clock '" + domain + "'.", "Clocks are: "
                        + String.join(", ", board.clock().domains().stream().map(ClockTree.Domain::name).toList()) + "."));
            } else {
                hertz(place, domain, text).ifPresent(h -> asked.put(domain, h));
            }
        });
        String source = patch.clock().getOrDefault(Patch.SOURCE, "");
        clock = ClockSetting.solve(board.clock(), board.clock().source(source).isPresent() ? source : "", asked);
        clock.domains().forEach((name, d) -> {
            if (asked.containsKey(name) && Math.abs(d.ppm()) > 1_000) {
                findings.add(Finding.warning(new Place.Patch(program.name(), "", "clock"),
                        "The clock '" + name + "' reaches " + Fact.sig(d.hertz() / 1e6)
                        + " MHz instead of " + Fact.sig(d.asked() / 1e6) + " MHz.", "Ask for a frequency its dividers can make."));
            }
        });
    }

    private Optional<Double> hertz(Place place, String domain, String text) {
        try {
            double v = Formula.evaluate(text, Map.of(), "Hz");
            if (v > 0 && v <= board.clock().domain(domain).orElseThrow().maxHertz()) {
                return Optional.of(v);
            }
            findings.add(Finding.error(place, "The clock '" + domain + "' cannot run at " + text + ".", "It goes up to "
                    + Fact.sig(board.clock().domain(domain).orElseThrow().maxHertz() / 1e6) + " MHz."));
        } catch (FormulaException e) {
            findings.add(Finding.error(place, "'" + text + "' is not a frequency: " + e.getMessage(), "Write it like 84 MHz."));
        }
        return Optional.empty();
    }

    public Board board() {
        return board;
    }

    public Patch patch() {
        return patch;
    }

    public Program program() {
        return program;
    }

    public ClockSetting clock() {
        return clock;
    }

    /** The processor's frequency in hertz. */
    public double coreHertz() {
        return clock.hertz(board.clock().domains().getFirst().name());
    }

    /** What is wrong with the clocks that were asked for. */
    public List<Finding> findings() {
        return List.copyOf(findings);
    }

    /** The channel of a terminal: the one of the patch, else the first that could serve it. */
    public Optional<Channel> channel(Terminal t) {
        var row = patch.row(t.name());
        var all = Peripherals.channels(board, t.kind());
        return row.flatMap(r -> all.stream().filter(c -> c.id().equals(r.peripheral())).findFirst()).or(() -> all.stream().findFirst());
    }

    /** The pins of a terminal as its patch row has them; empty while it has no place. */
    public List<String> pins(Terminal t) {
        return patch.row(t.name()).map(Patch.Row::pins).orElse(List.of());
    }

    /** The timer a terminal is patched to; empty where its patch needs none or the board has none. */
    public Optional<Board.Timer> timer(Terminal t) {
        return channel(t).flatMap(c -> board.timer(c.unit()));
    }

    /** Frequency of the clock that drives a terminal's timer. */
    public double timerHertz(Terminal t) {
        return timer(t).map(x -> clock.hertz(x.clock())).orElse(coreHertz());
    }

    public Optional<PinMath.PwmTimer> pwm(Terminal t) {
        return timer(t).map(x -> PinMath.pwm(x, clock.hertz(x.clock()), t.number("frequency"), t.has("alignment", "centre")));
    }

    /** The dead time of a pair or of three phases; empty where the timer can make none as long as asked. */
    public Optional<PinMath.Dead> deadTime(Terminal t) {
        if (t.has("outputs", "single")) {
            return Optional.of(PinMath.Dead.NONE);
        }
        return timer(t).filter(x -> x.deadTime() != null).map(x -> PinMath.deadTime(x.deadTime(), clock.hertz(x.clock()),
                t.number("dead time")));
    }

    /** @param longestSeconds the longest time to be measured */
    public Optional<PinMath.CaptureTimer> capture(Terminal t, double longestSeconds) {
        return timer(t).map(x -> PinMath.capture(x, clock.hertz(x.clock()), 1 / longestSeconds));
    }

    public PinMath.Pulse pulse(Terminal t, double hertz) {
        return timer(t).map(x -> PinMath.pulse(x, clock.hertz(x.clock()), hertz)).orElse(PinMath.Pulse.OFF);
    }

    /** An encoder input's glitch filter as it is made, in seconds. */
    public double filter(Terminal t) {
        return timer(t).map(x -> PinMath.filter(x.filterNanos(), t.number("filter"))).orElse(0.0);
    }

    private Optional<Board.Converter> converter(Terminal t) {
        return channel(t).flatMap(c -> board.converter(c.unit()));
    }

    /** Counts of an analog terminal; empty where the board has none. */
    public Optional<PinMath.Scale> scale(Terminal t) {
        return channel(t).flatMap(c -> board.analogOutput(c.unit())).map(o -> new PinMath.Scale(o.bits(), o.referenceVolts()))
                .or(() -> converter(t).map(c -> new PinMath.Scale(c.bits(), c.referenceVolts())));
    }

    public Optional<PinMath.Sampling> sampling(Terminal t) {
        return converter(t).map(c -> PinMath.sampling(c, clock.hertz(c.clock()), t.number("sampling")));
    }

    /** How long an analog input waits for others that want the same converter at the same moment, in seconds. */
    public double queueSeconds(Terminal t) {
        var mine = channel(t).map(Channel::unit).orElse("");
        double wait = 0;
        for (Terminal other : program.terminals()) {
            if (other.name().equals(t.name())) {
                return wait;
            }
            if (other.kind().equals(t.kind()) && channel(other).map(Channel::unit).orElse("").equals(mine)
                    && other.texts().get("trigger").equals(t.texts().get("trigger"))) {
                wait += sampling(other).map(PinMath.Sampling::seconds).orElse(0.0);
            }
        }
        return wait;
    }

    /** Number of a terminal among those of its kind on the same unit: its mailbox on a CAN bus, its device on others. */
    public int placeOnLine(Terminal t) {
        var unit = channel(t).map(Channel::unit).orElse("");
        return program.terminals().stream().filter(o -> o.kind().equals(t.kind()) && channel(o).map(Channel::unit).orElse("").equals(unit))
                .map(Terminal::name).toList().indexOf(t.name());
    }

    public Optional<PinMath.Dog> watchdog(Terminal t) {
        return Optional.ofNullable(board.watchdog()).map(w -> PinMath.watchdog(w, t.number("timeout")));
    }
}
