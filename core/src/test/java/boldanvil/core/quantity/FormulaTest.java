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
    private static final Map<String, Double> VARIABLES = Map.of("Vbus", 24.0, "R", 0.6, "x1", 3.0);

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
            ''                 | ends too soon
            1 +                | ends too soon
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
}
