package boldanvil.core.program;

import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Expr.Op;
import java.util.ArrayList;
import java.util.List;

/**
 * Transcendental functions as IR, so that Java and C compute the same bits.
 *
 * <p>Sine and cosine: reduction to ±π/4 by a three-part π/2 (Cody and Waite, Software Manual for the Elementary
 * Functions, 1980), then the minimax polynomials of FDLIBM (Sun Microsystems, 1993; degree 13 and 14). Within 2 ulp of
 * the true value for |x| ≤ 10⁵ rad; the reduction loses accuracy beyond, in proportion to |x|.
 */
public final class MathFunctions {
    private static final double[] SIN = {
        -1.66666666666666324348e-01, 8.33333333332248946124e-03, -1.98412698298579493134e-04,
        2.75573137070700676789e-06, -2.50507602534068634195e-08, 1.58969099521155010221e-10};
    private static final double[] COS = {
        4.16666666666666019037e-02, -1.38888888888741095749e-03, 2.48015872894767294178e-05,
        -2.75573143513906633035e-07, 2.08757232129817482790e-09, -1.13596475577881948265e-11};
    /** π/2 in three parts; the first two have 33 significant bits, so that their product with a small integer is exact. */
    private static final double[] HALF_PI = {
        1.57079632673412561417e+00, 6.07710050630396597660e-11, 2.02226624879595063154e-21};

    /** sin x, x in radians. */
    public static final Function SINE = circular("ba_sin", 0);
    /** cos x, x in radians. */
    public static final Function COSINE = circular("ba_cos", 1);

    private MathFunctions() {}

    private static Function circular(String name, int quarterTurns) {
        var origin = Origin.of(name);
        var x = local("x");
        var n = local("n");
        var r = local("r");
        var z = local("z");
        var q = local("q");
        List<Stmt> body = new ArrayList<>();
        var readN = Expr.read(n);
        var readR = Expr.read(r);
        var readZ = Expr.read(z);
        body.add(new Stmt.Assign(n,
                Expr.read(x).times(2 / Math.PI).plus(Expr.of(0.5)).call(Intrinsic.FLOOR), origin));
        body.add(new Stmt.Assign(r, Expr.read(x).minus(readN.times(HALF_PI[0])).minus(readN.times(HALF_PI[1]))
                .minus(readN.times(HALF_PI[2])), origin));
        body.add(new Stmt.Assign(z, readR.times(readR), origin));
        // Which quarter of the circle, 0 to 3: n modulo 4 without an integer conversion that could overflow.
        var shifted = readN.plus(Expr.of(quarterTurns));
        body.add(new Stmt.Assign(q, shifted.minus(Expr.of(4.0)
                .times(shifted.times(0.25).call(Intrinsic.FLOOR))), origin));
        var sine = readR.plus(readR.times(readZ).times(polynomial(SIN, readZ)));
        var cosine = Expr.of(1.0).minus(readZ.times(0.5)).plus(readZ.times(readZ).times(polynomial(COS, readZ)));
        var quarter = Expr.read(q);
        var odd = quarter.compare(Op.EQ, Expr.of(1.0)).or(quarter.compare(Op.EQ, Expr.of(3.0)));
        var magnitude = local("m");
        body.add(new Stmt.Assign(magnitude, cosine.when(odd, sine), origin));
        var result = Expr.of(0.0).minus(Expr.read(magnitude))
                .when(quarter.compare(Op.GE, Expr.of(2.0)), Expr.read(magnitude));
        return new Function(name, x, body, result);
    }

    private static Expr polynomial(double[] coefficients, Expr z) {
        Expr sum = Expr.of(coefficients[coefficients.length - 1]);
        for (int i = coefficients.length - 2; i >= 0; i--) {
            sum = Expr.of(coefficients[i]).plus(z.times(sum));
        }
        return sum;
    }

    private static Slot local(String name) {
        return Slot.of(name, Slot.Role.LOCAL, Type.FLOAT64);
    }
}
