package boldanvil.core.stock;

import static boldanvil.core.stock.Picture.axis;
import static boldanvil.core.stock.Picture.beside;
import static boldanvil.core.stock.Picture.curve;
import static boldanvil.core.stock.Picture.dashed;
import static boldanvil.core.stock.Picture.fraction;

import boldanvil.core.stock.Picture.Dot;
import boldanvil.core.stock.Picture.Label;
import boldanvil.core.stock.Picture.Shape;
import java.util.ArrayList;
import java.util.List;
import java.util.function.DoubleUnaryOperator;

/** Pictures of blocks, from their own parameters. A value that is not known is drawn as its usual one. */
final class Pictures {
    private static final Shape ACROSS = axis(0, 0.5, 1, 0.5);
    private static final Shape UPWARDS = axis(0.5, 0, 0.5, 1);
    private static final int POINTS = 48;

    private Pictures() {}

    /** A characteristic y(u) for u in −1 to 1, with its axes; values beyond ±1 leave the room and are cut. */
    private static Picture characteristic(DoubleUnaryOperator y) {
        return beside(ACROSS, UPWARDS, graph(-1, 1, -1, 1, y));
    }

    private static Shape graph(double from, double to, double low, double high, DoubleUnaryOperator f) {
        double[] xy = new double[2 * POINTS + 2];
        for (int i = 0; i <= POINTS; i++) {
            xy[2 * i] = (double) i / POINTS;
            double v = f.applyAsDouble(from + (to - from) * i / POINTS);
            xy[2 * i + 1] = Math.clamp(1 - (v - low) / (high - low), 0, 1);
        }
        return curve(xy);
    }

    /** The graph of a formula over a range, in its own scale; nothing where it cannot be computed. */
    static Picture formula(double from, double to, DoubleUnaryOperator y) {
        double low = Double.POSITIVE_INFINITY;
        double high = Double.NEGATIVE_INFINITY;
        for (int i = 0; i <= POINTS; i++) {
            double v = y.applyAsDouble(from + (to - from) * i / POINTS);
            low = Math.min(low, v);
            high = Math.max(high, v);
        }
        if (!(from < to) || !Double.isFinite(low) || !Double.isFinite(high)) {
            return Picture.NONE;
        }
        double margin = high > low ? 0.1 * (high - low) : 1;
        double bottom = low - margin;
        double top = high + margin;
        List<Shape> shapes = new ArrayList<>();
        if (bottom < 0 && top > 0) {
            shapes.add(axis(0, top / (top - bottom), 1, top / (top - bottom)));
        }
        if (from < 0 && to > 0) {
            shapes.add(axis(-from / (to - from), 0, -from / (to - from), 1));
        }
        shapes.add(graph(from, to, bottom, top, y));
        return new Picture(Picture.Stands.BESIDE, shapes);
    }

    /** Limits in shares of the larger one, so that the picture fits; the usual ones where they are not finite. */
    private static double[] limits(Values v, String low, String high) {
        double a = v.number(low);
        double b = v.number(high);
        double largest = Math.max(finite(Math.abs(a), 0), finite(Math.abs(b), 0));
        if (largest == 0 || Double.isNaN(a) || Double.isNaN(b)) {
            return new double[] {-0.55, 0.55};
        }
        return new double[] {Math.clamp(0.6 * a / largest, -1, 1), Math.clamp(0.6 * b / largest, -1, 1)};
    }

    private static double finite(double v, double otherwise) {
        return Double.isFinite(v) ? v : otherwise;
    }

    static Picture saturation(Values v) {
        double[] l = limits(v, "low", "high");
        return characteristic(u -> Math.clamp(u, Math.min(l[0], l[1]), Math.max(l[0], l[1])));
    }

    static Picture limiter(Values v) {
        return new Picture(Picture.Stands.BESIDE, List.of(ACROSS, UPWARDS, dashed(0, 0.2, 1, 0.2), dashed(0, 0.8, 1, 0.8),
                graph(-1, 1, -1, 1, u -> Math.clamp(u, -0.6, 0.6))));
    }

    static Picture deadZone(Values v) {
        double[] l = limits(v, "low", "high");
        return characteristic(u -> u < l[0] ? u - l[0] : u > l[1] ? u - l[1] : 0);
    }

    static Picture rateLimit(Values v) {
        double up = finite(Math.abs(v.number("rising")), 1);
        double down = finite(Math.abs(v.number("falling")), 1);
        double steeper = Math.max(Math.max(up, down), 1e-300);
        double rise = 0.18 * steeper / Math.max(up, steeper / 3);
        double fall = 0.18 * steeper / Math.max(down, steeper / 3);
        return beside(dashed(0, 0.85, 0.12, 0.85, 0.12, 0.15, 0.6, 0.15, 0.6, 0.85, 1, 0.85),
                curve(0, 0.85, 0.12, 0.85, 0.12 + rise, 0.15, 0.6, 0.15, Math.min(1, 0.6 + fall), 0.85, 1, 0.85));
    }

    static Picture quantiser(Values v) {
        return characteristic(u -> Math.round(u * 3.5) / 3.5);
    }

    static Picture loop(Values v) {
        return beside(ACROSS, UPWARDS, curve(0, 0.85, 0.7, 0.85, 0.7, 0.15, 1, 0.15), curve(1, 0.15, 0.3, 0.15, 0.3, 0.85, 0, 0.85));
    }

    static Picture backlash(Values v) {
        return beside(ACROSS, UPWARDS, curve(0.1, 1, 0.5, 0.5, 0.75, 0, 0.95, 0, 0.5, 0.5, 0.3, 1, 0.1, 1));
    }

    static Picture friction(Values v) {
        double sliding = finite(Math.abs(v.number("Fc")), 1);
        double sticking = Math.max(sliding, finite(Math.abs(v.number("Fs")), 1));
        double speed = finite(v.number("vs"), 0);
        double viscous = finite(v.number("b"), 0);
        double scale = 0.75 / Math.max(sticking, 1e-300);
        return beside(ACROSS, UPWARDS, graph(-1, 1, -1, 1, u -> {
            double decay = speed > 0 && sticking > sliding ? (sticking - sliding) * Math.exp(-Math.pow(u / 0.25, 2)) : 0;
            double f = (sliding + decay) * scale * Math.signum(u) + (viscous > 0 ? 0.2 * u : 0);
            return Math.clamp(f, -1, 1);
        }));
    }

    static Picture absolute(Values v) {
        return beside(axis(0, 0.85, 1, 0.85), UPWARDS, graph(-1, 1, -0.18, 1, Math::abs));
    }

    static Picture wrap(Values v) {
        return beside(ACROSS, curve(0, 0.9, 0.33, 0.1, 0.33, 0.9, 0.66, 0.1, 0.66, 0.9, 1, 0.1));
    }

    static Picture function(Values v) {
        return switch (v.text("f")) {
            case "sqrt" -> quadrant(Math::sqrt);
            case "square" -> quadrant(u -> u * u);
            case "exp" -> quadrant(u -> (Math.exp(2 * u) - 1) / (Math.exp(2) - 1));
            case "ln", "log10" -> quadrant(u -> Math.log(0.05 + u) / 4 + 0.75);
            case "reciprocal" -> quadrant(u -> 0.12 / (u + 0.1));
            case "sin" -> beside(ACROSS, graph(0, 2 * Math.PI, -1.1, 1.1, Math::sin));
            case "cos" -> beside(ACROSS, graph(0, 2 * Math.PI, -1.1, 1.1, Math::cos));
            case "tan" -> characteristic(u -> Math.tan(1.4 * u) / 5);
            case "atan" -> characteristic(u -> Math.atan(5 * u) / 1.6);
            case "asin" -> characteristic(u -> Math.asin(u) / 1.7);
            case "acos" -> beside(axis(0, 0.9, 1, 0.9), UPWARDS, graph(-1, 1, -0.3, 3.3, Math::acos));
            case "sign" -> characteristic(u -> 0.7 * Math.signum(u));
            case "negate" -> characteristic(u -> -u);
            default -> Picture.NONE;
        };
    }

    private static Picture quadrant(DoubleUnaryOperator y) {
        return beside(axis(0, 0.95, 1, 0.95), axis(0.03, 0, 0.03, 1), graph(0, 1, -0.05, 1.05, y));
    }

    static Picture polynomial(Values v) {
        double[] c = v.list("coefficients");
        if (c.length == 0) {
            return Picture.NONE;
        }
        return scaled(-1, 1, u -> {
            double y = 0;
            for (double k : c) {
                y = y * u + k;
            }
            return y;
        });
    }

    /** A function over its own range of values. */
    private static Picture scaled(double from, double to, DoubleUnaryOperator f) {
        double low = Double.MAX_VALUE;
        double high = -Double.MAX_VALUE;
        for (int i = 0; i <= POINTS; i++) {
            double y = f.applyAsDouble(from + (to - from) * i / POINTS);
            if (!Double.isFinite(y)) {
                return Picture.NONE;
            }
            low = Math.min(low, y);
            high = Math.max(high, y);
        }
        double pad = high > low ? 0.08 * (high - low) : 1;
        return beside(axis(0, 1, 1, 1), axis(0, 0, 0, 1), graph(from, to, low - pad, high + pad, f));
    }

    static Picture table(Values v) {
        double[] x = v.list("x");
        double[] y = v.list("y");
        if (x.length < 2 || x.length != y.length || !(x[x.length - 1] > x[0])) {
            return Picture.NONE;
        }
        double low = y[0];
        double high = y[0];
        for (double q : y) {
            low = Math.min(low, q);
            high = Math.max(high, q);
        }
        double height = high > low ? high - low : 1;
        List<Shape> shapes = new ArrayList<>(List.of(axis(0, 1, 1, 1), axis(0, 0, 0, 1)));
        double[] xy = new double[2 * x.length];
        for (int i = 0; i < x.length; i++) {
            xy[2 * i] = (x[i] - x[0]) / (x[x.length - 1] - x[0]);
            xy[2 * i + 1] = high > low ? 0.92 - 0.84 * (y[i] - low) / height : 0.5;
            if (x.length <= 6) {
                shapes.add(new Dot(xy[2 * i], xy[2 * i + 1]));
            }
        }
        shapes.add(curve(xy));
        return new Picture(Picture.Stands.ALONE, shapes);
    }

    static Picture surface(Values v) {
        return beside(curve(0, 0.75, 0.4, 1, 1, 0.6, 0.6, 0.35, 0, 0.75), curve(0.2, 0.87, 0.8, 0.47), curve(0.3, 0.55, 0.7, 0.8),
                curve(0.3, 0.55, 0.35, 0.1, 0.6, 0.35));
    }

    static Picture step(Values v) {
        double before = v.number("before");
        double after = v.number("after");
        boolean down = after < before;
        return beside(axis(0, 0.9, 1, 0.9), down ? curve(0, 0.15, 0.4, 0.15, 0.4, 0.85, 1, 0.85)
                : curve(0, 0.85, 0.4, 0.85, 0.4, 0.15, 1, 0.15));
    }

    static Picture ramp(Values v) {
        boolean down = v.number("slope") < 0;
        boolean ends = Double.isFinite(v.number("limit"));
        double far = ends ? 0.75 : 1;
        return beside(axis(0, 0.9, 1, 0.9), down ? curve(0, 0.15, 0.25, 0.15, far, 0.85, 1, 0.85)
                : curve(0, 0.85, 0.25, 0.85, far, 0.15, 1, 0.15));
    }

    static Picture pulse(Values v) {
        double share = Math.clamp(finite(v.number("share"), 0.5), 0.08, 0.92) * 0.5;
        return beside(axis(0, 0.9, 1, 0.9), curve(0, 0.15, share, 0.15, share, 0.85, 0.5, 0.85, 0.5, 0.15, 0.5 + share, 0.15, 0.5 + share,
                0.85, 1, 0.85));
    }

    static Picture square(Values v) {
        return beside(ACROSS, curve(0, 0.15, 0.25, 0.15, 0.25, 0.85, 0.5, 0.85, 0.5, 0.15, 0.75, 0.15, 0.75, 0.85, 1, 0.85));
    }

    static Picture triangle(Values v) {
        return beside(ACROSS, curve(0, 0.5, 0.125, 0.1, 0.375, 0.9, 0.625, 0.1, 0.875, 0.9, 1, 0.5));
    }

    static Picture sine(Values v) {
        double phase = finite(v.number("phase"), 0);
        return beside(ACROSS, graph(0, 4 * Math.PI, -1.15, 1.15, t -> Math.sin(t + phase)));
    }

    static Picture threeSines(Values v) {
        return beside(ACROSS, graph(0, 2 * Math.PI, -1.15, 1.15, Math::sin), graph(0, 2 * Math.PI, -1.15, 1.15,
                t -> Math.sin(t - 2 * Math.PI / 3)), graph(0, 2 * Math.PI, -1.15, 1.15, t -> Math.sin(t + 2 * Math.PI / 3)));
    }

    static Picture chirp(Values v) {
        boolean down = v.number("to") < v.number("from");
        return beside(ACROSS, graph(0, 1, -1.15, 1.15, t -> {
            double s = down ? 1 - t : t;
            return Math.sin(2 * Math.PI * (s + 4 * s * s));
        }));
    }

    static Picture noise(Values v) {
        double[] xy = new double[50];
        var random = new java.util.Random(7);
        boolean even = v.text("kind").equals("uniform");
        for (int i = 0; i < 25; i++) {
            xy[2 * i] = i / 24.0;
            double r = even ? 2 * random.nextDouble() - 1 : Math.clamp(random.nextGaussian() / 2.2, -1, 1);
            xy[2 * i + 1] = 0.5 - 0.45 * r;
        }
        return beside(ACROSS, curve(xy));
    }

    static Picture counter(Values v) {
        return beside(curve(0, 0.9, 0.2, 0.9, 0.2, 0.65, 0.4, 0.65, 0.4, 0.4, 0.6, 0.4, 0.6, 0.15, 0.8, 0.15, 0.8, 0.9, 1, 0.9));
    }

    static Picture time(Values v) {
        return beside(axis(0, 0.95, 1, 0.95), axis(0.03, 0, 0.03, 1), curve(0.03, 0.95, 1, 0.05));
    }

    static Picture playback(Values v) {
        return beside(axis(0, 0.95, 1, 0.95), curve(0, 0.8, 0.2, 0.3, 0.45, 0.6, 0.65, 0.1, 0.85, 0.35, 1, 0.3));
    }

    static Picture threshold(Values v) {
        return switch (v.text("relation")) {
            case "<", "≤", "<=" -> beside(axis(0, 0.95, 1, 0.95), curve(0, 0.15, 0.55, 0.15, 0.55, 0.85, 1, 0.85));
            case "=", "≠", "<>" -> Picture.NONE;
            default -> beside(axis(0, 0.95, 1, 0.95), curve(0, 0.85, 0.55, 0.85, 0.55, 0.15, 1, 0.15));
        };
    }

    static Picture window(Values v) {
        return beside(axis(0, 0.95, 1, 0.95), curve(0, 0.85, 0.28, 0.85, 0.28, 0.15, 0.72, 0.15, 0.72, 0.85, 1, 0.85));
    }

    /** The contact as it stands while its condition is on. */
    static Picture toggle(Values v) {
        return new Picture(Picture.Stands.ALONE, List.of(axis(0.1, 0.25, 0.35, 0.25), axis(0.1, 0.75, 0.35, 0.75),
                axis(0.72, 0.5, 0.95, 0.5),
                new Dot(0.35, 0.25), new Dot(0.35, 0.75), new Dot(0.72, 0.5), curve(0.72, 0.5, 0.37, 0.27)));
    }

    static Picture multiplexer(Values v) {
        return beside(axis(0, 0.1, 0.3, 0.1), axis(0, 0.5, 0.3, 0.5), axis(0, 0.9, 0.3, 0.9), axis(0.72, 0.5, 1, 0.5), new Dot(0.3, 0.1),
                new Dot(0.3, 0.5), new Dot(0.3, 0.9), new Dot(0.72, 0.5), curve(0.72, 0.5, 0.32, 0.14));
    }

    static Picture edge(Values v) {
        boolean falls = v.text("edge").equals("falling");
        return beside(falls ? curve(0, 0.15, 0.5, 0.15, 0.5, 0.85, 1, 0.85) : curve(0, 0.85, 0.5, 0.85, 0.5, 0.15, 1, 0.15),
                curve(0.38, falls ? 0.4 : 0.6, 0.5, falls ? 0.65 : 0.35, 0.62, falls ? 0.4 : 0.6));
    }

    static Picture onDelay(Values v) {
        return beside(curve(0, 0.4, 0.1, 0.4, 0.1, 0.05, 0.9, 0.05, 0.9, 0.4, 1, 0.4),
                curve(0, 0.95, 0.5, 0.95, 0.5, 0.6, 0.9, 0.6, 0.9, 0.95, 1, 0.95));
    }

    static Picture offDelay(Values v) {
        return beside(curve(0, 0.4, 0.1, 0.4, 0.1, 0.05, 0.5, 0.05, 0.5, 0.4, 1, 0.4),
                curve(0, 0.95, 0.1, 0.95, 0.1, 0.6, 0.9, 0.6, 0.9, 0.95, 1, 0.95));
    }

    static Picture pulseTimer(Values v) {
        return beside(curve(0, 0.4, 0.1, 0.4, 0.1, 0.05, 0.9, 0.05, 0.9, 0.4, 1, 0.4),
                curve(0, 0.95, 0.1, 0.95, 0.1, 0.6, 0.5, 0.6, 0.5, 0.95, 1, 0.95));
    }

    static Picture hold(Values v) {
        return beside(dashed(0, 0.9, 1, 0.1), curve(0, 0.9, 0.25, 0.9, 0.25, 0.68, 0.5, 0.68, 0.5, 0.45, 0.75, 0.45, 0.75, 0.22, 1, 0.22));
    }

    static Picture samples(Values v) {
        return beside(axis(0, 0.95, 1, 0.95), axis(0.1, 0.95, 0.1, 0.5), axis(0.35, 0.95, 0.35, 0.25), axis(0.6, 0.95, 0.6, 0.15),
                axis(0.85, 0.95, 0.85, 0.4), new Dot(0.1, 0.5), new Dot(0.35, 0.25), new Dot(0.6, 0.15), new Dot(0.85, 0.4));
    }

    static Picture unitDelay(Values v) {
        return fraction("1", "z");
    }

    static Picture delay(Values v) {
        double n = v.number("n");
        return beside(new Label(n == Math.rint(n) && n < 10_000 ? "z" + Polynomials.raised(-(int) n) : "z⁻ⁿ", 0.5, 0.5, 0.5));
    }

    static Picture transportDelay(Values v) {
        return beside(new Label("e⁻ˢᵀ", 0.5, 0.5, 0.5));
    }

    static Picture integrator(Values v) {
        return fraction("1", "s");
    }

    static Picture accumulator(Values v) {
        String k = Polynomials.coefficient(v.text("k"), v.number("k"));
        String gain = k.equals("1") ? "T" : k + " T";
        return switch (v.text("method")) {
            case "backward" -> fraction(gain + " z", "z − 1");
            case "trapezoidal" -> fraction(gain + " (z + 1)", "2 (z − 1)");
            default -> fraction(gain, "z − 1");
        };
    }

    static Picture derivative(Values v) {
        String tf = Polynomials.coefficient(v.text("tf"), v.number("tf"));
        return fraction("s", (tf.equals("1") ? "" : tf + " ") + "s + 1");
    }

    static Picture transfer(Values v) {
        return fraction(Polynomials.descending(v, "num", "s"), Polynomials.descending(v, "den", "s"));
    }

    static Picture transferInZ(Values v) {
        return fraction(Polynomials.delays(v, "b"), Polynomials.delays(v, "a"));
    }

    static Picture zerosAndPoles(Values v) {
        String above = Polynomials.coefficient(v.text("gain"), v.number("gain"));
        String zeros = Polynomials.roots(v.list("zeros")) + Polynomials.pairs(v.list("zero pairs"));
        String poles = Polynomials.roots(v.list("poles")) + Polynomials.pairs(v.list("pole pairs"));
        return fraction(zeros.isEmpty() ? above : (above.equals("1") ? "" : above + " ") + zeros, poles.isEmpty() ? "1" : poles);
    }

    static Picture matrix(Values v) {
        int rows = v.rows("K");
        int n = v.list("K").length;
        return rows > 0 ? brackets(rows + " × " + n / rows) : Picture.NONE;
    }

    static Picture states(Values v) {
        int rows = v.rows("A");
        return rows > 0 ? brackets("A " + rows + " × " + rows) : Picture.NONE;
    }

    private static Picture brackets(String size) {
        return beside(curve(0.1, 0.05, 0, 0.05, 0, 0.95, 0.1, 0.95), curve(0.9, 0.05, 1, 0.05, 1, 0.95, 0.9, 0.95),
                new Label(size, 0.5, 0.5, 0.5));
    }

    static Picture pwm(Values v) {
        return v.settings().type().hasParameter("alignment") && v.text("alignment").equals("centre")
                ? beside(dashed(0, 0.95, 0.25, 0.05, 0.5, 0.95, 0.75, 0.05, 1, 0.95),
                curve(0, 0.95, 0.12, 0.95, 0.12, 0.4, 0.38, 0.4, 0.38, 0.95, 0.62, 0.95, 0.62, 0.4, 0.88, 0.4, 0.88, 0.95, 1, 0.95))
                : beside(curve(0, 0.1, 0.3, 0.1, 0.3, 0.9, 0.5, 0.9, 0.5, 0.1, 0.6, 0.1, 0.6, 0.9, 1, 0.9));
    }

    static Picture pulses(Values v) {
        return beside(curve(0, 0.9, 0.1, 0.9, 0.1, 0.1, 0.25, 0.1, 0.25, 0.9, 0.4, 0.9, 0.4, 0.1, 0.55, 0.1, 0.55, 0.9, 0.7, 0.9, 0.7, 0.1,
                0.85, 0.1, 0.85, 0.9, 1, 0.9));
    }

    static Picture quadrature(Values v) {
        return beside(curve(0, 0.4, 0.15, 0.4, 0.15, 0.05, 0.45, 0.05, 0.45, 0.4, 0.75, 0.4, 0.75, 0.05, 1, 0.05),
                curve(0, 0.95, 0.3, 0.95, 0.3, 0.6, 0.6, 0.6, 0.6, 0.95, 0.9, 0.95, 0.9, 0.6, 1, 0.6));
    }

    static Picture analogIn(Values v) {
        return beside(graph(0, 2 * Math.PI, -1.2, 1.2, Math::sin), new Dot(0, 0.5), new Dot(0.25, 0.08), new Dot(0.5, 0.5),
                new Dot(0.75, 0.92), new Dot(1, 0.5));
    }

    static Picture analogOut(Values v) {
        return beside(curve(0, 0.5, 0.12, 0.5, 0.12, 0.15, 0.38, 0.15, 0.38, 0.5, 0.5, 0.5, 0.62, 0.5, 0.62, 0.85, 0.88, 0.85, 0.88, 0.5, 1,
                0.5));
    }

    static Picture digital(Values v) {
        return beside(curve(0, 0.85, 0.3, 0.85, 0.3, 0.15, 0.7, 0.15, 0.7, 0.85, 1, 0.85));
    }

    static Picture toAlphaBeta(Values v) {
        return beside(curve(0.2, 0.6, 0.2, 0.1), curve(0.2, 0.6, 0.02, 0.9), curve(0.2, 0.6, 0.38, 0.9), curve(0.65, 0.85, 0.65, 0.15),
                curve(0.65, 0.85, 1, 0.85));
    }

    static Picture fromAlphaBeta(Values v) {
        return beside(curve(0.1, 0.85, 0.1, 0.15), curve(0.1, 0.85, 0.42, 0.85), curve(0.8, 0.6, 0.8, 0.1), curve(0.8, 0.6, 0.62, 0.9),
                curve(0.8, 0.6, 0.98, 0.9));
    }

    static Picture rotation(Values v) {
        return beside(axis(0.25, 0.85, 0.25, 0.1), axis(0.25, 0.85, 0.8, 0.85), curve(0.25, 0.85, 0.7, 0.4), curve(0.25, 0.85, 0.05, 0.35));
    }

    static Picture recorded(Values v) {
        return beside(axis(0, 0.95, 1, 0.95), axis(0.03, 0, 0.03, 1), curve(0.03, 0.8, 0.25, 0.3, 0.5, 0.55, 0.75, 0.2, 1, 0.35));
    }

    static Picture arrowIn(Values v) {
        return beside(curve(0.45, 0.5, 0.95, 0.5), curve(0.75, 0.22, 0.95, 0.5, 0.75, 0.78), axis(0.45, 0.05, 0.45, 0.95));
    }

    static Picture arrowOut(Values v) {
        return beside(curve(0.4, 0.5, 0.95, 0.5), curve(0.75, 0.22, 0.95, 0.5, 0.75, 0.78), axis(0.55, 0.05, 0.55, 0.3), axis(0.55, 0.7,
                0.55, 0.95));
    }

    static Picture average(Values v) {
        return beside(dashed(0, 0.6, 0.15, 0.2, 0.3, 0.8, 0.45, 0.3, 0.6, 0.75, 0.75, 0.2, 0.9, 0.7, 1, 0.4),
                curve(0, 0.55, 0.4, 0.5, 1, 0.45));
    }
}
