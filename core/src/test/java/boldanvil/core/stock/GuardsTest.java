package boldanvil.core.stock;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.finding.Finding;
import boldanvil.core.program.Fault;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What limits, controllers and states do with values that are NaN or infinite, and what is reported before it can happen. */
class GuardsTest {
    private static Stepper one(String type, String in, String out, String... settings) {
        return Stepper.of(new PartBuilder("p").block("in", "inlet").block("b", type, settings).block("out", "outlet")
                .wire("in.y", "b." + in)
                .wire("b." + out, "out.u"));
    }

    @Test
    void aSaturationTakesNanAsZeroWithinItsLimits() {
        var s = one("saturation", "u", "y", "low=-24", "high=24");
        s.set("in", Double.NaN).step();
        assertThat(s.out("out")).isZero();
        assertThat(s.fault()).isEqualTo(Fault.NOT_FINITE);
        s.set("in", Double.POSITIVE_INFINITY).step();
        assertThat(s.out("out")).isEqualTo(24);
        assertThat(one("saturation", "u", "y", "low=2", "high=5").set("in", Double.NaN).step().out("out")).isEqualTo(2);
    }

    @ParameterizedTest
    @ValueSource(strings = {"pid kp=2 ki=10 kd=0.1", "accumulator", "ratelimit rising=10 falling=10", "transfer-in-z",
            "biquads sections=[[0.1,0,0,-0.9,0]]",
        "derivative", "moving", "fir b=[0.2,0.3,0.5]"})
    void oneBadSampleDoesNotSpoilTheRest(String block) {
        String[] words = block.split(" ");
        String[] settings = java.util.Arrays.copyOfRange(words, 1, words.length);
        String type = words[0].replace('-', ' ');
        String in = type.equals("pid") ? "e" : "u";
        for (double bad : new double[] {Double.NaN, Double.POSITIVE_INFINITY, Double.NEGATIVE_INFINITY}) {
            var hit = one(type, in, "y", settings);
            var fine = one(type, in, "y", settings);
            for (int i = 0; i < 50; i++) {
                hit.set("in", i == 10 ? bad : 1).step();
                fine.set("in", i == 10 ? 0 : 1).step();
                assertThat(hit.out("out")).as("%s at %s", type, i).isEqualTo(fine.out("out")).isFinite();
                hit.advance();
                fine.advance();
            }
            assertThat(hit.fault()).isEqualTo(Fault.NOT_FINITE);
            assertThat(fine.fault()).isZero();
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"clamping", "back-calculation"})
    void withoutAnIntegralPartAPidKeepsNoBias(String antiWindup) {
        var s = one("pid", "e", "y", "kp=2", "ki=0", "low=-1", "high=1", "anti-windup=" + antiWindup);
        s.course("in", "out", 5, 5, 5, 5, 5, 5);
        assertThat(s.set("in", 0).step().out("out")).isZero();
        assertThat(s.set("in", 0.25).step().out("out")).isEqualTo(0.5);
    }

    @Test
    void withoutAnIntegralPartManualLeavesNoBias() {
        var s = Stepper.of(new PartBuilder("p").block("in", "inlet").block("m", "inlet", "type=bool").block("t", "inlet")
                .block("b", "pid", "kp=2", "ki=0")
                .block("out", "outlet").wire("in.y", "b.e").wire("m.y", "b.manual").wire("t.y", "b.track").wire("b.y", "out.u"));
        s.set("m", 1).set("t", 0.7).set("in", 0.1).ticks(5);
        assertThat(s.step().out("out")).isEqualTo(0.7);
        s.advance();
        assertThat(s.set("m", 0).step().out("out")).isEqualTo(0.2);
    }

    @Test
    void aPidHasNoDerivativeKickAtItsFirstSample() {
        var s = one("pid", "e", "y", "kp=1", "kd=1", "tf=10 ms");
        assertThat(s.set("in", 5).step().out("out")).isEqualTo(5);
        s.advance();
        assertThat(s.set("in", 5.001).step().out("out")).isCloseTo(5.001 + 0.1, within(1e-9));
    }

    private static String finding(PartBuilder b) {
        return b.lower().findings().stream().filter(Finding::isError).map(Finding::cause).findFirst().orElse("");
    }

    @Test
    void timeConstantsBelowTheSampleTimeAreReported() {
        assertThat(finding(new PartBuilder("p").block("b", "pid", "ki=1", "anti-windup=back-calculation", "tt=0.1 ms")
                .block("c", "constant").wire("c.y", "b.e")))
                .contains("tracking time tt");
        assertThat(finding(new PartBuilder("p").block("b", "derivative", "tf=0.5 ms").block("c", "constant").wire("c.y", "b.u")))
                .contains("filter time tf");
    }

    @ParameterizedTest
    @CsvSource({"[[0.5]], true", "[[2.5]], false", "[[-0.5]], false"})
    void anObserverWhoseErrorGrowsIsReported(String gain, boolean decays) {
        // A − L C with A = 0.9 and C = 1: 0.4, −1.6, 1.4.
        var b = new PartBuilder("p").block("u", "inlet").block("y", "inlet").block("o", "observer", "A=[[0.9]]", "L=" + gain)
                .block("out", "outlet")
                .wire("u.y", "o.u").wire("y.y", "o.y").wire("o.x", "out.u");
        assertThat(finding(b).contains("does not decay")).isNotEqualTo(decays);
    }

    @ParameterizedTest
    @CsvSource({"sqrt, -1", "ln, -1", "ln, 0", "log10, 0", "asin, 2", "acos, -1.5", "reciprocal, 0"})
    void aFunctionOutsideOfItsDomainRaisesAFault(String f, double u) {
        assertThat(one("function", "u", "y", "f=" + f).set("in", u).step().fault())
                .isEqualTo(f.equals("reciprocal") ? Fault.DIVISION_BY_ZERO : Fault.DOMAIN);
        assertThat(one("function", "u", "y", "f=" + f).set("in", 0.5).step().fault()).isZero();
    }

    @ParameterizedTest
    @CsvSource({"power, -8, 0.5, 32", "power, 0, -1, 32", "power, -2, 3, 0", "modulo, 5, 0, 1", "remainder, 5, 0, 1", "modulo, 5, 3, 0"})
    void aFunctionOfTwoOutsideOfItsDomainRaisesAFault(String f, double u, double v, int fault) {
        var s = Stepper.of(new PartBuilder("p").block("u", "inlet").block("v", "inlet").block("b", "two-input function", "f=" + f)
                .block("out", "outlet")
                .wire("u.y", "b.u").wire("v.y", "b.v").wire("b.y", "out.u"));
        assertThat(s.set("u", u).set("v", v).step().fault()).isEqualTo(fault);
    }

    @Test
    void divisionByAConstantZeroRaisesAFault() {
        var s = Stepper.of(new PartBuilder("p").block("u", "inlet").block("z", "constant", "value=0").block("q", "product", "signs=*/")
                .block("out", "outlet")
                .wire("u.y", "q.u1").wire("z.y", "q.u2").wire("q.y", "out.u"));
        assertThat(s.set("u", 1).step().fault() & Fault.DIVISION_BY_ZERO).isNotZero();
    }

    @ParameterizedTest
    @CsvSource({"min-max, 0", "sine, -24", "space vector, 0"})
    void aModulatorWithoutDirectVoltageGivesNoVoltage(String method, double udc) {
        var s = Stepper.of(new PartBuilder("p").block("al", "inlet").block("be", "inlet").block("dc", "inlet")
                .block("m", "modulator", "method=" + method)
                .block("a", "outlet").block("b", "outlet").block("c", "outlet").wire("al.y", "m.alpha").wire("be.y", "m.beta")
                .wire("dc.y", "m.Udc")
                .wire("m.a", "a.u").wire("m.b", "b.u").wire("m.c", "c.u"));
        s.set("al", 5).set("be", -2).set("dc", udc).step();
        assertThat(new double[] {s.out("a"), s.out("b"), s.out("c")}).containsExactly(0.5, 0.5, 0.5);
    }

    @Test
    void aRateTransitionShowsItsInitialValueUntilTheSlowTaskHasRun() {
        var s = Stepper.of(new PartBuilder("p").block("slow", "constant", "value=7").block("k", "gain", "sample time=4 ms")
                .block("r", "sample time change", "initial=3")
                .block("plain", "gain").block("out", "outlet").block("other", "outlet").wire("slow.y", "k.u").wire("k.y", "r.u")
                .wire("r.y", "out.u")
                .wire("k.y", "plain.u").wire("plain.y", "other.u"));
        assertThat(s.course("out", 6)).containsExactly(3, 3, 3, 3, 7, 7);
    }

    @Test
    void aRateLimiterBeginsAtMostOneStepFromItsInitialValue() {
        var s = one("ratelimit", "u", "y", "rising=100", "falling=100", "initial=2");
        assertThat(s.set("in", 50).step().out("out")).isCloseTo(2.1, within(1e-12));
    }

    @Test
    void theLogarithmOfAPowerOfTenIsWhole() {
        var s = one("function", "u", "y", "f=log10");
        for (int n = -22; n <= 22; n++) {
            double u = Double.parseDouble("1e" + n);
            double expected = n >= 0 ? n : Math.log10(u);
            assertThat(s.set("in", u).step().out("out")).as("1e%s", n).isEqualTo(expected);
        }
        for (double u : new double[] {2, 0.3, 123.456, 5e-324, 1e300, 0.99999, 1.00001}) {
            assertThat(s.set("in", u).step().out("out")).as("%s", u).isCloseTo(Math.log10(u), within(4 * Math.ulp(Math.log10(u))));
        }
    }
}
