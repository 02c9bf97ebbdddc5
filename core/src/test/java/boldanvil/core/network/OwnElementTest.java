package boldanvil.core.network;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.finding.Finding;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import boldanvil.core.text.ElementText;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Elements that are written as equations. */
class OwnElementTest {
    private static final String TWO = "VAR_CONTACT a, b : ELECTRICAL; END_VAR VAR_BRANCH v, i : a TO b; END_VAR ";

    private static PartBuilder supplied(String volts, String equations, String values) {
        return new PartBuilder("p").plant("1 us", "rk4").block("supply", "voltage source", "V=" + volts).block("gnd", "ground")
                .block("x", "equations", "equations=" + equations, "values=" + values).block("m", "ammeter").block("i", "tap")
                .net("supply.b", "gnd.a").net("supply.a", "m.a").wire("m.i", "i.u");
    }

    private static PartBuilder closed(String volts, String equations, String values) {
        return supplied(volts, equations, values).net("m.b", "x.a").net("x.b", "gnd.a");
    }

    private static List<Finding> findings(String equations, String values) {
        return supplied("1", equations, values).block("R", "resistor").net("m.b", "R.a").net("R.b", "x.a").net("x.b", "gnd.a").lower()
                .findings();
    }

    /** Charging over a resistor; the equation may stand in any order and be solved for nothing. */
    @Test
    void aCapacitorIsAnEquation() {
        String text = TWO + "VAR_PARAMETER C : [F]; v0 : [V]; END_VAR  0 = C * RATE(v, v0) - i;";
        var s = Stepper.of(supplied("10", text, "[1 µF, 2 V]").block("R", "resistor", "R=100").net("m.b", "R.a").net("R.b", "x.a")
                .net("x.b", "gnd.a"));
        s.ticks(150).step();
        assertThat(s.tap("i")).isCloseTo(8.0 / 100 * Math.exp(-1.5), within(1e-12));
    }

    /** A diode by Shockley, against bisection. */
    @Test
    void aDiodeIsAnExponential() {
        String text = TWO + "VAR_PARAMETER Is : [A]; Vt : [V]; R : [Ω]; END_VAR i = Is * (EXP((v - R * i) / Vt) - 1);";
        var s = Stepper.of(closed("0.9", text, "[1e-12 A, 25.85 mV, 2 Ω]"));
        double low = 0;
        double high = 0.45;
        for (int k = 0; k < 100; k++) {
            double i = (low + high) / 2;
            boolean less = i < 1e-12 * Math.expm1((0.9 - 2 * i) / 25.85e-3);
            low = less ? i : low;
            high = less ? high : i;
        }
        assertThat(s.step().tap("i")).isCloseTo(low, within(1e-9));
    }

    /** A load of constant power gives none of its quantities by itself. */
    @Test
    void aConverterTakesConstantPower() {
        String text = TWO + "VAR_PARAMETER P : [W]; END_VAR v * i = P;";
        var s = Stepper.of(supplied("48", text, "[60 W]").block("R", "resistor", "R=0.5").net("m.b", "R.a").net("R.b", "x.a")
                .net("x.b", "gnd.a"));
        double v = 24 + Math.sqrt(24 * 24 - 0.5 * 60);
        assertThat(s.step().tap("i")).isCloseTo(60 / v, within(1e-9));
    }

    /** What is stored may be a bent function of the current. */
    @Test
    void aCoilStoresABentFlux() {
        String text = TWO + "VAR_PARAMETER L : [H]; Is : [A]; END_VAR VAR_QUANTITY flux : [Wb]; END_VAR "
                + "v = RATE(flux); flux = L * Is * ATAN(i / Is);";
        var s = Stepper.of(closed("10", text, "[1 mH, 2 A]"));
        s.ticks(200).step();
        assertThat(s.tap("i")).isCloseTo(2 * Math.tan(10 * 200e-6 / (1e-3 * 2)), within(1e-4));
    }

    /** On above 5 V, off below 2 V: the current at a ramp up and down. */
    @Test
    void aConditionHasAMemory() {
        String text = TWO + "VAR_PARAMETER R : [Ω]; END_VAR IF v > 5 UNTIL v < 2 THEN v = R * i; ELSE i = 0; END_IF;";
        var b = closed("0", text, "[1 Ω]").block("r", "triangle", "amplitude=5", "bias=5", "frequency=1000")
                .wire("r.y", "supply.u");
        var s = Stepper.of(b);
        s.ticks(200).step();
        assertThat(s.tap("i")).isZero();
        s.advance();
        s.ticks(99).step();
        assertThat(s.tap("i")).isCloseTo(6, within(0.05));
        s.advance();
        s.ticks(569).step();
        assertThat(s.tap("i")).isCloseTo(2.6, within(0.05));
        s.advance();
        s.ticks(59).step();
        assertThat(s.tap("i")).isZero();
    }

    /** Conditions of inputs, within each other and with ELSIF, and outputs. */
    @Test
    void conditionsNestAndOutputsAreEquations() {
        String text = TWO + "VAR_INPUT on : BOOL; END_VAR VAR_OUTPUT p : [W]; END_VAR VAR_PARAMETER mode : [1]; END_VAR "
                + "p = v * i; IF NOT on THEN i = 0; ELSIF mode > 1 THEN IF v > 3 THEN i = 2; ELSE i = 1; END_IF; ELSE i = 7; END_IF;";
        for (int volts : new int[] {2, 4}) {
            var s = Stepper.of(closed("" + volts, text, "[2]").block("one", "constant", "value=1").block("c", "threshold", "relation=>",
                    "value=0.5").block("watts", "tap").wire("one.y", "c.u").wire("c.y", "x.on").wire("x.p", "watts.u"));
            assertThat(s.step().tap("i")).isEqualTo(volts > 3 ? 2 : 1);
            assertThat(s.tap("watts")).isCloseTo(volts > 3 ? 8 : 2, within(1e-9));
        }
    }

    /** A machine of two domains, driven against a load: the same as the one of the stock. */
    @Test
    void aMachineJoinsTwoDomains() {
        String text = "VAR_CONTACT a, b : ELECTRICAL; shaft : ROTATIONAL; END_VAR VAR_BRANCH v, i : a TO b; w, m : shaft; END_VAR "
                + "VAR_PARAMETER R : [Ω]; L : [H]; k : [N·m/A]; END_VAR v = R * i + L * RATE(i) + k * w; m = -k * i;";
        double[] found = new double[2];
        for (int n = 0; n < 2; n++) {
            var b = new PartBuilder("p").plant("10 us", "rk4").block("supply", "voltage source", "V=12").block("gnd", "ground")
                    .block("J", "inertia", "J=1e-4").block("s", "speed sensor").block("w", "tap");
            b = n == 0 ? b.block("x", "dc machine", "R=0.6", "L=0.9 mH", "k=0.042")
                    : b.block("x", "equations", "equations=" + text, "values=[0.6, 0.9 mH, 0.042 N·m/A]");
            var s = Stepper.of(b.net("supply.a", "x.a").net("supply.b", "x.b", "gnd.a").net("x.shaft", "J.a").net("J.a", "s.a")
                    .wire("s.w", "w.u"));
            s.ticks(2000).step();
            found[n] = s.tap("w");
        }
        assertThat(found[1]).isGreaterThan(50).isCloseTo(found[0], within(1e-9));
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {
        "v = R * i + 3 * v * i; | Left of '+'",
        "v = i; | Left of '='",
        "i = EXP(v) * 0; | The argument of EXP",
        "v = R * i + RATE(i); | Left of '+'",
        "IF v > i THEN i = 0; ELSE v = R * i; END_IF; | Left of '>'",
        "v = R ** 2 * i; | Left of '='"})
    void unitsAreChecked(String equations, String cause) {
        assertThat(findings(TWO + "VAR_PARAMETER R : [Ω]; END_VAR " + equations, "[1 Ω]")).anySatisfy(f -> {
            assertThat(f.isError()).isFalse();
            assertThat(f.cause()).startsWith("Line 1, column ").contains(cause);
        });
    }

    @Test
    void unitsThatFitAreNotReported() {
        assertThat(findings(TWO + "VAR_PARAMETER R : [Ω]; END_VAR v = 2 * R * i * (1 + SQRT(ABS(v * i) / (MAX(1, R * i ** 2))));",
                "[1 kΩ]"))
                .isEmpty();
        assertThat(findings(TWO + "VAR_PARAMETER R : [Ω]; END_VAR v = R * i;", "[1 A]").getFirst().cause())
                .contains("The value of 'R' is a current (A), but a resistance (Ω) is expected.");
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {
        "v = R * i; v = 0; | There are 2 equations for 1 branches",
        "v = Q * i; | There is no quantity 'Q'",
        "v := R * i; | cannot be parsed",
        "IF v > 1 THEN v = 0; i = 0; ELSE v = 1; END_IF; | chooses between 2 and 1 equations",
        "v = R * i MOD 2; | has no place",
        "v + i; | not an equation",
        "v = SIN(i, i); | takes 1 arguments",
        "v = FOO(i); | There is no function"})
    void mistakesHaveAPlace(String equations, String cause) {
        assertThat(ElementText.of(TWO + "VAR_PARAMETER R : [Ω]; END_VAR " + equations).mistakes()).anySatisfy(m -> assertThat(m.cause())
                .contains(cause));
        assertThat(findings(TWO + "VAR_PARAMETER R : [Ω]; END_VAR " + equations, "[1]")).anyMatch(Finding::isError);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {
        "v = R * RATE(i * i); | not linear",
        "v = i / (R - R); | divisor is zero",
        "IF v > 1 AND v < 2 THEN v = 0; ELSE i = 0; END_IF; | joins one input",
        "IF v > 1 UNTIL v THEN v = 0; ELSE i = 0; END_IF; | UNTIL needs a comparison",
        "IF v THEN v = 0; ELSE i = 0; END_IF; | not a condition"})
    void whatCannotBeStatedIsReported(String equations, String cause) {
        assertThat(findings(TWO + "VAR_PARAMETER R : [Ω]; END_VAR " + equations, "[1]"))
                .anySatisfy(f -> assertThat(f.cause()).contains(cause));
        assertThat(findings(TWO + "VAR_PARAMETER R : [Ω]; END_VAR v = R * i;", "[1, 2]").getFirst().cause()).contains("1 parameters");
    }

    @Test
    void aTextWithoutContactsIsReported() {
        assertThat(findings(TWO.replace("ELECTRICAL", "ELECTRIC") + "v = i;", "[]")).anyMatch(f -> f.isError()
                && f.cause().contains("There is no domain 'ELECTRIC'"));
        assertThat(ElementText.of("").mistakes().getFirst().cause()).contains("no contact");
        assertThat(ElementText.of("VAR_CONTACT a : ELECTRICAL; c : THERMAL; END_VAR VAR_BRANCH v, i : a TO c; END_VAR v = i;").mistakes()
                .getFirst().cause()).contains("ELECTRICAL to one that is THERMAL");
        assertThat(ElementText.of("VAR_BRANCH v, i : a; END_VAR v = i;").mistakes().getFirst().cause()).contains("no contact 'a'");
    }
}
