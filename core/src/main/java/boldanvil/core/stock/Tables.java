package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;
import static boldanvil.core.stock.Parameter.list;
import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.quantity.Dimension;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Table;
import boldanvil.core.program.Type;
import java.util.List;

/** Functions given by points. */
final class Tables {
    static final BlockType LOOKUP = BlockType.named("lookup", "Lookup table", Family.CALCULATION).picture(Pictures::table)
            .help("y = f(u) through the points (x, y): straight lines, the nearest point, or a monotone cubic curve (Fritsch and Carlson, "
                    + "Monotone piecewise cubic interpolation, 1980). Outside, the end value is held or the end segment is extended.")
            .with(list("x", "[0, 1]", "", "Points on the input axis, increasing."), list("y", "[0, 1]", "", "Values at these points."),
                    choice("outside", "Beyond the first and last point.", "hold", "extend"),
                    choice("between", "Between two points.", "line", "nearest", "cubic"))
            .face(Face.NONE.in("u", Accept.REAL).out("y")).summary("table of {x}")
            .does(Tables::lookup);

    static final BlockType LOOKUP2 = BlockType.named("two-input lookup", "Lookup table, two inputs", Family.CALCULATION)
            .picture(Pictures::surface)
            .formerly("lookup of two")
            .help("z = f(u, v) over the grid of x and y; z is a list of rows, one for each x. Between the points: straight lines in both "
                    + "directions, or the nearest point. Outside, the end value is held or the end segment is extended.")
            .with(list("x", "[0, 1]", "", "Points for u, increasing."), list("y", "[0, 1]", "", "Points for v, increasing."),
                    list("z", "[[0, 0], [0, 1]]", "", "Values: one row for each x, one value for each y."),
                    choice("outside", "Beyond the first and last point.", "hold", "extend"),
                    choice("between", "Between two points.", "line", "nearest"))
            .face(Face.NONE.in("u", Accept.REAL).in("v", Accept.REAL).out("z")).summary("table of {x} × {y}")
            .does(Tables::lookup2);

    static final BlockType SINE_TABLE = BlockType.named("sine table", "Sine table", Family.CALCULATION)
            .units(f -> f.must("u", Dimension.NONE))
            .help("sin and cos of an angle u in radians from a table of one turn with straight lines in between. The worst error is "
                    + "(2π/points)²/8: 7.6·10⁻⁵ at 256 points, 4.8·10⁻⁶ at 1024. Faster than the exact functions on a controller without a "
                    + "floating-point unit.")
            .with(real("points", "256", "1", "Points per turn.").atLeast(8).atMost(4096))
            .face(Face.NONE.in("u", Accept.REAL).out("sin").out("cos")).summary("{points} points")
            .does(Tables::sineTable);

    static final List<BlockType> TYPES = List.of(LOOKUP, LOOKUP2, SINE_TABLE);

    private Tables() {}

    private static boolean rises(Emitter e, String name, double[] x) {
        if (x.length < 2) {
            e.problem(name + " has " + x.length + " value.", "Enter at least two.");
            return false;
        }
        for (int i = 1; i < x.length; i++) {
            if (!(x[i] > x[i - 1])) {
                e.problem(name + " does not increase at its value " + (i + 1) + ".", "List the points in ascending order.");
                return false;
            }
        }
        return true;
    }

    private static Expr held(Emitter e, String name, Expr u, double[] x) {
        return e.text("outside").equals("hold")
                ? e.temp(name, u.clamp(Expr.of(u.type(), x[0]), Expr.of(u.type(), x[x.length - 1]))) : u;
    }

    private static Expr one(Expr i) {
        return i.plus(Expr.of(Type.INT32, 1));
    }

    private static void lookup(Emitter e) {
        double[] x = e.list("x");
        double[] y = e.list("y");
        if (x.length != y.length || x.length < 2) {
            e.problem("x has " + x.length + " values and y has " + y.length + ".",
                    "Use the same number of values for both, at least two.");
            return;
        }
        if (!rises(e, "x", x)) {
            return;
        }
        Type t = e.typeOf("y");
        Table xs = e.table("x", t, x);
        Table ys = e.table("y", t, y);
        var u = held(e, "held", e.in("u"), x);
        var left = Search.interval(e, xs, u);
        var right = one(left);
        var x0 = e.temp("x0", new Expr.Element(xs, left));
        var y0 = e.temp("y0", new Expr.Element(ys, left));
        var x1 = new Expr.Element(xs, right);
        var y1 = new Expr.Element(ys, right);
        switch (e.text("between")) {
            case "nearest" -> e.output("y", y1.when(u.minus(x0).compare(Op.GE, x1.minus(u)), y0));
            case "cubic" -> {
                Table slopes = e.table("slopes", t, slopes(x, y));
                var h = e.temp("h", x1.minus(x0));
                var s = e.temp("s", u.minus(x0).over(h));
                var rise = e.temp("rise", y1.minus(y0));
                var m0 = e.temp("m0", new Expr.Element(slopes, left).times(h));
                var m1 = e.temp("m1", new Expr.Element(slopes, right).times(h));
                // y0 + s (m0 + s (3 Δ − 2 m0 − m1 + s (m0 + m1 − 2 Δ))), Hermite's form by Horner's rule.
                var third = m0.plus(m1).minus(rise.times(2));
                var second = rise.times(3).minus(m0.times(2)).minus(m1);
                e.output("y", y0.plus(s.times(m0.plus(s.times(second.plus(s.times(third)))))));
            }
            default -> {
                var slope = y1.minus(y0).over(x1.minus(x0));
                e.output("y", y0.plus(u.minus(x0).times(slope)));
            }
        }
    }

    /** Slopes at the points that keep each piece as monotone as its points. */
    static double[] slopes(double[] x, double[] y) {
        int n = x.length;
        double[] secant = new double[n - 1];
        for (int i = 0; i < n - 1; i++) {
            secant[i] = (y[i + 1] - y[i]) / (x[i + 1] - x[i]);
        }
        double[] m = new double[n];
        m[0] = secant[0];
        m[n - 1] = secant[n - 2];
        for (int i = 1; i < n - 1; i++) {
            m[i] = secant[i - 1] * secant[i] <= 0 ? 0 : (secant[i - 1] + secant[i]) / 2;
        }
        for (int i = 0; i < n - 1; i++) {
            if (secant[i] == 0) {
                m[i] = 0;
                m[i + 1] = 0;
                continue;
            }
            double length = Math.hypot(m[i] / secant[i], m[i + 1] / secant[i]);
            if (length > 3) {
                m[i] *= 3 / length;
                m[i + 1] *= 3 / length;
            }
        }
        return m;
    }

    private static void lookup2(Emitter e) {
        double[] x = e.list("x");
        double[] y = e.list("y");
        double[] z = e.list("z");
        if (!rises(e, "x", x) || !rises(e, "y", y)) {
            return;
        }
        if (z.length != x.length * y.length) {
            e.problem("z has " + z.length + " values for " + x.length + " × " + y.length + " points.",
                    "Enter one row for each x, with one value for each y.");
            return;
        }
        Type t = e.typeOf("z");
        Table xs = e.table("x", t, x);
        Table ys = e.table("y", t, y);
        Table zs = e.table("z", t, z);
        var u = held(e, "u_held", e.in("u"), x);
        var v = held(e, "v_held", e.in("v"), y);
        var i = Search.interval(e, "x", xs, u);
        var j = Search.interval(e, "y", ys, v);
        var p = e.temp("p", u.minus(new Expr.Element(xs, i)).over(new Expr.Element(xs, one(i)).minus(new Expr.Element(xs, i))));
        var q = e.temp("q", v.minus(new Expr.Element(ys, j)).over(new Expr.Element(ys, one(j)).minus(new Expr.Element(ys, j))));
        var width = Expr.of(Type.INT32, y.length);
        if (e.text("between").equals("nearest")) {
            var half = Expr.of(t, 0.5);
            var row = one(i).when(p.compare(Op.GE, half), i);
            var column = one(j).when(q.compare(Op.GE, half), j);
            e.output("z", new Expr.Element(zs, row.times(width).plus(column)));
            return;
        }
        var at = e.temp("at", i.times(width).plus(j));
        var z00 = e.temp("z00", new Expr.Element(zs, at));
        var z10 = e.temp("z10", new Expr.Element(zs, at.plus(width)));
        var low = e.temp("low", z00.plus(q.times(new Expr.Element(zs, one(at)).minus(z00))));
        var high = e.temp("high", z10.plus(q.times(new Expr.Element(zs, one(at.plus(width))).minus(z10))));
        e.output("z", low.plus(p.times(high.minus(low))));
    }

    private static void sineTable(Emitter e) {
        int n = (int) Math.rint(e.value("points"));
        Type t = e.typeOf("sin");
        double[] points = new double[n + n / 4 + 2];
        for (int i = 0; i < points.length; i++) {
            points[i] = Math.sin(2 * Math.PI * i / n);
        }
        if (n % 4 != 0) {
            e.problem("The cosine is read a quarter turn ahead, but " + n + " points cannot be divided by 4.", "Choose a multiple of 4.");
            return;
        }
        Table table = e.table("turn", t, points);
        var turns = e.temp("turns", e.in("u").times(1 / (2 * Math.PI)));
        var at = e.temp("at", turns.minus(turns.call(Intrinsic.FLOOR)).times(n));
        var below = e.temp("below", at.call(Intrinsic.FLOOR));
        var i = e.temp("i", below.as(Type.INT32));
        var share = e.temp("share", at.minus(below));
        e.output("sin", line(e, "s", table, i, share));
        e.output("cos", line(e, "c", table, i.plus(Expr.of(Type.INT32, n / 4)), share));
    }

    private static Expr line(Emitter e, String name, Table table, Expr i, Expr share) {
        var y0 = e.temp(name + "0", new Expr.Element(table, i));
        return y0.plus(share.times(new Expr.Element(table, one(i)).minus(y0)));
    }
}
