package boldanvil.core.iec;

import boldanvil.core.output.CodeGenerator;
import boldanvil.core.output.CodeText;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.output.SharedGroups;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Function;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Rewriter;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.text.TextBlock;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;
import java.util.stream.Stream;

/**
 * Writes a program as Structured Text (IEC 61131-3:2013): a function block that does what the part does in one base tick, a program that
 * connects it to the outside, and a task. Nothing in the text depends on the PLC but the addresses that were asked for.
 */
public final class StGenerator {
    /** Structured Text without addresses. */
    public static final CodeGenerator STRUCTURED_TEXT = new CodeGenerator() {
        @Override
        public String language() {
            return "Structured Text";
        }

        @Override
        public List<GeneratedFile> generate(Program program) {
            return List.of(of(program, Map.of()));
        }
    };

    private static final Map<String, String> HELPERS = CodeText.sections(StGenerator.class, "helpers.st");
    /** Which helper needs another one. */
    private static final Map<String, List<String>> NEEDS = Map.of("BA_FLOOR", List.of("BA_ROUND"), "BA_CEILING",
            List.of("BA_ROUND", "BA_FLOOR"),
            "BA_TRUNCATE", List.of("BA_ROUND", "BA_FLOOR"));

    private final Program program;
    private final StNames names = new StNames();
    private final Set<String> helpers = new TreeSet<>();
    private final StExpressions expressions = new StExpressions(names, helpers);
    private final SharedGroups shared;
    private final WrittenTexts written;
    private final StTasks tasks;
    private final StDeclarations declarations;
    private final Map<String, Procedure> procedures = new HashMap<>();
    private final Map<String, Integer> calls = new HashMap<>();
    private final Map<Slot, Integer> targets = new IdentityHashMap<>();
    private final Set<Slot> copied = Collections.newSetFromMap(new IdentityHashMap<>());
    private final Map<String, String> portNames = new LinkedHashMap<>();
    private final StPrograms programs;
    private String lastPlace;
    private int rounds;
    private boolean inFunction;

    private StGenerator(Program program, Map<String, String> addresses) {
        this.program = program;
        String main = names.fresh(program.name());
        String block = names.fresh(program.name() + "_part");
        names.fresh("fault");
        names.name(program.fault(), "fault");
        program.ports().forEach(p -> {
            String name = names.fresh(p.name());
            portNames.put(p.name(), name);
            names.name(p.slot(), name);
        });
        written = new WrittenTexts(program, names);
        tasks = new StTasks(program, written);
        declarations = new StDeclarations(program, names);
        programs = new StPrograms(program, names, tasks, declarations, addresses, main, block);
        shared = new SharedGroups(program, s -> s instanceof Stmt.Written w && written.of(w) != null);
        program.procedures().forEach(p -> procedures.put(p.name(), p));
        program.procedures().forEach(p -> count(p.body()));
        tasks.units().forEach(u -> copies(u.body()));
    }

    /**
     * The text of a part for a PLC.
     *
     * @param addresses direct addresses of ports, such as {@code %IX0.3}, by the names of the ports; others have none
     * @throws boldanvil.core.finding.FindingException when the part does what the language cannot
     */
    public static GeneratedFile of(Program program, Map<String, String> addresses) {
        // The first pass finds the helpers, the second knows its line numbers.
        var first = new StGenerator(program, addresses);
        first.write(new CodeText(), Set.of());
        var t = new CodeText();
        new StGenerator(program, addresses).write(t, first.helpers);
        return t.file(program.name() + ".st");
    }

    /** What the ports of a part are called in its text, by the names of the ports. */
    public static Map<String, String> portNames(Program program) {
        return new StGenerator(program, Map.of()).portNames;
    }

    /** Where the values of a part's slots are while its text runs, by slots that are kept from tick to tick. */
    public static Map<Slot, String> paths(Program program) {
        var g = new StGenerator(program, Map.of());
        g.write(new CodeText(), Set.of());
        Map<Slot, String> paths = new IdentityHashMap<>();
        program.slots().forEach(s -> paths.put(s, g.tasks.isCommon(s) ? g.names.of(s)
                : g.programs.name(g.tasks.owner(s)) + ".part." + g.names.of(s)));
        return paths;
    }

    /** Where the values of a part's ports are while its text runs, by the names of the ports. */
    public static Map<String, String> portPaths(Program program) {
        var g = new StGenerator(program, Map.of());
        Map<String, String> paths = new HashMap<>();
        program.ports().forEach(p -> paths.put(p.name(), (g.tasks.isCommon(p.slot()) ? "" : g.programs.name(g.tasks.owner(p.slot())) + ".")
                + g.portNames.get(p.name())));
        return paths;
    }

    /** Lets the copies of inputs go by the names of the inputs, which do not change while a task runs. */
    private void copies(List<Stmt> body) {
        for (Stmt s : body) {
            switch (s) {
                case Stmt.Assign a when isCopy(a) -> {
                    names.name(a.target(), names.of(((Expr.Read) a.value()).slot()));
                    copied.add(a.target());
                }
                case Stmt.Group g when shared.of(g) == null -> copies(g.body());
                case Stmt.Invoke i when !isMethod(i) -> copies(procedures.get(i.procedure()).body());
                default -> { }
            }
        }
    }

    private boolean isCopy(Stmt.Assign a) {
        return a.target().role() == Slot.Role.LOCAL && targets.get(a.target()) == 1 && a.value() instanceof Expr.Read r
                && r.slot().role() == Slot.Role.INPUT && !tasks.isCommon(r.slot());
    }

    private void count(List<Stmt> body) {
        for (Stmt s : body) {
            switch (s) {
                case Stmt.Invoke i -> calls.merge(i.procedure(), 1, Integer::sum);
                case Stmt.Assign a -> targets.merge(a.target(), 1, Integer::sum);
                default -> { }
            }
            s.bodies().forEach(this::count);
        }
    }

    private void write(CodeText t, Set<String> needed) {
        t.line("(* " + StDeclarations.comment(program.title()) + ": generated from the sheet. *)").line("");
        Set<String> all = new LinkedHashSet<>();
        needed.forEach(h -> {
            all.addAll(NEEDS.getOrDefault(h, List.of()));
            all.add(h);
        });
        all.forEach(h -> t.lines(HELPERS.get(h)).line(""));
        functions().forEach(f -> function(t, f));
        written.libraries().forEach(l -> t.lines(l).line(""));
        written.blocks().forEach(b -> block(t, b));
        shared.functions().forEach(f -> shared(t, f));
        tasks.units().forEach(u -> part(t, u));
        programs.write(t);
    }

    /** Functions in use that the standard does not have, callees first. */
    private Set<Function> functions() {
        Set<Function> used = new LinkedHashSet<>();
        program.procedures().forEach(p -> Rewriter.expressions(p.body(), e -> note(e, used)));
        return used;
    }

    private static void note(Expr e, Set<Function> used) {
        if (e instanceof Expr.Apply a && !StExpressions.isStandard(a.function()) && !used.contains(a.function())) {
            Rewriter.expressions(a.function().body(), x -> note(x, used));
            Rewriter.visit(a.function().result(), x -> note(x, used));
            used.add(a.function());
        }
    }

    private void function(CodeText t, Function f) {
        String name = names.of("function", f.name());
        t.open("FUNCTION " + name + " : " + StExpressions.type(f.result().type())).open("VAR_INPUT");
        // An input cannot be set in the standard, so one that the body sets is copied first.
        Set<Slot> set = new LinkedHashSet<>();
        targets(f.body(), set);
        set.retainAll(f.parameters());
        f.parameters().forEach(p -> t.line((set.contains(p) ? names.of("input " + f.name(), p.name() + "_in") : names.of(p)) + " : "
                + StDeclarations.type(p) + ";"));
        t.close("END_VAR");
        if (!set.isEmpty()) {
            t.open("VAR");
            set.forEach(p -> declarations.local(t, p));
            t.close("END_VAR");
        }
        variables(t, "VAR", f.body(), Set.copyOf(f.parameters()));
        t.close("");
        set.forEach(p -> t.line(names.of(p) + " := " + names.of("input " + f.name(), p.name() + "_in") + ";"));
        lastPlace = null;
        expressions.at(f.name());
        inFunction = true;
        statements(t, f.body());
        inFunction = false;
        t.line(name + " := " + expressions.bare(f.result()) + ";").line("END_FUNCTION").line("");
    }

    private static void targets(List<Stmt> body, Set<Slot> found) {
        for (Stmt s : body) {
            if (s instanceof Stmt.Assign a) {
                found.add(a.target());
            }
            s.bodies().forEach(b -> targets(b, found));
        }
    }

    /** What several subsystems do alike; it keeps nothing, all that lasts is given to it. */
    private void shared(CodeText t, SharedGroups.Shared f) {
        String name = names.of("shared", f.name());
        Map<Slot, String> texts = new IdentityHashMap<>();
        t.line("(* What several subsystems do alike. *)").open("FUNCTION_BLOCK " + name);
        List<SharedGroups.Argument> given = f.arguments().stream().filter(a -> !isReference(a)).toList();
        List<SharedGroups.Argument> references = f.arguments().stream().filter(StGenerator::isReference).toList();
        f.arguments().forEach(a -> texts.put(a.slot(), names.of("argument " + f.name(), a.slot().name())));
        arguments(t, "VAR_INPUT", given, texts);
        arguments(t, "VAR_IN_OUT", references, texts);
        variables(t, "VAR", f.body(), texts.keySet());
        t.close("");
        lastPlace = null;
        expressions.arguments(texts);
        statements(t, f.body());
        expressions.arguments(Map.of());
        t.line("END_FUNCTION_BLOCK").line("");
    }

    private static boolean isReference(SharedGroups.Argument a) {
        return a.written() || a.slot().isArray();
    }

    private static void arguments(CodeText t, String kind, List<SharedGroups.Argument> some, Map<Slot, String> texts) {
        if (!some.isEmpty()) {
            t.open(kind);
            some.forEach(a -> t.line(texts.get(a.slot()) + " : " + StDeclarations.type(a.slot()) + ";"));
            t.close("END_VAR");
        }
    }

    /** The function block of a task: its memory, and what it does when the task runs. */
    private void part(CodeText t, StTasks.Unit u) {
        boolean base = u.due() == null;
        String when = base ? "Call it every " + StPrograms.time(program.tickNanos()) : "What happens every " + u.rate();
        t.line("(* " + StDeclarations.comment(program.title()) + ". " + when + ". *)").open("FUNCTION_BLOCK " + programs.block(u));
        memory(t, "VAR_INPUT", u, Slot.Role.INPUT);
        memory(t, "VAR_OUTPUT", u, Slot.Role.OUTPUT);
        List<Slot> external = new ArrayList<>(program.slots().stream().filter(s -> tasks.isCommon(s) && tasks.uses(u, s)).toList());
        tasks.units().stream().map(StTasks.Unit::due).filter(d -> d != null && base).forEach(external::add);
        StDeclarations.section(t, "VAR_EXTERNAL", external, s -> declarations.external(t, s));
        if (own(u, Slot.Role.TUNABLE).findAny().isPresent()) {
            t.line("(* Values that may be changed while it runs. *)");
        }
        memory(t, "VAR", u, Slot.Role.TUNABLE);
        t.line("(* Signals and what is kept from tick to tick. *)").open("VAR");
        own(u, Slot.Role.SIGNAL, Slot.Role.STATE, Slot.Role.CONTINUOUS, Slot.Role.LATCH).filter(s -> s != program.fault() && !written
                .isInside(s)).forEach(s -> declarations.declare(t, s));
        t.line("fault : DWORD;");
        Set<Object> called = called(u.body());
        shared.functions().stream().filter(called::contains).forEach(f -> t.line(call(f) + " : " + names.of("shared", f.name()) + ";"));
        written.uses().stream().filter(called::contains).forEach(w -> t.line(w.name() + " : " + w.block().name() + ";"));
        t.close("END_VAR");
        StDeclarations.section(t, "VAR CONSTANT", program.tables().stream().filter(called::contains).toList(), table -> {
            List<String> values = new ArrayList<>();
            for (int i = 0; i < table.size(); i++) {
                values.add(StExpressions.plain(table.type(), table.value(i)));
            }
            t.line(names.of("table", table.name()) + " : ARRAY [0.." + (table.size() - 1) + "] OF " + StExpressions.type(table.type())
                    + " := [" + String.join(", ", values) + "];");
        });
        variables(t, "VAR_TEMP", u.body(), Set.of());
        t.close("");
        program.procedures().stream().filter(p -> calls.getOrDefault(p.name(), 0) > 1 && isReached(p) && called.contains(p))
                .forEach(p -> method(t, p));
        lastPlace = null;
        rounds = 0;
        statements(t, u.body());
        t.line("END_FUNCTION_BLOCK").line("");
    }

    private Stream<Slot> own(StTasks.Unit u, Slot.Role... roles) {
        return program.slots().stream().filter(s -> List.of(roles).contains(s.role()) && !tasks.isCommon(s) && tasks.owner(s) == u);
    }

    private void memory(CodeText t, String kind, StTasks.Unit u, Slot.Role role) {
        StDeclarations.section(t, kind, own(u, role).toList(), s -> declarations.declare(t, s));
    }

    private String call(SharedGroups.Shared f) {
        return names.of("call", f.name() + "_call");
    }

    /** Which procedures, shared functions, texts and tables some statements need. */
    private Set<Object> called(List<Stmt> body) {
        Set<Object> all = Collections.newSetFromMap(new IdentityHashMap<>());
        called(body, all);
        return all;
    }

    private void called(List<Stmt> body, Set<Object> all) {
        for (Stmt s : body) {
            switch (s) {
                case Stmt.Group g when shared.of(g) != null -> all.add(shared.of(g).function());
                case Stmt.Written w when written.of(w) != null -> all.add(written.of(w));
                case Stmt.Invoke i -> {
                    if (all.add(procedures.get(i.procedure()))) {
                        called(procedures.get(i.procedure()).body(), all);
                    }
                }
                default -> { }
            }
            s.expressions().forEach(e -> Rewriter.visit(e, x -> {
                if (x instanceof Expr.Element element) {
                    all.add(element.table());
                }
            }));
            s.bodies().forEach(b -> called(b, all));
        }
    }

    private static boolean isReached(Procedure p) {
        return !Program.ENTRIES.contains(p.name());
    }

    private void method(CodeText t, Procedure p) {
        t.line("(* " + StDeclarations.comment(p.purpose()) + " *)").open("METHOD PUBLIC " + names.of("procedure", p.name()));
        variables(t, "VAR", p.body(), Set.of());
        t.close("");
        lastPlace = null;
        rounds = 0;
        statements(t, p.body());
        t.line("END_METHOD").line("");
    }

    /** Locals of a body, with the counters of its loops. */
    private void variables(CodeText t, String kind, List<Stmt> body, Set<Slot> given) {
        Set<Slot> single = new LinkedHashSet<>();
        Set<Slot> arrays = new LinkedHashSet<>();
        int[] loops = new int[1];
        locals(body, s -> {
            if (!s.inMemory() && !given.contains(s) && !copied.contains(s)) {
                (s.isArray() ? arrays : single).add(s);
            }
        }, loops);
        if (!arrays.isEmpty()) {
            t.open("VAR");
            arrays.forEach(s -> declarations.local(t, s));
            t.close("END_VAR");
        }
        if (!single.isEmpty() || loops[0] > 0) {
            t.open(kind);
            single.forEach(s -> declarations.local(t, s));
            for (int i = 1; i <= loops[0]; i++) {
                t.line(names.of("round", "round_" + i) + " : DINT;");
            }
            t.close("END_VAR");
        }
        rounds = 0;
    }

    private void locals(List<Stmt> body, Consumer<Slot> found, int[] loops) {
        for (Stmt s : body) {
            if (s instanceof Stmt.Group g && shared.of(g) != null) {
                shared.of(g).slots().forEach(found);
                continue;
            }
            if (s instanceof Stmt.Invoke i) {
                if (!isMethod(i)) {
                    locals(procedures.get(i.procedure()).body(), found, loops);
                }
                continue;
            }
            if (s instanceof Stmt.Written w && written.of(w) != null) {
                written.of(w).slots().forEach(found);
                continue;
            }
            if (s instanceof Stmt.While) {
                loops[0]++;
            }
            Rewriter.ownSlots(s, found);
            s.bodies().forEach(b -> locals(b, found, loops));
        }
    }

    private boolean isMethod(Stmt.Invoke i) {
        return calls.getOrDefault(i.procedure(), 0) > 1;
    }

    private void statements(CodeText t, List<Stmt> body) {
        for (Stmt s : body) {
            if (s instanceof Stmt.Assign a && copied.contains(a.target())) {
                continue;
            }
            boolean plain = !(s instanceof Stmt.Group) && !(s instanceof Stmt.Invoke)
                    && !(s instanceof Stmt.Written w && written.of(w) == null);
            if (plain && !s.origin().path().equals(lastPlace)) {
                lastPlace = s.origin().path();
                t.at(lastPlace).line("(* " + StDeclarations.comment(lastPlace) + " *)");
            }
            t.at(s.origin().path());
            expressions.at(s.origin().path());
            statement(t, s);
            t.at(null);
        }
    }

    private void statement(CodeText t, Stmt s) {
        switch (s) {
            case Stmt.Assign a -> t.line(expressions.slot(a.target()) + " := " + expressions.bare(a.value()) + ";");
            case Stmt.Store e -> t.line(expressions.element(e.array(), e.index()) + " := " + expressions.bare(e.value()) + ";");
            case Stmt.If i -> {
                t.open("IF " + expressions.bare(i.condition()) + " THEN");
                statements(t, i.yes());
                if (!i.no().isEmpty()) {
                    t.turn("ELSE");
                    statements(t, i.no());
                }
                t.close("END_IF;");
            }
            case Stmt.Repeat r -> {
                t.open("FOR " + expressions.slot(r.counter()) + " := 0 TO " + (r.count() - 1) + " DO");
                statements(t, r.body());
                t.close("END_FOR;");
            }
            case Stmt.While w -> {
                String round = names.of("round", "round_" + ++rounds);
                t.line(round + " := 0;").open("WHILE " + expressions.bare(w.condition()) + " DO")
                        .open("IF " + round + " >= " + w.limit() + " THEN").line(raise(Fault.ENDLESS_LOOP)).line("EXIT;").close("END_IF;")
                        .line(round + " := " + round + " + 1;");
                statements(t, w.body());
                t.close("END_WHILE;");
            }
            case Stmt.Break _ -> t.line("EXIT;");
            case Stmt.Raise r -> t.line(raise(r.bit()));
            case Stmt.Group g -> group(t, g);
            case Stmt.Written w -> written(t, w);
            case Stmt.Invoke i -> {
                if (isMethod(i)) {
                    t.line(names.of("procedure", i.procedure()) + "();");
                } else {
                    statements(t, procedures.get(i.procedure()).body());
                }
            }
        }
    }

    /** A function has no memory, so what it would raise stays within it. */
    private String raise(int bit) {
        return inFunction ? ";" : "fault := fault OR DWORD#" + bit + ";";
    }

    private void group(CodeText t, Stmt.Group g) {
        var member = shared.of(g);
        if (member == null) {
            statements(t, g.body());
            return;
        }
        List<String> given = new ArrayList<>();
        for (int i = 0; i < member.slots().size(); i++) {
            var a = member.function().arguments().get(i);
            given.add(names.of("argument " + member.function().name(), a.slot().name()) + " := " + expressions.slot(member.slots().get(i)));
        }
        lastPlace = g.origin().path();
        t.line("(* " + StDeclarations.comment(lastPlace) + " *)").line(call(member.function()) + "("
                + String.join(", ", given)
                + ");");
    }

    /** A function block with the text of the user, and the number of its active step. */
    private static void block(CodeText t, WrittenTexts.Block b) {
        t.open("FUNCTION_BLOCK " + b.name()).lines(b.inside()).close("END_FUNCTION_BLOCK").line("");
        if (!b.number().isEmpty()) {
            t.line("(* The number of the active step, from 1. *)").open("FUNCTION " + b.number() + " : DINT").open("VAR_INPUT");
            b.text().steps().forEach(step -> t.line(TextBlock.flag(step) + " : BOOL;"));
            t.close("END_VAR").close("");
            int number = 0;
            for (String step : b.text().steps()) {
                t.line((++number == 1 ? "IF " : "ELSIF ") + TextBlock.flag(step) + " THEN")
                        .line("    " + b.number() + " := " + number + ";");
            }
            t.line("END_IF;").line("END_FUNCTION").line("");
        }
    }

    private void written(CodeText t, Stmt.Written w) {
        var use = written.of(w);
        if (use == null) {
            statements(t, w.body());
            return;
        }
        List<String> given = new ArrayList<>();
        use.inputs().forEach((name, e) -> given.add(name + " := " + expressions.bare(e)));
        use.outputs().forEach((name, s) -> given.add(name + " => " + expressions.slot(s)));
        t.line(use.name() + "(" + String.join(", ", given) + ");");
        if (use.active() != null) {
            t.line(expressions.slot(use.active()) + " := " + use.block().number() + "(" + String.join(", ", use.block().text().steps()
                    .stream().map(step -> use.name() + "." + TextBlock.flag(step)).toList()) + ");");
        }
    }
}
