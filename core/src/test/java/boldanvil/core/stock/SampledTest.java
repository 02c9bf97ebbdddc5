package boldanvil.core.stock;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.DoubleRange;
import net.jqwik.api.constraints.Size;
import org.junit.jupiter.api.Test;

class SampledTest {
    private static PartBuilder block(String type, String in, String... settings) {
        return new PartBuilder("s").block("a", "inlet").block("it", type, settings).block("out", "outlet").wire("a.y", "it." + in)
                .wire("it.y", "out.u");
    }

    private static PartBuilder withReset(String type, String in, String... settings) {
        return block(type, in, settings).block("r", "inlet", "type=bool").wire("r.y", "it.reset");
    }

    @Test
    void aDelayIsOneSampleLate() {
        assertThat(Stepper.of(block("delay", "u", "initial=9")).course("a", "out", 1, 2, 3)).containsExactly(9, 1, 2);
    }

    @Test
    void aDelayCarriesAnyType() {
        var s = Stepper.of(new PartBuilder("s").block("a", "inlet", "type=bool").block("it", "delay").block("out", "outlet")
                .wire("a.y", "it.u").wire("it.y", "out.u"));
        assertThat(s.course("a", "out", 1, 0, 1)).containsExactly(0, 1, 0);
    }

    @Property(tries = 40)
    void delayedByTwoIsDelayedTwice(@ForAll @Size(min = 3, max = 30) double[] u) {
        var s = Stepper.of(block("delay", "u").block("second", "delay").block("end", "outlet").wire("it.y", "second.u")
                .wire("second.y", "end.u"));
        double[] y = s.course("a", "end", u);
        for (int k = 2; k < u.length; k++) {
            assertThat(Double.valueOf(y[k])).isEqualTo(Double.valueOf(u[k - 2]));
        }
    }

    @Test
    void theDiscreteIntegratorIsForwardEuler() {
        double[] y = Stepper.of(block("accumulator", "u", "k=1000", "initial=5")).course("a", "out", 1, 2, 3, 0);
        assertThat(y).containsExactly(5, 6, 8, 11);
    }

    @Test
    void theDiscreteIntegratorKeepsItsLimits() {
        var s = Stepper.of(block("accumulator", "u", "k=1000", "low=-1", "high=2"));
        assertThat(s.course("a", "out", 5, 5, 5, -9, -9)).containsExactly(0, 2, 2, 2, -1);
    }

    @Test
    void resetSetsTheDiscreteIntegratorBackASampleLater() {
        var s = Stepper.of(withReset("accumulator", "u", "k=1000", "initial=1"));
        s.course("a", "out", 1, 1, 1);
        assertThat(s.set("r", 1).course("a", "out", 1, 1)).containsExactly(4, 1);
    }

    @Test
    void aProportionalControllerIsAGain() {
        assertThat(Stepper.of(block("pid", "e", "kp=3")).course("a", "out", 1, -2, 0)).containsExactly(3, -6, 0);
    }

    @Test
    void theIntegralPartSumsUp() {
        double[] y = Stepper.of(block("pid", "e", "kp=0", "ki=1000")).course("a", "out", 1, 1, 2, 0);
        assertThat(y).containsExactly(0, 1, 2, 4);
    }

    @Test
    void theDerivativePartIsAFilteredDifference() {
        // kd / tf times what the filter has not followed yet.
        double[] y = Stepper.of(block("pid", "e", "kp=0", "kd=1", "tf=2 ms")).course("a", "out", 0, 1, 1, 1);
        assertThat(y[0]).isZero();
        assertThat(y[1]).isCloseTo(500, within(1e-9));
        assertThat(y[2]).isCloseTo(250, within(1e-9));
        assertThat(y[3]).isCloseTo(125, within(1e-9));
    }

    @Test
    void aDerivativeFilterShorterThanTheSampleTimeIsAFinding() {
        assertThat(block("pid", "e", "kd=1", "tf=0.5 ms").lower().findings()).singleElement()
                .satisfies(f -> assertThat(f.cause()).contains("shorter than the sample time"));
    }

    @Test
    void theOutputKeepsItsLimits() {
        assertThat(Stepper.of(block("pid", "e", "kp=10", "low=-4", "high=6")).course("a", "out", 1, -1, 0.1)).containsExactly(6, -4, 1);
    }

    @Test
    void antiWindUpLetsTheOutputLeaveItsLimitAtOnce() {
        var guarded = Stepper.of(block("pid", "e", "kp=1", "ki=100", "low=-1", "high=1"));
        guarded.set("a", 5).ticks(2_000);
        // The integral has not grown beyond what the limit allows: one sample after the error turns, the output is away.
        double[] y = guarded.course("a", "out", -0.5, -0.5);
        assertThat(y[0]).isLessThan(1);
    }

    @Test
    void withoutSaturationTheIntegralIsNotHeld() {
        var s = Stepper.of(block("pid", "e", "kp=1", "ki=10", "low=-100", "high=100"));
        s.set("a", 1).ticks(1_000);
        assertThat(s.step().out("out")).isCloseTo(1 + 10, within(1e-9));
    }

    @Test
    void resetClearsTheController() {
        var s = Stepper.of(withReset("pid", "e", "kp=1", "ki=1000"));
        s.set("a", 1).ticks(10);
        s.set("r", 1).ticks(1);
        assertThat(s.set("r", 0).set("a", 0).step().out("out")).isZero();
    }

    @Property(tries = 40)
    void theControllerIsLinearWithinItsLimits(@ForAll @DoubleRange(min = -2, max = 2) double e1,
            @ForAll @DoubleRange(min = -2, max = 2) double e2) {
        double[] first = Stepper.of(block("pid", "e", "kp=2", "ki=30")).course("a", "out", e1, e1, e1);
        double[] second = Stepper.of(block("pid", "e", "kp=2", "ki=30")).course("a", "out", e2, e2, e2);
        double[] both = Stepper.of(block("pid", "e", "kp=2", "ki=30")).course("a", "out", e1 + e2, e1 + e2, e1 + e2);
        for (int k = 0; k < 3; k++) {
            assertThat(both[k]).isCloseTo(first[k] + second[k], within(1e-12));
        }
    }

    @Test
    void gainsCanBeTunedWhileRunning() {
        var s = Stepper.of(block("pid", "e", "*kp=1"));
        assertThat(s.set("a", 2).step().out("out")).isEqualTo(2);
        assertThat(s.tune("it.kp", 5).step().out("out")).isEqualTo(10);
    }
}
