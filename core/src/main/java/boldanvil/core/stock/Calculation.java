package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;
import static boldanvil.core.stock.Parameter.list;
import static boldanvil.core.stock.Parameter.real;
import static boldanvil.core.stock.Parameter.reals;
import static boldanvil.core.stock.Parameter.text;

import boldanvil.core.maths.MathFunctions;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Type;
import boldanvil.core.quantity.Dimension;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/** Arithmetic without memory. */
final class Calculation {
    private static final Map<String, String> FORMER_EXTREMES = Map.of("least", "minimum", "greatest", "maximum");

    static final BlockType GAIN = BlockType.named("gain", "Gain", Family.CALCULATION)
            .units(f -> f.out("y", UnitFlow.times(f.in("u"), f.param("k"))))
            .help("y = k · u: the input times a factor, or each element times its own where k is a list.")
            .with(reals("k", "1", "", "The factor, or a list of factors.").offered())
            .face(Face.NONE.in("u", Accept.NUMBER).out("y")).summary("{k} ×")
            .does(e -> e.output("y", e.in("u").times(e.param("k", e.typeOf("y")))));

    static final BlockType SUM = BlockType.named("sum", "Sum", Family.CALCULATION)
            .units(Kinds.kept("y"))
            .help("y = ± u1 ± u2 …, one sign for each input; computed from the first input with + on. Integers wrap.")
            .with(text("signs", "++", "One + or − for each input."))
            .face(s -> numbered(signs(s.text("signs")).length(), Accept.NUMBER))
            .summary(s -> joined(signs(s.text("signs")).replace('-', '−'), '+'))
            .does(e -> {
                String signs = signs(e.text("signs"));
                int first = signs.indexOf('+');
                Expr sum = first < 0 ? Expr.of(e.typeOf("y"), 0) : e.in("u" + (first + 1));
                for (int i = 0; i < signs.length(); i++) {
                    Expr u = e.in("u" + (i + 1));
                    sum = i == first ? sum : signs.charAt(i) == '+' ? sum.plus(u) : sum.minus(u);
                }
                e.output("y", sum);
            });

    static final BlockType PRODUCT = BlockType.named("product", "Product", Family.CALCULATION)
            .units(Calculation::productUnits)
            .help("y = u1 · u2 / u3 …: one sign for each input, * multiplies and / divides. Division by zero raises a fault; "
                    + "an integer result is then 0.")
            .with(text("signs", "**", "One * or / for each input; the first is *."))
            .face(s -> numbered(factors(s.text("signs")).length(), Accept.NUMBER))
            .summary(s -> joined(factors(s.text("signs")).replace('*', '×').replace('/', '÷'), '×'))
            .does(e -> {
                String signs = factors(e.text("signs"));
                Type t = e.typeOf("y");
                Expr product = signs.charAt(0) == '*' ? e.in("u1") : Expr.of(t, 1).over(divisor(e, e.in("u1")));
                for (int i = 1; i < signs.length(); i++) {
                    Expr u = e.in("u" + (i + 1));
                    if (signs.charAt(i) == '/') {
                        u = divisor(e, u);
                    }
                    product = signs.charAt(i) == '*' ? product.times(u) : product.over(u);
                }
                e.output("y", product);
            });

    static final BlockType MIN_MAX = BlockType.named("minmax", "Minimum or maximum", Family.CALCULATION)
            .units(Kinds.kept("y"))
            .help("y = the minimum or the maximum of the inputs.")
            .with(choice("which", "Which of the two.", "minimum", "maximum").formerly(FORMER_EXTREMES),
                    choice("inputs", "Number of inputs.", "2", "3", "4"))
            .face(s -> numbered(Integer.parseInt(s.text("inputs")), Accept.NUMBER)).summary("{which} of {inputs}")
            .does(e -> {
                boolean least = e.text("which").equals("minimum");
                e.output("y", e.ins("u", Integer.parseInt(e.text("inputs"))).stream()
                        .reduce((a, b) -> e.temp("best", least ? a.min(b) : a.max(b))).orElseThrow());
            });

    static final BlockType ABS = BlockType.named("abs", "Absolute value", Family.CALCULATION).picture(Pictures::absolute)
            .units(Kinds.kept("y", "u"))
            .help("y = |u|. The minimum of a signed integer type stays unchanged.")
            .face(Face.NONE.in("u", Accept.NUMBER).out("y")).summary("|u|")
            .does(e -> {
                var u = e.in("u");
                Expr zero = Expr.of(u.type(), 0);
                if (u.type().isFloat()) {
                    e.crossing(u);
                }
                e.output("y", u.type().isFloat() ? u.call(Intrinsic.ABS) : zero.minus(u).when(u.lt(zero), u));
            });

    static final BlockType CONVERT = BlockType.named("convert", "Type conversion", Family.CALCULATION)
            .units(Kinds.kept("y", "u"))
            .help("y = u as another type. Real to integer is rounded as chosen: to the nearest (halves upwards), to the nearest even, "
            + "towards "
                    + "zero, down or up. A value out of range is limited to the range, or wraps around modulo 2ⁿ. A number becomes true "
                    + "when it "
                    + "is not 0. NaN becomes 0 and raises a fault.")
            .with(choice("type", "Type of the output.", "real", "float64", "float32", "int8", "uint8", "int16", "uint16", "int32", "uint32",
                            "bool"),
                    choice("rounding", "How a real becomes an integer.", "nearest", "even", "truncate", "down", "up"),
                    choice("beyond", "How a value out of range is treated.", "saturate", "wrap"))
            .face(Face.NONE.in("u", Accept.ANY).out("y")).summary("to {type}")
            .type((_, s, real) -> Sources.typeNamed(s.text("type"), real))
            .does(e -> {
                var u = e.in("u");
                Type to = e.typeOf("y");
                boolean wraps = e.text("beyond").equals("wrap") && to.isInteger();
                if (u.type().isFloat() && to.isInteger()) {
                    u = e.temp("rounded", rounded(u, e.text("rounding")));
                    if (wraps) {
                        var wide = u.as(Type.FLOAT64);
                        var turns = wide.times(1 / 4294967296.0).call(Intrinsic.FLOOR);
                        e.output("y", e.temp("low", wide.minus(turns.times(4294967296.0))).as(Type.UINT32).wrap(to));
                        return;
                    }
                }
                e.output("y", wraps && u.type().isInteger() ? u.wrap(to) : u.as(to));
            });

    static final BlockType FUNCTION = BlockType.named("function", "Function", Family.CALCULATION).picture(Pictures::function)
            .units(Calculation::functionUnits)
            .help("y = f(u). Outside of its domain a function raises a fault, and y is NaN or infinite: sqrt below 0, ln and log10 from 0 "
            + "down, asin "
                    + "and acos beyond ±1, reciprocal of 0. Angles are in radians. exp, ln and atan are within 1 unit in the last place "
                    + "of the true value, sin and cos within "
                    + "2, tan, asin, acos and log10 within 4 (FDLIBM, Sun Microsystems, 1993); in float32, sin and cos keep to float32. "
                    + "Simulation and code give the same bits.")
            .with(choice("f", "The function.", "sqrt", "square", "reciprocal", "exp", "ln", "log10", "sin", "cos", "tan", "asin", "acos",
            "atan",
                    "sign", "negate"))
            .face(Face.NONE.in("u", Accept.REAL).out("y")).summary("{f} u")
            .does(e -> {
                var u = e.in("u");
                Type t = u.type();
                outside(e, MathFunctions.undefined(e.text("f"), u));
                e.output("y", switch (e.text("f")) {
                    case "square" -> u.times(u);
                    case "reciprocal" -> Expr.of(t, 1).over(divisor(e, u));
                    case "exp" -> MathFunctions.apply(MathFunctions.EXPONENTIAL, u);
                    case "ln" -> MathFunctions.apply(MathFunctions.LOGARITHM, u);
                    case "log10" -> MathFunctions.decimalLogarithm(u);
                    case "sin" -> MathFunctions.apply(MathFunctions.SINE, u);
                    case "cos" -> MathFunctions.apply(MathFunctions.COSINE, u);
                    case "tan" -> MathFunctions.tangent(u);
                    case "asin" -> MathFunctions.arcSine(u);
                    case "acos" -> MathFunctions.arcCosine(u);
                    case "atan" -> MathFunctions.apply(MathFunctions.ARC_TANGENT, u);
                    case "sign" -> {
                        e.crossing(u);
                        yield Expr.of(t, 1).when(u.gt(Expr.of(t, 0)), Expr.of(t, -1).when(u.lt(Expr.of(t, 0)), Expr.of(t, 0)));
                    }
                    case "negate" -> u.negated();
                    default -> u.call(Intrinsic.SQRT);
                });
            });

    static final BlockType FUNCTION2 = BlockType.named("two-input function", "Function, two inputs", Family.CALCULATION)
            .formerly("function of two")
            .units(Calculation::functionOfTwoUnits)
            .help("power: y = u ^ v. angle: the angle of the point (v, u), from −π to π: atan2(u, v). length: √(u² + v²). modulo: the "
            + "remainder of u / v, with the sign of v. remainder: with the sign of u. v = "
                    + "0 in the last two, and a power that is not defined, raise a fault. power and angle are within 1 unit in the last "
                    + "place, length within 2.")
            .with(choice("f", "The function.", "power", "angle", "length", "modulo", "remainder"))
            .face(Face.NONE.in("u", Accept.REAL).in("v", Accept.REAL).out("y")).summary("{f} of u, v")
            .does(e -> {
                var u = e.in("u");
                var v = e.in("v");
                e.output("y", switch (e.text("f")) {
                    case "angle" -> MathFunctions.apply(MathFunctions.ANGLE, u, v);
                    case "length" -> MathFunctions.apply(MathFunctions.HYPOTENUSE, u, v);
                    case "remainder" -> u.rem(divisor(e, v));
                    case "modulo" -> {
                        var left = e.temp("left", u.rem(divisor(e, v)));
                        var zero = Expr.of(u.type(), 0);
                        var other = left.compare(Op.NE, zero).and(left.lt(zero).compare(Op.NE, v.lt(zero)));
                        yield left.plus(v).when(other, left);
                    }
                    default -> {
                        outside(e, MathFunctions.undefinedPower(u, v));
                        yield MathFunctions.apply(MathFunctions.POWER, u, v);
                    }
                });
            });

    static final BlockType ROUND = BlockType.named("round", "Round", Family.CALCULATION).rounding()
            .units(Kinds.kept("y", "u"))
            .help("y = u rounded to a whole number: to the nearest (halves upwards), to the nearest even, towards zero, down or up.")
            .with(choice("rounding", "The operation.", "nearest", "even", "truncate", "down", "up"))
            .face(Face.NONE.in("u", Accept.REAL).out("y")).summary("{rounding}")
            .does(e -> e.output("y", rounded(e.in("u"), e.text("rounding"))));

    static final BlockType WRAP = BlockType.named("wrap", "Wrap angle", Family.CALCULATION).picture(Pictures::wrap)
            .units(Kinds.kept("y", "u", "period"))
            .help("y = u minus whole periods, so that it lies from −period/2 to below period/2, or from 0 to below the period.")
            .with(real("period", "2 * pi", "", "The period; 2π for an angle in radians.").atLeast(1e-12),
                    choice("range", "Range of y.", "around 0", "from 0"))
            .face(Face.NONE.in("u", Accept.REAL).out("y")).summary("{range}, period {period}")
            .does(e -> {
                var u = e.in("u");
                Type t = u.type();
                double p = e.value("period");
                double shift = e.text("range").equals("from 0") ? 0 : 0.5;
                e.output("y", u.minus(u.times(1 / p).plus(Expr.of(t, shift)).call(Intrinsic.FLOOR).times(p)));
            });

    static final BlockType POLYNOMIAL = BlockType.named("polynomial", "Polynomial", Family.CALCULATION).picture(Pictures::polynomial)
            .help("y = c0 · uⁿ + … + cn, by Horner's rule.")
            .with(list("coefficients", "[1, 0]", "", "Coefficients, highest power first."))
            .face(Face.NONE.in("u", Accept.REAL).out("y")).summary("{coefficients}")
            .does(e -> {
                var u = e.in("u");
                Expr sum = null;
                for (double c : e.list("coefficients")) {
                    sum = sum == null ? Expr.of(u.type(), c) : sum.times(u).plus(Expr.of(u.type(), c));
                }
                e.output("y", sum);
            });

    static final BlockType INTERVAL = BlockType.named("window comparator", "Window comparator", Family.CALCULATION)
            .picture(Pictures::window).formerly("interval")
            .units(Kinds.compared("u", "low", "high"))
            .help("y = whether low ≤ u ≤ high.")
            .with(real("low", "-1", "", "Lower end.").offered(), real("high", "1", "", "Upper end.").offered())
            .face(Face.NONE.in("u", Accept.NUMBER).out("y")).summary("{low} ≤ u ≤ {high}").type(Type.BOOL)
            .does(e -> {
                Limits.ordered(e);
                var u = e.in("u");
                e.output("y", u.compare(Op.GE, e.param("low", u.type())).and(u.compare(Op.LE, e.param("high", u.type()))));
            });

    static final BlockType DOT = BlockType.named("dot", "Dot product", Family.CALCULATION)
            .units(f -> f.out("y", UnitFlow.times(f.in("u"), f.in("v"))))
            .help("y = Σ uᵢ · vᵢ over the elements of two vectors of the same length.")
            .face(Face.NONE.in("u", Accept.NUMBER).in("v", Accept.NUMBER).out("y")).summary("Σ u · v").shape((_, _, _, _) -> 1)
            .does(e -> {
                var u = e.elements("u");
                var v = e.elements("v");
                if (u.size() != v.size()) {
                    e.problem("The vectors have " + u.size() + " and " + v.size() + " elements.", "Make both the same length.");
                    return;
                }
                Expr sum = u.getFirst().times(v.getFirst());
                for (int i = 1; i < u.size(); i++) {
                    sum = sum.plus(u.get(i).times(v.get(i)));
                }
                e.output("y", sum);
            });

    static final BlockType MATRIX = BlockType.named("matrix", "Matrix gain", Family.CALCULATION).picture(Pictures::matrix)
            .help("y = K · u for a vector u; K is written as a list of rows.")
            .with(list("K", "[[1, 0], [0, 1]]", "", "The matrix, as a list of rows."))
            .face(Face.NONE.in("u", Accept.REAL).out("y")).summary("K · u")
            .shape((_, in, s, _) -> Lists.rows(s.text("K")))
            .does(e -> {
                var u = e.elements("u");
                double[] k = e.list("K");
                int rows = e.rows("K");
                if (k.length != rows * u.size()) {
                    e.problem("K has " + rows + " rows and " + k.length + " values, the input " + u.size() + " elements.",
                            "Each row needs one value for each element of the input.");
                    return;
                }
                List<Expr> y = new ArrayList<>();
                for (int i = 0; i < rows; i++) {
                    y.add(Lists.weighted(u, java.util.Arrays.copyOfRange(k, i * u.size(), (i + 1) * u.size())));
                }
                e.outputs("y", y);
            });

    static final BlockType COLLECT = BlockType.named("vector reduction", "Vector reduction", Family.CALCULATION).formerly("collect")
            .help("One value from all elements of a vector: their sum, product, mean, minimum, maximum, or the length √Σ uᵢ².")
            .with(choice("what", "How the elements are combined.", "sum", "product", "mean", "minimum", "maximum", "length")
            .formerly(FORMER_EXTREMES))
            .face(Face.NONE.in("u", Accept.REAL).out("y")).summary("{what} of all").shape((_, _, _, _) -> 1)
            .does(e -> {
                var u = e.elements("u");
                String what = e.text("what");
                Expr all = what.equals("length") ? u.getFirst().times(u.getFirst()) : u.getFirst();
                for (int i = 1; i < u.size(); i++) {
                    var x = u.get(i);
                    all = switch (what) {
                        case "product" -> all.times(x);
                        case "minimum" -> e.temp("best" + i, all.min(x));
                        case "maximum" -> e.temp("best" + i, all.max(x));
                        case "length" -> all.plus(x.times(x));
                        default -> all.plus(x);
                    };
                }
                e.output("y", what.equals("mean") ? all.over(Expr.of(all.type(), u.size()))
                        : what.equals("length") ? all.call(Intrinsic.SQRT) : all);
            });

    static final List<BlockType> TYPES = List.of(GAIN, SUM, PRODUCT, MIN_MAX, ABS, FUNCTION, FUNCTION2, ROUND, WRAP, POLYNOMIAL, INTERVAL,
            CONVERT, DOT, MATRIX, COLLECT);

    /** A divisor; a fault where it is zero. Integer division raises its fault by itself. */
    private static Expr divisor(Emitter e, Expr u) {
        if (u.type().isFloat()) {
            u = e.temp("divisor", u);
            Guards.raise(e, u.eq(Expr.of(u.type(), 0)), Fault.DIVISION_BY_ZERO);
        }
        return u;
    }

    private static void outside(Emitter e, Expr undefined) {
        Guards.raise(e, undefined, Fault.DOMAIN);
    }

    private static Expr rounded(Expr u, String how) {
        return switch (how) {
            case "nearest" -> u.plus(Expr.of(u.type(), 0.5)).call(Intrinsic.FLOOR);
            case "even" -> u.call(Intrinsic.RINT);
            case "down" -> u.call(Intrinsic.FLOOR);
            case "up" -> u.call(Intrinsic.CEIL);
            default -> u.call(Intrinsic.CEIL).when(u.lt(Expr.of(u.type(), 0)), u.call(Intrinsic.FLOOR));
        };
    }

    private Calculation() {}

    private static Face numbered(int count, Accept accept) {
        Face f = Face.NONE;
        for (int i = 1; i <= count; i++) {
            f = f.in("u" + i, accept);
        }
        return f.out("y");
    }

    /** {@code u1 − u2 + u3} for the signs {@code + − +}; a leading sign that says nothing is left out. */
    private static String joined(String signs, char silent) {
        var text = new StringBuilder();
        for (int i = 0; i < signs.length(); i++) {
            boolean leading = i == 0;
            if (!leading || signs.charAt(0) != silent) {
                text.append(leading ? "" : " ").append(signs.charAt(i)).append(' ');
            }
            text.append('u').append(i + 1);
        }
        return text.toString();
    }

    /** The signs among the text, at least one. */
    private static String signs(String text) {
        String kept = text.replace('−', '-').replaceAll("[^+-]", "");
        return kept.isEmpty() ? "+" : kept.substring(0, Math.min(kept.length(), 12));
    }

    private static String factors(String text) {
        String kept = text.replace('×', '*').replaceAll("[^*/]", "");
        return kept.isEmpty() ? "*" : kept.substring(0, Math.min(kept.length(), 12));
    }

    private static void productUnits(UnitFlow f) {
        String signs = factors(f.text("signs"));
        Dimension d = Dimension.NONE;
        String[] inputs = f.inputs();
        for (int i = 0; i < inputs.length; i++) {
            d = signs.charAt(i) == '/' ? UnitFlow.over(d, f.in(inputs[i])) : UnitFlow.times(d, f.in(inputs[i]));
        }
        f.out("y", d);
    }

    private static void functionUnits(UnitFlow f) {
        Dimension u = f.in("u");
        switch (f.text("f")) {
            case "sqrt" -> f.out("y", UnitFlow.power(u, 0.5));
            case "square" -> f.out("y", UnitFlow.power(u, 2));
            case "reciprocal" -> f.out("y", UnitFlow.power(u, -1));
            case "negate" -> f.out("y", u);
            case "sign" -> f.out("y", Dimension.NONE);
            default -> {
                f.must("u", Dimension.NONE);
                f.out("y", Dimension.NONE);
            }
        }
    }

    private static void functionOfTwoUnits(UnitFlow f) {
        switch (f.text("f")) {
            case "power" -> f.must("v", Dimension.NONE);
            case "angle" -> {
                f.alike("u", "v");
                f.out("y", Dimension.NONE);
            }
            default -> f.out("y", f.alike("u", "v"));
        }
    }
}
