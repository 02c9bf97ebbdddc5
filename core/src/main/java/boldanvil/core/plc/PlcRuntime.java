package boldanvil.core.plc;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.program.Fault;
import boldanvil.core.program.FaultPlaces;
import boldanvil.core.program.Slot;
import boldanvil.core.simulate.ExecutionTimes;
import boldanvil.core.text.PlcProgram;
import boldanvil.core.text.PlcProgram.Variable;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;

/**
 * Runs the program of a PLC. At each instant at which a task is due the inputs are taken over, all tasks that are due run, the most urgent
 * first, and then the outputs are given out. Time is set by whoever calls {@link #advance}. Safe for use by several threads; a call that
 * comes while a scan runs waits for its end.
 */
public final class PlcRuntime {
    /** What a PLC does. */
    public enum Mode {
        /** Without a program. */
        EMPTY,
        STOP,
        RUN,
        /** Stopped by itself; outputs are off. */
        FAULT
    }

    /**
     * How the tasks have run.
     *
     * @param scans since the program was started
     * @param overruns releases that came while an earlier one of the task was not done
     * @param times on this machine
     */
    public record TaskState(String name, long intervalNanos, long scans, long overruns, ExecutionTimes times) {}

    /** A program with its memory. */
    private record Loaded(PlcProgram plc, Instance instance, FaultPlaces places, Map<String, Variable> variables) {}

    private static final long USUAL_WATCHDOG = 500_000_000L;

    private final byte[] inputs;
    private final byte[] outputs;
    private final Tasks tasks = new Tasks();
    private final Map<String, Object> forces = new LinkedHashMap<>();
    private FirstOut firstOut;
    private Loaded loaded;
    private Loaded before;
    private Mode mode = Mode.EMPTY;
    private String reason = "";
    private long now;
    private boolean first = true;
    private long watchdogNanos = USUAL_WATCHDOG;
    private long delayNanos;
    private long busyUntil;
    private int faults;

    /** @param around sizes of the process image, as they were when its programs were compiled */
    public PlcRuntime(PlcProgram.Surroundings around) {
        inputs = new byte[around.inputBytes()];
        outputs = new byte[around.outputBytes()];
    }

    /**
     * Loads a program; it stands until {@link #run}.
     *
     * @throws FindingException when the program has errors
     */
    public synchronized void load(PlcProgram program) {
        loaded = loaded(program);
        before = null;
        forces.clear();
        firstOut = null;
        restart(Map.of());
        mode = Mode.STOP;
        reason = "";
    }

    private static Loaded loaded(PlcProgram program) {
        if (!program.isUsable()) {
            throw FindingException.of(Place.named(program.name()), program.mistakes().stream().filter(m -> !m.isWarning()).findFirst()
                    .map(m -> m.located()).orElse("The program has errors."), "Correct it, then load it again.");
        }
        Map<String, Variable> variables = new HashMap<>();
        program.variables().forEach(v -> variables.putIfAbsent(key(v.path()), v));
        return new Loaded(program, JvmCompiler.compile(program.program()).instantiate(), FaultPlaces.of(program.program()), variables);
    }

    private static String key(String path) {
        return path.toLowerCase(Locale.ROOT);
    }

    /** Sets every variable to its beginning, but for those with a value here. */
    private void restart(Map<String, Object> kept) {
        begin(loaded);
        kept.forEach((path, value) -> variable(path).ifPresent(v -> {
            try {
                PlcMemory.write(loaded.instance(), v, value);
            } catch (IllegalArgumentException _) {
                // A value kept by another program; the variable begins anew.
            }
        }));
        tasks.begin(loaded.plc().tasks(), now);
        first = true;
        faults = 0;
    }

    private static void begin(Loaded some) {
        some.instance().init();
        some.plc().beginnings().forEach((path, value) -> PlcMemory.set(some.instance(), some.variables().get(key(path)), value));
    }

    /** Runs from the beginning of time, with all values at their beginning. */
    public synchronized void rewind() {
        require();
        now = 0;
        busyUntil = 0;
        java.util.Arrays.fill(outputs, (byte) 0);
        restart(Map.of());
        run();
    }

    /** Begins with retained values as they are and all others at their beginning. */
    public synchronized void warmStart() {
        require();
        restart(retained());
        run();
    }

    /** Begins with all values at their beginning. */
    public synchronized void coldStart() {
        require();
        restart(Map.of());
        run();
    }

    /** Continues with all values as they are. */
    public synchronized void run() {
        require();
        mode = Mode.RUN;
        reason = "";
        tasks.resume(now);
    }

    /** Stops; outputs are off. */
    public synchronized void stop() {
        if (mode != Mode.EMPTY) {
            mode = Mode.STOP;
            java.util.Arrays.fill(outputs, (byte) 0);
        }
    }

    private void require() {
        if (loaded == null) {
            throw FindingException.of(Place.named("PLC"), "The PLC has no program.", "Download one.");
        }
    }

    private void fail(String cause) {
        mode = Mode.FAULT;
        reason = cause;
        java.util.Arrays.fill(outputs, (byte) 0);
    }

    public synchronized Mode mode() {
        return mode;
    }

    /** Why it is in {@link Mode#FAULT}; else empty. */
    public synchronized String reason() {
        return reason;
    }

    public synchronized long nowNanos() {
        return now;
    }

    /** The program it has. */
    public synchronized Optional<PlcProgram> program() {
        return Optional.ofNullable(loaded).map(Loaded::plc);
    }

    /** Has each scan take longer by a time, as a slow or busy processor would; 0 for none. */
    public synchronized void delay(long nanos) {
        delayNanos = nanos;
    }

    /** The longest a scan may take before the watchdog stops the program. */
    public synchronized void watchdog(long nanos) {
        watchdogNanos = nanos;
    }

    /** When the next task is due; empty where none will be. */
    public synchronized Optional<Long> nextNanos() {
        return mode != Mode.RUN ? Optional.empty() : tasks.next();
    }

    /** Lets time go to an instant and runs every task that is due until then, that instant included. */
    public synchronized void advance(long toNanos) {
        while (mode == Mode.RUN) {
            var next = nextNanos();
            if (next.isEmpty() || next.get() > toNanos) {
                break;
            }
            now = Math.max(now, next.get());
            scan();
        }
        now = Math.max(now, toNanos);
    }

    /** Goes to the next instant at which a task is due, and runs it. */
    public synchronized void scanOnce() {
        nextNanos().ifPresent(this::advance);
    }

    private void scan() {
        var instance = loaded.instance();
        var image = loaded.plc().image();
        take(instance, image.inputs(), inputs);
        instance.set(image.now(), now / 1e9);
        instance.set(image.firstScan(), first ? 1 : 0);
        apply();
        Predicate<Variable> isOn = v -> PlcMemory.number(instance, v) != 0;
        List<Tasks.Work> due = tasks.due(now, busyUntil, isOn);
        while (!due.isEmpty() && mode == Mode.RUN) {
            run(due.removeFirst(), instance, image);
            apply();
            tasks.release(due, isOn);
        }
        if (firstOut != null) {
            firstOut.note(now, path -> variable(path).map(v -> PlcMemory.read(instance, v)).orElse(null));
        }
        first = false;
        if (mode == Mode.RUN) {
            give(instance, image.outputs(), outputs);
        }
    }

    private void run(Tasks.Work w, Instance instance, PlcProgram.Image image) {
        long begin = System.nanoTime();
        instance.set(image.budget(), image.budget().initial());
        for (String procedure : w.task.runs()) {
            instance.call(procedure);
        }
        long took = System.nanoTime() - begin + delayNanos;
        busyUntil = now + delayNanos;
        w.ran(took);
        int raised = (int) instance.get(loaded.plc().program().fault());
        if (Fault.bits(raised) != 0) {
            fault(w, raised);
            instance.set(loaded.plc().program().fault(), 0);
        }
        if (mode == Mode.RUN && took > watchdogNanos) {
            fail("The watchdog stopped the task '" + w.task.name() + "': its scan took " + took / 1_000_000 + " ms, more than "
                    + watchdogNanos / 1_000_000 + " ms.");
        }
    }

    private void fault(Tasks.Work w, int raised) {
        faults |= Fault.bits(raised);
        if ((Fault.bits(raised) & Fault.ENDLESS_LOOP) != 0) {
            fail("The watchdog stopped the task '" + w.task.name() + "': a loop in it does not end.");
        }
    }

    /** Which kinds of faults there were since the program was started, as bits of {@link Fault}. */
    public synchronized int faults() {
        return faults;
    }

    private void take(Instance instance, Slot slot, byte[] from) {
        double[] values = new double[from.length];
        for (int i = 0; i < values.length; i++) {
            values[i] = from[i] & 0xFF;
        }
        instance.set(slot, values);
    }

    private void give(Instance instance, Slot slot, byte[] to) {
        double[] values = instance.elements(slot);
        for (int i = 0; i < to.length; i++) {
            to[i] = (byte) (int) values[i];
        }
    }

    /** A byte of the inputs as they are wired. */
    public synchronized void input(int at, int value) {
        inputs[at] = (byte) value;
    }

    /** Bytes of the inputs as they are wired. */
    public synchronized byte[] inputs() {
        return inputs.clone();
    }

    /** Bytes that were given out last. */
    public synchronized byte[] outputs() {
        return outputs.clone();
    }

    /**
     * Bytes of an area as the network sees them: the inputs as they are wired, the outputs as they were given out, and the memory.
     *
     * @param area I, Q or M
     * @throws IndexOutOfBoundsException when the area ends before
     */
    public synchronized byte[] bytes(char area, int from, int count) {
        byte[] some = new byte[count];
        if (area != 'M') {
            java.util.Objects.checkFromIndexSize(from, count, (area == 'I' ? inputs : outputs).length);
            System.arraycopy(area == 'I' ? inputs : outputs, from, some, 0, count);
            return some;
        }
        Slot memory = memory(from, count);
        for (int i = 0; i < count; i++) {
            some[i] = (byte) (int) loaded.instance().get(memory, from + i);
        }
        return some;
    }

    private Slot memory(int from, int count) {
        if (loaded == null) {
            throw new IndexOutOfBoundsException("no program");
        }
        Slot memory = loaded.plc().image().memory();
        java.util.Objects.checkFromIndexSize(from, count, memory.length());
        return memory;
    }

    /** Sets bytes of the memory between two scans. */
    public synchronized void writeMemory(int from, byte[] bytes) {
        Slot memory = memory(from, bytes.length);
        for (int i = 0; i < bytes.length; i++) {
            loaded.instance().set(memory, from + i, bytes[i] & 0xFF);
        }
    }

    /** Sets a bit of the memory between two scans. */
    public synchronized void writeMemory(int bit, boolean value) {
        Slot memory = memory(bit / 8, 1);
        int old = (int) loaded.instance().get(memory, bit / 8);
        int mask = 1 << bit % 8;
        loaded.instance().set(memory, bit / 8, value ? old | mask : old & ~mask);
    }

    /** Names and kinds of everything it has. */
    public synchronized List<Variable> variables() {
        return loaded == null ? List.of() : loaded.plc().variables();
    }

    public synchronized Optional<Variable> variable(String path) {
        return Optional.ofNullable(loaded == null ? null : loaded.variables().get(key(path)));
    }

    private Variable known(String path) {
        return variable(path).orElseThrow(() -> FindingException.of(Place.named(path), "The PLC has no variable '" + path + "'.",
                "Check its name, or download the program that has it."));
    }

    /** The value of a variable; see {@link PlcMemory} for its kinds. */
    public synchronized Object read(String path) {
        return PlcMemory.read(loaded.instance(), known(path));
    }

    /** The values of several variables at the same instant. */
    public synchronized List<Object> read(List<Variable> some) {
        return some.stream().map(v -> PlcMemory.read(loaded.instance(), v)).toList();
    }

    /**
     * Sets a variable between two scans. A variable among the inputs is set where it is wired, so the next scan sees it.
     *
     * @throws FindingException when there is none of this name, or the value is of another kind
     */
    public synchronized void write(String path, Object value) {
        Variable v = known(path);
        try {
            PlcMemory.write(loaded.instance(), v, value);
        } catch (IllegalArgumentException e) {
            throw FindingException.of(Place.named(path), e.getMessage() + ".", "Write a value of this type.");
        }
        if (v.slot() == loaded.plc().image().inputs()) {
            give(loaded.instance(), v.slot(), inputs);
        }
    }

    /** Holds a variable at a value, whatever the program or its wire says. */
    public synchronized void force(String path, Object value) {
        Variable v = known(path);
        try {
            if (!v.isText()) {
                PlcMemory.checked(v, value);
            }
            PlcMemory.write(loaded.instance(), v, value);
        } catch (IllegalArgumentException e) {
            throw FindingException.of(Place.named(path), e.getMessage() + ".", "Force a value of this type.");
        }
        forces.put(v.path(), value);
    }

    public synchronized void release(String path) {
        forces.keySet().removeIf(path::equalsIgnoreCase);
    }

    /** What is forced, by path. */
    public synchronized Map<String, Object> forces() {
        return new LinkedHashMap<>(forces);
    }

    private void apply() {
        forces.forEach((path, value) -> variable(path).ifPresent(v -> PlcMemory.write(loaded.instance(), v, value)));
    }

    /** Watches an interlock from the next scan on, in the place of the one before; null for none. */
    public synchronized void watch(FirstOut next) {
        firstOut = next;
    }

    /** The interlock that is watched. */
    public synchronized Optional<FirstOut> watched() {
        return Optional.ofNullable(firstOut);
    }

    public synchronized List<TaskState> tasks() {
        return tasks.states();
    }

    /** The values that survive when the power is off, by path. */
    public synchronized Map<String, Object> retained() {
        Map<String, Object> kept = new LinkedHashMap<>();
        if (loaded != null) {
            loaded.plc().variables().stream().filter(Variable::retained)
                    .forEach(v -> kept.put(v.path(), PlcMemory.read(loaded.instance(), v)));
        }
        return kept;
    }

    /** Starts after the power was off: what was retained is back, all else is at its beginning. */
    public synchronized void powerOn(Map<String, Object> retained) {
        require();
        restart(retained);
        run();
    }

    /** What a change of the program would do. */
    public synchronized OnlineChange plan(PlcProgram next) {
        require();
        return OnlineChange.between(loaded.plc(), next);
    }

    /**
     * Replaces the program between two scans. Variables of the same name and type keep their values, tasks of the same name their times.
     *
     * @return what it did
     * @throws FindingException when the next program has errors; then nothing changes
     */
    public OnlineChange change(PlcProgram next) {
        Loaded fresh = loaded(next);
        synchronized (this) {
            require();
            return exchange(fresh);
        }
    }

    /** Goes back to the program before the last change; values are taken over as by a change. */
    public synchronized OnlineChange takeBack() {
        if (before == null) {
            throw FindingException.of(Place.named("PLC"), "There was no change of the program that could be taken back.",
                    "Change the program first.");
        }
        return exchange(before);
    }

    private OnlineChange exchange(Loaded fresh) {
        var plan = OnlineChange.between(loaded.plc(), fresh.plc());
        begin(fresh);
        for (Variable v : plan.kept()) {
            PlcMemory.write(fresh.instance(), v, PlcMemory.read(loaded.instance(), loaded.variables().get(key(v.path()))));
        }
        var from = loaded.plc().image();
        var to = fresh.plc().image();
        fresh.instance().set(to.memory(), loaded.instance().elements(from.memory()));
        fresh.instance().set(to.outputs(), loaded.instance().elements(from.outputs()));
        fresh.instance().set(to.inputs(), loaded.instance().elements(from.inputs()));
        tasks.exchange(fresh.plc().tasks(), now);
        firstOut = null;
        forces.keySet().removeIf(path -> !fresh.variables().containsKey(key(path)));
        before = loaded;
        loaded = fresh;
        return plan;
    }
}
