package boldanvil.core.target;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.Mapping;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Edges of PWM, and what a capture makes of them. */
class CaptureTest {
    private static final double STAMP = 10e-9;

    private record Edge(double at, boolean high) {}

    private static List<Edge> edges(Carrier c, double from, double to) {
        List<Edge> all = new ArrayList<>();
        c.edges(from, to, (at, high) -> all.add(new Edge(at, high)));
        return all;
    }

    @Test
    void aNewDutyCycleTakesEffectWithTheNextPeriod() {
        var c = new Carrier(10_000, false);
        c.set(0.25, 30e-6);
        var all = edges(c, 0, 250e-6);
        assertThat(all).extracting(Edge::high).containsExactly(true, false, true, false);
        assertThat(all.stream().mapToDouble(Edge::at).toArray()).containsExactly(new double[] {100e-6, 125e-6, 200e-6, 225e-6},
                within(1e-12));
    }

    @Test
    void whatIsSetLaterDoesNotChangeWhatWas() {
        var c = new Carrier(10_000, false);
        c.set(0.25, 0);
        c.set(0.5, 120e-6);
        c.set(0.75, 150e-6);
        c.set(1, 210e-6);
        assertThat(edges(c, 0, 320e-6).stream().mapToDouble(Edge::at).toArray()).containsExactly(new double[] {100e-6, 125e-6, 200e-6,
            275e-6, 300e-6}, within(1e-12));
    }

    @Test
    void aCentredPulseLiesAboutTheBeginningOfItsPeriod() {
        var c = new Carrier(10_000, true);
        c.set(0.4, 0);
        var all = edges(c, 0, 250e-6);
        // The first update is at 50 µs, in the middle of the first period.
        assertThat(all.stream().mapToDouble(Edge::at).toArray()).containsExactly(new double[] {80e-6, 120e-6, 180e-6, 220e-6},
                within(1e-12));
    }

    @Test
    void aPinThatStandsHasNoEdges() {
        for (boolean centred : new boolean[] {false, true}) {
            var c = new Carrier(20_000, centred);
            c.set(1, 0);
            assertThat(edges(c, 0, 1e-3)).hasSize(1);
            c.set(0, 1e-3);
            assertThat(edges(c, 1e-3, 2e-3)).hasSize(1);
            assertThat(c.isHigh()).isFalse();
        }
    }

    @Test
    void everyDutyCycleIsCapturedToTheResolutionOfTheStamps() {
        var random = new Random(17);
        for (int i = 0; i < 2_000; i++) {
            double hertz = 2_000 + 38_000 * random.nextDouble();
            double duty = 0.01 + 0.98 * random.nextDouble();
            boolean centred = random.nextBoolean();
            double step = 20e-6 + 80e-6 * random.nextDouble();
            var carrier = new Carrier(hertz, centred);
            var capture = new Capture(carrier, STAMP, Mapping.Mean.PERIOD);
            capture.set(duty, 0);
            double got = 0;
            for (int k = 1; k * step < 6 / hertz + 2 * step; k++) {
                got = capture.take((k - 1) * step, k * step);
            }
            // Both edges of a pulse, and the length of its period, are known to a stamp.
            double seconds = got / hertz;
            assertThat(seconds).as("%s at %s Hz", duty, hertz).isCloseTo(duty / hertz, within(1.0001 * STAMP * (1 + duty)));
        }
    }

    @Test
    void meansOfStepsAddUpToTheTimeThePinWasHigh() {
        var random = new Random(5);
        for (int i = 0; i < 300; i++) {
            double hertz = 3_000 + 30_000 * random.nextDouble();
            double step = 20e-6;
            boolean centred = random.nextBoolean();
            var capture = new Capture(new Carrier(hertz, centred), STAMP, Mapping.Mean.STEP);
            var exact = new Carrier(hertz, centred);
            double captured = 0;
            double[] last = {0};
            double[] high = {0};
            int edges = 0;
            for (int k = 1; k <= 500; k++) {
                double from = (k - 1) * step;
                double mean = capture.take(from, k * step);
                assertThat(mean).isBetween(0.0, 1.0);
                captured += mean * step;
                var seen = edges(exact, from, k * step);
                edges += seen.size();
                seen.forEach(e -> {
                    high[0] += e.high() ? 0 : e.at() - last[0];
                    last[0] = e.at();
                });
                if (k % 7 == 0) {
                    double duty = random.nextDouble();
                    capture.set(duty, k * step);
                    exact.set(duty, k * step);
                }
            }
            high[0] += exact.isHigh() ? 500 * step - last[0] : 0;
            assertThat(captured).isCloseTo(high[0], within(edges * STAMP));
            // Stamps are early by half their resolution in the mean, at both edges alike: no error adds up.
            assertThat(captured).isCloseTo(high[0], within(6 * STAMP * Math.sqrt(edges)));
        }
    }

    @Test
    void aPinThatStandsHasItsLevelAsItsDutyCycle() {
        var capture = new Capture(new Carrier(10_000, false), STAMP, Mapping.Mean.PERIOD);
        double[] wanted = {0.5, 1, 0};
        double t = 0;
        for (double duty : wanted) {
            capture.set(duty, t);
            double got = Double.NaN;
            for (int k = 0; k < 10; k++) {
                got = capture.take(t, t + 100e-6);
                t += 100e-6;
            }
            assertThat(got).isCloseTo(duty, within(2 * STAMP / 100e-6));
        }
    }

    @Test
    void theFirstEdgeOfAStepIsKnown() {
        var capture = new Capture(new Carrier(10_000, false), STAMP, Mapping.Mean.STEP);
        capture.set(0.3, 0);
        assertThat(capture.take(0, 50e-6)).isZero();
        assertThat(capture.firstEdge()).isNaN();
        assertThat(capture.take(50e-6, 120e-6)).isCloseTo(20.0 / 70, within(1e-9));
        assertThat(capture.firstEdge()).isCloseTo(100e-6, within(1e-12));
    }
}
