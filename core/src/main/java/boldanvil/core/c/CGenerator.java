package boldanvil.core.c;

import boldanvil.core.program.Function;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Port;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Task;
import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/** Writes a program as a C99 header and source. */
public final class CGenerator {
    private static final TreeMap<String, String> HELPERS = new TreeMap<>();

    static {
        HELPERS.put("ba_to_int32", """
                /* Truncates and saturates; what is no number becomes 0 and raises fault bit 2. */
                static int32_t ba_to_int32(double v, int32_t *fault)
                {
                    if (v != v) {
                        *fault |= 2;
                        return 0;
                    }
                    if (v >= 2147483647.0) {
                        return INT32_MAX;
                    }
                    if (v <= -2147483648.0) {
                        return INT32_MIN;
                    }
                    return (int32_t)v;
                }
                """);
        HELPERS.put("ba_saturate16", """
                static uint16_t ba_saturate16(int32_t v)
                {
                    return (uint16_t)(v < 0 ? 0 : (v > 65535 ? 65535 : v));
                }
                """);
        HELPERS.put("ba_divide", """
                /* Division by zero yields 0 and raises fault bit 1; the one quotient that overflows wraps. */
                static int32_t ba_divide(int32_t a, int32_t b, int32_t *fault)
                {
                    if (b == 0) {
                        *fault |= 1;
                        return 0;
                    }
                    if (b == -1) {
                        return (int32_t)(0U - (uint32_t)a);
                    }
                    return a / b;
                }
                """);
        HELPERS.put("ba_index", """
                static int32_t ba_index(int32_t i, int32_t size)
                {
                    return i < 0 ? 0 : (i >= size ? size - 1 : i);
                }
                """);
    }

    private final Program program;
    private final Layout layout;
    private final Set<String> helpers = new TreeSet<>();
    private final CExpressions expressions = new CExpressions(helpers);
    private String lastPlace;

    private CGenerator(Program program) {
        this.program = program;
        this.layout = Layout.of(program);
    }

    /** The header and the source of a program, in this order. */
    public static List<CFile> generate(Program program) {
        var g = new CGenerator(program);
        return List.of(g.header(), g.source());
    }

    /** The C type of the context struct. */
    public static String contextType(Program program) {
        return program.name() + "_t";
    }

    /** How C reaches a slot, given the name of a context variable. */
    public static String access(String context, Slot s) {
        return context + "." + Layout.Group.of(s).field() + "." + s.name();
    }

    private CFile header() {
        var t = new CText();
        String guard = program.name().toUpperCase(java.util.Locale.ROOT) + "_H";
        t.line("/*").line(" * " + CText.comment(program.title()) + ": interface of the generated code.")
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
                t.line("/* " + CText.comment(p.purpose()) + " */").line(signature(p) + ";").line("");
            }
        }
        return t.line("#endif").file(program.name() + ".h");
    }

    private void struct(CText t, Layout.Group g) {
        if (layout.group(g).isEmpty()) {
            return;
        }
        t.open("typedef struct {");
        for (Slot s : layout.group(g)) {
            t.at(s.path()).line(CExpressions.type(s.type()) + " " + s.name() + "; /* "
                    + CText.comment(s.path()) + (s.unit().isEmpty() ? "" : " [" + s.unit() + "]") + note(s) + " */").at(null);
        }
        t.close("} " + program.name() + "_" + g.field() + "_t;").line("");
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
        if (Program.ENTRIES.contains(p.name())) {
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

    private CFile source() {
        var bodies = new CText();
        for (Function f : program.functions()) {
            function(bodies, f);
        }
        // The first pass finds the helpers, the second knows its line numbers.
        program.procedures().forEach(p -> procedure(bodies, p));
        var t = new CText();
        t.line("/* " + CText.comment(program.title()) + ": generated from the sheet; see the header. */")
                .line("#include \"" + program.name() + ".h\"").line("").line("#include <math.h>").line("#include <stddef.h>")
                .line("");
        t.line("/* Measurement and tuning rely on this memory layout. */");
        for (Layout.Group g : Layout.Group.values()) {
            if (!layout.group(g).isEmpty()) {
                Slot last = layout.group(g).getLast();
                t.line("typedef char ba_layout_of_" + g.field() + "[offsetof(" + contextType(program) + ", " + g.field() + "."
                        + last.name() + ") == " + layout.offset(last) + " ? 1 : -1];");
            }
        }
        t.line("typedef char ba_layout_size[sizeof(" + contextType(program) + ") == " + layout.size() + " ? 1 : -1];").line("");
        for (String h : helpers) {
            t.lines(HELPERS.get(h)).line("");
        }
        for (var table : program.tables()) {
            t.open("static const " + CExpressions.type(table.type()) + " " + table.name() + "[" + table.size() + "] = {");
            for (int i = 0; i < table.size(); i++) {
                t.line(CExpressions.literal(table.type(), table.value(i)) + ",");
            }
            t.close("};").line("");
        }
        program.functions().forEach(f -> function(t, f));
        program.procedures().forEach(p -> procedure(t, p));
        return t.file(program.name() + ".c");
    }

    private void function(CText t, Function f) {
        t.line("static " + CExpressions.type(f.result().type()) + " " + f.name() + "("
                + CExpressions.type(f.parameter().type()) + " " + f.parameter().name() + ")").open("{");
        statements(t, f.body(), new Locals(f.body()));
        t.line("return " + expressions.bare(f.result()) + ";").close("}").line("");
    }

    private void procedure(CText t, Procedure p) {
        lastPlace = null;
        t.line("/* " + CText.comment(p.purpose()) + " */");
        t.line((isPublic(p) ? "" : "static ") + signature(p)).open("{");
        if (p.name().equals(Program.INIT)) {
            for (Slot s : program.slots()) {
                t.line(CExpressions.slot(s) + " = " + CExpressions.literal(s.type(), s.initial()) + ";");
            }
        } else if (p.body().isEmpty()) {
            t.line("(void)c;");
        } else {
            var locals = new Locals(p.body());
            locals.early.forEach(s -> t.line(CExpressions.type(s.type()) + " " + s.name() + " = "
                    + CExpressions.literal(s.type(), 0) + ";"));
            statements(t, p.body(), locals);
        }
        t.close("}").line("");
    }

    private void statements(CText t, List<Stmt> body, Locals locals) {
        for (Stmt s : body) {
            if (!s.origin().path().equals(lastPlace)) {
                lastPlace = s.origin().path();
                t.at(lastPlace).line("/* " + CText.comment(lastPlace) + " */");
            }
            t.at(s.origin().path());
            statement(t, s, locals);
            t.at(null);
        }
    }

    private void statement(CText t, Stmt s, Locals locals) {
        switch (s) {
            case Stmt.Assign a -> t.line((locals.declares(a) ? CExpressions.type(a.target().type()) + " " : "")
                    + CExpressions.slot(a.target()) + " = " + expressions.bare(a.value()) + ";");
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
                String k = r.counter().name();
                t.open("for (int32_t " + k + " = 0; " + k + " < " + r.count() + "; " + k + "++) {");
                statements(t, r.body(), locals);
                t.close("}");
            }
            case Stmt.Invoke i -> t.line(program.name() + "_" + i.procedure() + "(c);");
        }
    }

    /** Which locals are declared with their first assignment, and which must stand at the top. */
    private static final class Locals {
        private final Set<Slot> seen = Collections.newSetFromMap(new IdentityHashMap<>());
        private final Set<Stmt.Assign> declaring = Collections.newSetFromMap(new IdentityHashMap<>());
        private final List<Slot> early = new ArrayList<>();

        Locals(List<Stmt> body) {
            visit(body, true);
        }

        boolean declares(Stmt.Assign a) {
            return declaring.contains(a);
        }

        private void visit(List<Stmt> body, boolean top) {
            for (Stmt s : body) {
                switch (s) {
                    case Stmt.Assign a -> {
                        if (!a.target().inMemory() && seen.add(a.target())) {
                            if (top) {
                                declaring.add(a);
                            } else {
                                early.add(a.target());
                            }
                        }
                    }
                    case Stmt.If i -> {
                        visit(i.yes(), false);
                        visit(i.no(), false);
                    }
                    case Stmt.Repeat r -> visit(r.body(), false);
                    case Stmt.Invoke _ -> { }
                }
            }
        }
    }
}
