package boldanvil.core.lower;

import boldanvil.core.diagram.Part;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
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
import boldanvil.core.program.Usage;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Parameter;
import boldanvil.core.stock.Structure;
import boldanvil.core.stock.TerminalPin;
import boldanvil.core.text.Mistake;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

/** Emits resolved blocks as a program: tasks, latches between them, the schedule and the solver. */
final class ProgramWriter {
    private static final Origin SOLVER = Origin.of("solver");

    private final Part part;
    private final Resolver resolver;
    private final List<Finding> findings;
    private final Names names = new Names();
    private final List<Slot> slots = new ArrayList<>();
    private final List<Port> ports = new ArrayList<>();
    private final List<Tap> taps = new ArrayList<>();
    private final List<Tunable> tunables = new ArrayList<>();
    private final Map<FlatBlock, Expr[][]> outputs = new IdentityHashMap<>();
    private final Map<FlatBlock, Map<String, Slot>> pins = new IdentityHashMap<>();
    private final Structs structs = new Structs();
    private final Map<Group, Condition> conditions = new IdentityHashMap<>();
    private final Map<FlatBlock, Slot[][]> assumed = new IdentityHashMap<>();
    private final List<Procedure> loops = new ArrayList<>();
    private final List<Stmt> continuousUpdates = new ArrayList<>();
    private final List<Expr> crossings = new ArrayList<>();
    private final TreeMap<Long, TaskBody> tasks = new TreeMap<>();
    private final List<Stmt> continuousOutputs = new ArrayList<>();
    private final List<Stmt> derivatives = new ArrayList<>();
    private final List<Slot> continuousStates = new ArrayList<>();
    private final Map<Slot, Slot> derivativeOf = new IdentityHashMap<>();
    private final Map<String, Slot> latches = new HashMap<>();
    private final Events events;
    private Slot fault;
    private Slot time;
    private Slot ticks;
    private long tickNanos;
    private long stepNanos;
    private boolean hasContinuous;
    private SolverWriter solver;

    ProgramWriter(Part part, Resolver resolver, List<Finding> findings) {
        this.part = part;
        this.resolver = resolver;
        this.findings = findings;
        this.events = new Events(this, resolver.real());
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
        stepNanos = resolver.nanos(Place.sheet(part.id(), "step"), part.step());
        tickNanos = tasks.isEmpty() ? stepNanos : tasks.keySet().stream().reduce(0L, Schedule::gcd);
        declareOutputs(blocks);
        for (FlatBlock f : blocks) {
            if (f.rateNanos() == FlatBlock.CONSTANT) {
                emit(f, null, null);
            }
        }
        units(Sorter.sort(continuous, findings, true), continuousOutputs, continuousUpdates);
        tasks.values().forEach(t -> units(Sorter.sort(t.blocks, findings, false), t.outputs, t.updates));
        return assemble();
    }

    private void units(List<Unit> order, List<Stmt> out, List<Stmt> updates) {
        for (Unit u : order) {
            switch (u) {
                case Unit.Single s -> emit(s.block(), out, updates);
                case Unit.Grouped g -> grouped(g, out, updates);
                case Unit.Loop l -> loop(l, out, updates);
            }
        }
    }

    private void emit(FlatBlock f, List<Stmt> out, List<Stmt> updates) {
        try {
            if (f.type().isElementwise()) {
                int elements = Math.max(1, f.elements());
                var liveSlots = new HashMap<String, Slot>();
                for (int i = 0; i < elements; i++) {
                    var e = new BlockEmitter(this, f, out, updates, elements == 1 ? BlockEmitter.ALL : i, liveSlots);
                    f.type().emit(e);
                    if (f.type().role() == BlockType.Role.TAP) {
                        tap(f, e, elements == 1 ? "" : "." + (i + 1));
                    }
                }
            } else {
                f.type().emit(new BlockEmitter(this, f, out, updates, BlockEmitter.ALL, new HashMap<>()));
            }
        } catch (IllegalArgumentException e) {
            findings.add(Finding.error(Place.sheet(f.path()), e.getMessage() + ".",
                    "Insert Type conversion blocks before its inputs so that all "
                    + "have the part's real type."));
        }
    }

    /** Blocks of a subsystem that runs as one. */
    private void grouped(Unit.Grouped unit, List<Stmt> out, List<Stmt> updates) {
        Group g = unit.group();
        var origin = Origin.of(g.path());
        List<Stmt> innerOut = new ArrayList<>();
        List<Stmt> innerUpdates = new ArrayList<>();
        if (!g.isConditional()) {
            units(unit.inner(), innerOut, innerUpdates);
            addGroup(out, g, innerOut);
            addGroup(updates, g, innerUpdates);
            return;
        }
        var condition = new Condition();
        conditions.put(g, condition);
        String name = g.path().substring(g.path().indexOf('/') + 1);
        condition.runs = slot(name + "_runs", Slot.Role.SIGNAL, Type.BOOL, 0, g.path(), "");
        var before = slot(name + "_was_on", Slot.Role.STATE, Type.BOOL, 0, g.path(), "");
        FlatBlock reader = unit.first();
        Expr control = g.control() == null ? Expr.of(false) : carried(reader, g.control(), 0);
        Expr was = Expr.read(before);
        units(unit.inner(), innerOut, innerUpdates);
        out.add(new Stmt.Assign(condition.runs, switch (g.runs()) {
            case "on rising edge" -> control.and(was.not());
            case "on falling edge" -> control.not().and(was);
            case "on any edge" -> control.compare(Expr.Op.NE, was);
            default -> control;
        }, origin));
        Expr runs = Expr.read(condition.runs);
        List<Stmt> body = new ArrayList<>();
        if (g.restarts() && g.runs().equals("while on")) {
            List<Stmt> restart = new ArrayList<>();
            condition.states.forEach(s -> restart(restart, s, origin));
            body.add(new Stmt.If(was.not(), restart, List.of(), origin));
        }
        body.addAll(innerOut);
        out.add(new Stmt.If(runs, body, List.of(), origin));
        if (!innerUpdates.isEmpty()) {
            updates.add(new Stmt.If(runs, innerUpdates, List.of(), origin));
        }
        updates.add(new Stmt.Assign(before, control, origin));
    }

    private void restart(List<Stmt> body, Slot s, Origin origin) {
        if (!s.isArray()) {
            body.add(new Stmt.Assign(s, Expr.of(s.type(), s.initial()), origin));
            return;
        }
        for (int i = 0; i < s.length(); i++) {
            body.add(new Stmt.Store(s, Expr.of(Type.INT32, i), Expr.of(s.type(), s.initial(i)), origin));
        }
    }

    private static void addGroup(List<Stmt> body, Group g, List<Stmt> inner) {
        if (!inner.isEmpty()) {
            body.add(new Stmt.Group(g.path().substring(g.path().lastIndexOf('/') + 1), inner, Origin.of(g.path())));
        }
    }

    /** A loop of equations: the torn outputs are assumed, the loop computed, and the assumption improved. */
    private void loop(Unit.Loop loop, List<Stmt> out, List<Stmt> updates) {
        String name = "loop_" + (loops.size() + 1);
        List<Slot> guesses = new ArrayList<>();
        List<Expr> results = new ArrayList<>();
        for (FlatBlock f : loop.torn()) {
            Expr[][] values = outputs.get(f);
            Slot[][] mine = new Slot[values.length][];
            for (int o = 0; o < values.length; o++) {
                mine[o] = new Slot[values[o].length];
                for (int i = 0; i < values[o].length; i++) {
                    mine[o][i] = slot(((Expr.Read) values[o][i]).slot().name() + "_assumed", Slot.Role.STATE, values[o][i].type(), 0,
                            f.path(), "");
                    guesses.add(mine[o][i]);
                    results.add(values[o][i]);
                }
            }
            assumed.put(f, mine);
        }
        List<Stmt> body = new ArrayList<>();
        loop.order().forEach(f -> emit(f, body, updates));
        loop.torn().forEach(assumed::remove);
        loops.add(new Procedure(name, "A loop of equations, for given values of " + guesses.size() + " of its signals.", body));
        out.addAll(new NewtonWriter(name, guesses, results, Origin.of(loop.torn().getFirst().path()), this::solverSlot, this::solverArray)
                .statements());
    }

    Slot solverSlot(String name, Type type) {
        return slot(name, Slot.Role.SIGNAL, type, 0, part.id(), "");
    }

    Slot solverArray(String name, int length) {
        var s = Slot.array(names.fresh(name), Slot.Role.SIGNAL, resolver.real(), new double[length], part.id());
        slots.add(s);
        return s;
    }

    private void declareOutputs(List<FlatBlock> blocks) {
        Set<FlatBlock> held = HeldOutputs.of(blocks);
        for (FlatBlock f : blocks) {
            var role = f.type().role();
            var ports = f.face().outputs();
            Expr[][] values = new Expr[ports.size()][];
            outputs.put(f, values);
            if (role == BlockType.Role.TERMINAL || role == BlockType.Role.INLET || role == BlockType.Role.OUTLET) {
                pins(f);
            }
            for (int o = 0; o < values.length; o++) {
                values[o] = new Expr[f.width(o)];
                String name = Labels.label(f) + (ports.size() == 1 ? "" : "_" + ports.get(o));
                for (int i = 0; i < values[o].length && role != BlockType.Role.CONSTANT; i++) {
                    String element = values[o].length == 1 ? name : name + "_" + (i + 1);
                    // What leaves a conditional subsystem keeps its value while that does not run.
                    var kept = held.contains(f) ? Slot.Role.STATE : Slot.Role.SIGNAL;
                    values[o][i] = Expr.read(f.struct() == null ? slot(element, kept, f.outputType(o), 0, f.path(), "")
                            : member(f, element, Structure.fields(f.settings().text("field")).getFirst().name()
                                    + (values[o].length == 1 ? "" : "_" + (i + 1)), f.outputType(o)));
                }
            }
        }
    }

    /** A signal that is part of a struct; it is always in memory. */
    private Slot member(FlatBlock f, String name, String field, Type type) {
        var s = new Slot(names.fresh(name), Slot.Role.SIGNAL, type, 0, f.path(), "").within(structs.member(f.struct(), field, names));
        slots.add(s);
        return s;
    }

    /** Makes the slots and ports on the outer side of an inlet, outlet or terminal. */
    private void pins(FlatBlock f) {
        Map<String, Double> numbers = new LinkedHashMap<>();
        Map<String, String> texts = new LinkedHashMap<>();
        for (Parameter p : f.type().parameters()) {
            if (p.isNumeric()) {
                numbers.put(p.name(), resolver.values(f, p.name())[0]);
            } else {
                texts.put(p.name(), f.settings().text(p.name()));
            }
        }
        var kind = f.type().terminal(f.settings());
        Map<String, Slot> slotsByPin = new LinkedHashMap<>();
        for (TerminalPin pin : f.type().pins(f.settings())) {
            Type type = pin.type() != null ? pin.type() : switch (f.type().role()) {
                case INLET -> f.outputType(0);
                case OUTLET -> f.inputType(0) == null ? resolver.real() : f.inputType(0);
                default -> resolver.real();
            };
            String unit = kind == null ? f.settings().text("unit") : pin.unit();
            String name = pin.name().isEmpty() ? "" : " " + pin.name();
            Slot s = slot(Labels.label(f) + name + "_pin", pin.input() ? Slot.Role.INPUT : Slot.Role.OUTPUT, type, pin.initial(), f.path(),
                    unit);
            slotsByPin.put("pin" + name, s);
            String owner = pin.ownKind() == null ? f.block().name() : pin.portOf(f.block().name());
            ports.add(new Port(pin.portOf(f.block().name()), s, owner, pin.ownKind() == null ? kind : pin.ownKind(), pin.wire(), f.path(),
                    numbers, texts));
        }
        pins.put(f, slotsByPin);
    }

    private void tap(FlatBlock f, BlockEmitter e, String element) {
        Expr value = e.in("u");
        Slot s = value instanceof Expr.Read r ? r.slot() : null;
        if (s == null) {
            s = slot(Labels.label(f) + element, Slot.Role.SIGNAL, value.type(), 0, f.path(), "");
            e.assign(s, value);
        }
        long period = f.rateNanos() <= 0 ? tickNanos : f.rateNanos();
        taps.add(new Tap(Labels.address(f) + element, s, Math.toIntExact(period / tickNanos), f.rateNanos() <= 0,
                f.settings().text("unit")));
    }

    Slot slot(String wanted, Slot.Role role, Type type, double initial, String path, String unit) {
        var s = new Slot("fault".equals(wanted) ? wanted : names.fresh(wanted), role, type, initial, path, unit);
        slots.add(s);
        return s;
    }

    Expr time() {
        if (time == null) {
            time = slot(Program.TIME, Slot.Role.STATE, Type.FLOAT64, 0, part.id(), "s");
            ticks = slot(Program.TICKS, Slot.Role.STATE, Type.FLOAT64, 0, part.id(), "");
        }
        return Expr.read(time);
    }

    /** The value one block reads of another, through a latch where the two run in different tasks. */
    Expr carried(FlatBlock reader, FlatBlock.Source source, int element) {
        Slot[][] guess = assumed.get(source.block());
        if (guess != null) {
            return Expr.read(guess[source.output()][Math.min(element, guess[source.output()].length - 1)]);
        }
        Expr[] all = outputs.get(source.block())[source.output()];
        Expr value = all[Math.min(element, all.length - 1)];
        long from = source.block().rateNanos();
        long to = reader.rateNanos();
        if (from <= 0 || to <= 0 || from == to || value instanceof Expr.Literal) {
            return value;
        }
        Slot origin = ((Expr.Read) value).slot();
        if (origin.role() == Slot.Role.TUNABLE) {
            return value;
        }
        String before = reader.type().beforeFirst();
        double initial = before.isEmpty() || from < to ? 0 : resolver.values(reader, before)[0];
        Slot latch = latches.computeIfAbsent(origin.name() + ">" + to + (initial == 0 ? "" : "=" + initial), _ -> {
            var s = slot(origin.name() + "_for_" + Labels.rateName(to), Slot.Role.LATCH, value.type(), initial, origin.path(),
                    origin.unit());
            var copy = new Stmt.Assign(s, initial == 0 ? value : value.when(Expr.read(hasRun(from)), Expr.of(value.type(), initial)),
                    Origin.of(origin.path()));
            if (from < to) {
                tasks.get(to).latch.add(copy);
            } else {
                tasks.get(from).publish.add(copy);
            }
            return s;
        });
        return Expr.read(latch);
    }

    /** Whether a task has run at all. */
    private Slot hasRun(long rate) {
        TaskBody task = tasks.get(rate);
        if (task.hasRun == null) {
            task.hasRun = slot("task_" + Labels.rateName(rate) + "_has_run", Slot.Role.STATE, Type.BOOL, 0, part.id(), "");
        }
        return task.hasRun;
    }

    private Program assemble() {
        List<Procedure> procedures = new ArrayList<>();
        List<Task> taskList = new ArrayList<>();
        Solver method = Solver.named(part.solver());
        if (method == Solver.DP54 && !continuousStates.isEmpty()) {
            time();
        }
        solver = new SolverWriter(method, continuousStates, derivativeOf, time, crossings, events, SOLVER, this);
        procedures.add(new Procedure(Program.INIT, "Sets every member to its initial value.", List.of()));
        procedures.addAll(loops);
        if (hasContinuous) {
            procedures.add(new Procedure(Program.OUTPUTS, "Outputs of the continuous part.", continuousOutputs));
        }
        if (!continuousStates.isEmpty()) {
            procedures.add(new Procedure(Program.DERIVATIVES, "Derivatives of the continuous states.", derivatives));
        }
        if (!events.isEmpty()) {
            procedures.add(events.settle(SOLVER));
        }
        if (!continuousStates.isEmpty()) {
            procedures.addAll(solver.procedures());
        }
        tasks.forEach((rate, body) -> {
            var task = new Task("task_" + Labels.rateName(rate), Math.toIntExact(rate / tickNanos));
            taskList.add(task);
            procedures.add(new Procedure(task.publish(), "Shows results of the " + Labels.rateName(rate) + " task to faster tasks.",
                    body.publish));
            procedures.add(new Procedure(task.latch(), "Copies the values of faster tasks for the " + Labels.rateName(rate) + " task.",
                    body.latch));
            var all = new ArrayList<>(body.outputs);
            all.addAll(body.updates);
            if (body.hasRun != null) {
                all.add(new Stmt.Assign(body.hasRun, Expr.of(true), Schedule.ORIGIN));
            }
            procedures.add(new Procedure(task.run(), "The " + Labels.rateName(rate) + " task.", all));
        });
        var schedule = new Schedule(this, solver, time, ticks, tasks, continuousUpdates, continuousStates, hasContinuous);
        procedures.add(new Procedure(Program.SAMPLE, "First call of each tick: time, and outputs of the continuous part.",
                schedule.sample()));
        procedures.add(new Procedure(Program.STEP, "Second call of each tick: every task that is due, fastest first.",
                schedule.step(taskList)));
        procedures.add(new Procedure(Program.ADVANCE, "Last call of each tick: advances to the next tick.", schedule.advance(stepNanos)));
        var common = new CommonExpressions((name, e) -> slot(name, Slot.Role.SIGNAL, e.type(), 0, part.id(), "")).remove(procedures);
        var kept = keptSlots();
        var shared = SharedSlots.share(DeadStores.remove(common, kept), taskList, Set.copyOf(kept));
        taps.replaceAll(t -> new Tap(t.name(), shared.settled(t.slot()), t.periodTicks(), t.continuous(), t.unit()));
        var localised = Localiser.localise(shared, slots.stream().map(shared::settled).distinct().toList(), keptSlots());
        var usage = Usage.of(localised.procedures());
        var dynamics = hasContinuous ? new Program.Dynamics(continuousStates.stream().map(shared::settled).toList(),
                continuousStates.stream().map(derivativeOf::get).map(shared::settled).toList()) : null;
        Map<String, Slot> standIns = new HashMap<>();
        slots.stream().filter(s -> shared.settled(s) != s).forEach(s -> standIns.put(s.name(), shared.settled(s)));
        return new Program(part.id(), part.title(), tickNanos, localised.slots(), localised.procedures(),
                usage.functions(), usage.tables(), taskList, dynamics, ports,
                taps, tunables, fault, standIns);
    }

    private List<Slot> keptSlots() {
        List<Slot> kept = new ArrayList<>(slots.stream().filter(s -> s.member() != null).toList());
        taps.forEach(t -> kept.add(t.slot()));
        return kept;
    }

    /** What happens at an instant in the continuous part. */
    Events events() {
        return events;
    }

    Resolver resolver() {
        return resolver;
    }

    long tickNanos() {
        return tickNanos;
    }

    /** A state of the program itself. */
    Slot state(String name, Type type) {
        return slot(name, Slot.Role.STATE, type, 0, part.id(), "");
    }

    double stepSeconds() {
        return stepNanos * 1e-9;
    }

    double tickSeconds() {
        return tickNanos * 1e-9;
    }

    Slot pinOf(FlatBlock f, String pin) {
        return pins.get(f).get(pin);
    }

    Expr[] outputs(FlatBlock f, String port) {
        return outputs.get(f)[f.face().outputs().indexOf(port)];
    }

    void problem(FlatBlock f, String cause, String cure) {
        findings.add(Finding.error(Place.sheet(f.path()), cause, cure));
    }

    void report(FlatBlock f, Mistake m) {
        findings.add(new Finding(m.isWarning() ? Finding.Severity.WARNING : Finding.Severity.ERROR,
                new Place.Line(f.path(), m.line(), m.column()), m.located(), m.cure()));
    }

    void warning(FlatBlock f, String cause, String cure) {
        findings.add(Finding.warning(Place.sheet(f.path()), cause, cure));
    }

    void tunable(Tunable t) {
        tunables.add(t);
    }

    /** A state of a block; conditional subsystems around it remember it. */
    void remembered(FlatBlock f, Slot s) {
        for (Group g = f.group(); g != null; g = g.parent()) {
            if (conditions.containsKey(g)) {
                conditions.get(g).states.add(s);
            }
        }
    }

    Slot integrated(FlatBlock f, String name, double initial) {
        Slot s = slot(Labels.label(f) + "_" + name, Slot.Role.CONTINUOUS, resolver.real(), initial, f.path(), "");
        continuousStates.add(s);
        derivativeOf.put(s, slot(Labels.label(f) + "_d" + name, Slot.Role.SIGNAL, resolver.real(), 0, f.path(), ""));
        return s;
    }

    void derivative(Slot state, Expr value, Origin origin) {
        derivatives.add(new Stmt.Assign(derivativeOf.get(state), value, origin));
    }

    void crossing(FlatBlock f, Expr value) {
        if (f.rateNanos() == FlatBlock.CONTINUOUS) {
            crossings.add(value);
        }
    }

    String fresh(String name) {
        return names.fresh(name);
    }

    Slot array(FlatBlock f, String name, Slot.Role role, Type type, double[] initial) {
        var s = Slot.array(names.fresh(Labels.label(f) + "_" + name), role, type, initial, f.path());
        slots.add(s);
        return s;
    }
}
