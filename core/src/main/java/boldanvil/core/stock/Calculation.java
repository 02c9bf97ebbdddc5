package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;
import static boldanvil.core.stock.Parameter.list;
import static boldanvil.core.stock.Parameter.real;
import static boldanvil.core.stock.Parameter.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.List;

/** Arithmetic without memory. */
final class Calculation {
    static final BlockType GAIN = BlockType.named("gain", "Gain", Family.CALCULATION)
            .help("y = k · u: the input times a factor.")
            .with(real("k", "1", "", "The factor.").offered())
            .face(Face.NONE.in("u", Accept.NUMBER).out("y")).says("{k} ×")
            .does(e -> e.output("y", e.in("u").times(e.param("k", e.typeOf("y")))));

    static final BlockType SUM = BlockType.named("sum", "Sum", Family.CALCULATION)
            .help("y = ± u1 ± u2 …, one sign for each input. Integers wrap.")
            .with(text("signs", "++", "One + or − for each input."))
            .face(s -> numbered(signs(s.text("signs")).length(), Accept.NUMBER))
            .says(s -> joined(signs(s.text("signs")).replace('-', '−'), '+'))
            .does(e -> {
                String signs = signs(e.text("signs"));
                Expr sum = null;
                for (int i = 0; i < signs.length(); i++) {
                    Expr u = e.in("u" + (i + 1));
                    boolean plus = signs.charAt(i) == '+';
                    if (sum == null) {
                        sum = plus ? u : Expr.of(u.type(), 0).minus(u);
                    } else {
                        sum = plus ? sum.plus(u) : sum.minus(u);
                    }
                }
                e.output("y", sum);
            });

    static final BlockType PRODUCT = BlockType.named("product", "Product", Family.CALCULATION)
            .help("y = u1 · u2 / u3 …: one sign for each input, * multiplies and / divides. An integer divided by zero "
                    + "gives 0 and raises a fault.")
            .with(text("signs", "**", "One * or / for each input; the first is *."))
            .face(s -> numbered(factors(s.text("signs")).length(), Accept.NUMBER))
            .says(s -> joined(factors(s.text("signs")).replace('*', '×').replace('/', '÷'), '×'))
            .does(e -> {
                String signs = factors(e.text("signs"));
                Type t = e.typeOf("y");
                Expr product = signs.charAt(0) == '*' ? e.in("u1") : Expr.of(t, 1).over(e.in("u1"));
                for (int i = 1; i < signs.length(); i++) {
                    Expr u = e.in("u" + (i + 1));
                    product = signs.charAt(i) == '*' ? product.times(u) : product.over(u);
                }
                e.output("y", product);
            });

    static final BlockType MIN_MAX = BlockType.named("minmax", "Least or greatest", Family.CALCULATION)
            .help("y = the least (or greatest) of the inputs.")
            .with(choice("which", "Least or greatest.", "least", "greatest"),
                    choice("inputs", "Number of inputs.", "2", "3", "4"))
            .face(s -> numbered(Integer.parseInt(s.text("inputs")), Accept.NUMBER)).says("{which} of {inputs}")
            .does(e -> {
                boolean least = e.text("which").equals("least");
                e.output("y", e.ins("u", Integer.parseInt(e.text("inputs"))).stream()
                        .reduce((a, b) -> e.temp("best", least ? a.min(b) : a.max(b))).orElseThrow());
            });

    static final BlockType ABS = BlockType.named("abs", "Magnitude", Family.CALCULATION)
            .help("y = |u|. The least int32 stays as it is.")
            .face(Face.NONE.in("u", Accept.NUMBER).out("y")).says("|u|")
            .does(e -> {
                var u = e.in("u");
                Expr zero = Expr.of(u.type(), 0);
                e.output("y", u.type().isFloat() ? u.call(Intrinsic.ABS) : zero.minus(u).when(u.lt(zero), u));
            });

    static final BlockType CONVERT = BlockType.named("convert", "Convert", Family.CALCULATION)
            .help("y = u as another type. Real to integer is rounded as chosen and saturates; a number becomes true when "
                    + "it is not 0.")
            .with(choice("type", "Type of the output.", "real", "float64", "float32", "int32", "uint16", "bool"),
                    choice("rounding", "How a real becomes an integer.", "nearest", "truncate", "down"))
            .face(Face.NONE.in("u", Accept.ANY).out("y")).says("to {type}")
            .type((_, s, real) -> Sources.typeNamed(s.text("type"), real))
            .does(e -> {
                var u = e.in("u");
                Type to = e.typeOf("y");
                if (u.type().isFloat() && to.isInteger()) {
                    u = switch (e.text("rounding")) {
                        case "nearest" -> u.plus(Expr.of(u.type(), 0.5)).call(Intrinsic.FLOOR);
                        case "down" -> u.call(Intrinsic.FLOOR);
                        default -> u;
                    };
                }
                e.output("y", u.as(to));
            });

    static final BlockType LOOKUP = BlockType.named("lookup", "Lookup table", Family.CALCULATION)
            .help("y = f(u), straight lines between the points (x, y). Outside, the end value holds or the end line goes "
                    + "on.")
            .with(list("x", "[0, 1]", "", "Points on the input axis, rising."), list("y", "[0, 1]", "", "Values there."),
                    choice("outside", "Beyond the first and last point.", "hold", "extend"))
            .face(Face.NONE.in("u", Accept.REAL).out("y")).says("table of {x}")
            .does(Calculation::lookup);

    static final List<BlockType> TYPES = List.of(GAIN, SUM, PRODUCT, MIN_MAX, ABS, CONVERT, LOOKUP);

    private Calculation() {}

    private static void lookup(Emitter e) {
        double[] x = e.list("x");
        double[] y = e.list("y");
        if (x.length != y.length || x.length < 2) {
            e.problem("x has " + x.length + " values and y has " + y.length + ".",
                    "Give both the same number of values, at least two.");
            return;
        }
        for (int i = 1; i < x.length; i++) {
            if (!(x[i] > x[i - 1])) {
                e.problem("x does not rise at its value " + (i + 1) + ".", "List the points from least to greatest.");
                return;
            }
        }
        Type t = e.typeOf("y");
        var xs = e.table("x", t, x);
        var ys = e.table("y", t, y);
        var u = e.in("u");
        if (e.text("outside").equals("hold")) {
            u = e.temp("held", u.clamp(Expr.of(t, x[0]), Expr.of(t, x[x.length - 1])));
        }
        // The interval is the last whose left end is not beyond u.
        var interval = e.local("interval", Type.INT32);
        var k = e.local("k", Type.INT32);
        e.assign(interval, Expr.of(Type.INT32, 0));
        if (x.length > 2) {
            var next = Expr.read(k).plus(Expr.of(Type.INT32, 1));
            e.add(new Stmt.Repeat(k, x.length - 2, List.of(new Stmt.Assign(interval,
                    next.when(u.compare(Op.GE, new Expr.Element(xs, next)), Expr.read(interval)), e.origin())), e.origin()));
        }
        var left = Expr.read(interval);
        var right = left.plus(Expr.of(Type.INT32, 1));
        var x0 = e.temp("x0", new Expr.Element(xs, left));
        var y0 = e.temp("y0", new Expr.Element(ys, left));
        var slope = new Expr.Element(ys, right).minus(y0).over(new Expr.Element(xs, right).minus(x0));
        e.output("y", y0.plus(u.minus(x0).times(slope)));
    }

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
}
