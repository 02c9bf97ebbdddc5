package boldanvil.core.maths;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Function;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.function.DoubleBinaryOperator;
import java.util.function.DoubleUnaryOperator;
import org.junit.jupiter.api.Test;

/** Held against the Java platform's own library, which is within one unit in the last place of the true values. */
class MathFunctionsTest {
    private static final double[] SPECIAL = {0, -0.0, 1, -1, 0.5, -0.5, 2, -2, 3, -3, 1e-300, -1e-300, 1e300, -1e300, Double.MIN_VALUE,
        Double.MAX_VALUE, Double.NaN, Double.POSITIVE_INFINITY, Double.NEGATIVE_INFINITY, 709.7, 710, -745, -746};

    /** A function as a Java class. */
    private static DoubleBinaryOperator compiled(java.util.function.BinaryOperator<Expr> f, Type t) {
        var x = Slot.of("x", Slot.Role.INPUT, t);
        var z = Slot.of("z", Slot.Role.INPUT, t);
        var y = Slot.of("y", Slot.Role.OUTPUT, t);
        var fault = Slot.of("fault", Slot.Role.STATE, Type.INT32);
        List<Stmt> body = List.of(new Stmt.Assign(y, f.apply(Expr.read(x), Expr.read(z)), Origin.of("t")));
        List<Procedure> procedures = new ArrayList<>();
        Program.ENTRIES.forEach(e -> procedures.add(new Procedure(e, "", e.equals(Program.STEP) ? body : List.of())));
        List<Function> functions = List.of(MathFunctions.SINE, MathFunctions.COSINE, MathFunctions.SINE32, MathFunctions.COSINE32,
                MathFunctions.EXPONENTIAL, MathFunctions.LOGARITHM, MathFunctions.DECIMAL_LOGARITHM, MathFunctions.ARC_TANGENT,
                MathFunctions.ANGLE, MathFunctions.POWER,
                MathFunctions.HYPOTENUSE);
        var i = JvmCompiler.compile(new Program("p", "P", 1_000_000, List.of(x, z, y, fault), procedures, functions, List.of(), List.of(),
                null, List.of(), List.of(), List.of(), fault)).instantiate();
        return (a, b) -> {
            i.set(x, a);
            i.set(z, b);
            i.step();
            assertThat(i.get(fault)).isZero();
            return i.get(y);
        };
    }

    private static double error(double value, double truth) {
        if (truth == 0) {
            return value == 0 ? 0 : Double.POSITIVE_INFINITY;
        }
        if (Double.isNaN(truth) || Double.isInfinite(truth)) {
            return Double.compare(value, truth) == 0 ? 0 : Double.POSITIVE_INFINITY;
        }
        return Math.abs(value - truth) / Math.ulp(truth);
    }

    private static void holds(java.util.function.UnaryOperator<Expr> f, DoubleUnaryOperator truth, double low, double high, double ulps) {
        var mine = compiled((a, _) -> f.apply(a), Type.FLOAT64);
        var random = new Random(1);
        for (int i = 0; i < 20_000; i++) {
            double x = random.nextDouble(low, high);
            assertThat(error(mine.applyAsDouble(x, 0), truth.applyAsDouble(x))).as("at %s", x).isLessThanOrEqualTo(ulps);
        }
        for (double x : SPECIAL) {
            if (x >= low && x <= high || Double.isNaN(x)) {
                assertThat(error(mine.applyAsDouble(x, 0), truth.applyAsDouble(x))).as("at %s", x).isLessThanOrEqualTo(ulps);
            }
        }
    }

    @Test
    void functionsOfOneArgument() {
        double inf = Double.POSITIVE_INFINITY;
        holds(x -> MathFunctions.apply(MathFunctions.EXPONENTIAL, x), StrictMath::exp, -750, 715, 0);
        holds(x -> MathFunctions.apply(MathFunctions.EXPONENTIAL, x), StrictMath::exp, -2, 2, 0);
        holds(x -> MathFunctions.apply(MathFunctions.LOGARITHM, x), StrictMath::log, 0, 5, 1);
        holds(x -> MathFunctions.apply(MathFunctions.LOGARITHM, x), StrictMath::log, -1e6, Double.MAX_VALUE, 1);
        holds(x -> MathFunctions.apply(MathFunctions.ARC_TANGENT, x), StrictMath::atan, -4, 4, 0);
        holds(x -> MathFunctions.apply(MathFunctions.ARC_TANGENT, x), StrictMath::atan, -1e300, 1e300, 0);
        holds(MathFunctions::tangent, StrictMath::tan, -1.57, 1.57, 4);
        holds(MathFunctions::arcSine, StrictMath::asin, -1, 1, 4);
        holds(MathFunctions::arcCosine, StrictMath::acos, -1, 1, 4);
        holds(MathFunctions::decimalLogarithm, StrictMath::log10, 2, 1e9, 3);
        assertThat(compiled((a, _) -> MathFunctions.apply(MathFunctions.EXPONENTIAL, a), Type.FLOAT64).applyAsDouble(inf, 0))
                .isEqualTo(inf);
    }

    @Test
    void functionsOfTwoArguments() {
        // IEEE 754-2019, 9.2.1, has 1 where Java has NaN.
        twoArguments(MathFunctions.POWER, (a, b) -> a == 1 || a == -1 && Double.isInfinite(b) ? 1 : StrictMath.pow(a, b), 1);
        twoArguments(MathFunctions.ANGLE, StrictMath::atan2, 1);
        twoArguments(MathFunctions.HYPOTENUSE, StrictMath::hypot, 2);
    }

    private static void twoArguments(Function f, DoubleBinaryOperator truth, double ulps) {
        var mine = compiled((a, b) -> MathFunctions.apply(f, a, b), Type.FLOAT64);
        for (double a : SPECIAL) {
            for (double b : SPECIAL) {
                assertThat(error(mine.applyAsDouble(a, b), truth.applyAsDouble(a, b))).as("at %s, %s", a, b).isLessThanOrEqualTo(ulps);
            }
        }
        var random = new Random(2);
        for (int i = 0; i < 40_000; i++) {
            double a = Math.exp(random.nextGaussian() * 3) * (f == MathFunctions.POWER || random.nextBoolean() ? 1 : -1);
            double b = random.nextGaussian() * 20;
            assertThat(error(mine.applyAsDouble(a, b), truth.applyAsDouble(a, b))).as("at %s, %s", a, b).isLessThanOrEqualTo(ulps);
        }
    }

    @Test
    void singlePrecisionSineStaysSingleAndClose() {
        var sine = compiled((a, _) -> MathFunctions.apply(MathFunctions.SINE, a), Type.FLOAT32);
        var cosine = compiled((a, _) -> MathFunctions.apply(MathFunctions.COSINE, a), Type.FLOAT32);
        var random = new Random(3);
        for (int i = 0; i < 20_000; i++) {
            float x = (float) random.nextDouble(-100, 100);
            assertThat(Math.abs(sine.applyAsDouble(x, 0) - Math.sin(x))).as("sin %s", x).isLessThan(2 * Math.ulp(1F));
            assertThat(Math.abs(cosine.applyAsDouble(x, 0) - Math.cos(x))).as("cos %s", x).isLessThan(2 * Math.ulp(1F));
        }
        assertThat(MathFunctions.SINE32.canFault()).isFalse();
    }
}
