package boldanvil.standin;

import boldanvil.core.board.Board;
import boldanvil.core.board.BoardSetup;
import boldanvil.core.board.BoardTerminals;
import boldanvil.core.board.Lines;
import boldanvil.core.board.PinEdges;
import boldanvil.core.board.PinModel;
import boldanvil.core.build.Registers;
import boldanvil.core.program.Instance;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.Pulse;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.lang.foreign.Arena;
import java.lang.foreign.MemorySegment;
import java.lang.foreign.ValueLayout;
import java.lang.invoke.MethodHandle;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;

/**
 * A part that runs on a stand-in. The wires end at pins: what is set on an input goes through the converter or counter into a
 * register, what is read of an output comes from a register. The program sees registers only. {@link Processor} says when a tick is
 * missed because the one before has not ended.
 */
final class DeviceInstance implements Instance {
    private static final double LOAD_PARTS = 10_000;

    /**
     * A terminal with its model and the signals on its wires.
     *
     * @param mask bits its registers have in hardware; higher ones of a count are not there
     * @param rest register that tells whether its timer's outputs rest in their safe state; -1 for none
     */
    private record Place(Terminal terminal, PinModel model, int[] registers, double[] wires, long mask, int rest) {}

    private record Wire(Place place, int at) {}

    private final MemorySegment registers;
    private final SlotMemory slots;
    private final MethodHandle tick;
    private final MethodHandle start;
    private final MethodHandle safe;
    private final BoardSetup setup;
    private final Processor processor;
    private final List<Place> inputs = new ArrayList<>();
    private final List<Place> outputs = new ArrayList<>();
    private final Map<Slot, Wire> wires = new IdentityHashMap<>();
    private long kicks;
    private volatile boolean halted;
    private boolean safeNow;

    DeviceInstance(Path image, BoardSetup setup, Processor processor, Arena arena) {
        this.setup = setup;
        this.processor = processor;
        var code = new NativeCode(image, arena);
        registers = arena.allocate(4L * Registers.WORDS, 8);
        try {
            code.function("standin_attach", 1).invokeExact(registers);
        } catch (Throwable t) {
            throw new IllegalStateException(t);
        }
        start = code.function("board_start", 0);
        tick = code.function("board_tick", 0);
        safe = code.function("board_safe", 0);
        Program program = setup.program();
        var layout = Layout.of(program);
        slots = new SlotMemory(code.memory("board_memory", layout.size()), layout);
        for (Terminal t : program.terminals()) {
            PinModel model = PinModel.of(setup, t);
            if (model != null) {
                var place = new Place(t, model, registersOf(t), new double[t.ports().size()], mask(t),
                        isPwm(t) ? Registers.REST + setup.board().timerNumber(setup.channel(t).orElseThrow()) : -1);
                (t.isInput() ? inputs : outputs).add(place);
                for (int i = 0; i < t.ports().size(); i++) {
                    wires.put(t.ports().get(i).slot(), new Wire(place, i));
                }
            }
        }
        init();
    }

    /** The registers that hold a terminal's counts, in the order of its model. */
    private int[] registersOf(Terminal t) {
        Board board = setup.board();
        var channel = setup.channel(t).orElseThrow();
        int timer = board.timerNumber(channel);
        return switch (t.kind()) {
            case ANALOG_IN -> new int[] {Registers.adc(board.converterNumber(channel), board.inputNumber(channel))};
            case ANALOG_OUT -> new int[] {Registers.DAC + board.analogOutputNumber(channel)};
            case PWM_OUT, PWM_PAIR_OUT -> new int[] {Registers.compare(timer, board.outputNumber(channel))};
            case THREE_PHASE_OUT -> new int[] {Registers.compare(timer, 0), Registers.compare(timer, 1), Registers.compare(timer, 2)};
            case TRIP_IN -> new int[] {Registers.TRIPPED + timer};
            case PULSE_OUT -> new int[] {Registers.PRESCALER + timer, Registers.PERIOD + timer};
            case ENCODER_IN -> new int[] {Registers.ENCODER + timer};
            case INDEXED_ENCODER_IN -> new int[] {Registers.ENCODER + timer, Registers.INDEX_FOUND + timer, Registers.INDEX_AT + timer};
            case CAPTURE_IN -> new int[] {Registers.CAPTURE_PERIOD + timer, Registers.CAPTURE_HIGH + timer};
            case DELAY_IN -> new int[] {Registers.DELAY + timer};
            case COUNTER_IN -> new int[] {Registers.COUNTER + timer};
            case DIGITAL_IN -> new int[] {Registers.LEVEL_IN + pin(t)};
            case DIGITAL_OUT -> new int[] {Registers.LEVEL_OUT + pin(t)};
            case EDGE_IN -> new int[] {Registers.LEVEL_IN + pin(t), Registers.EDGE + pin(t)};
            case PACKET_OUT -> IntStream.range(0, Lines.codec(t).bytes()).map(i -> Registers.serialOut(board.serialNumber(channel), i)).toArray();
            case PACKET_IN -> withFresh(IntStream.range(0, Lines.codec(t).bytes()).map(i -> Registers.serialIn(board.serialNumber(channel), i)),
                    Registers.SERIAL_FRESH + board.serialNumber(channel));
            case I2C_IN, SPI_IN -> IntStream.range(0, Lines.codec(t).bytes()).map(i -> Registers.busByte(board.busNumber(channel), setup.placeOnLine(t), i)).toArray();
            case FRAME_OUT -> IntStream.range(0, Lines.codec(t).bytes()).map(i -> Registers.canOut(board.canNumber(channel), setup.placeOnLine(t), i)).toArray();
            case FRAME_IN -> withFresh(IntStream.range(0, Lines.codec(t).bytes()).map(i -> Registers.canIn(board.canNumber(channel), setup.placeOnLine(t), i)),
                    Registers.canFresh(board.canNumber(channel), setup.placeOnLine(t)));
            case HEALTH, WATCHDOG -> throw new IllegalStateException(t.path());
        };
    }

    private static int[] withFresh(IntStream bytes, int fresh) {
        return IntStream.concat(bytes, IntStream.of(fresh)).toArray();
    }

    /** Devices on buses answer to their addresses. */
    private void addresses() {
        for (Place p : inputs) {
            if (p.terminal().kind() == TerminalKind.I2C_IN || p.terminal().kind() == TerminalKind.SPI_IN) {
                int bus = setup.board().busNumber(setup.channel(p.terminal()).orElseThrow());
                int device = setup.placeOnLine(p.terminal());
                word(Registers.busAddress(bus, device), Lines.address(p.terminal()) + 1L);
                word(Registers.busNumber(bus, device), Lines.registerNumber(p.terminal()));
            }
        }
    }

    private int pin(Terminal t) {
        return setup.board().pinNumber(setup.pins(t).getFirst());
    }

    private long mask(Terminal t) {
        return switch (t.kind()) {
            case ENCODER_IN, INDEXED_ENCODER_IN, COUNTER_IN -> setup.timer(t).orElseThrow().top();
            default -> 0xFFFF_FFFFL;
        };
    }

    private long word(int register) {
        return registers.getAtIndex(ValueLayout.JAVA_INT, register) & 0xFFFF_FFFFL;
    }

    private void word(int register, long value) {
        registers.setAtIndex(ValueLayout.JAVA_INT, register, (int) value);
    }

    @Override
    public void init() {
        registers.fill((byte) 0);
        addresses();
        inputs.forEach(p -> {
            p.model().init();
            // An input that nothing is wired to has the value it has where nothing runs.
            for (int i = 0; i < p.wires().length; i++) {
                p.wires()[i] = p.terminal().ports().get(i).slot().initial();
            }
        });
        kicks = 0;
        processor.reset();
        call(start);
        outputs();
        // Empty registers are no packet; nothing is on its way yet.
        outputs.forEach(p -> p.model().init());
    }

    @Override
    public void sample() {
        // The device reads its inputs, computes and writes its outputs in one go; see step.
    }

    @Override
    public void step() {
        if (halted) {
            goSafe();
            return;
        }
        outputs.forEach(p -> p.model().begin());
        boolean runs = processor.begins();
        word(Registers.LOAD, Math.round(processor.load() * LOAD_PARTS));
        word(Registers.OVERRUNS, processor.missed());
        word(Registers.STACK_FREE, processor.stackFree());
        word(Registers.RESET_CAUSE, processor.cause());
        for (Place p : inputs) {
            long[] counts = p.model().counts(p.wires());
            for (int i = 0; i < counts.length; i++) {
                word(p.registers()[i], counts[i] & p.mask());
            }
        }
        if (runs) {
            call(tick);
            outputs();
            watch();
        } else if (processor.isBitten()) {
            bite();
        }
    }

    private void goSafe() {
        if (!safeNow) {
            call(safe);
            outputs();
            safeNow = true;
        }
    }

    @Override
    public void end() {
        halted = true;
        goSafe();
    }

    /** Whether the watchdog was fed. */
    private void watch() {
        long now = word(Registers.WATCHDOG);
        if (now != kicks) {
            kicks = now;
            processor.fed();
        } else if (processor.isBitten()) {
            bite();
        }
    }

    /** The watchdog resets the device: outputs go to their safe state, the program begins anew. */
    private void bite() {
        call(start);
        outputs();
        kicks = word(Registers.WATCHDOG);
        processor.restarted(Processor.WATCHDOG);
    }

    @Override
    public void advance() {
        // Done within step.
    }

    /** Stops the program and puts the outputs into their safe state, at the beginning of the next step. */
    void halt() {
        halted = true;
    }

    /** Starts the program anew, as a reset by command does; what waits on the wires stays. */
    void restart() {
        halted = false;
        safeNow = false;
        call(start);
        outputs();
        kicks = word(Registers.WATCHDOG);
        processor.restarted(Processor.COMMAND);
    }

    boolean isHalted() {
        return halted;
    }

    private void outputs() {
        for (Place p : outputs) {
            long[] counts = new long[p.registers().length];
            for (int i = 0; i < counts.length; i++) {
                counts[i] = word(p.registers()[i]);
            }
            double[] made = p.model().signals(counts);
            System.arraycopy(made, 0, p.wires(), 0, made.length);
            if (p.rest() >= 0 && word(p.rest()) != 0) {
                Arrays.fill(p.wires(), word(p.rest()) - 1.0);
            }
        }
    }

    private static boolean isPwm(Terminal t) {
        return t.kind() == TerminalKind.PWM_OUT || t.kind() == TerminalKind.PWM_PAIR_OUT || t.kind() == TerminalKind.THREE_PHASE_OUT;
    }

    private static void call(MethodHandle function) {
        try {
            function.invokeExact();
        } catch (Throwable t) {
            throw new IllegalStateException(t);
        }
    }

    @Override
    public double get(Slot slot) {
        var wire = wires.get(slot);
        return wire != null && slot.role() == Slot.Role.OUTPUT ? wire.place().wires()[wire.at()] : slots.get(slot);
    }

    @Override
    public void set(Slot slot, double value) {
        var wire = wires.get(slot);
        if (wire != null && slot.role() == Slot.Role.INPUT) {
            wire.place().wires()[wire.at()] = value;
        } else {
            slots.set(slot, value);
        }
    }

    /** The edges a PWM terminal makes at its pins now; {@code leg} counts the outputs of a three-phase terminal. */
    PinEdges edges(Terminal t, int leg) {
        var channel = setup.channel(t).orElseThrow();
        int timer = setup.board().timerNumber(channel);
        int output = t.kind() == TerminalKind.THREE_PHASE_OUT ? leg : setup.board().outputNumber(channel);
        return new PinEdges(word(Registers.PRESCALER + timer), word(Registers.PERIOD + timer), word(Registers.CENTRE + timer) != 0,
                word(Registers.compare(timer, output)), word(Registers.DEAD + timer) * Math.max(1, word(Registers.DEAD_PRESCALER + timer)));
    }

    /** Frequency and dead time from the edges the registers make. */
    @Override
    public Pulse pulse(Port port) {
        var terminal = setup.program().terminal(port.owner()).orElseThrow();
        if (!isPwm(terminal)) {
            return BoardTerminals.pulse(setup, port);
        }
        var now = edges(terminal, 0);
        double clock = setup.timerHertz(terminal);
        var half = new PinEdges(now.prescaler(), now.period(), now.centre(), now.period() / 2, now.dead());
        return new Pulse(clock / half.capturedPeriod(false), half.capturedDead() / clock);
    }
}
