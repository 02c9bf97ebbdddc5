package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Type;
import boldanvil.core.program.Usage;
import boldanvil.core.text.StructuredTextParser.ConfigurationContext;
import boldanvil.core.text.StructuredTextParser.PlcProgramContext;
import boldanvil.core.text.StructuredTextParser.ProgramContext;
import boldanvil.core.text.StructuredTextParser.ProgramUseContext;
import boldanvil.core.text.StructuredTextParser.ResourceItemContext;
import boldanvil.core.text.StructuredTextParser.TaskContext;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

/** Turns the text of a whole program into procedures, one for each use of a program. */
final class PlcCompilation {
    /** Elements of an array that are variables of their own for whoever looks at the program. */
    private static final int SHOWN_ELEMENTS = 1_000;
    private static final int SHOWN = 100_000;

    private final ParsedText text;
    private final PlcProgram.Surroundings around;
    private final PlcHost host;
    private final Compilation compilation;
    private final List<PlcProgram.Variable> variables = new ArrayList<>();
    private final List<Procedure> procedures = new ArrayList<>();
    private final Map<String, ProgramContext> programs = new LinkedHashMap<>();
    private final Set<String> instances = new HashSet<>();
    private final List<Chart> charts = new ArrayList<>();
    private final Map<String, Double> beginnings = new LinkedHashMap<>();

    /** A chart of an instance; its steps are known when it has been compiled. */
    private record Chart(String path, ChartMemory memory, int index) {}

    PlcCompilation(ParsedText text, PlcProgram.Surroundings around) {
        this.text = text;
        this.around = around;
        host = new PlcHost(around);
        compilation = Compilation.ofApplication(host, text.mistakes());
        compilation.everywhere().add("first_scan", new Symbol.Value(new Symbol.Typed(Expr.read(host.image().firstScan()), TextType.BOOL)));
    }

    PlcProgram compile() {
        List<PlcProgram.Task> tasks = new ArrayList<>();
        String name = "program";
        if (text.mistakes().isEmpty()) {
            var tree = text.application();
            name = name(tree);
            try {
                compile(tree, tasks);
            } catch (Compilation.TooLargeException e) {
                compilation.tooLarge();
            }
        }
        var mistakes = compilation.mistakes();
        Program program = mistakes.stream().allMatch(Mistake::isWarning) ? assemble(name) : null;
        return new PlcProgram(name, program, host.image(), tasks, variables, beginnings, mistakes);
    }

    private static String name(PlcProgramContext tree) {
        return !tree.configuration().isEmpty() ? tree.configuration(0).name.getText()
                : !tree.program().isEmpty() ? tree.program(0).name.getText() : "program";
    }

    private void compile(PlcProgramContext tree, List<PlcProgram.Task> tasks) {
        compilation.declare(tree.function(), tree.functionBlock(), tree.typeBlock());
        var globals = new Declarer(compilation, compilation.everywhere(), "", 1).listener(this::note);
        globals.variables(tree.varBlock());
        tree.configuration().forEach(c -> {
            globals.variables(c.varBlock());
            c.resource().forEach(r -> globals.variables(r.varBlock()));
        });
        compilation.checkAlone(tree.function(), tree.functionBlock());
        tree.program().forEach(p -> {
            if (programs.putIfAbsent(Scope.key(p.name.getText()), p) != null) {
                compilation.mistake(p.name, "There are two programs '" + p.name.getText() + "'.", "Rename one of them.");
            }
        });
        if (tree.configuration().size() > 1) {
            compilation.mistake(tree.configuration(1).name, "There is a second configuration.", "Remove it; a PLC runs one.");
        }
        if (tree.configuration().isEmpty()) {
            List<String> runs = new ArrayList<>();
            programs.values().forEach(p -> compilation.guarded(() -> runs.add(use(p, p.name.getText(), List.of(),
                    around.intervalNanos()))));
            tasks.add(new PlcProgram.Task("main", around.intervalNanos(), null, 1, runs));
        } else {
            configuration(tree.configuration(0), tasks);
        }
        if (procedures.isEmpty() && compilation.mistakes().isEmpty()) {
            compilation.add(new Mistake(1, 1, "The text has no program that runs.", "Write PROGRAM … END_PROGRAM, and name it in the "
                    + "configuration where there is one.", false));
        }
    }

    /** A task while its uses are collected. */
    private record Open(TaskContext tree, long interval, PlcProgram.Variable trigger, int priority, List<String> runs) {}

    private void configuration(ConfigurationContext c, List<PlcProgram.Task> tasks) {
        List<ResourceItemContext> items = new ArrayList<>(c.resourceItem());
        c.resource().forEach(r -> items.addAll(r.resourceItem()));
        Map<String, Open> open = new LinkedHashMap<>();
        for (var i : items) {
            if (i instanceof TaskContext t) {
                compilation.guarded(() -> {
                    if (open.putIfAbsent(Scope.key(t.name.getText()), task(t)) != null) {
                        compilation.mistake(t.name, "There are two tasks '" + t.name.getText() + "'.", "Rename one of them.");
                    }
                });
            }
        }
        List<String> free = new ArrayList<>();
        for (var i : items) {
            if (i instanceof ProgramUseContext u) {
                compilation.guarded(() -> use(u, open, free));
            }
        }
        open.values().forEach(o -> tasks.add(new PlcProgram.Task(o.tree().name.getText(), o.interval(), o.trigger(), o.priority(),
                o.runs())));
        if (!free.isEmpty()) {
            tasks.add(new PlcProgram.Task("free", 0, null, Integer.MAX_VALUE, free));
        }
    }

    private Open task(TaskContext t) {
        double interval = 0;
        PlcProgram.Variable trigger = null;
        int priority = 0;
        var expressions = new BodyCompiler(compilation, compilation.everywhere(), null).expressions();
        for (var p : t.property()) {
            String name = p.getChild(0).getText().toUpperCase(Locale.ROOT);
            switch (name) {
                case "INTERVAL" -> {
                    var v = expressions.to(expressions.value(p.expression(), TextType.TIME), TextType.TIME, p.getStart());
                    if (!(v.expr() instanceof Expr.Literal l) || l.value() < 0 || l.value() > 86_400) {
                        throw Compilation.stop(p, "The interval is not a constant time up to a day.", "Write such as T#10ms.");
                    }
                    interval = l.value();
                }
                case "PRIORITY" -> {
                    long n = expressions.whole(p.expression());
                    if (n < 0 || n > 65_535) {
                        throw Compilation.stop(p, "A priority is a number from 0 to 65535.", "0 is the most urgent.");
                    }
                    priority = (int) n;
                }
                case "SINGLE" -> {
                    String path = p.expression().getText();
                    trigger = variables.stream().filter(v -> v.path().equalsIgnoreCase(path) && v.carried() == Type.BOOL).findFirst()
                            .orElseThrow(() -> Compilation.stop(p, "'" + path + "' is not a global BOOL variable.",
                                    "Declare it in VAR_GLOBAL."));
                }
                default -> throw Compilation.stop(p, "A task has no '" + name + "'.", "Use INTERVAL, SINGLE and PRIORITY.");
            }
        }
        return new Open(t, Math.round(interval * 1e9), trigger, priority, new ArrayList<>());
    }

    private void use(ProgramUseContext u, Map<String, Open> open, List<String> free) {
        var p = programs.get(Scope.key(u.type.getText()));
        if (p == null) {
            throw Compilation.stop(u.type, "There is no program '" + u.type.getText() + "'.", "Correct the name, or write the program.");
        }
        Open task = u.task == null ? null : open.get(Scope.key(u.task.getText()));
        if (u.task != null && task == null) {
            throw Compilation.stop(u.task, "There is no task '" + u.task.getText() + "'.", "Declare it before the program.");
        }
        String procedure = use(p, u.name.getText(), u.argument(), task == null ? 0 : task.interval());
        (task == null ? free : task.runs()).add(procedure);
    }

    /** One instance of a program; returns its procedure. */
    private String use(ProgramContext p, String name, List<StructuredTextParser.ArgumentContext> arguments, long interval) {
        if (!instances.add(Scope.key(name))) {
            throw Compilation.stop(p.name, "There are two programs named '" + name + "'.", "Rename one of them.");
        }
        host.begin(name, interval * 1e-9);
        var scope = new Scope(compilation.everywhere());
        new Declarer(compilation, scope, name + "_", 1).listener((n, place, r, a, i) -> note(name + "." + n, place, r, a, i))
                .variables(p.varBlock());
        var caller = new BodyCompiler(compilation, compilation.everywhere(), null);
        if (p.chart() != null) {
            scope.chart(new ChartMemory(host, name + "_", 1));
        }
        new Calls(compilation, compilation.everywhere(), caller).program(p, scope, arguments);
        if (p.chart() != null) {
            charts.add(new Chart(name, scope.chart(), 0));
        }
        String procedure = host.unique("run_" + name);
        procedures.add(new Procedure(procedure, "The program " + name + ".", caller.written()));
        return procedure;
    }

    /** Notes every single value of a variable. */
    private void note(String path, Symbol.Place p, boolean retained, String address, double[] initial) {
        int first = variables.size();
        note(path, p.storage(), 0, retained, address);
        for (int i = 0; initial != null && i < Math.min(initial.length, variables.size() - first); i++) {
            if (initial[i] != 0) {
                beginnings.put(variables.get(first + i).path(), initial[i]);
            }
        }
    }

    private void note(String path, Storage s, int index, boolean retained, String address) {
        if (variables.size() >= SHOWN) {
            return;
        }
        switch (s) {
            case Storage.Cell c -> {
                if (c.slot().inMemory()) {
                    variables.add(new PlcProgram.Variable(path, c.type().name(), c.slot().type(), c.slot(), index, -1, 0, retained, address,
                            choices(c.type())));
                }
            }
            case Storage.Located l -> {
                int bits = l.type().type() == TextType.BOOL ? 1 : 8 * l.type().type().type().bytes();
                variables.add(new PlcProgram.Variable(path, l.type().name(), l.type().type().type(), l.area(), 0, l.bit() + index * bits, 0,
                        retained, address, choices(l.type())));
            }
            case Storage.Text t -> variables.add(new PlcProgram.Variable(path, t.type().shown(), t.slot().type(), t.slot(),
                    index * (t.type().capacity() + 1), -1, t.type().capacity(), retained, address, Map.of()));
            case Storage.Fields f -> f.members().forEach((key, m) -> note(path + "." + f.type().fields().get(key).name(), m, index,
                    retained,
                    ""));
            case Storage.Row r -> row(path, r, index, retained, address);
            case Storage.Instance i -> {
                i.scope().symbols().forEach((key, symbol) -> {
                    if (symbol instanceof Symbol.Place p) {
                        // What is called "x was" remembers the level of an edge.
                        String name = key.contains(" ") ? "$" + key.replace(' ', '_') : i.scope().shown(key);
                        note(path + "." + name, p.storage(), index, retained, "");
                    }
                });
                if (i.scope().chart() != null) {
                    charts.add(new Chart(path, i.scope().chart(), index));
                }
            }
        }
    }

    private void row(String path, Storage.Row r, int index, boolean retained, String address) {
        int size = r.type().size();
        for (int i = 0; i < Math.min(size, SHOWN_ELEMENTS); i++) {
            note(path + "[" + subscripts(r.type().bounds(), i) + "]", r.element(), index * size + i, retained, i == 0 ? address : "");
        }
    }

    private static String subscripts(List<DataType.Bounds> bounds, int element) {
        StringBuilder text = new StringBuilder();
        int rest = element;
        for (int d = bounds.size() - 1; d >= 0; d--) {
            int size = bounds.get(d).size();
            text.insert(0, (d == 0 ? "" : ",") + (bounds.get(d).low() + rest % size));
            rest /= size;
        }
        return text.toString();
    }

    private Map<String, Long> choices(DataType.Plain t) {
        return compilation.types().enumerations().getOrDefault(Scope.key(t.name()), Map.of());
    }

    private Program assemble(String name) {
        for (Chart c : charts) {
            c.memory().shown().forEach((shown, slot) -> variables.add(new PlcProgram.Variable(c.path() + "." + shown,
                    slot.type() == Type.BOOL ? "BOOL" : slot.type() == Type.INT32 ? "DINT" : "TIME", slot.type(), slot, c.index(), -1, 0,
                            false,
                    "", Map.of())));
        }
        List<Procedure> all = new ArrayList<>();
        all.add(new Procedure(Program.INIT, "Sets every variable to its initial value.", List.of()));
        all.addAll(procedures);
        for (String entry : List.of(Program.SAMPLE, Program.STEP, Program.ADVANCE)) {
            all.add(new Procedure(entry, "Tasks are called by the PLC.", List.of()));
        }
        var usage = Usage.of(all);
        return new Program(host.unique(name.toLowerCase(Locale.ROOT)), name, around.intervalNanos(), host.slots(), all, usage.functions(),
                usage.tables(), List.of(), null, List.of(), List.of(), List.of(), host.fault());
    }

    /** Where the variables of a PLC's program lie. */
    private static final class PlcHost implements Host {
        private final List<Slot> slots = new ArrayList<>();
        private final Set<String> names = new HashSet<>();
        private final PlcProgram.Image image;
        private final Slot fault;
        private Origin origin = Origin.of("program");
        private double cycle;

        PlcHost(PlcProgram.Surroundings around) {
            fault = keep(new Slot(unique("fault"), Slot.Role.STATE, Type.INT32, 0, "program", ""));
            image = new PlcProgram.Image(array("image_in", Type.UINT8, new double[around.inputBytes()]),
                    array("image_out", Type.UINT8, new double[around.outputBytes()]),
                    array("image_memory", Type.UINT8, new double[around.memoryBytes()]), state("scan_time", Type.FLOAT64, 0),
                            state("first_scan", Type.BOOL, 1),
                    state("loop_budget", Type.INT32, around.loopRounds()));
        }

        void begin(String place, double seconds) {
            origin = Origin.of(place);
            cycle = seconds;
        }

        List<Slot> slots() {
            return slots;
        }

        Slot fault() {
            return fault;
        }

        PlcProgram.Image image() {
            return image;
        }

        /** An identifier that is not used yet. */
        String unique(String wanted) {
            String base = wanted.replaceAll("[^A-Za-z0-9_]", "_").toLowerCase(Locale.ROOT);
            base = Character.isLetter(base.charAt(0)) ? base : "v" + base;
            String name = base;
            for (int i = 2; !names.add(name); i++) {
                name = base + "_" + i;
            }
            return name;
        }

        private Slot keep(Slot s) {
            slots.add(s);
            return s;
        }

        @Override
        public Slot state(String name, Type type, double initial) {
            return keep(new Slot(unique(name), Slot.Role.STATE, type, initial, origin.path(), ""));
        }

        @Override
        public Slot array(String name, Type type, double[] initial) {
            return keep(Slot.array(unique(name), Slot.Role.STATE, type, initial, origin.path()));
        }

        @Override
        public Slot local(String name, Type type) {
            return Slot.of(unique(name), Slot.Role.LOCAL, type);
        }

        @Override
        public Slot area(char letter) {
            return image.area(letter);
        }

        @Override
        public Expr now() {
            return Expr.read(image.now());
        }

        @Override
        public Slot budget() {
            return image.budget();
        }

        @Override
        public Expr input(String name) {
            throw new IllegalStateException(name);
        }

        @Override
        public String functionName(String wanted) {
            return unique("f_" + wanted);
        }

        @Override
        public double cycleTime() {
            return cycle;
        }

        @Override
        public int loopLimit() {
            return Integer.MAX_VALUE;
        }

        @Override
        public Origin origin() {
            return origin;
        }
    }
}
