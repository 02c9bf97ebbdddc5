package boldanvil.core.quantity;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.Map;
import java.util.Set;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.DoubleRange;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class FormulaTest {
    private static final Map<String, Quantity> VARIABLES = Map.of("Vbus", Quantity.bare(24), "R", Quantity.bare(0.6), "x1",
            Quantity.bare(3),
            "U", Formula.quantity("24 V", Map.of()));

    private static double value(String text) {
        return Formula.evaluate(text, VARIABLES);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            1 + 2 * 3          | 7
            (1 + 2) * 3        | 9
            2 ^ 3 ^ 2          | 512
            -2 ^ 2             | -4
            10 - 4 - 3         | 3
            24 / 4 / 3         | 2
            - -5               | 5
            2e3                | 2000
            .5                 | 0.5
            1.5e-3             | 0.0015
            sqrt(16)           | 4
            max(2, min(9, 5))  | 5
            abs(-3)            | 3
            round(2.5)         | 3
            floor(-0.5)        | -1
            Vbus/2             | 12
            x1 * x1            | 9
            true + on          | 2
            false              | 0
            """)
    void arithmeticFollowsTheUsualRules(String text, double expected) {
        assertThat(value(text)).isEqualTo(expected);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            20 kHz             | 20000
            0.9 mH             | 0.0009
            0.6 Ω              | 0.6
            0.6 ohm            | 0.6
            25 mm              | 0.025
            100 us             | 0.0001
            100 µs             | 0.0001
            0.05 V/A           | 0.05
            0.042 N·m/A        | 0.042
            0.042 N*m/A        | 0.042
            2.2e-5 kg·m²       | 2.2e-5
            1e-5 N·m·s/rad     | 1e-5
            9.81 m/s^2         | 9.81
            12 %               | 0.12
            2 * 3 mm           | 0.006
            """)
    void aUnitAfterANumberBringsItToSi(String text, double expected) {
        assertThat(value(text)).isCloseTo(expected, within(1e-15 + 1e-12 * expected));
    }

    @Test
    void aVariableWinsOverAUnitOfTheSameName() {
        assertThat(value("24 V/R")).isCloseTo(40, within(1e-12));
    }

    @Test
    void aSpeedInTurnsAMinuteIsInRadiansASecond() {
        assertThat(value("60 rpm")).isCloseTo(2 * Math.PI, within(1e-12));
        assertThat(value("180 deg")).isCloseTo(Math.PI, within(1e-12));
    }

    @Test
    void piIsKnown() {
        assertThat(value("2*pi*50")).isEqualTo(2 * Math.PI * 50);
    }

    @Test
    void listsKeepTheirOrder() {
        assertThat(Formula.evaluateList("[0, Vbus/2, 25 mm]", VARIABLES)).containsExactly(0, 12, 0.025);
        assertThat(Formula.evaluateList("7", VARIABLES)).containsExactly(7);
    }

    @Test
    void aListWhereOneNumberIsWantedIsRefused() {
        assertThatThrownBy(() -> value("[1, 2]")).isInstanceOf(FormulaException.class).hasMessageContaining("list of 2");
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            ''                 | is incomplete
            1 +                | is incomplete
            2 * (3             | ')' is missing
            Kp_none            | 'Kp_none' is not a variable
            nothing(3)         | no function 'nothing'
            3 lightyards       | neither a unit nor a variable
            3 ]                | was not expected here
            1..2               | is not a number
            ?                  | was not expected
            """)
    void whatIsWrongIsSaidInASentence(String text, String words) {
        assertThatThrownBy(() -> value(text)).isInstanceOf(FormulaException.class).hasMessageContaining(words);
    }

    @Test
    void thePlaceOfAnUnknownNameIsKnown() {
        assertThatThrownBy(() -> value("1 + oops"))
                .isInstanceOfSatisfying(FormulaException.class, e -> assertThat(e.position()).isEqualTo(4));
    }

    @ParameterizedTest
    @ValueSource(ints = {100, 1_900})
    void deepBracketsAreRefusedWithoutAStackOverflow(int depth) {
        assertThatThrownBy(() -> value("(".repeat(depth) + "1" + ")".repeat(depth))).isInstanceOf(FormulaException.class);
    }

    @Test
    void anEndlessTextIsRefused() {
        assertThatThrownBy(() -> value("1+".repeat(5_000) + "1")).isInstanceOf(FormulaException.class).hasMessageContaining("longer");
    }

    @Test
    void theNamesInATextAreFound() {
        assertThat(Formula.names("a*b + sqrt(c)", Set.of("a", "b", "c"))).containsExactlyInAnyOrder("a", "b", "c");
        assertThat(Formula.names("a + unknown", Set.of("a"))).contains("a", "unknown");
    }

    @Test
    void onlyABareNameIsAName() {
        assertThat(Formula.isName(" Kp_i ")).isTrue();
        assertThat(Formula.isName("2*Kp")).isFalse();
        assertThat(Formula.isName("12")).isFalse();
    }

    @Property
    void anyFiniteNumberIsReadBackExactly(@ForAll double v) {
        if (Double.isFinite(v)) {
            assertThat(value(Double.toString(v))).isEqualTo(v);
        }
    }

    @Property
    void additionCommutes(@ForAll @DoubleRange(min = -1e6, max = 1e6) double a, @ForAll @DoubleRange(min = -1e6, max = 1e6) double b) {
        assertThat(value("(" + a + ")+(" + b + ")")).isEqualTo(value("(" + b + ")+(" + a + ")"));
    }

    @ParameterizedTest
    @ValueSource(strings = {"5 mm + 3 s", "exp(2 s)", "max(2 m, 3 s)", "sin(1 m)", "2 ^ (3 V)", "1 A - 1 mV", "U + 1 A"})
    void unlikeKindsAreRefused(String text) {
        assertThatThrownBy(() -> value(text)).isInstanceOf(FormulaException.class).hasMessageMatching(".*(cannot be added|pure number).*");
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            3 m     | Hz | a length
            3 A     | s  | a current
            1m      | s  | a length
            U / 2 A | V  | a resistance
            5 N     | mm | a force
            """)
    void aValueOfAnotherKindThanWantedIsRefused(String text, String unit, String words) {
        assertThatThrownBy(() -> Formula.evaluate(text, VARIABLES, unit)).isInstanceOf(FormulaException.class).hasMessageContaining(words);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            1500            | rpm | 157.07963267948966
            1500 rpm        | rpm | 157.07963267948966
            20              | °C  | 293.15
            -5 °C           | °C  | 268.15
            25 °C - 20 °C   | K   | 5
            20 °C + 3 K     | K   | 296.15
            400             | mm  | 0.4
            U / 2           | V   | 12
            -6 dB           | 1   | 0.501187233627272
            2 * 50          | Hz  | 100
            sqrt(4 m²)      | m   | 2
            3 V / (2 rad/s) | Wb  | 1.5
            inf             | rpm | Infinity
            """)
    void aBareNumberIsInTheUnitThatIsWanted(String text, String unit, double si) {
        assertThat(Formula.evaluate(text, VARIABLES, unit)).isCloseTo(si, within(1e-12 * Math.max(1, si)));
    }

    @Test
    void aUnitEndsBeforeAVariableAndBeforeANumber() {
        assertThat(value("24 V/(R + R)")).isCloseTo(20, within(1e-12));
        assertThat(value("3 mm*1.5")).isCloseTo(0.0045, within(1e-15));
        assertThat(value("12 V/2")).isEqualTo(6);
    }

    @Property
    void whatIsShownInAUnitIsReadAsTheSameValue(@ForAll @DoubleRange(min = -1e6, max = 1e6) double si) {
        for (String unit : new String[] {"rpm", "mm", "°C", "kWh", "V/(rad/s)", "psi"}) {
            Unit u = Units.find(unit).orElseThrow();
            assertThat(u.toSi(u.fromSi(si))).isCloseTo(si, within(1e-9 * Math.max(1, Math.abs(si))));
        }
    }
}
