package boldanvil.core.text;

import boldanvil.core.maths.MathFunctions;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Function;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import boldanvil.core.text.StructuredTextParser.ApplicationContext;
import boldanvil.core.text.StructuredTextParser.ArgumentContext;
import boldanvil.core.text.StructuredTextParser.BinaryContext;
import boldanvil.core.text.StructuredTextParser.BracketsContext;
import boldanvil.core.text.StructuredTextParser.ConstantContext;
import boldanvil.core.text.StructuredTextParser.ExpressionContext;
import boldanvil.core.text.StructuredTextParser.LiteralContext;
import boldanvil.core.text.StructuredTextParser.ReadContext;
import boldanvil.core.text.StructuredTextParser.UnaryContext;
import boldanvil.core.text.StructuredTextParser.VariableContext;
import boldanvil.core.text.Symbol.Typed;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.antlr.v4.runtime.ParserRuleContext;
import org.antlr.v4.runtime.Token;

/** Expressions with their types. What must be checked while running is written as statements into the body. */
final class Expressions {
    private static final double NANOS = 1e9;
    private static final Pattern DURATION_PART = Pattern.compile("([0-9_]+(?:\\.[0-9_]+)?)(ms|us|ns|d|h|m|s)");

    private final Compilation compilation;
    private final Scope scope;
    private final BodyCompiler body;

    Expressions(Compilation compilation, Scope scope, BodyCompiler body) {
        this.compilation = compilation;
        this.scope = scope;
        this.body = body;
    }

    /** The value of an expression; {@code hint} is what a literal takes on where nothing else decides, or null. */
    Typed value(ExpressionContext e, TextType hint) {
        return switch (e) {
            case BracketsContext b -> value(b.expression(), hint);
            case ConstantContext c -> literal(c.literal(), hint);
            case ReadContext r -> read(r.variable());
            case UnaryContext u -> unary(u, hint);
            case BinaryContext b -> binary(b, hint);
            case ApplicationContext a -> application(a, hint);
            default -> throw Compilation.stop(e, "This is not an expression.", "Correct it.");
        };
    }

    /** A condition. */
    Expr condition(ExpressionContext e) {
        return to(value(e, TextType.BOOL), TextType.BOOL, e.getStart()).expr();
    }

    /** The value as another type, where no information is lost. */
    Typed to(Typed v, TextType wanted, Token at) {
        if (v.type() == wanted) {
            return v;
        }
        if (v.plain() && v.expr() instanceof Expr.Literal l && fits(l.value(), wanted)) {
            return new Typed(Expr.of(wanted.type(), l.value()), wanted);
        }
        if (v.type().widensTo(wanted)) {
            return new Typed(v.expr().as(wanted.type()), wanted);
        }
        throw new MistakeException(new Mistake(at.getLine(), at.getCharPositionInLine() + 1, v.plain() ? "The number does not fit into "
                + wanted + "." : "A " + v.type() + " is used where a " + wanted + " is needed.", v.plain()
                ? "Choose a smaller number, or a wider type."
                : conversion(v.type(), wanted), false));
    }

    private static String conversion(TextType from, TextType to) {
        if (to == TextType.BOOL) {
            return "Compare it with something.";
        }
        return "Convert it with " + from + "_TO_" + to + ".";
    }

    private static boolean fits(double v, TextType t) {
        return t.isReal() || t == TextType.TIME && v == 0 || t.isInteger() && v == Math.rint(v) && v >= t.type().least()
                && v <= t.type().greatest();
    }

    /** A constant whole number. */
    long whole(ExpressionContext e) {
        var v = value(e, TextType.DINT);
        if (!v.type().isInteger() || !(v.expr() instanceof Expr.Literal l)) {
            throw Compilation.stop(e, "A constant whole number is needed here.", "Write a number, or the name of a constant.");
        }
        return (long) l.value();
    }

    private Typed literal(LiteralContext l, TextType hint) {
        String text = l.getText().replace("_", "").toLowerCase(Locale.ROOT);
        if (l.TRUE() != null || l.FALSE() != null) {
            return new Typed(Expr.of(l.TRUE() != null), TextType.BOOL);
        }
        if (l.DURATION() != null) {
            return new Typed(Expr.of(seconds(text)), TextType.TIME);
        }
        if (l.TYPED() != null) {
            return typed(l, text);
        }
        if (l.REAL() != null) {
            TextType t = hint != null && hint.isReal() ? hint : TextType.LREAL;
            return new Typed(Expr.of(t.type(), Double.parseDouble(text)), t, true);
        }
        double v = whole(l, text);
        TextType t = hint != null && hint.isNumber() && fits(v, hint) ? hint : v > Integer.MAX_VALUE ? TextType.UDINT : TextType.DINT;
        return new Typed(Expr.of(t.type(), v), t, true);
    }

    private static double whole(LiteralContext l, String text) {
        try {
            int sharp = text.indexOf('#');
            long v = sharp < 0 ? Long.parseLong(text) : Long.parseLong(text.substring(sharp + 1),
                    Integer.parseInt(text.substring(0, sharp)));
            if (v <= 0xFFFF_FFFFL) {
                return v;
            }
        } catch (NumberFormatException _) {
            // Told below, together with what is too large.
        }
        throw Compilation.stop(l, "'" + l.getText() + "' is not a 32-bit number.", "Check its digits.");
    }

    private static Typed typed(LiteralContext l, String text) {
        String name = text.substring(0, text.indexOf('#'));
        String rest = text.substring(text.indexOf('#') + 1);
        TextType t = TextType.named(name);
        if (t == null || t == TextType.TIME) {
            throw Compilation.stop(l, "There is no type '" + name.toUpperCase(Locale.ROOT) + "' for literals.",
                    "Use INT#, REAL# and the like.");
        }
        double v = rest.equals("true") ? 1 : rest.equals("false") ? 0 : rest.contains("#") ? whole(l, rest) : Double.parseDouble(rest);
        if (t == TextType.BOOL ? v != 0 && v != 1 : !fits(v, t)) {
            throw Compilation.stop(l, "The number does not fit into " + t + ".", "Choose a smaller number, or a wider type.");
        }
        return new Typed(Expr.of(t.type(), v), t);
    }

    private static double seconds(String text) {
        Matcher m = DURATION_PART.matcher(text);
        double sum = 0;
        while (m.find()) {
            double value = Double.parseDouble(m.group(1));
            // Divisions, since 1/1000 has no exact form but most of its multiples are rounded well.
            sum += switch (m.group(2)) {
                case "d" -> value * 86_400;
                case "h" -> value * 3_600;
                case "m" -> value * 60;
                case "s" -> value;
                case "ms" -> value / 1e3;
                case "us" -> value / 1e6;
                default -> value / 1e9;
            };
        }
        double exact = Math.rint(sum * NANOS) / NANOS;
        return text.contains("#-") ? -exact : exact;
    }

    private Typed read(VariableContext v) {
        Symbol s = resolve(v);
        return switch (s) {
            case Symbol.Variable x -> new Typed(Expr.read(x.slot()), x.type());
            case Symbol.Value x -> x.value();
            case Symbol.Array a -> a.slot().isArray() ? new Typed(Expr.at(a.slot(), place(v, a)), a.type())
                    : new Typed(Expr.read(a.slot()), a.type());
            case Symbol.Instance _ -> throw Compilation.stop(v, "'" + v.getText() + "' is a function block, not a value.",
                    "Read one of its outputs, such as " + v.getText() + ".Q.");
        };
    }

    /** What a name with its dots stands for; for an array, the array itself. */
    Symbol resolve(VariableContext v) {
        String name = v.ID(0).getText();
        Symbol s = scope.find(name);
        if (s == null) {
            throw Compilation.stop(v, "There is no variable '" + name + "'.", "Declare it between VAR and END_VAR, or correct the name.");
        }
        for (int i = 1; i < v.ID().size(); i++) {
            if (!(s instanceof Symbol.Instance fb)) {
                throw Compilation.stop(v, "'" + name + "' has no members.", "Remove the dot and the name after it.");
            }
            name = v.ID(i).getText();
            s = fb.scope().find(name);
            if (s == null || s instanceof Symbol.Value) {
                throw Compilation.stop(v, "'" + v.ID(i - 1).getText() + "' has no '" + name + "'.", "Use one of its inputs or outputs.");
            }
        }
        if (!v.index().isEmpty() && !(s instanceof Symbol.Array)) {
            throw Compilation.stop(v, "'" + name + "' is not an array.", "Remove the index.");
        }
        if (v.index().isEmpty() && s instanceof Symbol.Array) {
            throw Compilation.stop(v, "'" + name + "' is an array; select one of its elements.", "Write an index in brackets after it.");
        }
        return s;
    }

    /** Where the element lies; an index out of bounds raises a fault and takes the nearest element of its dimension. */
    Expr place(VariableContext v, Symbol.Array a) {
        List<ExpressionContext> indices = new ArrayList<>();
        v.index().forEach(i -> indices.addAll(i.expression()));
        if (indices.size() != a.bounds().size()) {
            throw Compilation.stop(v, "The array has " + a.bounds().size() + " dimensions, but " + indices.size() + " indices are given.",
                    "Enter one index for each dimension.");
        }
        Expr place = null;
        for (int d = 0; d < indices.size(); d++) {
            var bounds = a.bounds().get(d);
            var index = value(indices.get(d), TextType.DINT);
            if (!index.type().isInteger()) {
                throw Compilation.stop(indices.get(d), "An index is a whole number, not a " + index.type() + ".", "Convert it.");
            }
            Expr i = index.expr().as(Type.INT32);
            var low = Expr.of(Type.INT32, bounds.low());
            var high = Expr.of(Type.INT32, bounds.high());
            if (i instanceof Expr.Literal l) {
                if (l.value() < bounds.low() || l.value() > bounds.high()) {
                    throw Compilation.stop(indices.get(d), "The index " + (long) l.value() + " is outside " + bounds.low() + ".."
                            + bounds.high()
                            + ".", "Correct it, or make the array larger.");
                }
            } else {
                i = body.kept("index", i);
                body.add(new Stmt.If(i.lt(low).or(i.gt(high)), List.of(new Stmt.Raise(Fault.INDEX, body.origin())), List.of(),
                        body.origin()));
                i = i.clamp(low, high);
            }
            i = i.minus(low);
            place = place == null ? i : place.times(Expr.of(Type.INT32, bounds.size())).plus(i);
        }
        return place;
    }

    private Typed unary(UnaryContext u, TextType hint) {
        Typed v = value(u.expression(), hint);
        if (u.op.getType() == StructuredTextParser.NOT) {
            if (v.type() == TextType.BOOL) {
                return new Typed(v.expr().not(), TextType.BOOL);
            }
            if (!v.type().isInteger()) {
                throw Compilation.stop(u, "NOT needs a BOOL or an integer, not a " + v.type() + ".", "Compare it with something first.");
            }
            Type t = v.type().type();
            return new Typed(new Expr.Binary(Op.BXOR, v.expr(), Expr.of(t, t.isSigned() ? -1 : t.greatest())), v.type());
        }
        if (!v.type().isNumber() && v.type() != TextType.TIME) {
            throw Compilation.stop(u, "A sign is used before a " + v.type() + ".", "Remove it.");
        }
        if (!u.op.getText().equals("-")) {
            return v;
        }
        if (v.plain() && v.expr() instanceof Expr.Literal l) {
            TextType t = hint != null && fits(-l.value(), hint) ? hint : v.type() == TextType.UDINT ? TextType.DINT : v.type();
            return new Typed(Expr.of(t.type(), -l.value()), t, true);
        }
        return new Typed(v.expr().negated(), v.type());
    }

    private Typed binary(BinaryContext b, TextType hint) {
        String op = b.op.getText().toUpperCase(Locale.ROOT);
        boolean relation = List.of("<", ">", "<=", ">=", "=", "<>").contains(op);
        TextType inner = relation ? null : hint;
        Typed x = value(b.expression(0), inner);
        Typed y = value(b.expression(1), x.plain() ? inner : x.type());
        if (op.equals("**")) {
            return power(b, x, y, hint);
        }
        if (x.type() == TextType.TIME || y.type() == TextType.TIME) {
            return time(b, op, x, y);
        }
        TextType t = common(b, x, y);
        Expr p = to(x, t, b.getStart()).expr();
        Expr q = to(y, t, b.expression(1).getStart()).expr();
        boolean plain = x.plain() && y.plain() && p instanceof Expr.Literal && q instanceof Expr.Literal;
        if (relation) {
            if (t == TextType.BOOL && !op.equals("=") && !op.equals("<>")) {
                throw Compilation.stop(b, "Two BOOL values have no order.", "Use = or <>.");
            }
            return new Typed(p.compare(relation(op), q), TextType.BOOL);
        }
        return switch (op) {
            case "+" -> arithmetic(t, number(b, t, p).plus(q), plain);
            case "-" -> arithmetic(t, number(b, t, p).minus(q), plain);
            case "*" -> arithmetic(t, number(b, t, p).times(q), plain);
            case "/" -> arithmetic(t, number(b, t, p).over(divisor(b, y, q)), plain);
            case "MOD" -> {
                if (!t.isInteger()) {
                    throw Compilation.stop(b, "MOD needs integers, not " + t + ".", "Convert them first.");
                }
                yield new Typed(number(b, t, p).rem(divisor(b, y, q)), t, plain);
            }
            case "AND", "&" -> logic(b, t, p, q, Op.AND, Op.BAND);
            case "OR" -> logic(b, t, p, q, Op.OR, Op.BOR);
            default -> logic(b, t, p, q, Op.NE, Op.BXOR);
        };
    }

    private static Typed arithmetic(TextType t, Expr e, boolean plain) {
        return new Typed(e, t, plain && e instanceof Expr.Literal);
    }

    private Expr number(BinaryContext b, TextType t, Expr e) {
        if (!t.isNumber()) {
            throw Compilation.stop(b, "'" + b.op.getText() + "' needs numbers, not " + t + ".", "Use AND, OR, XOR for BOOL values.");
        }
        if (t.isBits()) {
            compilation.warning(b.op, "'" + b.op.getText() + "' is used with a " + t + ", which is a string of bits and not a number.",
                    "Declare it as " + t.number() + ", or convert it with " + t + "_TO_" + t.number() + ".");
        }
        return e;
    }

    /** @param written the divisor as it is in the text, {@code q} its value in the type of the division */
    private Expr divisor(BinaryContext b, Typed written, Expr q) {
        if (written.plain() && q instanceof Expr.Literal l && l.value() == 0) {
            throw Compilation.stop(b.expression(1), "This is a division by zero.", "Correct the divisor.");
        }
        return divisor(q);
    }

    /** A divisor that raises a fault where it is 0; of integers, the division itself does. */
    Expr divisor(Expr q) {
        if (!q.type().isFloat() || q instanceof Expr.Literal l && l.value() != 0) {
            return q;
        }
        Expr kept = body.kept("divisor", q);
        raise(kept.eq(Expr.of(q.type(), 0)), Fault.DIVISION_BY_ZERO);
        return kept;
    }

    void warning(ParserRuleContext at, String cause, String cure) {
        compilation.warning(at.getStart(), cause, cure);
    }

    /** Raises a fault where a condition holds. */
    void raise(Expr condition, int bit) {
        if (!(condition instanceof Expr.Literal l) || l.value() != 0) {
            body.add(new Stmt.If(condition, List.of(new Stmt.Raise(bit, body.origin())), List.of(), body.origin()));
        }
    }

    /** xʸ, with a fault where it is not defined. */
    Expr powerOf(Expr x, Expr y) {
        Expr base = body.kept("base", x);
        Expr exponent = body.kept("exponent", y);
        raise(MathFunctions.undefinedPower(base, exponent), Fault.DOMAIN);
        return MathFunctions.apply(MathFunctions.POWER, base, exponent);
    }

    /** A time rounded to whole nanoseconds, so that sums of times are what they are on paper. */
    static Expr exact(Expr seconds) {
        return seconds instanceof Expr.Literal l ? Expr.of(Math.rint(l.value() * NANOS) / NANOS)
                : seconds.times(NANOS).call(Expr.Intrinsic.RINT).over(Expr.of(NANOS));
    }

    private static Typed logic(BinaryContext b, TextType t, Expr p, Expr q, Op bool, Op bits) {
        if (t == TextType.BOOL) {
            return new Typed(p.compare(bool, q), t);
        }
        if (!t.isInteger()) {
            throw Compilation.stop(b, b.op.getText() + " needs BOOL values or integers, not " + t + ".", "Compare the values first.");
        }
        return new Typed(new Expr.Binary(bits, p, q), t);
    }

    private static Op relation(String op) {
        return switch (op) {
            case "<" -> Op.LT;
            case ">" -> Op.GT;
            case "<=" -> Op.LE;
            case ">=" -> Op.GE;
            case "=" -> Op.EQ;
            default -> Op.NE;
        };
    }

    /** The type both values widen to. */
    TextType common(ParserRuleContext at, Typed x, Typed y) {
        if (x.type() == y.type()) {
            return x.type();
        }
        if (x.plain() && x.expr() instanceof Expr.Literal l && fits(l.value(), y.type())) {
            return y.type();
        }
        if (y.plain() && y.expr() instanceof Expr.Literal l && fits(l.value(), x.type())) {
            return x.type();
        }
        if (x.type().widensTo(y.type())) {
            return y.type();
        }
        if (y.type().widensTo(x.type())) {
            return x.type();
        }
        throw Compilation.stop(at, "A " + x.type() + " and a " + y.type() + " are not compatible.", "Convert one of them, for example with "
                + x.type() + "_TO_" + y.type() + ".");
    }

    private Typed power(BinaryContext b, Typed x, Typed y, TextType hint) {
        if (!x.type().isNumber() || !y.type().isNumber()) {
            throw Compilation.stop(b, "** needs numbers.", "Convert them first.");
        }
        TextType t = x.type().isReal() ? x.type() : hint != null && hint.isReal() ? hint : TextType.LREAL;
        return new Typed(powerOf(x.expr().as(t.type()), y.expr().as(t.type())), t);
    }

    /** TIME adds to and compares with TIME, and is multiplied and divided by numbers. */
    private Typed time(BinaryContext b, String op, Typed x, Typed y) {
        boolean both = x.type() == y.type();
        if (both && (op.equals("+") || op.equals("-"))) {
            return new Typed(exact(op.equals("+") ? x.expr().plus(y.expr()) : x.expr().minus(y.expr())), TextType.TIME);
        }
        boolean scales = !both && (op.equals("*") && (x.type().isNumber() || y.type().isNumber()) || op.equals("/") && y.type().isNumber());
        if (scales) {
            Expr p = x.expr().as(Type.FLOAT64);
            Expr q = y.expr().as(Type.FLOAT64);
            return new Typed(exact(op.equals("*") ? p.times(q) : p.over(divisor(b, y, q))), TextType.TIME);
        }
        if (both && List.of("<", ">", "<=", ">=", "=", "<>").contains(op)) {
            return new Typed(x.expr().compare(relation(op), y.expr()), TextType.BOOL);
        }
        throw Compilation.stop(b, "'" + op + "' cannot combine a " + x.type() + " and a " + y.type() + ".",
                "Add or compare TIME with TIME such as T#1s; multiply it with numbers.");
    }

    private Typed application(ApplicationContext a, TextType hint) {
        String name = a.ID().getText();
        List<ExpressionContext> arguments = new ArrayList<>();
        var tree = compilation.functionTree(name);
        if (tree != null) {
            return userFunction(a, name);
        }
        for (ArgumentContext argument : a.argument()) {
            if (argument.expression() == null) {
                throw Compilation.stop(argument, "A function has no outputs to assign.", "Remove '=>'.");
            }
            arguments.add(argument.expression());
        }
        String function = name.toUpperCase(Locale.ROOT);
        return new StandardFunctions(this, body).apply(a, function, a.argument().stream().anyMatch(x -> x.ID() != null)
                ? named(a, function) : arguments, hint);
    }

    /** Arguments that are given by name, in the order of the function's inputs. */
    private static List<ExpressionContext> named(ApplicationContext a, String function) {
        ExpressionContext[] ordered = new ExpressionContext[a.argument().size()];
        for (ArgumentContext x : a.argument()) {
            int at = -1;
            for (int i = 0; x.ID() != null && i < ordered.length; i++) {
                at = StandardFunctions.inputName(function, i).equalsIgnoreCase(x.ID().getText()) ? i : at;
            }
            if (at < 0 || ordered[at] != null) {
                throw Compilation.stop(x, x.ID() == null ? "Some arguments are given by name and some by position."
                        : function + " has no input '" + x.ID().getText()
                        + "', or it is given twice.", "Use names for all, in any order, or for none.");
            }
            ordered[at] = x.expression();
        }
        return List.of(ordered);
    }

    private Typed userFunction(ApplicationContext a, String name) {
        Function f = compilation.function(a.ID().getSymbol());
        List<TextType> types = compilation.signature(name);
        if (f == null || types == null) {
            throw Compilation.stop(a, "The function '" + name + "' has errors.", "Correct these first.");
        }
        int count = f.parameters().size();
        if (a.argument().size() != count) {
            throw Compilation.stop(a, "'" + name + "' takes " + count + " arguments, not " + a.argument().size() + ".",
                    "Write one for each VAR_INPUT.");
        }
        Expr[] values = new Expr[count];
        for (int i = 0; i < count; i++) {
            ArgumentContext argument = a.argument(i);
            int at = i;
            if (argument.ID() != null && argument.expression() != null) {
                at = -1;
                for (int k = 0; k < count; k++) {
                    at = f.parameters().get(k).name().equalsIgnoreCase(argument.ID().getText()) ? k : at;
                }
            }
            if (at < 0 || argument.expression() == null || values[at] != null) {
                throw Compilation.stop(argument, "'" + name + "' has no such input, or it is given twice.",
                        "Use the names of its VAR_INPUT.");
            }
            values[at] = to(value(argument.expression(), types.get(at)), types.get(at), argument.getStart()).expr();
        }
        return new Typed(new Expr.Apply(f, values), types.getLast());
    }
}
