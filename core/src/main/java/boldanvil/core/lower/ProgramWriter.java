package boldanvil.core.lower;

import boldanvil.core.diagram.Part;
import boldanvil.core.finding.Finding;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Port;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Tap;
import boldanvil.core.program.Task;
import boldanvil.core.program.Tunable;
import boldanvil.core.program.Type;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Face;
import boldanvil.core.stock.Parameter;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** Emits resolved blocks as a program: tasks, latches between them, the schedule and the solver. */
final class ProgramWriter {
    private static final Origin SCHEDULE = Origin.of("schedule");
    private static final Origin SOLVER = Origin.of("solver");

    private final Part part;
    private final Resolver resolver;
    private final List<Finding> findings;
    private final Names names = new Names();
    private final List<Slot> slots = new ArrayList<>();
    private final List<Port> ports = new ArrayList<>();
    private final List<Tap> taps = new ArrayList<>();
    private final List<Tunable> tunables = new ArrayList<>();
    private final Map<FlatBlock, Expr[]> outputs = new IdentityHashMap<>();
    private final Map<FlatBlock, Slot> pins = new IdentityHashMap<>();
    private final Map<FlatBlock, Map<String, Slot>> liveSlots = new IdentityHashMap<>();
    private final TreeMap<Long, TaskBody> tasks = new TreeMap<>();
    private final List<Stmt> continuousOutputs = new ArrayList<>();
    private final List<Stmt> derivatives = new ArrayList<>();
    private final List<Slot> continuousStates = new ArrayList<>();
    private final Map<Slot, Slot> derivativeOf = new IdentityHashMap<>();
    private final Map<String, Slot> latches = new HashMap<>();
    private Slot fault;
    private Slot time;
    private Slot ticks;
    private long tickNanos;
    private boolean hasContinuous;

    /** One discrete task while it is being written. */
    private static final class TaskBody {
        final List<FlatBlock> blocks = new ArrayList<>();
        final List<Stmt> publish = new ArrayList<>();
        final List<Stmt> latch = new ArrayList<>();
        final List<Stmt> outputs = new ArrayList<>();
        final List<Stmt> updates = new ArrayList<>();
    }

    ProgramWriter(Part part, Resolver resolver, List<Finding> findings) {
        this.part = part;
        this.resolver = resolver;
        this.findings = findings;
    }

    Program write(List<FlatBlock> blocks) {
        fault = slot("fault", Slot.Role.STATE, Type.INT32, 0, part.id(), "");
        List<FlatBlock> continuous = new ArrayList<>();
        for (FlatBlock f : blocks) {
            if (f.rateNanos() > 0) {
                tasks.computeIfAbsent(f.rateNanos(), _ -> new TaskBody()).blocks.add(f);
            } else if (f.rateNanos() == FlatBlock.CONTINUOUS) {
                continuous.add(f);
            }
        }
        hasContinuous = !continuous.isEmpty();
        long step = resolver.nanos(part.id() + " · step", part.step());
        tickNanos = tasks.isEmpty() ? step : tasks.keySet().stream().reduce(0L, ProgramWriter::gcd);
        declareOutputs(blocks);
        for (FlatBlock f : blocks) {
            if (f.rateNanos() == FlatBlock.CONSTANT) {
                emit(f, new BlockEmitter(f, null, null));
            }
        }
        var order = new ArrayList<FlatBlock>();
        for (FlatBlock f : Sorter.sort(continuous, findings)) {
            order.add(f);
        }
        tasks.values().forEach(t -> order.addAll(Sorter.sort(t.blocks, findings)));
        for (FlatBlock f : order) {
            var body = tasks.get(f.rateNanos());
            emit(f, body == null ? new BlockEmitter(f, continuousOutputs, null)
                    : new BlockEmitter(f, body.outputs, body.updates));
        }
        return assemble(step);
    }

    private void emit(FlatBlock f, BlockEmitter emitter) {
        try {
            f.type().emit(emitter);
            if (f.type().role() == BlockType.Role.TAP) {
                tap(f, emitter);
            }
        } catch (IllegalArgumentException e) {
            findings.add(Finding.error(f.path(), e.getMessage() + ".", "Put Convert blocks in front of its inputs so that all "
                    + "have the part's real type."));
        }
    }

    private void declareOutputs(List<FlatBlock> blocks) {
        for (FlatBlock f : blocks) {
            var role = f.type().role();
            var ports = f.face().outputs();
            Expr[] values = new Expr[ports.size()];
            outputs.put(f, values);
            if (role == BlockType.Role.TERMINAL || role == BlockType.Role.INLET || role == BlockType.Role.OUTLET) {
                pin(f);
            }
            for (int o = 0; o < values.length && role != BlockType.Role.CONSTANT; o++) {
                String name = label(f) + (ports.size() == 1 ? "" : "_" + ports.get(o));
                values[o] = Expr.read(slot(name, Slot.Role.SIGNAL, f.outputType(o), 0, f.path(), ""));
            }
        }
    }

    private void pin(FlatBlock f) {
        boolean input = f.face().inputs().isEmpty();
        Type type = switch (f.type().id()) {
            case "digital in", "digital out" -> Type.BOOL;
            case "inlet" -> f.outputType(0);
            case "outlet" -> f.inputType(0) == null ? resolver.real() : f.inputType(0);
            default -> resolver.real();
        };
        var terminal = f.type().terminal();
        String unit = terminal == null ? f.settings().text("unit") : switch (terminal) {
            case ANALOG_IN -> "V";
            case ENCODER_IN -> "rad";
            default -> "";
        };
        var role = input ? Slot.Role.INPUT : Slot.Role.OUTPUT;
        Slot s = slot(label(f) + "_pin", role, type, 0, f.path(), unit);
        pins.put(f, s);
        Map<String, Double> numbers = new LinkedHashMap<>();
        for (Parameter p : f.type().parameters()) {
            if (p.kind() == Parameter.Kind.REAL) {
                numbers.put(p.name(), resolver.values(f, p.name())[0]);
            } else if (p.kind() == Parameter.Kind.CHOICE) {
                numbers.put(p.name() + "=" + f.settings().text(p.name()), 1.0);
            }
        }
        ports.add(new Port(f.block().name(), s, terminal, f.path(), numbers));
    }

    private void tap(FlatBlock f, BlockEmitter e) {
        Expr value = e.in("u");
        Slot s = value instanceof Expr.Read r ? r.slot() : null;
        if (s == null) {
            s = slot(label(f), Slot.Role.SIGNAL, value.type(), 0, f.path(), "");
            e.assign(s, value);
        }
        long period = f.rateNanos() <= 0 ? tickNanos : f.rateNanos();
        taps.add(new Tap(address(f), s, Math.toIntExact(period / tickNanos), f.rateNanos() <= 0, f.settings().text("unit")));
    }

    private String address(FlatBlock f) {
        var parts = f.path().split("/");
        var words = new ArrayList<String>();
        for (int i = 1; i < parts.length; i++) {
            words.add(Names.address(parts[i]));
        }
        return String.join(".", words);
    }

    private static String label(FlatBlock f) {
        return f.path().substring(f.path().indexOf('/') + 1);
    }

    private Slot slot(String wanted, Slot.Role role, Type type, double initial, String path, String unit) {
        var s = new Slot("fault".equals(wanted) ? wanted : names.fresh(wanted), role, type, initial, path, unit);
        slots.add(s);
        return s;
    }

    private Expr time() {
        if (time == null) {
            time = slot("time_s", Slot.Role.STATE, Type.FLOAT64, 0, part.id(), "s");
            ticks = slot("tick_count", Slot.Role.STATE, Type.FLOAT64, 0, part.id(), "");
        }
        return Expr.read(time);
    }

    /** The value one block reads of another, through a latch where the two run in different tasks. */
    private Expr carried(FlatBlock reader, FlatBlock.Source source) {
        Expr value = outputs.get(source.block())[source.output()];
        long from = source.block().rateNanos();
        long to = reader.rateNanos();
        if (from <= 0 || to <= 0 || from == to || value instanceof Expr.Literal) {
            return value;
        }
        Slot origin = ((Expr.Read) value).slot();
        if (origin.role() == Slot.Role.TUNABLE) {
            return value;
        }
        Slot latch = latches.computeIfAbsent(origin.name() + ">" + to, _ -> {
            var s = slot(origin.name() + "_for_" + rateName(to), Slot.Role.LATCH, value.type(), 0, origin.path(), origin.unit());
            var copy = new Stmt.Assign(s, value, Origin.of(origin.path()));
            if (from < to) {
                tasks.get(to).latch.add(copy);
            } else {
                tasks.get(from).publish.add(copy);
            }
            return s;
        });
        return Expr.read(latch);
    }

    static String rateName(long nanos) {
        return nanos % 1_000_000_000 == 0 ? nanos / 1_000_000_000 + "s"
                : nanos % 1_000_000 == 0 ? nanos / 1_000_000 + "ms"
                : nanos % 1_000 == 0 ? nanos / 1_000 + "us" : nanos + "ns";
    }

    private Program assemble(long step) {
        List<Procedure> procedures = new ArrayList<>();
        List<Task> taskList = new ArrayList<>();
        procedures.add(new Procedure(Program.INIT, "Sets every member to its beginning.", List.of()));
        if (hasContinuous) {
            procedures.add(new Procedure("outputs", "Outputs of the continuous part.", continuousOutputs));
        }
        if (!continuousStates.isEmpty()) {
            procedures.add(new Procedure("derivatives", "Derivatives of the continuous states.", derivatives));
        }
        tasks.forEach((rate, body) -> {
            var task = new Task("task_" + rateName(rate), Math.toIntExact(rate / tickNanos));
            taskList.add(task);
            procedures.add(new Procedure(task.publish(), "Shows results of the " + rateName(rate) + " task to faster tasks.",
                    body.publish));
            procedures.add(new Procedure(task.latch(), "Takes over values of faster tasks for the " + rateName(rate) + " task.",
                    body.latch));
            var all = new ArrayList<>(body.outputs);
            all.addAll(body.updates);
            procedures.add(new Procedure(task.run(), "The " + rateName(rate) + " task.", all));
        });
        procedures.add(new Procedure(Program.SAMPLE, "At each tick first: time, and outputs of the continuous part.", sample()));
        procedures.add(new Procedure(Program.STEP, "At each tick second: every task that is due, fastest first.",
                schedule(taskList)));
        procedures.add(new Procedure(Program.ADVANCE, "At each tick last: goes on to the next tick.", advance(step)));
        var localised = Localiser.localise(procedures, slots, keptSlots());
        var usage = Usage.of(localised.procedures());
        return new Program(part.id(), part.title(), tickNanos, localised.slots(), localised.procedures(),
                usage.functions(), usage.tables(), taskList, hasContinuous, ports,
                taps, tunables, fault);
    }

    private List<Slot> keptSlots() {
        List<Slot> kept = new ArrayList<>();
        taps.forEach(t -> kept.add(t.slot()));
        return kept;
    }

    private List<Stmt> sample() {
        List<Stmt> body = new ArrayList<>();
        if (time != null) {
            body.add(new Stmt.Assign(time, Expr.read(ticks).times(tickNanos * 1e-9), SCHEDULE));
        }
        if (hasContinuous) {
            body.add(new Stmt.Invoke("outputs", SCHEDULE));
        }
        return body;
    }

    /**
     * A slower task's results become visible at its release, before faster tasks run; it takes over their values after
     * they have run.
     */
    private List<Stmt> schedule(List<Task> taskList) {
        List<Stmt> body = new ArrayList<>();
        Map<Task, Slot> waits = new IdentityHashMap<>();
        for (Task t : taskList) {
            if (t.periodTicks() > 1) {
                waits.put(t, slot(t.name() + "_wait", Slot.Role.STATE, Type.INT32, 0, part.id(), ""));
            }
        }
        for (Task t : taskList) {
            due(body, waits.get(t), List.of(new Stmt.Invoke(t.publish(), SCHEDULE)));
        }
        for (Task t : taskList) {
            due(body, waits.get(t), List.of(new Stmt.Invoke(t.latch(), SCHEDULE), new Stmt.Invoke(t.run(), SCHEDULE)));
        }
        for (Task t : taskList) {
            Slot wait = waits.get(t);
            if (wait != null) {
                var now = Expr.read(wait);
                body.add(new Stmt.Assign(wait, Expr.of(Type.INT32, t.periodTicks() - 1)
                        .when(now.compare(Expr.Op.EQ, Expr.of(Type.INT32, 0)), now.minus(Expr.of(Type.INT32, 1))), SCHEDULE));
            }
        }
        return body;
    }

    private static void due(List<Stmt> body, Slot wait, List<Stmt> what) {
        if (wait == null) {
            body.addAll(what);
        } else {
            body.add(new Stmt.If(Expr.read(wait).compare(Expr.Op.EQ, Expr.of(Type.INT32, 0)), what, List.of(), SCHEDULE));
        }
    }

    private List<Stmt> advance(long step) {
        List<Stmt> body = new ArrayList<>();
        if (!continuousStates.isEmpty()) {
            int substeps = Math.toIntExact((tickNanos + step - 1) / step);
            double h = tickNanos * 1e-9 / substeps;
            var solver = new SolverWriter(continuousStates, derivativeOf, time, SOLVER,
                    (name, type) -> slot(name, Slot.Role.SIGNAL, type, 0, part.id(), ""));
            body.addAll(solver.steps(part.solver(), h, substeps));
        }
        if (time != null) {
            body.add(new Stmt.Assign(ticks, Expr.read(ticks).plus(Expr.of(1.0)), SCHEDULE));
        }
        return body;
    }

    static long gcd(long a, long b) {
        return b == 0 ? a : gcd(b, a % b);
    }

    /** The emitter of one block. */
    private final class BlockEmitter implements boldanvil.core.stock.Emitter {
        private final FlatBlock f;
        private final List<Stmt> body;
        private final List<Stmt> updates;
        private final Origin origin;

        BlockEmitter(FlatBlock f, List<Stmt> body, List<Stmt> updates) {
            this.f = f;
            this.body = body;
            this.updates = updates;
            this.origin = Origin.of(f.path());
        }

        @Override
        public Expr in(String port) {
            if (port.equals("pin")) {
                return Expr.read(pins.get(f));
            }
            int i = indexOf(port);
            var source = f.source(i);
            if (source != null) {
                return carried(f, source);
            }
            boolean logic = f.face().inputs().get(i).accept() == boldanvil.core.stock.Accept.LOGIC;
            return Expr.of(logic ? Type.BOOL : real(), 0);
        }

        private int indexOf(String port) {
            List<Face.In> inputs = f.face().inputs();
            for (int i = 0; i < inputs.size(); i++) {
                if (inputs.get(i).name().equals(port)) {
                    return i;
                }
            }
            throw new IllegalArgumentException(f.type().id() + " has no input " + port);
        }

        @Override
        public boolean connected(String port) {
            return f.source(indexOf(port)) != null;
        }

        @Override
        public Type typeOf(String output) {
            return f.outputType(f.face().outputs().indexOf(output));
        }

        @Override
        public Type real() {
            return resolver.real();
        }

        @Override
        public Expr param(String name, Type type) {
            var p = f.type().parameter(name);
            if (type.isInteger() && value(name) != Math.rint(value(name)) && !Double.isInfinite(value(name))) {
                problem("The signal is " + type.label() + ", and " + name + " = " + value(name) + " is no integer.",
                        "Enter an integer, or convert the input to real.");
            }
            boolean live = p.live() == Parameter.Live.ALWAYS
                    || p.live() == Parameter.Live.OFFERED && f.block().tunable().contains(name);
            return live ? Expr.read(liveSlots.computeIfAbsent(f, _ -> new HashMap<>())
                    .computeIfAbsent(name, _ -> live(name, type))).as(type) : Expr.of(type, value(name));
        }

        private Slot live(String name, Type type) {
            boolean always = f.type().parameter(name).live() == Parameter.Live.ALWAYS;
            String unit = f.type().hasParameter("unit") && always ? f.settings().text("unit") : f.type().parameter(name).unit();
            Slot s = slot(always ? label(f) : label(f) + "_" + name, Slot.Role.TUNABLE, type, value(name), f.path(), unit);
            double low = always ? value("low") : f.type().parameter(name).minimum();
            double high = always ? value("high") : f.type().parameter(name).maximum();
            tunables.add(new Tunable(always ? address(f) : address(f) + "." + name, s, f.path(), name, low, high));
            return s;
        }

        @Override
        public double value(String name) {
            return resolver.values(f, name)[0];
        }

        @Override
        public double[] list(String name) {
            return resolver.values(f, name);
        }

        @Override
        public String text(String name) {
            return f.settings().text(name);
        }

        @Override
        public double sampleTime() {
            return f.rateNanos() * 1e-9;
        }

        @Override
        public Expr time() {
            return ProgramWriter.this.time();
        }

        @Override
        public Slot state(String name, Type type, double initial) {
            return slot(label(f) + "_" + name, Slot.Role.STATE, type, initial, f.path(), "");
        }

        @Override
        public Slot integrated(String name, double initial) {
            Slot s = slot(label(f) + "_" + name, Slot.Role.CONTINUOUS, real(), initial, f.path(), "");
            continuousStates.add(s);
            derivativeOf.put(s, slot(label(f) + "_d" + name, Slot.Role.SIGNAL, real(), 0, f.path(), ""));
            return s;
        }

        @Override
        public Expr temp(String name, Expr value) {
            if (value instanceof Expr.Literal || value instanceof Expr.Read) {
                return value;
            }
            Slot s = local(name, value.type());
            assign(s, value);
            return Expr.read(s);
        }

        @Override
        public Slot local(String name, Type type) {
            return slot(label(f) + "_" + name, Slot.Role.SIGNAL, type, 0, f.path(), "");
        }

        @Override
        public boldanvil.core.program.Table table(String name, Type type, double[] values) {
            return new boldanvil.core.program.Table(names.fresh(label(f) + "_" + name), type, values);
        }

        @Override
        public Slot slotOf(String output) {
            return ((Expr.Read) outputs.get(f)[f.face().outputs().indexOf(output)]).slot();
        }

        @Override
        public void add(Stmt statement) {
            body.add(statement);
        }

        @Override
        public Origin origin() {
            return origin;
        }

        @Override
        public void output(String port, Expr value) {
            if (port.equals("pin")) {
                assign(pins.get(f), value);
            } else if (body == null) {
                outputs.get(f)[f.face().outputs().indexOf(port)] = value;
            } else {
                assign(slotOf(port), value);
            }
        }

        @Override
        public void update(Slot state, Expr value) {
            updates.add(new Stmt.Assign(state, value, origin));
        }

        @Override
        public void derivative(Slot state, Expr value) {
            derivatives.add(new Stmt.Assign(derivativeOf.get(state), value, origin));
        }

        @Override
        public void problem(String cause, String cure) {
            findings.add(Finding.error(f.path(), cause, cure));
        }
    }
}
