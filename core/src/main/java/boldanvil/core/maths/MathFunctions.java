package boldanvil.core.maths;

import boldanvil.core.program.Expr.Form;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Function;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Type;
import java.util.List;

/**
 * Transcendental functions as IR, so that Java and C compute the same bits. The algorithms and coefficients are those of
 * FDLIBM (Sun Microsystems, 1993); the reduction of angles is that of Cody and Waite (Software Manual for the Elementary
 * Functions, 1980).
 *
 * <p>Errors against the true value, in units in the last place: exp, log, power, arc tangent and its two-argument form below 1;
 * sine, cosine and hypotenuse below 2; tangent, arc sine, arc cosine and decimal logarithm below 4. Angles: for |x| ≤ 10⁵ rad;
 * beyond, the error grows with |x|. The float32 sine and cosine (coefficients of Cephes, Moshier, 1989) keep to float32 in
 * every step: below 2 ulp of 1, for |x| ≤ 10⁴ rad. Every other function is computed in float64 and rounded.
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
    private static final double[] SIN32 = {-1.6666654611e-1, 8.3321608736e-3, -1.9515295891e-4};
    private static final double[] COS32 = {4.166664568298827e-2, -1.388731625493765e-3, 2.443315711809948e-5};
    private static final double[] HALF_PI32 = {1.5703125, 4.837512969970703125e-4, 7.54978995489188216e-8};
    private static final double LN2_HIGH = 6.93147180369123816490e-01;
    private static final double LN2_LOW = 1.90821492927058770002e-10;
    private static final double[] EXP = {1.66666666666666019037e-01, -2.77777777770155933842e-03, 6.61375632143793436117e-05,
        -1.65339022054652515390e-06, 4.13813679705723846039e-08};
    /** 2⁵²; a whole number added to it is in the low bits. */
    private static final double LOW_BITS = 4503599627370496.0;

    /** sin x, x in radians. */
    public static final Function SINE = circular("ba_sin", Type.FLOAT64, 0, SIN, COS, HALF_PI);
    /** cos x, x in radians. */
    public static final Function COSINE = circular("ba_cos", Type.FLOAT64, 1, SIN, COS, HALF_PI);
    public static final Function SINE32 = circular("ba_sin32", Type.FLOAT32, 0, SIN32, COS32, HALF_PI32);
    public static final Function COSINE32 = circular("ba_cos32", Type.FLOAT32, 1, SIN32, COS32, HALF_PI32);
    /** eˣ. */
    public static final Function EXPONENTIAL = exponential();
    /** ln x. */
    public static final Function LOGARITHM = logarithm();
    /** log₁₀ x; exact for the whole powers of ten. */
    public static final Function DECIMAL_LOGARITHM = logarithmToTen();
    /** arctan x, in radians. */
    public static final Function ARC_TANGENT = arcTangent();
    /** The angle of the point (x, y), from −π to π; its arguments are y, x. */
    public static final Function ANGLE = angle();
    /** xʸ. */
    public static final Function POWER = power();
    /** √(x² + y²) without overflow in between. */
    public static final Function HYPOTENUSE = hypotenuse();

    private MathFunctions() {}

    /** A function's value in the arguments' type, which are all float64 or all float32. */
    public static Expr apply(Function f, Expr... arguments) {
        Type t = arguments[0].type();
        if (t == Type.FLOAT32 && (f == SINE || f == COSINE)) {
            return new Expr.Apply(f == SINE ? SINE32 : COSINE32, arguments);
        }
        return new Expr.Apply(f, List.of(arguments).stream().map(a -> a.as(Type.FLOAT64)).toList()).as(t);
    }

    public static Expr tangent(Expr x) {
        return apply(SINE, x).over(apply(COSINE, x));
    }

    public static Expr arcSine(Expr x) {
        return apply(ANGLE, x, chord(x));
    }

    public static Expr arcCosine(Expr x) {
        return apply(ANGLE, chord(x), x);
    }

    /** The logarithm to base ten. */
    public static Expr decimalLogarithm(Expr x) {
        return apply(DECIMAL_LOGARITHM, x);
    }

    /**
     * Where a function is not defined.
     *
     * @param function {@code sqrt}, {@code ln}, {@code log10}, {@code asin}, {@code acos}; in any others' place false
     */
    public static Expr undefined(String function, Expr x) {
        Expr zero = Expr.of(x.type(), 0);
        return switch (function) {
            case "sqrt" -> x.lt(zero);
            case "ln", "log10" -> x.compare(Op.LE, zero);
            case "asin", "acos" -> x.call(Intrinsic.ABS).gt(Expr.of(x.type(), 1));
            default -> Expr.of(false);
        };
    }

    /** Where xʸ is not defined: a negative number to a power that is not whole, and 0 to a negative power. */
    public static Expr undefinedPower(Expr x, Expr y) {
        Expr zero = Expr.of(x.type(), 0);
        return x.lt(zero).and(y.call(Intrinsic.FLOOR).compare(Op.NE, y)).or(x.eq(zero).and(y.lt(zero)));
    }

    private static Expr chord(Expr x) {
        Expr one = Expr.of(x.type(), 1);
        return one.minus(x).times(one.plus(x)).call(Intrinsic.SQRT);
    }

    private static Function circular(String name, Type t, int quarterTurns, double[] sin, double[] cos, double[] halfPi) {
        var f = new FunctionWriter(name);
        var x = f.parameter("x", t);
        var n = f.let("n", x.times(2 / Math.PI).plus(Expr.of(t, 0.5)).call(Intrinsic.FLOOR));
        var r = f.let("r", x.minus(n.times(halfPi[0])).minus(n.times(halfPi[1])).minus(n.times(halfPi[2])));
        var z = f.let("z", r.times(r));
        // Which quarter of the circle, 0 to 3: n modulo 4 without an integer conversion that could overflow.
        var shifted = n.plus(Expr.of(t, quarterTurns));
        var quarter = f.let("q", shifted.minus(shifted.times(0.25).call(Intrinsic.FLOOR).times(4)));
        var sine = r.plus(r.times(z).times(polynomial(sin, z)));
        var cosine = Expr.of(t, 1).minus(z.times(0.5)).plus(z.times(z).times(polynomial(cos, z)));
        var odd = quarter.eq(Expr.of(t, 1)).or(quarter.eq(Expr.of(t, 3)));
        var m = f.let("m", cosine.when(odd, sine));
        return f.returns(Expr.of(t, 0).minus(m).when(quarter.compare(Op.GE, Expr.of(t, 2)), m));
    }

    private static Expr polynomial(double[] coefficients, Expr z) {
        Expr sum = Expr.of(z.type(), coefficients[coefficients.length - 1]);
        for (int i = coefficients.length - 2; i >= 0; i--) {
            sum = Expr.of(z.type(), coefficients[i]).plus(z.times(sum));
        }
        return sum;
    }

    private static Expr word(long v) {
        return Expr.of(Type.UINT32, v);
    }

    private static Expr high(Expr x) {
        return new Expr.Bits(Form.HIGH_OF_FLOAT64, List.of(x));
    }

    private static Expr low(Expr x) {
        return new Expr.Bits(Form.LOW_OF_FLOAT64, List.of(x));
    }

    private static Expr halves(Expr high, Expr low) {
        return new Expr.Bits(Form.HALVES_TO_FLOAT64, List.of(high, low));
    }

    private static Expr and(Expr a, long mask) {
        return new Expr.Binary(Op.BAND, a, word(mask));
    }

    private static Expr or(Expr a, Expr b) {
        return new Expr.Binary(Op.BOR, a, b);
    }

    private static Expr right(Expr a, int n) {
        return new Expr.Binary(Op.SHR, a, word(n));
    }

    /** The value without its lower 32 bits. */
    private static Expr upper(Expr x) {
        return halves(high(x), word(0));
    }

    private static Expr abs(Expr x) {
        return x.call(Intrinsic.ABS);
    }

    /** 2ᵏ for a whole k from −1022 to 1023. */
    private static Expr twoTo(Expr k) {
        var biased = low(k.plus(Expr.of(LOW_BITS + 1023)));
        return halves(new Expr.Binary(Op.SHL, biased, word(20)), word(0));
    }

    /** y · 2ᵏ in two steps, so that neither overflows; rounded once where the result is subnormal. */
    private static Expr scaled(FunctionWriter f, Expr y, Expr k) {
        var half = f.let("half", k.times(0.5).call(Intrinsic.FLOOR));
        return y.times(twoTo(half)).times(twoTo(k.minus(half)));
    }

    private static Function exponential() {
        var f = new FunctionWriter("ba_exp");
        var x = f.parameter("x", Type.FLOAT64);
        var bounded = f.let("b", x.clamp(Expr.of(-800.0), Expr.of(800.0)));
        var size = abs(bounded);
        var rounded = bounded.times(1.44269504088896338700).plus(Expr.of(-0.5).when(bounded.lt(Expr.of(0.0)), Expr.of(0.5)));
        var whole = rounded.call(Intrinsic.CEIL).when(rounded.lt(Expr.of(0.0)), rounded.call(Intrinsic.FLOOR));
        var one = Expr.of(-1.0).when(bounded.lt(Expr.of(0.0)), Expr.of(1.0));
        // A NaN lands in the last branch, k = 0, so that no bits are made of it.
        var k = f.let("k", whole.when(size.compare(Op.GE, Expr.of(1.0397207708399179)),
                one.when(size.gt(Expr.of(0.34657359027997264)), Expr.of(0.0))));
        var high = f.let("hi", bounded.minus(k.times(LN2_HIGH)));
        var low = f.let("lo", k.times(LN2_LOW));
        var r = f.let("r", high.minus(low));
        var t = f.let("t", r.times(r));
        var c = f.let("c", r.minus(t.times(polynomial(EXP, t))));
        var y = f.let("y", Expr.of(1.0).minus(low.minus(r.times(c).over(Expr.of(2.0).minus(c))).minus(high)));
        return f.returns(scaled(f, y, k));
    }

    private static Function logarithm() {
        var f = new FunctionWriter("ba_log");
        var x = f.parameter("x", Type.FLOAT64);
        var tiny = f.let("tiny", x.lt(Expr.of(Double.MIN_NORMAL)));
        var a = f.let("a", x.times(18014398509481984.0).when(tiny, x));
        var bits = f.let("bits", high(a));
        var hx = f.let("hx", and(bits, 0xFFFFF));
        var i = f.let("i", and(hx.plus(word(0x95F64)), 0x100000));
        var exponent = right(bits, 20).plus(right(i, 20)).wrap(Type.INT32).as(Type.FLOAT64);
        var k = f.let("k", exponent.minus(Expr.of(1077.0).when(tiny, Expr.of(1023.0))));
        var m = halves(or(hx, new Expr.Binary(Op.BXOR, i, word(0x3FF00000))), low(a));
        var d = f.let("f", m.minus(Expr.of(1.0)));
        var s = f.let("s", d.over(Expr.of(2.0).plus(d)));
        var z = f.let("z", s.times(s));
        var w = f.let("w", z.times(z));
        var t1 = w.times(polynomial(new double[] {3.999999999940941908e-01, 2.222219843214978396e-01, 1.531383769920937332e-01}, w));
        var t2 = z.times(polynomial(new double[] {6.666666666666735130e-01, 2.857142874366239149e-01, 1.818357216161805012e-01,
            1.479819860511658591e-01}, w));
        var r = f.let("r", t2.plus(t1));
        var middle = hx.gt(word(0x6147A)).and(hx.lt(word(0x6B851)));
        var h = f.let("h", d.times(0.5).times(d));
        var correction = f.let("c", h.minus(s.times(h.plus(r)).plus(k.times(LN2_LOW))).when(middle,
                s.times(d.minus(r)).minus(k.times(LN2_LOW))));
        var finite = k.times(LN2_HIGH).minus(correction.minus(d));
        var known = Expr.of(Double.NEGATIVE_INFINITY).when(x.eq(Expr.of(0.0)), Expr.of(Double.NaN).when(x.lt(Expr.of(0.0)), x));
        var ordinary = x.gt(Expr.of(0.0)).and(x.compare(Op.LE, Expr.of(Double.MAX_VALUE)));
        return f.returns(finite.when(ordinary, known));
    }

    private static Function logarithmToTen() {
        var f = new FunctionWriter("ba_log10");
        var x = f.parameter("x", Type.FLOAT64);
        var zero = Expr.of(0.0);
        var tiny = f.let("tiny", x.lt(Expr.of(Double.MIN_NORMAL)));
        var a = f.let("a", x.times(18014398509481984.0).when(tiny, x));
        var bits = f.let("bits", high(a));
        var k = f.let("k", right(bits, 20).wrap(Type.INT32).as(Type.FLOAT64).minus(Expr.of(1077.0).when(tiny, Expr.of(1023.0))));
        var below = f.let("below", k.lt(zero));
        var y = f.let("y", k.plus(Expr.of(1.0).when(below, zero)));
        var mantissa = f.let("m", halves(or(and(bits, 0xFFFFF), word(0x3FE00000).when(below, word(0x3FF00000))), low(a)));
        var z = f.let("z", y.times(3.69423907715893078616e-13).plus(new Expr.Apply(LOGARITHM, mantissa).times(4.34294481903251816668e-01)));
        var known = Expr.of(Double.NEGATIVE_INFINITY).when(x.eq(zero), Expr.of(Double.NaN).when(x.lt(zero), x));
        var ordinary = x.gt(zero).and(x.compare(Op.LE, Expr.of(Double.MAX_VALUE)));
        return f.returns(z.plus(y.times(3.01029995663611771306e-01)).when(ordinary, known));
    }

    private static Function arcTangent() {
        double[] highs = {4.63647609000806093515e-01, 7.85398163397448278999e-01, 9.82793723247329054082e-01,
            1.57079632679489655800e+00};
        double[] lows = {2.26987774529616870924e-17, 3.06161699786838301793e-17, 1.39033110312309984516e-17,
            6.12323399573676603587e-17};
        var f = new FunctionWriter("ba_atan");
        var x = f.parameter("x", Type.FLOAT64);
        var a = f.let("a", abs(x));
        var one = Expr.of(1.0);
        var u = f.var("u", x);
        var high = f.var("hi", Expr.of(0.0));
        var low = f.var("lo", Expr.of(0.0));
        var small = a.lt(Expr.of(0.4375));
        Expr[] reduced = {a.times(2).minus(one).over(Expr.of(2.0).plus(a)), a.minus(one).over(a.plus(one)),
            a.minus(Expr.of(1.5)).over(one.plus(a.times(1.5))), Expr.of(-1.0).over(a)};
        double[] below = {0.6875, 1.1875, 2.4375, Double.POSITIVE_INFINITY};
        f.when(small, () -> { }, () -> branch(f, a, u, high, low, reduced, below, highs, lows, 0));
        var r = Expr.read(u);
        var z = f.let("z", r.times(r));
        var w = f.let("w", z.times(z));
        var s1 = z.times(polynomial(new double[] {3.33333333333329318027e-01, 1.42857142725034663711e-01, 9.09088713343650656196e-02,
            6.66107313738753120669e-02, 4.97687799461593236017e-02, 1.62858201153657823623e-02}, w));
        var s2 = w.times(polynomial(new double[] {-1.99999999998764832476e-01, -1.11111104054623557880e-01, -7.69187620504482999495e-02,
            -5.83357013379057348645e-02, -3.65315727442169155270e-02}, w));
        var p = f.let("p", r.times(s1.plus(s2)));
        var beyond = f.let("beyond", Expr.read(high).minus(p.minus(Expr.read(low)).minus(r)));
        var signed = Expr.of(0.0).minus(beyond).when(x.lt(Expr.of(0.0)), beyond);
        return f.returns(x.when(a.lt(Expr.of(1e-9)), r.minus(p).when(small, signed)));
    }

    private static void branch(FunctionWriter f, Expr a, Slot u, Slot high, Slot low, Expr[] reduced, double[] below,
            double[] highs, double[] lows, int i) {
        Runnable take = () -> {
            f.set(u, reduced[i]);
            f.set(high, Expr.of(highs[i]));
            f.set(low, Expr.of(lows[i]));
        };
        if (i == 3) {
            take.run();
        } else {
            f.when(a.lt(Expr.of(below[i])), take, () -> branch(f, a, u, high, low, reduced, below, highs, lows, i + 1));
        }
    }

    private static Function angle() {
        double piLow = 1.2246467991473531772e-16;
        var f = new FunctionWriter("ba_atan2");
        var y = f.parameter("y", Type.FLOAT64);
        var x = f.parameter("x", Type.FLOAT64);
        var ay = f.let("ay", abs(y));
        var ax = f.let("ax", abs(x));
        var infinite = Expr.of(Double.POSITIVE_INFINITY);
        // Both infinite: the diagonal. Both zero: as if x were not.
        var quotient = Expr.of(1.0).when(ay.eq(infinite).and(ax.eq(infinite)),
                Expr.of(0.0).when(ay.eq(Expr.of(0.0)).and(ax.eq(Expr.of(0.0))), ay.over(ax)));
        var z = f.let("z", new Expr.Apply(ARC_TANGENT, quotient));
        var negative = and(high(x), 0x80000000L).compare(Op.NE, word(0));
        var down = and(high(y), 0x80000000L).compare(Op.NE, word(0));
        var unsigned = f.let("t", Expr.of(Math.PI).minus(z.minus(Expr.of(piLow))).when(negative, z));
        var result = unsigned.times(-1).when(down, unsigned);
        return f.returns(x.plus(y).when(x.compare(Op.NE, x).or(y.compare(Op.NE, y)), result));
    }

    private static Function hypotenuse() {
        var f = new FunctionWriter("ba_hypot");
        var x = f.parameter("x", Type.FLOAT64);
        var y = f.parameter("y", Type.FLOAT64);
        var a = f.let("a", abs(x));
        var b = f.let("b", abs(y));
        var large = f.let("large", b.when(b.gt(a), a));
        var small = f.let("small", a.when(b.gt(a), b));
        var q = f.let("q", small.over(large));
        var length = large.times(Expr.of(1.0).plus(q.times(q)).call(Intrinsic.SQRT));
        var infinite = Expr.of(Double.POSITIVE_INFINITY);
        return f.returns(infinite.when(a.eq(infinite).or(b.eq(infinite)), Expr.of(0.0).when(a.plus(b).eq(Expr.of(0.0)), length)));
    }

    private static Function power() {
        var f = new FunctionWriter("ba_pow");
        var x = f.parameter("x", Type.FLOAT64);
        var y = f.parameter("y", Type.FLOAT64);
        var zero = Expr.of(0.0);
        var one = Expr.of(1.0);
        var infinity = Expr.of(Double.POSITIVE_INFINITY);
        var result = f.var("result", one);
        var ax = f.let("ax", abs(x));
        var ay = f.let("ay", abs(y));
        var whole = f.let("whole", y.call(Intrinsic.FLOOR).eq(y));
        var halved = y.times(0.5);
        // Beyond 2⁵³ every float64 is even.
        var odd = f.let("odd", whole.and(halved.call(Intrinsic.FLOOR).compare(Op.NE, halved)).and(ay.lt(infinity)));
        var grows = f.let("grows", ax.gt(one).compare(Op.EQ, y.gt(zero)));
        f.when(y.eq(zero).or(x.eq(one)), () -> { }, () ->
            f.when(x.compare(Op.NE, x).or(y.compare(Op.NE, y)), () -> f.set(result, x.plus(y)), () ->
                f.when(ay.eq(infinity), () -> f.set(result, one.when(ax.eq(one), infinity.when(grows, zero))), () ->
                    f.when(ax.eq(zero).or(ax.eq(infinity)), () -> f.set(result, signed(odd, x, infinity.when(grows, zero))), () ->
                        f.when(x.lt(zero).and(whole.not()), () -> f.set(result, Expr.of(Double.NaN)), () ->
                            f.set(result, signed(odd, x, finitePower(f, ax, y))))))));
        return f.returns(Expr.read(result));
    }

    private static Expr signed(Expr odd, Expr x, Expr size) {
        var negative = and(high(x), 0x80000000L).compare(Op.NE, word(0));
        return size.times(-1).when(odd.and(negative), size);
    }

    /** axʸ for finite ax above 0; the logarithm to base 2 is carried in two parts. */
    private static Expr finitePower(FunctionWriter f, Expr ax, Expr y) {
        var one = Expr.of(1.0);
        var tiny = ax.lt(Expr.of(Double.MIN_NORMAL));
        var m = f.let("m", ax.times(9007199254740992.0).when(tiny, ax));
        var hm = f.let("hm", high(m));
        var j = f.let("j", and(hm, 0xFFFFF));
        var lower = j.compare(Op.LE, word(0x3988E));
        var middle = f.let("middle", lower.not().and(j.lt(word(0xBB67A))));
        var carry = f.let("carry", lower.not().and(middle.not()));
        var exponent = right(hm, 20).wrap(Type.INT32).as(Type.FLOAT64).minus(Expr.of(1076.0).when(tiny, Expr.of(1023.0)));
        var n = f.let("n", exponent.plus(one.when(carry, Expr.of(0.0))));
        var ix = f.let("ix", or(j, word(0x3FF00000)).minus(word(0x100000).when(carry, word(0))));
        var a = f.let("a", halves(ix, low(m)));
        var bp = f.let("bp", Expr.of(1.5).when(middle, one));
        var u = f.let("u", a.minus(bp));
        var v = f.let("v", one.over(a.plus(bp)));
        var ss = f.let("ss", u.times(v));
        var sh = f.let("sh", upper(ss));
        var th = f.let("th", halves(or(right(ix, 1), word(0x20000000)).plus(word(0x80000)).plus(word(0x40000).when(middle, word(0))),
                word(0)));
        var tl = a.minus(th.minus(bp));
        var sl = f.let("sl", v.times(u.minus(sh.times(th)).minus(sh.times(tl))));
        var s2 = f.let("s2", ss.times(ss));
        var series = polynomial(new double[] {5.99999999999994648725e-01, 4.28571428578550184252e-01, 3.33333329818377432918e-01,
            2.72728123808534006489e-01, 2.30660745775561754067e-01, 2.06975017800338417784e-01}, s2);
        var r = f.let("r", s2.times(s2).times(series).plus(sl.times(sh.plus(ss))));
        var square = f.let("square", sh.times(sh));
        var ch = f.let("ch", upper(Expr.of(3.0).plus(square).plus(r)));
        var cl = f.let("cl", r.minus(ch.minus(Expr.of(3.0)).minus(square)));
        var pu = f.let("pu", sh.times(ch));
        var pv = f.let("pv", sl.times(ch).plus(cl.times(ss)));
        var ph = f.let("ph", upper(pu.plus(pv)));
        var pl = pv.minus(ph.minus(pu));
        var zh = f.let("zh", ph.times(9.61796700954437255859e-01));
        var zl = f.let("zl", ph.times(-7.02846165095275826516e-09).plus(pl.times(9.61796693925975554329e-01))
                .plus(Expr.of(1.35003920212974897128e-08).when(middle, Expr.of(0.0))));
        var dh = f.let("dh", Expr.of(5.84962487220764160156e-01).when(middle, Expr.of(0.0)));
        var t1 = f.let("t1", upper(zh.plus(zl).plus(dh).plus(n)));
        var t2 = f.let("t2", zl.minus(t1.minus(n).minus(dh).minus(zh)));
        var y1 = f.let("y1", upper(y));
        var el = f.let("el", y.minus(y1).times(t1).plus(y.times(t2)));
        var eh = f.let("eh", y1.times(t1));
        var e = f.let("e", el.plus(eh));
        // Held where the result is 0 or infinite anyway.
        var size = abs(e).plus(Expr.of(0.5)).call(Intrinsic.FLOOR).min(Expr.of(1100.0));
        var k = f.let("k", Expr.of(0.0).minus(size).when(e.lt(Expr.of(0.0)), size));
        var rest = f.let("rest", eh.minus(k));
        var t = f.let("t", upper(el.plus(rest)));
        var lu = f.let("lu", t.times(6.93147182464599609375e-01));
        var lv = f.let("lv", el.minus(t.minus(rest)).times(6.93147180559945286227e-01).plus(t.times(-1.90465429995776804525e-09)));
        var z = f.let("z", lu.plus(lv));
        var w = f.let("w", lv.minus(z.minus(lu)));
        var zz = f.let("zz", z.times(z));
        var q = f.let("q", z.minus(zz.times(polynomial(EXP, zz))));
        var ratio = z.times(q).over(q.minus(Expr.of(2.0))).minus(w.plus(z.times(w)));
        var mantissa = f.let("mantissa", one.minus(ratio.minus(z)));
        var value = f.let("value", scaled(f, mantissa, k));
        var limit = Expr.of(1024.0);
        var overflows = e.gt(limit).or(e.eq(limit).and(el.plus(Expr.of(8.0085662595372944372e-17)).gt(e.minus(eh))));
        return Expr.of(Double.POSITIVE_INFINITY).when(overflows,
                Expr.of(0.0).when(e.compare(Op.LE, Expr.of(-1080.0)), value));
    }
}
