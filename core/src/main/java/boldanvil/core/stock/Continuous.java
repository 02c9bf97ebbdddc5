package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.list;
import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.List;

/** Blocks with continuous states. */
final class Continuous {
    static final BlockType INTEGRATOR = BlockType.named("integrator", "Integrator", Family.PHYSICAL)
            .help("dy/dt = u; y = initial at the start.")
            .with(real("initial", "0", "", "Value at the start."))
            .face(Face.NONE.later("u", Accept.REAL).out("y")).says("1 / s").continuousOnly()
            .does(e -> {
                var x = e.integrated("x", e.value("initial"));
                e.output("y", Expr.read(x));
                e.derivative(x, e.in("u"));
            });

    static final BlockType TRANSFER = BlockType.named("transfer", "Transfer function", Family.PHYSICAL)
            .help("Y(s)/U(s) = (b0 sᵐ + … + bm) / (a0 sⁿ + … + an), m ≤ n, from rest. Realised in controllable canonical "
                    + "form (Kailath, Linear Systems, 1980, section 2.1).")
            .with(list("num", "[1]", "", "Coefficients b, highest power first."),
                    list("den", "[1, 1]", "", "Coefficients a, highest power first."))
            .face(s -> count(s.text("num")) < count(s.text("den"))
                    ? Face.NONE.later("u", Accept.REAL).out("y") : Face.NONE.in("u", Accept.REAL).out("y"))
            .says("{num} / {den} in s").continuousOnly().does(Continuous::transfer);

    static final List<BlockType> TYPES = List.of(INTEGRATOR, TRANSFER);

    private Continuous() {}

    /** How many values a list text has; enough to tell degrees before variables are known. */
    private static int count(String text) {
        int depth = 0;
        int n = 1;
        for (char c : text.toCharArray()) {
            depth += c == '(' ? 1 : c == ')' ? -1 : 0;
            if (c == ',' && depth == 0) {
                n++;
            }
        }
        return n;
    }

    private static void transfer(Emitter e) {
        double[] b = e.list("num");
        double[] a = e.list("den");
        int n = a.length - 1;
        if (n < 1 || a[0] == 0 || b.length > a.length) {
            e.problem("The transfer function needs a denominator of degree 1 or more, not below the numerator's.",
                    "Check num and den; the first value of den must not be 0.");
            return;
        }
        Type t = e.real();
        double[] numerator = new double[n + 1];
        System.arraycopy(b, 0, numerator, n + 1 - b.length, b.length);
        double direct = numerator[0] / a[0];
        List<Slot> x = new ArrayList<>();
        for (int i = 0; i < n; i++) {
            x.add(e.integrated("x" + (i + 1), 0));
        }
        // x1' = x2, …, xn' = (u − an x1 − … − a1 xn) / a0;  y = Σ c_i x_i + d u
        Expr y = null;
        for (int i = 0; i < n; i++) {
            double c = numerator[n - i] - direct * a[n - i];
            if (c != 0) {
                var term = Expr.read(x.get(i)).times(c);
                y = y == null ? term : y.plus(term);
            }
        }
        if (direct != 0) {
            var term = e.in("u").times(direct);
            y = y == null ? term : y.plus(term);
        }
        e.output("y", y == null ? Expr.of(t, 0) : y);
        for (int i = 0; i < n - 1; i++) {
            e.derivative(x.get(i), Expr.read(x.get(i + 1)));
        }
        Expr last = e.in("u").times(1 / a[0]);
        for (int i = 0; i < n; i++) {
            last = last.minus(Expr.read(x.get(i)).times(a[n - i] / a[0]));
        }
        e.derivative(x.get(n - 1), last);
    }
}
