package boldanvil.core.linear;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import org.hipparchus.complex.Complex;
import org.junit.jupiter.api.Test;

/** Margins and root loci against closed forms. */
class MarginsTest {
    private static Margins margins(StateSpace s) {
        var r = new Response(s);
        return Margins.of(r::at, Frequencies.of(s));
    }

    /** K / (s (s + 1) (s + 2)): Routh's limit is K = 6, at ω = √2. */
    @Test
    void theGainMarginIsRouthsLimit() {
        var s = StateSpace.transfer(new double[] {1.5}, new double[] {1, 3, 2, 0}, 0);
        var up = margins(s).up().orElseThrow();
        assertThat(up.value()).isCloseTo(4, within(1e-9));
        assertThat(up.omega()).isCloseTo(Math.sqrt(2), within(1e-9));
        assertThat(margins(s).down()).isEmpty();
        var limit = RootLocus.of(s, 1e-3, 1e3, 200).limits().getFirst();
        assertThat(limit.gain()).isCloseTo(4, within(1e-9));
        assertThat(Math.abs(limit.pole().getImaginaryPart())).isCloseTo(Math.sqrt(2), within(1e-6));
    }

    /** ω² / (s (s + 2 d ω)): the phase margin is atan(2 d / √(√(1 + 4 d⁴) − 2 d²)). */
    @Test
    void thePhaseMarginFollowsFromTheDamping() {
        for (double d : new double[] {0.1, 0.3, 0.5, 0.707, 1}) {
            var s = StateSpace.transfer(new double[] {100}, new double[] {1, 20 * d, 0}, 0);
            double root = Math.sqrt(Math.sqrt(1 + 4 * Math.pow(d, 4)) - 2 * d * d);
            var phase = margins(s).phase().orElseThrow();
            assertThat(phase.value()).isCloseTo(Math.atan(2 * d / root), within(1e-9));
            assertThat(phase.omega()).isCloseTo(10 * root, within(1e-8));
        }
    }

    /** K / s with a delay is stable up to K T = π / 2, without an approximation of the delay. */
    @Test
    void theDelayMarginNeedsNoRationalDelay() {
        var m = margins(StateSpace.transfer(new double[] {20}, new double[] {1, 0}, 0));
        assertThat(m.delay().orElseThrow().value()).isCloseTo(Math.PI / 2 / 20, within(1e-12));
        // With that delay the response itself has a phase margin of zero.
        double t = Math.PI / 2 / 20;
        var delayed = Margins.of(w -> new Complex(0, -20 / w).multiply(new Complex(0, -w * t).exp()), Frequencies.between(0.1, 70, 300));
        assertThat(delayed.phase().orElseThrow().value()).isCloseTo(0, within(1e-9));
    }

    /** An unstable plant k / (s − 1) needs a gain above 1: a margin downwards. */
    @Test
    void anUnstablePlantHasAMarginDownwards() {
        var m = Margins.of(w -> new Complex(4, 0).divide(new Complex(-1, w)), Frequencies.between(1e-9, 100, 400));
        assertThat(m.up()).isEmpty();
        var s = StateSpace.transfer(new double[] {4}, new double[] {1, 2, -3}, 0);
        // 4 / ((s − 1)(s + 3)) at rest is −4/3.
        assertThat(margins(s).phase()).isPresent();
        assertThat(s.closed().isStable()).isTrue();
    }

    /** 1 / (s (s + 1)): the sensitivity's peak against its own derivative. */
    @Test
    void thePeakOfTheSensitivityIsAnExtremum() {
        var s = StateSpace.transfer(new double[] {1}, new double[] {1, 1, 0}, 0);
        var peak = margins(s).peak();
        var r = new Response(s.sensitivity());
        assertThat(r.at(peak.omega()).norm()).isCloseTo(peak.value(), within(1e-9));
        for (double by : new double[] {0.99, 1.01}) {
            assertThat(r.at(peak.omega() * by).norm()).isLessThan(peak.value());
        }
        // |S|² = x (x + 1) / (x² − x + 1), x = ω²: largest at x = (1 + √3) / 2.
        assertThat(peak.omega() * peak.omega()).isCloseTo((1 + Math.sqrt(3)) / 2, within(1e-5));
    }

    /** K / (s (s + 2) (s + 4)) breaks away at −2 + 2/√3 with K = 16 / (3 √3). */
    @Test
    void breakPointsAreWhereTheGainIsExtreme() {
        var locus = RootLocus.of(StateSpace.transfer(new double[] {1}, new double[] {1, 6, 8, 0}, 0), 1e-3, 1e3, 150);
        var b = locus.breaks().stream().min(java.util.Comparator.comparingDouble(RootLocus.Mark::gain)).orElseThrow();
        assertThat(b.pole().getRealPart()).isCloseTo(-2 + 2 / Math.sqrt(3), within(1e-6));
        assertThat(b.gain()).isCloseTo(16 / (3 * Math.sqrt(3)), within(1e-6));
        assertThat(locus.branches()).hasNumberOfRows(3);
    }

    /** K (z + 1) T²/2 over (z − 1)² is never stable; with a zero at 0.5 it is up to where the far pole passes −1. */
    @Test
    void aSampledLocusKnowsTheUnitCircle() {
        var s = StateSpace.transfer(new double[] {1, -0.5}, new double[] {1, -2, 1}, 0.1);
        var limits = RootLocus.of(s, 1e-3, 1e3, 200).limits();
        // z² + (K − 2) z + 1 − K/2 at z = −1: 1 − K + 2 + 1 − K/2 = 0.
        var last = limits.getLast();
        assertThat(last.gain()).isCloseTo(8.0 / 3, within(1e-9));
        assertThat(last.pole().getRealPart()).isCloseTo(-1, within(1e-6));
        var r = new Response(s);
        assertThat(Margins.of(r::at, Frequencies.of(s)).up().orElseThrow().value()).isCloseTo(8.0 / 3, within(1e-6));
    }

    @Test
    void branchesAreUnbroken() {
        var locus = RootLocus.of(StateSpace.transfer(new double[] {1, 2, 5}, new double[] {1, 6, 11, 6, 0}, 0), 1e-3, 1e3, 400);
        for (Complex[] branch : locus.branches()) {
            for (int i = 1; i < branch.length; i++) {
                assertThat(branch[i].subtract(branch[i - 1]).norm()).isLessThan(0.5 + 0.1 * branch[i].norm());
            }
        }
    }

    /** Three integrators: the phase begins at −270°, and runs on without jumps. */
    @Test
    void thePhaseRunsOnWithoutJumps() {
        var s = StateSpace.transfer(new double[] {1}, new double[] {1, 1, 0, 0, 0}, 0);
        var b = Bode.of(new Response(s)::at, Frequencies.between(1e-3, 1e3, 200));
        assertThat(Math.toDegrees(b.phase()[0])).isCloseTo(-270, within(0.1));
        assertThat(Math.toDegrees(b.phase()[199])).isCloseTo(-360, within(0.1));
        assertThat(Bode.decibels(b.magnitude()[0])).isCloseTo(180, within(1e-3));
    }
}
