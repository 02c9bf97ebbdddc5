package boldanvil.core.program;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What one part does.
 *
 * @param name an identifier, used as prefix in C
 * @param title the part's name on the system sheet
 * @param tickNanos length of a base tick in nanoseconds
 * @param slots every slot of an instance's memory
 * @param procedures callees before callers; the four entries are among them
 * @param functions functions in use, callees first
 * @param tables constant tables in use
 * @param tasks discrete tasks, fastest first
 * @param dynamics its continuous part; null for none
 * @param ports inputs and outputs
 * @param fault INT32 slot of fault bits, see {@link Fault}
 * @param standIns slots that keep a state without being its own slot, by the name of the state's
 */
public record Program(String name, String title, long tickNanos, List<Slot> slots, List<Procedure> procedures,
        List<Function> functions, List<Table> tables, List<Task> tasks, Dynamics dynamics, List<Port> ports,
        List<Tap> taps, List<Tunable> tunables, Slot fault, Map<String, Slot> standIns) {
    /**
     * The continuous part. With inputs, {@code states} and time set, calls of {@link #OUTPUTS} and {@link #DERIVATIVES} leave the outputs
     * in their slots and the derivatives of the states, per second, in {@code derivatives}. No solver is needed for that.
     *
     * @param states what a solver integrates; may be empty
     * @param derivatives one for each state
     */
    public record Dynamics(List<Slot> states, List<Slot> derivatives) {
        public Dynamics {
            states = List.copyOf(states);
            derivatives = List.copyOf(derivatives);
        }
    }

    /** Name of the slot with the time of a continuous part, in seconds. */
    public static final String TIME = "time_s";
    /** Name of the slot that counts the ticks of a continuous part. */
    public static final String TICKS = "tick_count";
    public static final String INIT = "init";
    public static final String SAMPLE = "sample";
    public static final String STEP = "step";
    public static final String ADVANCE = "advance";
    /** Procedure with the outputs of the continuous part; see {@link Dynamics}. */
    public static final String OUTPUTS = "outputs";
    /** Procedure with the derivatives of the continuous states, to be called after {@link #OUTPUTS}. */
    public static final String DERIVATIVES = "derivatives";
    /** The entries in the order of their calls. */
    public static final List<String> ENTRIES = List.of(INIT, SAMPLE, STEP, ADVANCE);

    public Program {
        slots = List.copyOf(slots);
        procedures = List.copyOf(procedures);
        functions = List.copyOf(functions);
        tables = List.copyOf(tables);
        tasks = List.copyOf(tasks);
        ports = List.copyOf(ports);
        taps = List.copyOf(taps);
        tunables = List.copyOf(tunables);
        standIns = Map.copyOf(standIns);
    }

    /** A program in which each state has its own slot. */
    public Program(String name, String title, long tickNanos, List<Slot> slots, List<Procedure> procedures, List<Function> functions,
            List<Table> tables, List<Task> tasks, Dynamics dynamics, List<Port> ports, List<Tap> taps, List<Tunable> tunables, Slot fault) {
        this(name, title, tickNanos, slots, procedures, functions, tables, tasks, dynamics, ports, taps, tunables, fault, Map.of());
    }

    /** Length of a base tick in seconds. */
    public double tickSeconds() {
        return tickNanos * 1e-9;
    }

    /** Whether it has continuous states or continuously computed signals. */
    public boolean continuous() {
        return dynamics != null;
    }

    public Optional<Port> port(String portName) {
        return ports.stream().filter(p -> p.name().equals(portName)).findFirst();
    }

    /** The terminals in the order of their first ports. */
    public List<Terminal> terminals() {
        var byOwner = new LinkedHashMap<String, List<Port>>();
        ports.stream().filter(p -> p.terminal() != null).forEach(p -> byOwner.computeIfAbsent(p.owner(), _ -> new ArrayList<>()).add(p));
        return byOwner.values().stream().map(all -> {
            Port first = all.getFirst();
            return new Terminal(first.owner(), first.terminal(), first.path(), first.numbers(), first.texts(), all);
        }).toList();
    }

    public Optional<Terminal> terminal(String terminalName) {
        return terminals().stream().filter(t -> t.name().equals(terminalName)).findFirst();
    }

    public Optional<Tap> tap(String tapName) {
        return taps.stream().filter(t -> t.name().equals(tapName)).findFirst();
    }

    public Optional<Tunable> tunable(String tunableName) {
        return tunables.stream().filter(t -> t.name().equals(tunableName)).findFirst();
    }

    /** Whether an entry has nothing to do, so that calling it is needless. */
    public boolean isIdle(String entry) {
        return procedures.stream().anyMatch(p -> p.name().equals(entry) && p.body().isEmpty());
    }

    /** Number of statements, nested ones included; a rough size. */
    public int statements() {
        return procedures.stream().mapToInt(p -> count(p.body())).sum();
    }

    private static int count(List<Stmt> body) {
        return body.stream().mapToInt(s -> 1 + s.bodies().stream().mapToInt(Program::count).sum()).sum();
    }
}
