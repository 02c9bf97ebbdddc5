package boldanvil.core.iec;

import boldanvil.core.output.CodeGenerator;
import boldanvil.core.output.CodeText;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.output.SharedGroups;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Function;
import boldanvil.core.program.Port;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Rewriter;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Consumer;

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
    private final Map<String, String> addresses;
    private final StNames names = new StNames();
    private final Set<String> helpers = new TreeSet<>();
    private final StExpressions expressions = new StExpressions(names, helpers);
    private final SharedGroups shared;
    private final Map<String, Procedure> procedures = new HashMap<>();
    private final Map<String, Integer> calls = new HashMap<>();
    private final Map<String, String> portNames = new LinkedHashMap<>();
    private final String main;
    private final String block;
    private String lastPlace;
    private int rounds;
    private boolean inFunction;

    private StGenerator(Program program, Map<String, String> addresses) {
        this.program = program;
        this.addresses = addresses;
        main = names.fresh(program.name());
        block = names.fresh(program.name() + "_part");
        names.fresh("fault");
        names.name(program.fault(), "fault");
        program.ports().forEach(p -> {
            String name = names.fresh(p.name());
            portNames.put(p.name(), name);
            names.name(p.slot(), name);
        });
        shared = new SharedGroups(program);
        program.procedures().forEach(p -> procedures.put(p.name(), p));
        program.procedures().forEach(p -> count(p.body()));
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
        program.slots().forEach(s -> paths.put(s, g.main + ".part." + g.names.of(s)));
        return paths;
    }

    /** Where the values of a part's ports are while its text runs, by the names of the ports. */
    public static Map<String, String> portPaths(Program program) {
        var g = new StGenerator(program, Map.of());
        Map<String, String> paths = new HashMap<>();
        g.portNames.forEach((port, name) -> paths.put(port, g.main + "." + name));
        return paths;
    }

    private void count(List<Stmt> body) {
        for (Stmt s : body) {
            if (s instanceof Stmt.Invoke i) {
                calls.merge(i.procedure(), 1, Integer::sum);
            }
            s.bodies().forEach(this::count);
        }
    }

    private void write(CodeText t, Set<String> needed) {
        t.line("(* " + comment(program.title()) + ": generated from the sheet. *)").line("");
        Set<String> all = new LinkedHashSet<>();
        needed.forEach(h -> {
            all.addAll(NEEDS.getOrDefault(h, List.of()));
            all.add(h);
        });
        all.forEach(h -> t.lines(HELPERS.get(h)).line(""));
        functions().forEach(f -> function(t, f));
        shared.functions().forEach(f -> shared(t, f));
        part(t);
        surroundings(t);
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

    private static String comment(String text) {
        return text.replace("*)", "* )").replace("(*", "( *");
    }

    private void function(CodeText t, Function f) {
        String name = names.of("function", f.name());
        t.open("FUNCTION " + name + " : " + StExpressions.type(f.result().type())).open("VAR_INPUT");
        // An input cannot be set in the standard, so one that the body sets is copied first.
        Set<Slot> set = new LinkedHashSet<>();
        targets(f.body(), set);
        set.retainAll(f.parameters());
        f.parameters().forEach(p -> t.line((set.contains(p) ? names.of("input " + f.name(), p.name() + "_in") : names.of(p)) + " : "
                + type(p) + ";"));
        t.close("END_VAR");
        if (!set.isEmpty()) {
            t.open("VAR");
            set.forEach(p -> declare(t, p, null));
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
            some.forEach(a -> t.line(texts.get(a.slot()) + " : " + type(a.slot()) + ";"));
            t.close("END_VAR");
        }
    }

    private static String type(Slot s) {
        String one = StExpressions.type(s.type());
        return s.isArray() ? "ARRAY [0.." + (s.length() - 1) + "] OF " + one : one;
    }

    private void declare(CodeText t, Slot s, String remark) {
        t.at(s.path()).line(names.of(s) + " : " + type(s) + initial(s) + ";" + (remark == null ? "" : " (* " + comment(remark) + " *)"))
                .at(null);
    }

    private static String initial(Slot s) {
        if (!s.isArray()) {
            return s.initial() == 0 && 1 / s.initial() > 0 ? "" : " := " + StExpressions.plain(s.type(), s.initial());
        }
        List<String> values = new ArrayList<>();
        for (int i = 0; i < s.length(); ) {
            int n = 1;
            while (i + n < s.length() && Double.compare(s.initial(i + n), s.initial(i)) == 0) {
                n++;
            }
            String one = StExpressions.plain(s.type(), s.initial(i));
            values.add(n == 1 ? one : n + "(" + one + ")");
            i += n;
        }
        return values.size() == 1 && s.initial() == 0 ? "" : " := [" + String.join(", ", values) + "]";
    }

    /** The function block of the part: its memory, and what it does in one base tick. */
    private void part(CodeText t) {
        t.line("(* " + comment(program.title()) + ". Call it every " + time(program.tickNanos()) + ". *)").open("FUNCTION_BLOCK " + block);
        memory(t, "VAR_INPUT", Slot.Role.INPUT);
        memory(t, "VAR_OUTPUT", Slot.Role.OUTPUT);
        t.line("(* Values that may be changed while it runs. *)");
        memory(t, "VAR", Slot.Role.TUNABLE);
        t.line("(* Signals and what is kept from tick to tick. *)").open("VAR");
        program.slots().stream().filter(s -> s != program.fault() && switch (s.role()) {
            case SIGNAL, STATE, CONTINUOUS, LATCH -> true;
            default -> false;
        }).forEach(s -> declare(t, s, remark(s)));
        t.line("fault : DWORD;");
        shared.functions().forEach(f -> t.line(names.of("call", f.name() + "_call") + " : " + names.of("shared", f.name()) + ";"));
        t.close("END_VAR");
        if (!program.tables().isEmpty()) {
            t.open("VAR CONSTANT");
            program.tables().forEach(table -> {
                List<String> values = new ArrayList<>();
                for (int i = 0; i < table.size(); i++) {
                    values.add(StExpressions.plain(table.type(), table.value(i)));
                }
                t.line(names.of("table", table.name()) + " : ARRAY [0.." + (table.size() - 1) + "] OF " + StExpressions.type(table.type())
                        + " := [" + String.join(", ", values) + "];");
            });
            t.close("END_VAR");
        }
        List<Stmt> body = new ArrayList<>();
        for (String entry : List.of(Program.SAMPLE, Program.STEP, Program.ADVANCE)) {
            body.addAll(procedures.get(entry).body());
        }
        variables(t, "VAR_TEMP", body, Set.of());
        t.close("");
        program.procedures().stream().filter(p -> calls.getOrDefault(p.name(), 0) > 1 && isReached(p)).forEach(p -> method(t, p));
        lastPlace = null;
        rounds = 0;
        statements(t, body);
        t.line("END_FUNCTION_BLOCK").line("");
    }

    private static boolean isReached(Procedure p) {
        return !Program.ENTRIES.contains(p.name());
    }

    private void method(CodeText t, Procedure p) {
        t.line("(* " + comment(p.purpose()) + " *)").open("METHOD PUBLIC " + names.of("procedure", p.name()));
        variables(t, "VAR", p.body(), Set.of());
        t.close("");
        lastPlace = null;
        rounds = 0;
        statements(t, p.body());
        t.line("END_METHOD").line("");
    }

    private void memory(CodeText t, String kind, Slot.Role role) {
        List<Slot> some = program.slots().stream().filter(s -> s.role() == role).toList();
        if (!some.isEmpty()) {
            t.open(kind);
            some.forEach(s -> declare(t, s, remark(s)));
            t.close("END_VAR");
        }
    }

    private String remark(Slot s) {
        String limits = program.tunables().stream().filter(u -> u.slot() == s && (u.minimum() > -Double.MAX_VALUE
                || u.maximum() < Double.MAX_VALUE)).findFirst().map(u -> ", " + u.minimum() + " to " + u.maximum()).orElse("");
        String tap = program.taps().stream().filter(x -> x.slot() == s).findFirst().map(x -> ", tap " + x.name()).orElse("");
        return s.path() + (s.unit().isEmpty() ? "" : " [" + s.unit() + "]") + limits + tap;
    }

    /** Locals of a body, with the counters of its loops. */
    private void variables(CodeText t, String kind, List<Stmt> body, Set<Slot> given) {
        Set<Slot> single = new LinkedHashSet<>();
        Set<Slot> arrays = new LinkedHashSet<>();
        int[] loops = new int[1];
        locals(body, s -> {
            if (!s.inMemory() && !given.contains(s)) {
                (s.isArray() ? arrays : single).add(s);
            }
        }, loops);
        if (!arrays.isEmpty()) {
            t.open("VAR");
            arrays.forEach(s -> declare(t, s, null));
            t.close("END_VAR");
        }
        if (!single.isEmpty() || loops[0] > 0) {
            t.open(kind);
            single.forEach(s -> declare(t, s, null));
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
            if (s instanceof Stmt.While) {
                loops[0]++;
            }
            switch (s) {
                case Stmt.Assign a -> found.accept(a.target());
                case Stmt.Store e -> found.accept(e.array());
                case Stmt.Repeat r -> found.accept(r.counter());
                default -> { }
            }
            s.expressions().forEach(e -> Rewriter.visit(e, x -> {
                if (x instanceof Expr.Read r) {
                    found.accept(r.slot());
                } else if (x instanceof Expr.At a) {
                    found.accept(a.array());
                }
            }));
            s.bodies().forEach(b -> locals(b, found, loops));
        }
    }

    private boolean isMethod(Stmt.Invoke i) {
        return calls.getOrDefault(i.procedure(), 0) > 1;
    }

    private void statements(CodeText t, List<Stmt> body) {
        for (Stmt s : body) {
            boolean plain = !(s instanceof Stmt.Group) && !(s instanceof Stmt.Invoke);
            if (plain && !s.origin().path().equals(lastPlace)) {
                lastPlace = s.origin().path();
                t.at(lastPlace).line("(* " + comment(lastPlace) + " *)");
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
        t.line("(* " + comment(lastPlace) + " *)").line(names.of("call", member.function().name() + "_call") + "("
                + String.join(", ", given)
                + ");");
    }

    /** The program that connects the part to the outside, and its task. */
    private void surroundings(CodeText t) {
        t.open("PROGRAM " + main);
        ports(t, "VAR", true);
        ports(t, "VAR", false);
        t.open("VAR").line("part : " + block + ";").close("END_VAR").close("");
        List<String> given = new ArrayList<>();
        program.ports().forEach(p -> given.add(portNames.get(p.name()) + (p.isInput() ? " := " : " => ") + portNames.get(p.name())));
        t.line("part(" + String.join(", ", given) + ");").line("END_PROGRAM").line("");
        t.open("CONFIGURATION " + main + "_configuration").open("RESOURCE main ON PLC")
                .line("TASK base(INTERVAL := " + time(program.tickNanos()) + ", PRIORITY := 1);")
                .line("PROGRAM " + main + " WITH base : " + main + ";").close("END_RESOURCE").close("END_CONFIGURATION");
    }

    private void ports(CodeText t, String kind, boolean in) {
        List<Port> some = program.ports().stream().filter(p -> p.isInput() == in).toList();
        if (some.isEmpty()) {
            return;
        }
        t.open(kind);
        some.forEach(p -> {
            String address = addresses.get(p.name());
            t.at(p.path()).line(portNames.get(p.name()) + (address == null ? "" : " AT " + address) + " : " + type(p.slot()) + "; (* "
                    + comment(remark(p.slot())) + " *)").at(null);
        });
        t.close("END_VAR");
    }

    private static String time(long nanos) {
        return nanos % 1_000_000_000 == 0 ? "T#" + nanos / 1_000_000_000 + "s" : nanos % 1_000_000 == 0 ? "T#" + nanos / 1_000_000 + "ms"
                : nanos % 1_000 == 0 ? "T#" + nanos / 1_000 + "us" : "T#" + nanos + "ns";
    }
}
