package boldanvil.core.quantity;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.Combinators;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import net.jqwik.api.constraints.DoubleRange;
import net.jqwik.api.constraints.IntRange;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Laws of units and formulas, held against an evaluation in plain Java. */
class UnitLawsTest {
    private static final List<String> UNITS = List.of("m", "mm", "cm", "km", "s", "ms", "µs", "A", "mA", "V", "kV", "Ω", "mΩ", "MΩ", "N",
            "Nm", "kg", "g", "W", "kW", "J", "Hz", "kHz", "rad", "deg", "°", "rpm",
            "krpm", "Pa", "bar", "psi", "L", "Ah", "kWh", "%", "ppm", "turn", "H", "mH", "F", "µF");

    @Provide
    Arbitrary<String> units() {
        return Arbitraries.of(UNITS);
    }

    /** An expression of bare numbers and what it comes to. */
    record Known(String text, double value) {}

    @Provide
    Arbitrary<Known> expressions() {
        return expression(4);
    }

    private Arbitrary<Known> expression(int depth) {
        Arbitrary<Known> number = Arbitraries.integers().between(1, 999).map(n -> new Known(n / 10.0 + "", n / 10.0));
        if (depth == 0) {
            return number;
        }
        Arbitrary<Known> inner = Arbitraries.lazy(() -> expression(depth - 1));
        Arbitrary<Known> pair = Combinators.combine(inner, Arbitraries.of('+', '-', '*', '/'), inner)
                .as((a, op, b) -> new Known("(" + a.text() + " " + op + " " + b.text() + ")", switch (op) {
            case '+' -> a.value() + b.value();
            case '-' -> a.value() - b.value();
            case '*' -> a.value() * b.value();
            default -> a.value() / b.value();
        }));
        Arbitrary<Known> function = Combinators.combine(Arbitraries.of("abs", "floor", "ceil", "exp"), inner)
                .as((f, a) -> new Known(f + "(" + a.text() + ")", switch (f) {
            case "abs" -> Math.abs(a.value());
            case "floor" -> Math.floor(a.value());
            case "ceil" -> Math.ceil(a.value());
            default -> Math.exp(a.value());
        }));
        return Arbitraries.oneOf(number, pair, pair, function);
    }

    @Property(tries = 500)
    void formulasComeToWhatJavaComesTo(@ForAll("expressions") Known e) {
        if (Double.isFinite(e.value())) {
            double v = Formula.evaluate(e.text(), Map.of());
            assertThat(v).isCloseTo(e.value(), within(1e-12 * Math.max(1, Math.abs(e.value()))));
        }
    }

    @Property(tries = 300)
    void aValueThereAndBackIsTheSame(@ForAll("units") String unit, @ForAll @DoubleRange(min = -1e6, max = 1e6) double v) {
        Unit u = Units.find(unit).orElseThrow();
        assertThat(u.fromSi(u.toSi(v))).isCloseTo(v, within(1e-9 * Math.max(1, Math.abs(v))));
        assertThat(Units.fromSi(unit, Units.toSi(unit, v))).isCloseTo(v, within(1e-9 * Math.max(1, Math.abs(v))));
    }

    @Property(tries = 300)
    void aPowerOfAUnitHasThePowerOfItsFactor(@ForAll("units") String unit, @ForAll @IntRange(min = 2, max = 4) int power) {
        Unit u = Units.find(unit).orElseThrow();
        for (String text : List.of(unit + "^" + power, unit + "·" + String.join("·", java.util.Collections.nCopies(power - 1, unit)))) {
            Unit p = Units.find(text).orElseThrow(() -> new AssertionError(text));
            assertThat(p.factor()).as(text).isCloseTo(Math.pow(u.factor(), power), within(1e-12 * Math.pow(u.factor(), power)));
            assertThat(p.dimension()).isEqualTo(u.dimension().power(power));
        }
    }

    @Property(tries = 300)
    void productsAndQuotientsOfUnitsAreThoseOfTheirFactors(@ForAll("units") String a, @ForAll("units") String b,
            @ForAll("units") String c) {
        Unit all = Units.find(a + "/(" + b + "·" + c + ")").orElseThrow();
        double factor = Units.find(a).orElseThrow().factor() / (Units.find(b).orElseThrow().factor() * Units.find(c).orElseThrow()
                .factor());
        assertThat(all.factor()).isCloseTo(factor, within(1e-12 * factor));
        assertThat(all.dimension()).isEqualTo(Units.find(a).orElseThrow().dimension().over(Units.find(b).orElseThrow().dimension())
                .over(Units.find(c).orElseThrow().dimension()));
    }

    @Property(tries = 200)
    void onlyTheSameKindCanBeAdded(@ForAll("units") String a, @ForAll("units") String b,
            @ForAll @DoubleRange(min = 0.5, max = 9) double v) {
        String text = String.format(Locale.ROOT, "%.3f %s + 2 %s", v, a, b);
        boolean alike = Units.find(a).orElseThrow().dimension().fits(Units.find(b).orElseThrow().dimension());
        if (alike) {
            assertThat(Formula.quantity(text, Map.of()).dimension().fits(Units.find(a).orElseThrow().dimension())).isTrue();
        } else {
            assertThatThrownBy(() -> Formula.quantity(text, Map.of())).as(text).isInstanceOf(FormulaException.class);
        }
    }

    @Property(tries = 200)
    void dimensionsFormAGroup(@ForAll("units") String a, @ForAll("units") String b) {
        Dimension x = Units.find(a).orElseThrow().dimension();
        Dimension y = Units.find(b).orElseThrow().dimension();
        assertThat(x.times(y)).isEqualTo(y.times(x));
        assertThat(x.times(y).over(y)).isEqualTo(x);
        assertThat(x.over(x)).isEqualTo(Dimension.NONE);
        assertThat(x.power(2)).isEqualTo(x.times(x));
        assertThat(x.power(2).power(0.5)).isEqualTo(x);
        assertThat(Units.orOne(x.unit()).dimension()).as("the unit of %s is one of its own", a).isEqualTo(x);
    }

    @ParameterizedTest
    @CsvSource({"1 mm², 1e-6", "1 mm2, 1e-6", "1 cm², 1e-4", "1 km², 1e6", "1 mm³, 1e-9", "1 dm³, 1e-3", "1 L, 1e-3", "3 Nm, 3",
            "1 MΩ, 1e6", "1 bar, 1e5", "1 psi, 6894.757293168", "1 turn, 6.283185307179586",
        "1 kWh, 3.6e6", "1 Ah, 3600", "1 ppm, 1e-6", "1 krpm, 104.71975511965977", "180 °, 3.141592653589793", "20 °C, 293.15",
        "20 dB, 10", "0.05 V/(rad/s), 0.05"})
    void theUnitsOfTheTradeHaveTheirFactors(String text, double si) {
        assertThat(Formula.quantity(text, Map.of()).value()).isCloseTo(si, within(1e-9 * Math.abs(si)));
    }

    @ParameterizedTest
    @CsvSource({"5 mm + 3 s", "exp(2 s)", "'max(2 m, 3 s)'", "'min(1 V, 1 A)'", "ln(3 m)", "sin(2 V)", "2 ^ (1 s)"})
    void whatMixesKindsIsRefused(String text) {
        assertThatThrownBy(() -> Formula.quantity(text, Map.of())).isInstanceOf(FormulaException.class);
    }

    @ParameterizedTest
    @CsvSource({"3 m, Hz", "3 A, s", "1m, s", "5 V, A", "20 °C, V"})
    void whatIsOfAnotherKindThanWantedIsRefused(String text, String unit) {
        assertThatThrownBy(() -> Formula.evaluate(text, Map.of(), unit)).isInstanceOf(FormulaException.class);
    }
}
