package boldanvil.core.stock;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import org.junit.jupiter.api.Test;

class SourcesTest {
    private static PartBuilder source(String type, String... settings) {
        return new PartBuilder("s").block("source", type, settings).block("out", "outlet").wire("source.y", "out.u");
    }

    private static double[] course(int ticks, String type, String... settings) {
        return Stepper.of(source(type, settings)).course("out", ticks);
    }

    @Test
    void aConstantStays() {
        assertThat(course(3, "constant", "value=24 V")).containsExactly(24, 24, 24);
        assertThat(course(2, "constant", "value=7", "type=int32")).containsExactly(7, 7);
        assertThat(course(2, "constant", "value=on", "type=bool")).containsExactly(1, 1);
    }

    @Test
    void aTunableChangesWhileRunning() {
        var s = Stepper.of(source("tunable", "value=2", "low=0", "high=5"));
        assertThat(s.step().out("out")).isEqualTo(2);
        assertThat(s.advance().tune("source", 4).step().out("out")).isEqualTo(4);
    }

    @Test
    void theLimitsOfATunableAreKnown() {
        var t = source("tunable", "value=2", "low=-1", "high=5", "unit=A").program().tunable("source").orElseThrow();
        assertThat(t.minimum()).isEqualTo(-1);
        assertThat(t.maximum()).isEqualTo(5);
        assertThat(t.slot().unit()).isEqualTo("A");
    }

    @Test
    void aStepHappensAtItsInstantAndNotASampleLater() {
        assertThat(course(6, "step", "at=3 ms", "before=-1", "after=2")).containsExactly(-1, -1, -1, 2, 2, 2);
    }

    @Test
    void roundingOfTickTimesDoesNotShiftAStep() {
        // 0.3 s is not exactly 300 times 1 ms in floating point.
        double[] y = course(302, "step", "at=0.3 s", "before=0", "after=1");
        assertThat(y[299]).isZero();
        assertThat(y[300]).isEqualTo(1);
    }

    @Test
    void aPulseTrainHasPeriodShareAndDelay() {
        assertThat(course(10, "pulse", "period=4 ms", "share=0.5", "amplitude=3", "delay=2 ms"))
                .containsExactly(0, 0, 3, 3, 0, 0, 3, 3, 0, 0);
    }

    @Test
    void aPulseTrainKeepsItsPeriodForLong() {
        double[] y = course(10_000, "pulse", "period=10 ms", "share=0.3");
        for (int k = 0; k < y.length; k++) {
            assertThat(y[k]).as("sample %d", k).isEqualTo(k % 10 < 3 ? 1 : 0);
        }
    }

    @Test
    void aSineIsASine() {
        double[] y = course(100, "sine", "amplitude=3", "frequency=20 Hz", "phase=0.5", "bias=1");
        for (int k = 0; k < y.length; k++) {
            assertThat(y[k]).isCloseTo(3 * Math.sin(2 * Math.PI * 20 * k * 1e-3 + 0.5) + 1, within(1e-12));
        }
    }

    @Test
    void aCounterWrapsStopsAndResets() {
        assertThat(course(7, "counter", "limit=3")).containsExactly(0, 1, 2, 0, 1, 2, 0);
        var s = Stepper.of(new PartBuilder("c").block("go", "inlet", "type=bool").block("reset", "inlet", "type=bool")
                .block("n", "counter", "limit=100").block("out", "outlet").wire("go.y", "n.go").wire("reset.y", "n.reset")
                .wire("n.y", "out.u"));
        assertThat(s.course("go", "out", 1, 1, 0, 0, 1)).containsExactly(0, 1, 2, 2, 2);
        assertThat(s.set("go", 1).course("reset", "out", 0, 1, 0)).containsExactly(3, 4, 0);
    }
}
