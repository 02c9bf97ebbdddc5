package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.real;
import static boldanvil.core.stock.Parameter.source;
import static boldanvil.core.stock.Parameter.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import boldanvil.core.text.Compilation;
import boldanvil.core.text.Host;
import boldanvil.core.text.ParsedText;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Blocks whose behaviour the user writes as text. */
final class Texts {
    private static final String ACTIVE = "active";
    private static final String LANGUAGE = "Types: BOOL, SINT, USINT, BYTE (8 bits), INT, UINT, WORD (16), DINT, UDINT, DWORD (32), REAL "
            + "(float32), LREAL (float64), TIME, "
            + "and ARRAY [a..b] OF them. Statements: :=, IF, CASE, FOR, WHILE, REPEAT, EXIT, CONTINUE, RETURN. Your own functions and "
            + "function "
            + "blocks come before the variables. Functions of the standard: ABS, SQRT, LN, LOG, EXP, SIN, COS, TAN, ASIN, ACOS, ATAN, "
            + "ATAN2, "
            + "EXPT, MIN, MAX, LIMIT, SEL, MUX, SHL, SHR, ROL, ROR, TRUNC, REAL_TO_DINT and all other conversions; function blocks: TON, "
            + "TOF, "
            + "TP, CTU, CTD, CTUD, R_TRIG, F_TRIG, SR, RS. CYCLE_TIME is the sample time. A value is widened if nothing is lost; otherwise "
            + "convert it with a conversion function.";

    static final BlockType FUNCTION_BLOCK = BlockType.named("st", "Structured Text", Family.LANGUAGE)
            .help("A function block in Structured Text (IEC 61131-3, third edition). VAR_INPUT and VAR_OUTPUT are its ports; VAR keeps "
            + "its values "
                    + "from sample to sample. " + LANGUAGE + " A loop that does not end is stopped at the loop limit and raises a fault. A "
                    + "division by zero raises a fault. An index outside its array raises a fault and uses "
                    + "the nearest element.")
            .with(source("text", """
                    VAR_INPUT
                        u : LREAL;
                    END_VAR
                    VAR_OUTPUT
                        y : LREAL;
                    END_VAR

                    y := u;
                    """, "The function block."),
                    real("loop limit", "10000", "1", "Maximum number of loop iterations.").atLeast(1).atMost(1e9))
            .face(Texts::face).summary(s -> variables(ParsedText.block(s.text("text")).outputs()) + " := …")
            .types(Texts::outputType).discreteOnly().mistakes(s -> ParsedText.block(s.text("text")).mistakes())
            .does(Texts::emit);

    static final BlockType CHART = BlockType.named("modes", "Mode chart", Family.LANGUAGE)
            .help("A sequential function chart in its textual form (IEC 61131-3, section 6.7): INITIAL_STEP and STEP with their actions, "
            + "TRANSITION "
                    + "FROM … TO … := condition, ACTION. Steps in brackets, (a, b), make parallel branches; several transitions from one "
                    + "step make "
                    + "alternatives, of which the first in the text, or the one with the lowest (PRIORITY := n), is taken. Action "
                    + "qualifiers: N while "
                    + "the step is active, S from then on until R, P once, (L, T#2s) for at most that time, (D, T#2s) after that time. "
                    + "step.X is true "
                    + "while a step is active, step.T is the time since its activation. The output active is the number of the active "
                    + "step, from 1. In "
                    + "each sample the transitions are evaluated first, then the actions; no action runs again after its step. " + LANGUAGE)
            .with(source("text", """
                    VAR_INPUT
                        start : BOOL;
                    END_VAR
                    VAR_OUTPUT
                        running : BOOL;
                    END_VAR

                    INITIAL_STEP waiting:
                    END_STEP

                    STEP working:
                        running(N);
                    END_STEP

                    TRANSITION FROM waiting TO working := start; END_TRANSITION
                    TRANSITION FROM working TO waiting := working.T >= T#5s; END_TRANSITION
                    """, "The chart."),
                    real("loop limit", "10000", "1", "Maximum number of loop iterations.").atLeast(1).atMost(1e9))
            .face(s -> hasOwnActive(s) ? face(s) : face(s).out(ACTIVE))
                    .summary(s -> String.join(", ", ParsedText.block(s.text("text")).steps()))
            .types((o, in, s, real) -> o == ParsedText.block(s.text("text")).outputs().size() ? Type.INT32 : outputType(o, in, s, real))
            .discreteOnly()
            .mistakes(s -> ParsedText.block(s.text("text")).mistakes())
            .does(Texts::emit);

    static final BlockType EXPRESSION = BlockType.named("expression", "Expression", Family.LANGUAGE)
            .help("y = an expression in Structured Text over the inputs, which are the names it mentions; true and false where it "
                    + "compares. " + LANGUAGE)
            .with(text("expression", "a * SIN(b)", "The expression."))
            .face(s -> {
                Face f = Face.NONE;
                for (String name : ParsedText.formula(s.text("expression")).names()) {
                    f = f.in(name, Accept.REAL);
                }
                return f.out("y");
            }).summary("{expression}").types(Texts::formulaType).mistakes(s -> ParsedText.formula(s.text("expression")).mistakes())
                    .does(Texts::formula);

    static final List<BlockType> TYPES = List.of(FUNCTION_BLOCK, CHART, EXPRESSION);

    private Texts() {}

    private static String variables(List<ParsedText.Variable> some) {
        return some.stream().map(ParsedText.Variable::name).collect(Collectors.joining(", "));
    }

    private static Face face(Settings s) {
        var text = ParsedText.block(s.text("text"));
        Face f = Face.NONE;
        for (var v : text.inputs()) {
            f = f.in(v.name(), v.type());
        }
        for (var v : text.outputs()) {
            f = f.out(v.name());
        }
        return f;
    }

    /** Whether a chart has an output of that name, which stands in the place of the number of the step. */
    private static boolean hasOwnActive(Settings s) {
        return ParsedText.block(s.text("text")).outputs().stream().anyMatch(v -> v.name().equalsIgnoreCase(ACTIVE));
    }

    private static Type outputType(int output, List<Type> inputs, Settings s, Type real) {
        var outputs = ParsedText.block(s.text("text")).outputs();
        return output < outputs.size() ? outputs.get(output).type() : real;
    }

    private static void emit(Emitter e) {
        var text = ParsedText.block(e.text("text"));
        var result = Compilation.block(text, new EmitterHost(e));
        result.mistakes().forEach(e::report);
        if (!result.isUsable()) {
            return;
        }
        List<Stmt> body = new ArrayList<>(result.statements());
        Map<String, Expr> values = new LinkedHashMap<>(result.outputs());
        if (result.active() != null && values.keySet().stream().noneMatch(ACTIVE::equalsIgnoreCase)) {
            values.put(ACTIVE, result.active());
        }
        Map<String, Slot> outputs = new LinkedHashMap<>();
        values.forEach((name, value) -> {
            outputs.put(name, e.slotOf(name));
            body.add(new Stmt.Assign(e.slotOf(name), value, e.origin()));
        });
        if (e.isConditional()) {
            // Its time stands still while it does not run, which the text on its own does not say.
            body.forEach(e::add);
            return;
        }
        Map<String, Expr> inputs = new LinkedHashMap<>();
        text.inputs().forEach(v -> inputs.put(v.name(), e.in(v.name())));
        e.add(new Stmt.Written(e.text("text"), inputs, outputs, body, e.origin()));
    }

    private static Type formulaType(int output, List<Type> inputs, Settings s, Type real) {
        // Which type it has follows from the expression alone; mistakes are reported when it is emitted.
        var text = ParsedText.formula(s.text("expression"));
        Map<String, Expr> zeros = text.names().stream().collect(Collectors.toMap(Function.identity(), n -> Expr.read(
                Slot.of(n, Slot.Role.LOCAL, real))));
        var result = Compilation.formula(text, new TypingHost(), zeros, real == Type.FLOAT64);
        Expr y = result.outputs().get("y");
        return y == null ? real : y.type();
    }

    private static void formula(Emitter e) {
        var text = ParsedText.formula(e.text("expression"));
        Map<String, Expr> inputs = text.names().stream().collect(Collectors.toMap(Function.identity(), e::in));
        var host = new EmitterHost(e);
        var result = Compilation.formula(text, host, inputs, e.real() == Type.FLOAT64);
        result.mistakes().forEach(e::report);
        if (result.isUsable()) {
            result.statements().forEach(e::add);
            e.output("y", result.outputs().get("y"));
        }
    }

    /** Compiles into a block's emitter. */
    private record EmitterHost(Emitter e) implements Host {
        @Override
        public Slot state(String name, Type type, double initial) {
            return e.state(name, type, initial);
        }

        @Override
        public Slot array(String name, Type type, double[] initial) {
            return e.array(name, type, initial);
        }

        @Override
        public Slot local(String name, Type type) {
            return e.local(name, type);
        }

        @Override
        public Expr input(String name) {
            return e.in(name);
        }

        @Override
        public String functionName(String wanted) {
            return e.functionName(wanted);
        }

        @Override
        public double cycleTime() {
            return e.sampleTime();
        }

        @Override
        public int loopLimit() {
            return e.hasParameter("loop limit") ? (int) e.value("loop limit") : 1;
        }

        @Override
        public Origin origin() {
            return e.origin();
        }
    }

    /** Finds out the type of an expression; nothing of it is kept. */
    private static final class TypingHost implements Host {
        @Override
        public Slot state(String name, Type type, double initial) {
            return Slot.of(name, Slot.Role.LOCAL, type);
        }

        @Override
        public Slot array(String name, Type type, double[] initial) {
            return Slot.array(name, Slot.Role.LOCAL, type, initial, "");
        }

        @Override
        public Slot local(String name, Type type) {
            return Slot.of(name, Slot.Role.LOCAL, type);
        }

        @Override
        public Expr input(String name) {
            throw new IllegalStateException(name);
        }

        @Override
        public String functionName(String wanted) {
            return wanted;
        }

        @Override
        public double cycleTime() {
            return 1;
        }

        @Override
        public int loopLimit() {
            return 1;
        }

        @Override
        public Origin origin() {
            return Origin.of("");
        }
    }
}
