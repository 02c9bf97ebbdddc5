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
import boldanvil.core.text.StructuredTextParser.ReadContext;
import boldanvil.core.text.StructuredTextParser.UnaryContext;
import boldanvil.core.text.StructuredTextParser.VariableContext;
import boldanvil.core.text.Symbol.Typed;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.antlr.v4.runtime.ParserRuleContext;
import org.antlr.v4.runtime.Token;

/** Expressions with their types. What must be checked while running is written as statements into the body. */
final class Expressions {
    static final double NANOS = 1e9;

    private final Compilation compilation;
    private final Scope scope;
    private final BodyCompiler body;
    private final Variables variables;

    Expressions(Compilation compilation, Scope scope, BodyCompiler body) {
        this.compilation = compilation;
        this.scope = scope;
        this.body = body;
        this.variables = new Variables(compilation, scope, this, body);
    }

    /** The value of an expression; {@code hint} is what a literal takes on where nothing else decides, or null. */
    Typed value(ExpressionContext e, TextType hint) {
        return switch (e) {
            case BracketsContext b -> value(b.expression(), hint);
            case ConstantContext c -> Literals.of(c.literal(), hint, compilation.types());
            case ReadContext r -> read(r.variable());
            case UnaryContext u -> unary(u, hint);
            case BinaryContext b -> binary(b, hint);
            case ApplicationContext a -> application(a, hint);
            default -> throw Compilation.stop(e, "This is not an expression.", "Correct it.");
        };
    }

    Compilation compilation() {
        return compilation;
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

    static boolean fits(double v, TextType t) {
        return t.isReal() || t == TextType.TIME && v == 0 || t.isInteger() && t.type().holds(v);
    }

    /** A constant whole number. */
    long whole(ExpressionContext e) {
        var v = value(e, TextType.DINT);
        if (!v.type().isInteger() || !(v.expr() instanceof Expr.Literal l)) {
            throw Compilation.stop(e, "A constant whole number is needed here.", "Write a number, or the name of a constant.");
        }
        return (long) l.value();
    }

    private Typed read(VariableContext v) {
        var partial = Variables.partial(v);
        Symbol s = resolve(v);
        return switch (s) {
            case Symbol.Value x when partial == null -> x.value();
            case Symbol.Place p when partial != null -> {
                int bit = Integer.parseInt(partial.substring(2));
                Expr of = partial(v, p, bit);
                Expr mask = Expr.of(of.type(), of.type().wrap(1L << bit));
                yield new Typed(new Expr.Binary(Op.BAND, of, mask).compare(Op.NE, Expr.of(of.type(), 0)), TextType.BOOL);
            }
            case Symbol.Place p when p.type() instanceof DataType.Plain t -> new Typed(load(p), t.type());
            case Symbol.Place p -> throw Compilation.stop(v, "'" + v.getText() + "' is " + switch (p.type()) {
                case DataType.Block _ -> "a function block, not a value.";
                case DataType.Row _ -> "an array; select one of its elements.";
                case DataType.Structure _ -> "a structure; select one of its members.";
                default -> "a text, not a number.";
            }, switch (p.type()) {
                case DataType.Block _ -> "Read one of its outputs, such as " + v.getText() + ".Q.";
                case DataType.Row _ -> "Write an index in brackets after it.";
                case DataType.Structure _ -> "Write a dot and the name of the member after it.";
                default -> "Convert it, for example with STRING_TO_DINT.";
            });
            default -> throw Compilation.stop(v, "'" + v.getText() + "' is not a value.",
                    "Use one of its members; of a step, these are X and T.");
        };
    }

    /** The value of a single variable. */
    Expr load(Symbol.Place p) {
        return Variables.load(p);
    }

    /** What a name with its dots and indices stands for. */
    Symbol resolve(VariableContext v) {
        return variables.resolve(v, v.selector().size());
    }

    /** @param count how many of the dots and indices are followed */
    Symbol resolve(VariableContext v, int count) {
        return variables.resolve(v, count);
    }

    /** The variable one of whose bits is named. */
    Expr partial(ParserRuleContext at, Symbol.Place p, int bit) {
        return variables.partial(at, p, bit);
    }

    /** The variable an expression names; null for any other expression. */
    Symbol.Place place(ExpressionContext e) {
        return e instanceof BracketsContext b ? place(b.expression())
                : e instanceof ReadContext r && Variables.partial(r.variable()) == null && resolve(r.variable()) instanceof Symbol.Place p
                        ? p
                : e instanceof ApplicationContext a ? given(a) : null;
    }

    /** Where the result of a function of several values lies. */
    private Symbol.Place given(ApplicationContext a) {
        var target = calls().target(a.variable());
        return target == null ? null : calls().call(a, target, a.argument());
    }

    boolean isText(VariableContext v) {
        return scope.find(v.ADDRESS() == null ? v.ID().getText() : "") != null && resolve(v) instanceof Symbol.Place p
                && p.storage() instanceof Storage.Text;
    }

    private Calls calls() {
        return new Calls(compilation, scope, body);
    }

    /** Whether a function name is that of the standard, and not one of the text's own. */
    boolean isStandard(String name) {
        return compilation.functionTree(name) == null && scope.find(name) == null;
    }

    /** The type of what a function or method of the text gives; null for anything else. */
    DataType resultOf(ApplicationContext a) {
        var target = calls().target(a.variable());
        return target == null ? null : calls().result(target);
    }

    /** The text a function of the text gives. */
    Strings.Piece text(ApplicationContext a) {
        var p = given(a);
        if (p == null || !(p.storage() instanceof Storage.Text t)) {
            throw Compilation.stop(a, "A text is needed here.", "Use a function that gives a STRING.");
        }
        return Strings.piece(t, p.index());
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
            return new Typed(new Expr.Binary(Op.BXOR, v.expr(), Expr.of(t, t.isSigned() ? -1 : t == Type.UINT64 ? Type.MOST_UINT64
                    : t.greatest())), v.type());
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
        if (relation) {
            var strings = new Strings(this, body);
            if (strings.isText(b.expression(0)) || strings.isText(b.expression(1))) {
                return strings.compare(relation(op), b.expression(0), b.expression(1));
            }
        }
        Typed x = value(b.expression(0), inner);
        Typed y = value(b.expression(1), x.plain() ? inner : x.type());
        if (op.equals("**")) {
            return power(b, x, y, hint);
        }
        if (x.type().isTime() || y.type().isTime()) {
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

    /** TIME adds to and compares with TIME, and is multiplied and divided by numbers; dates differ by a TIME. */
    private Typed time(BinaryContext b, String op, Typed x, Typed y) {
        boolean both = x.type() == y.type();
        if (x.type().isCalendar() || y.type().isCalendar()) {
            TextType result = Calendar.result(op, x.type(), y.type());
            if (result != null && result != TextType.BOOL) {
                return new Typed(exact(op.equals("+") ? x.expr().plus(y.expr()) : x.expr().minus(y.expr())), result);
            }
            both &= result != null;
        }
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
        String name = a.variable().getText();
        var target = calls().target(a.variable());
        if (target != null) {
            return ofText(a, name, target);
        }
        for (ArgumentContext argument : a.argument()) {
            if (argument.expression() == null && !argument.ID().getText().equalsIgnoreCase("ENO")) {
                throw Compilation.stop(argument, "A function has no outputs to assign.", "Remove '=>'.");
            }
        }
        String function = name.toUpperCase(Locale.ROOT);
        if (Strings.isKnown(function)) {
            var v = new Strings(this, body).number(a, function);
            if (v == null) {
                throw Compilation.stop(a, "A text is used where a number is needed.", "Assign it to a STRING.");
            }
            return v;
        }
        List<ArgumentContext> rest = a.argument().stream().filter(x -> !isEnable(x)).toList();
        if (rest.size() == a.argument().size()) {
            return standard(a, function, rest, hint);
        }
        return enabled(a, function, rest, hint);
    }

    private Typed standard(ApplicationContext a, String function, List<ArgumentContext> arguments, TextType hint) {
        return new StandardFunctions(this, body).apply(a, function, arguments.stream().anyMatch(x -> x.ID() != null)
                ? named(arguments, function) : arguments.stream().map(ArgumentContext::expression).toList(), hint);
    }

    /** A function of the standard that is evaluated only where EN is true; else its result is 0. */
    private Typed enabled(ApplicationContext a, String function, List<ArgumentContext> rest, TextType hint) {
        Expr condition = Expr.of(true);
        for (ArgumentContext x : a.argument()) {
            if (x.ID() != null && x.ID().getText().equalsIgnoreCase("EN") && x.expression() != null) {
                condition = body.kept("enable", condition(x.expression()));
            }
        }
        Typed[] value = new Typed[1];
        var inner = new ArrayList<>(body.nested(() -> value[0] = standard(a, function, rest, hint)));
        var result = body.local("result", value[0].expr().type());
        body.set(result, Expr.of(result.type(), 0));
        inner.add(new Stmt.Assign(result, value[0].expr(), body.origin()));
        body.add(new Stmt.If(condition, inner, List.of(), body.origin()));
        for (ArgumentContext x : a.argument()) {
            if (x.variable() != null && resolve(x.variable()) instanceof Symbol.Place p && p.writable()
                    && p.type() instanceof DataType.Plain t && t.type() == TextType.BOOL) {
                body.store(p, condition);
            }
        }
        return new Typed(Expr.read(result), value[0].type());
    }

    /** Whether an argument is EN or ENO, which every function has. */
    private static boolean isEnable(StructuredTextParser.ArgumentContext x) {
        return x.ID() != null && (x.ID().getText().equalsIgnoreCase("EN") || x.ID().getText().equalsIgnoreCase("ENO"));
    }

    /** A function or method of the text. */
    private Typed ofText(ApplicationContext a, String name, Calls.Target target) {
        if (calls().plain(target) != null && a.argument().stream().noneMatch(Expressions::isEnable)) {
            return userFunction(a, name);
        }
        DataType result = calls().result(target);
        if (!(result instanceof DataType.Plain t)) {
            throw Compilation.stop(a, "'" + name + "' gives no single value.", result == null ? "Call it as a statement of its own."
                    : "Assign its result to a variable of the type " + result.shown() + ".");
        }
        return new Typed(load(calls().call(a, target, a.argument())), t.type());
    }

    /** Arguments that are given by name, in the order of the function's inputs. */
    private static List<ExpressionContext> named(List<ArgumentContext> arguments, String function) {
        ExpressionContext[] ordered = new ExpressionContext[arguments.size()];
        for (ArgumentContext x : arguments) {
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
        Function f = compilation.function(a.variable().ID().getSymbol());
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
