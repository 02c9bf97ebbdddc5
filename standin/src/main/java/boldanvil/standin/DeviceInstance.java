package boldanvil.standin;

import boldanvil.core.instance.Instance;
import boldanvil.core.instance.Pulse;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.BoardTerminals;
import boldanvil.core.peripheral.Peripherals;
import boldanvil.core.peripheral.PinEdges;
import boldanvil.core.peripheral.PinModel;
import boldanvil.core.peripheral.Registers;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Terminal;
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
     * @param rest register that shows whether its timer's outputs rest in their safe state; -1 for none
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
            PinModel model = Peripherals.model(setup, t);
            if (model != null) {
                var peripheral = Peripherals.of(t);
                var place = new Place(t, model, peripheral.registers(setup, t), new double[t.ports().size()], peripheral.mask(setup, t),
                        peripheral.restRegister(setup, t));
                (t.isInput() ? inputs : outputs).add(place);
                for (int i = 0; i < t.ports().size(); i++) {
                    wires.put(t.ports().get(i).slot(), new Wire(place, i));
                }
            }
        }
        init();
    }

    /** What other registers hold at power-up, such as the addresses of devices on buses. */
    private void presets() {
        inputs.forEach(p -> Peripherals.of(p.terminal()).presets(setup, p.terminal()).forEach(this::word));
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
        presets();
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
            timeOut();
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
            timeOut();
        }
    }

    /** The watchdog resets the device: outputs go to their safe state, the program restarts. */
    private void timeOut() {
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

    /** As a reset by command does; what waits on the wires stays. */
    @Override
    public void reset() {
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
        int timer = setup.board().timerNumber(setup.channel(t).orElseThrow());
        return new PinEdges(word(Registers.PRESCALER + timer), word(Registers.PERIOD + timer), word(Registers.CENTRE + timer) != 0,
                word(Peripherals.of(t).registers(setup, t)[leg]), word(Registers.DEAD + timer) * Math.max(1,
                word(Registers.DEAD_PRESCALER + timer)));
    }

    /** Frequency and dead time from the edges the registers make. */
    @Override
    public Pulse pulse(Port port) {
        var terminal = setup.program().terminal(port.owner()).orElseThrow();
        if (!Peripherals.of(terminal).isPwm()) {
            return BoardTerminals.pulse(setup, port);
        }
        var now = edges(terminal, 0);
        double clock = setup.timerHertz(terminal);
        var half = new PinEdges(now.prescaler(), now.period(), now.centre(), now.period() / 2, now.dead());
        return new Pulse(clock / half.capturedPeriod(false), half.capturedDead() / clock, now.centre());
    }
}
