package boldanvil.core.stock;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.program.Fault;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.DoubleRange;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class CalculationTest {
    /** A block with numbered inputs a, b, c of one type. */
    private static Stepper block(String type, int inputs, String signal, String... settings) {
        var b = new PartBuilder("c");
        String[] names = {"a", "b", "c"};
        for (int i = 0; i < inputs; i++) {
            b.block(names[i], "inlet", "type=" + signal);
        }
        b.block("it", type, settings).block("out", "outlet").wire("it.y", "out.u");
        for (int i = 0; i < inputs; i++) {
            b.wire(names[i] + ".y", "it." + (inputs == 1 ? "u" : "u" + (i + 1)));
        }
        return Stepper.of(b);
    }

    private static double of(Stepper s, double... values) {
        String[] names = {"a", "b", "c"};
        for (int i = 0; i < values.length; i++) {
            s.set(names[i], values[i]);
        }
        return s.step().out("out");
    }

    @Test
    void aGainMultiplies() {
        assertThat(of(block("gain", 1, "real", "k=0.5 V/A"), 8)).isEqualTo(4);
        assertThat(of(block("gain", 1, "int32", "k=-3"), 5)).isEqualTo(-15);
    }

    @Test
    void aLiveGainCanBeTuned() {
        var s = block("gain", 1, "real", "*k=2");
        assertThat(of(s, 3)).isEqualTo(6);
        assertThat(of(s.tune("it.k", 10), 3)).isEqualTo(30);
    }

    @ParameterizedTest
    @CsvSource({"++, 5", "+-, 1", "-+, -1", "--, -5"})
    void aSumTakesAnySigns(String signs, double expected) {
        assertThat(of(block("sum", 2, "real", "signs=" + signs), 3, 2)).isEqualTo(expected);
    }

    @Test
    void threeInputsAreAddedInOrder() {
        assertThat(of(block("sum", 3, "real", "signs=+-+"), 1, 2, 4)).isEqualTo(3);
    }

    @Test
    void integerSumsWrapAround() {
        assertThat(of(block("sum", 2, "uint16", "signs=+-"), 1, 2)).isEqualTo(65_535);
        assertThat(of(block("sum", 2, "int32", "signs=++"), Integer.MAX_VALUE, 1)).isEqualTo(Integer.MIN_VALUE);
    }

    @Test
    void aProductMultipliesAndDivides() {
        assertThat(of(block("product", 3, "real", "signs=*/*"), 6, 4, 2)).isEqualTo(3);
        assertThat(of(block("product", 2, "real", "signs=/*"), 4, 2)).isEqualTo(0.5);
    }

    @Test
    void anIntegerQuotientByZeroIsZeroAndRaisesAFault() {
        var s = block("product", 2, "int32", "signs=*/");
        assertThat(of(s, 7, 0)).isZero();
        assertThat(s.fault()).isEqualTo(Fault.DIVISION_BY_ZERO);
    }

    @Test
    void aRealQuotientByZeroIsInfinite() {
        assertThat(of(block("product", 2, "real", "signs=*/"), 7, 0)).isEqualTo(Double.POSITIVE_INFINITY);
    }

    @Test
    void leastAndGreatest() {
        assertThat(of(block("minmax", 3, "real", "inputs=3", "which=minimum"), 3, -1, 2)).isEqualTo(-1);
        assertThat(of(block("minmax", 3, "real", "inputs=3", "which=maximum"), 3, -1, 2)).isEqualTo(3);
    }

    @Test
    void magnitudes() {
        assertThat(of(block("abs", 1, "real"), -2.5)).isEqualTo(2.5);
        assertThat(of(block("abs", 1, "int32"), -7)).isEqualTo(7);
        assertThat(of(block("abs", 1, "int32"), Integer.MIN_VALUE)).isEqualTo(Integer.MIN_VALUE);
    }

    @ParameterizedTest
    @CsvSource({"nearest, 2.5, 3", "nearest, -2.5, -2", "truncate, -2.7, -2", "down, -2.1, -3", "nearest, 1e12, 2147483647"})
    void conversionRoundsAsChosen(String rounding, double u, double y) {
        assertThat(of(block("convert", 1, "real", "type=int32", "rounding=" + rounding), u)).isEqualTo(y);
    }

    @Test
    void whatIsNoNumberBecomesZeroWithAFault() {
        var s = block("convert", 1, "real", "type=uint16");
        assertThat(of(s, Double.NaN)).isZero();
        assertThat(s.fault()).isEqualTo(Fault.NOT_A_NUMBER);
    }

    @Test
    void boolAndNumberConvertBothWays() {
        assertThat(of(block("convert", 1, "bool", "type=real"), 1)).isEqualTo(1);
        assertThat(of(block("convert", 1, "real", "type=bool"), -0.1)).isEqualTo(1);
        assertThat(of(block("convert", 1, "real", "type=bool"), 0)).isZero();
    }

    private static Stepper table(String outside) {
        return block("lookup", 1, "real", "x=[-1, 0, 2, 3]", "y=[5, 1, 3, -1]", "outside=" + outside);
    }

    @ParameterizedTest
    @CsvSource({"-1, 5", "-0.5, 3", "0, 1", "1, 2", "2, 3", "2.5, 1", "3, -1"})
    void aTableIsStraightBetweenItsPoints(double u, double y) {
        assertThat(of(table("hold"), u)).isCloseTo(y, within(1e-15));
    }

    @Test
    void outsideATableHoldsOrExtends() {
        assertThat(of(table("hold"), -9)).isEqualTo(5);
        assertThat(of(table("hold"), 9)).isEqualTo(-1);
        assertThat(of(table("extend"), -2)).isEqualTo(9);
        assertThat(of(table("extend"), 4)).isEqualTo(-5);
    }

    @Property(tries = 50)
    void aTableOfTwoPointsIsALine(@ForAll @DoubleRange(min = -3, max = 3) double u) {
        var s = block("lookup", 1, "real", "x=[-1, 1]", "y=[2, 6]", "outside=extend");
        assertThat(of(s, u)).isCloseTo(4 + 2 * u, within(1e-12));
    }

    @Test
    void aBadTableIsAFinding() {
        var bad = new PartBuilder("c").block("a", "inlet").block("it", "lookup", "x=[0, 0]", "y=[1, 2]").block("out", "outlet")
                .wire("a.y", "it.u").wire("it.y", "out.u").lower();
        assertThat(bad.program()).isEmpty();
        assertThat(bad.findings()).singleElement().satisfies(f -> assertThat(f.cause()).contains("does not increase"));
        var uneven = new PartBuilder("c").block("a", "inlet").block("it", "lookup", "x=[0, 1, 2]", "y=[1, 2]").block("out", "outlet")
                .wire("a.y", "it.u").wire("it.y", "out.u").lower();
        assertThat(uneven.findings()).singleElement().satisfies(f -> assertThat(f.cause()).contains("3 values"));
    }

    @Test
    void aFractionForAnIntegerSignalIsAFinding() {
        var l = new PartBuilder("c").block("a", "inlet", "type=int32").block("it", "gain", "k=0.5").block("out", "outlet")
                .wire("a.y", "it.u").wire("it.y", "out.u").lower();
        assertThat(l.findings()).singleElement().satisfies(f -> assertThat(f.cause()).contains("is not an integer"));
    }
}
