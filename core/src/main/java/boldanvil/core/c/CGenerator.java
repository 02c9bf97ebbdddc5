package boldanvil.core.c;

import boldanvil.core.escape.Escape;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.output.CodeText;
import boldanvil.core.output.SharedGroups;
import boldanvil.core.output.CodeGenerator;
import boldanvil.core.program.Declarations;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Fault;
import boldanvil.core.program.FaultPlaces;
import boldanvil.core.program.Function;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Port;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Task;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;

/** Writes a program as a C99 header and source. */
public final class CGenerator {
    private static final Map<String, String> HELPERS = CodeText.sections(CGenerator.class, "operations.c");

    private final Program program;
    private final Layout layout;
    private final Set<String> helpers = new TreeSet<>();
    private final CExpressions expressions;
    private final SharedGroups shared;
    private String lastPlace;
    private int loops;
    private boolean inShared;

    private CGenerator(Program program) {
        this.program = program;
        this.layout = Layout.of(program);
        this.shared = new SharedGroups(program);
        this.expressions = new CExpressions(helpers, FaultPlaces.of(program));
    }

    /** C99: the header and the source of a program, in this order. */
    public static final CodeGenerator C99 = new CodeGenerator() {
        @Override
        public String language() {
            return "C99";
        }

        @Override
        public List<GeneratedFile> generate(Program program) {
            var g = new CGenerator(program);
            return List.of(g.header(), g.source());
        }
    };

    /** The C type of the context struct. */
    public static String contextType(Program program) {
        return program.name() + "_t";
    }

    /** A constant as C writes it, exact to the bit. */
    public static String literal(Type type, double v) {
        return CExpressions.literal(type, v);
    }

    /** How C reaches a slot, given the name of a context variable. */
    public static String access(String context, Slot s) {
        return context + "." + CExpressions.member(s);
    }

    private GeneratedFile header() {
        var t = new CodeText();
        String guard = program.name().toUpperCase(java.util.Locale.ROOT) + "_H";
        t.line("/*").line(" * " + Escape.cComment(program.title()) + ": interface of the generated code.")
                .line(" *").line(" * Set the members of `in`, call sample, step and advance once per tick of "
                        + program.tickNanos() / 1000.0 + " us, read `out`.")
                .line(" * Call init first. Several instances may run side by side; there is no other memory.")
                .line(" */").line("#ifndef " + guard).line("#define " + guard).line("")
                .line("#include <stdbool.h>").line("#include <stdint.h>").line("");
        for (Layout.Group g : Layout.Group.values()) {
            struct(t, g);
        }
        t.open("typedef struct {");
        for (Layout.Group g : Layout.Group.values()) {
            if (!layout.group(g).isEmpty()) {
                t.line(program.name() + "_" + g.field() + "_t " + g.field() + ";");
            }
        }
        t.close("} " + contextType(program) + ";").line("");
        for (Procedure p : program.procedures()) {
            if (isPublic(p)) {
                t.line("/* " + Escape.cComment(p.purpose()) + " */").line(signature(p) + ";").line("");
            }
        }
        return t.line("#endif").file(program.name() + ".h");
    }

    private void struct(CodeText t, Layout.Group g) {
        if (layout.group(g).isEmpty()) {
            return;
        }
        var structs = new LinkedHashMap<String, List<Slot>>();
        layout.group(g).stream().filter(s -> s.member() != null).forEach(s ->
                structs.computeIfAbsent(s.member().struct(), _ -> new ArrayList<>()).add(s));
        structs.forEach((name, members) -> {
            t.open("typedef struct {");
            members.forEach(s -> declaration(t, s, CNames.of(s.member().name())));
            t.close("} " + bundleType(name) + ";").line("");
        });
        t.open("typedef struct {");
        for (Slot s : layout.group(g)) {
            if (s.member() == null) {
                declaration(t, s, declarator(s));
            } else if (structs.get(s.member().struct()).getFirst() == s) {
                t.line(bundleType(s.member().struct()) + " " + CNames.of(s.member().struct()) + ";");
            }
        }
        t.close("} " + program.name() + "_" + g.field() + "_t;").line("");
    }

    private String bundleType(String struct) {
        return program.name() + "_" + struct + "_bundle_t";
    }

    private void declaration(CodeText t, Slot s, String declarator) {
        t.at(s.path()).line(CExpressions.type(s.type()) + " " + declarator + "; /* "
                + Escape.cComment(s.path() + (s.unit().isEmpty() ? "" : " [" + s.unit() + "]") + note(s)) + " */").at(null);
    }

    private String note(Slot s) {
        for (Port p : program.ports()) {
            if (p.slot() == s && p.terminal() != null) {
                return ", " + p.terminal().label();
            }
        }
        for (var u : program.tunables()) {
            if (u.slot() == s && (u.minimum() > -Double.MAX_VALUE || u.maximum() < Double.MAX_VALUE)) {
                return ", " + u.minimum() + " to " + u.maximum();
            }
        }
        return "";
    }

    private boolean isPublic(Procedure p) {
        if (Program.ENTRIES.contains(p.name()) || p.name().equals(Program.OUTPUTS) || p.name().equals(Program.DERIVATIVES)) {
            return true;
        }
        for (Task task : program.tasks()) {
            if (p.name().equals(task.run()) || p.name().equals(task.latch()) || p.name().equals(task.publish())) {
                return true;
            }
        }
        return false;
    }

    private String signature(Procedure p) {
        return "void " + program.name() + "_" + p.name() + "(" + contextType(program) + " *c)";
    }

    private GeneratedFile source() {
        var bodies = new CodeText();
        for (Function f : program.functions()) {
            function(bodies, f);
        }
        // The first pass finds the helpers, the second knows its line numbers.
        shared.functions().forEach(f -> shared(bodies, f));
        program.procedures().forEach(p -> procedure(bodies, p));
        var t = new CodeText();
        t.line("/* " + Escape.cComment(program.title()) + ": generated from the sheet; see the header. */")
                .line("#include \"" + program.name() + ".h\"").line("").line("#include <math.h>").line("#include <stddef.h>")
                .line("#include <string.h>")
                .line("");
        t.line("/* Measurement and tuning rely on this memory layout. */");
        for (Layout.Group g : Layout.Group.values()) {
            if (!layout.group(g).isEmpty()) {
                Slot last = layout.group(g).getLast();
                t.line("typedef char ba_layout_of_" + g.field() + "[offsetof(" + contextType(program) + ", "
                        + CExpressions.member(last) + ") == " + layout.offset(last) + " ? 1 : -1];");
            }
        }
        t.line("typedef char ba_layout_size[sizeof(" + contextType(program) + ") == " + layout.size() + " ? 1 : -1];").line("");
        for (String h : ordered()) {
            t.lines(HELPERS.get(h)).line("");
        }
        for (var table : program.tables()) {
            t.open("static const " + CExpressions.type(table.type()) + " " + CNames.of(table.name()) + "[" + table.size() + "] = {");
            for (int i = 0; i < table.size(); i++) {
                t.line(CExpressions.literal(table.type(), table.value(i)) + ",");
            }
            t.close("};").line("");
        }
        program.functions().forEach(f -> function(t, f));
        shared.functions().forEach(f -> shared(t, f));
        program.procedures().forEach(p -> procedure(t, p));
        return t.file(program.name() + ".c");
    }

    /** Helpers in use; the one that others call comes first. */
    private List<String> ordered() {
        List<String> all = new ArrayList<>(helpers);
        if (all.remove("ba_raise")) {
            all.addFirst("ba_raise");
        }
        return all;
    }

    private static String declarator(Slot s) {
        return CNames.of(s) + (s.isArray() ? "[" + s.length() + "]" : "");
    }

    private void function(CodeText t, Function f) {
        var arguments = new ArrayList<String>();
        if (f.canFault()) {
            arguments.add("int32_t *fault");
        }
        f.parameters().forEach(p -> arguments.add(CExpressions.type(p.type()) + " " + CNames.of(p)));
        t.line("static " + CExpressions.type(f.result().type()) + " " + CNames.of(f.name()) + "(" + String.join(", ", arguments) + ")")
                .open("{");
        expressions.inFunction(true);
        body(t, f.body(), f.parameters());
        expressions.at(f.name());
        t.line("return " + expressions.bare(f.result()) + ";").close("}").line("");
        expressions.inFunction(false);
    }

    private void procedure(CodeText t, Procedure p) {
        lastPlace = null;
        t.line("/* " + Escape.cComment(p.purpose()) + " */");
        t.line((isPublic(p) ? "" : "static ") + signature(p)).open("{");
        if (p.name().equals(Program.INIT)) {
            program.slots().forEach(s -> initialise(t, s));
        } else if (p.body().isEmpty()) {
            t.line("(void)c;");
        } else {
            body(t, p.body(), List.of());
        }
        t.close("}").line("");
    }

    private void initialise(CodeText t, Slot s) {
        if (!s.isArray()) {
            t.line(expressions.slot(s) + " = " + CExpressions.literal(s.type(), s.initial()) + ";");
            return;
        }
        t.open("for (int32_t i = 0; i < " + s.length() + "; i++) {")
                .line(expressions.slot(s) + "[i] = " + CExpressions.literal(s.type(), s.initial()) + ";").close("}");
        for (int i = 1; i < s.length(); i++) {
            if (Double.compare(s.initial(i), s.initial()) != 0) {
                t.line(expressions.slot(s) + "[" + i + "] = " + CExpressions.literal(s.type(), s.initial(i)) + ";");
            }
        }
    }

    private void group(CodeText t, Stmt.Group g, Declarations locals) {
        var member = shared.of(g);
        if (member == null) {
            statements(t, g.body(), locals);
            return;
        }
        declare(t, g.body(), member.slots(), locals);
        var arguments = new ArrayList<String>();
        for (int i = 0; i < member.slots().size(); i++) {
            Slot s = member.slots().get(i);
            boolean pointer = member.function().arguments().get(i).written() && !s.isArray();
            arguments.add((pointer ? "&" : "") + expressions.slot(s));
        }
        t.line(member.function().name() + "(" + String.join(", ", arguments) + ");");
    }

    /** Locals whose first assignment lies within a group that became a call. */
    private void declare(CodeText t, List<Stmt> body, List<Slot> arguments, Declarations locals) {
        for (Stmt s : body) {
            if (s instanceof Stmt.Assign a && locals.declares(a) && arguments.stream().anyMatch(x -> x == a.target())) {
                t.line(CExpressions.type(a.target().type()) + " " + CNames.of(a.target()) + " = " + CExpressions.literal(a.target().type(),
                        0) + ";");
            } else if (s instanceof Stmt.Group || s instanceof Stmt.Written) {
                s.bodies().forEach(b -> declare(t, b, arguments, locals));
            }
        }
    }

    private void shared(CodeText t, SharedGroups.Shared f) {
        var parameters = new ArrayList<String>();
        Map<Slot, String> texts = new IdentityHashMap<>();
        for (var a : f.arguments()) {
            Slot s = a.slot();
            String type = CExpressions.type(s.type());
            boolean pointer = a.written() || s.isArray();
            parameters.add((s.isArray() && !a.written() ? "const " : "") + type + (pointer ? " *" : " ") + CNames.of(s));
            texts.put(s, a.written() && !s.isArray() ? "(*" + CNames.of(s) + ")" : CNames.of(s));
        }
        lastPlace = null;
        t.line("/* What several subsystems do alike. */");
        t.line("static void " + f.name() + "(" + (parameters.isEmpty() ? "void" : String.join(", ", parameters)) + ")").open("{");
        expressions.arguments(texts);
        inShared = true;
        body(t, f.body(), f.arguments().stream().map(SharedGroups.Argument::slot).toList());
        inShared = false;
        expressions.arguments(Map.of());
        t.close("}").line("");
    }

    private void body(CodeText t, List<Stmt> body, List<Slot> given) {
        loops = 0;
        var locals = new Declarations(body, given);
        locals.early().stream().filter(s -> inShared || !shared.isMoved(s))
                .forEach(s -> t.line(CExpressions.type(s.type()) + " " + declarator(s) + " = "
                + (s.isArray() ? "{" + CExpressions.literal(s.type(), 0) + "}" : CExpressions.literal(s.type(), 0)) + ";"));
        statements(t, body, locals);
    }

    private void statements(CodeText t, List<Stmt> body, Declarations locals) {
        for (Stmt s : body) {
            if (!s.origin().path().equals(lastPlace)) {
                lastPlace = s.origin().path();
                t.at(lastPlace).line("/* " + Escape.cComment(lastPlace) + " */");
            }
            t.at(s.origin().path());
            expressions.at(s.origin().path());
            statement(t, s, locals);
            t.at(null);
        }
    }

    private void statement(CodeText t, Stmt s, Declarations locals) {
        switch (s) {
            case Stmt.Assign a -> t.line((locals.declares(a) ? CExpressions.type(a.target().type()) + " " : "")
                    + expressions.slot(a.target()) + " = " + expressions.bare(a.value()) + ";");
            case Stmt.If i -> {
                t.open("if (" + expressions.bare(i.condition()) + ") {");
                statements(t, i.yes(), locals);
                if (!i.no().isEmpty()) {
                    t.turn("} else {");
                    statements(t, i.no(), locals);
                }
                t.close("}");
            }
            case Stmt.Repeat r -> {
                String k = expressions.slot(r.counter());
                t.open("for (" + k + " = 0; " + k + " < " + r.count() + "; " + k + "++) {");
                statements(t, r.body(), locals);
                t.close("}");
            }
            case Stmt.Store e -> t.line(expressions.element(e.array(), e.index()) + " = " + expressions.bare(e.value()) + ";");
            case Stmt.While w -> {
                String k = "ba_round" + ++loops;
                boolean always = w.condition() instanceof Expr.Literal l && l.value() != 0;
                t.open("for (int32_t " + k + " = 0; " + (always ? "" : expressions.bare(w.condition())) + "; " + k + "++) {");
                t.open("if (" + k + " >= " + w.limit() + ") {").line(expressions.raise(Fault.ENDLESS_LOOP) + ";").line("break;").close("}");
                statements(t, w.body(), locals);
                t.close("}");
            }
            case Stmt.Group g -> group(t, g, locals);
            case Stmt.Written w -> statements(t, w.body(), locals);
            case Stmt.Break _ -> t.line("break;");
            case Stmt.Raise r -> t.line(expressions.raise(r.bit()) + ";");
            case Stmt.Invoke i -> t.line(program.name() + "_" + i.procedure() + "(c);");
        }
    }
}
