package boldanvil.core.measure;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.samples.Series;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.DoubleRange;
import net.jqwik.api.constraints.IntRange;
import org.junit.jupiter.api.Test;

/** Harmonics do not depend on how many periods, or parts of one, were recorded. */
class HarmonicsLawsTest {
    private static final double RATE = 20_000;

    private static Series signal(double seconds, double hertz, double phase, double mean, double... amplitudes) {
        int n = (int) (seconds * RATE);
        double[] t = new double[n];
        double[] v = new double[n];
        for (int i = 0; i < n; i++) {
            t[i] = i / RATE;
            v[i] = mean;
            for (int k = 0; k < amplitudes.length; k++) {
                v[i] += amplitudes[k] * Math.sin(2 * Math.PI * hertz * (k + 1) * t[i] + phase * (k + 1));
            }
        }
        return new Series("x", "", t, v);
    }

    @Property(tries = 40)
    void aPureSineHasNone(@ForAll @DoubleRange(min = 0.05, max = 0.2) double seconds,
            @ForAll @DoubleRange(min = 45, max = 400) double hertz, @ForAll @DoubleRange(min = 0, max = 6) double phase,
            @ForAll @DoubleRange(min = -5, max = 5) double mean) {
        Series s = signal(seconds, hertz, phase, mean, 3);
        assertThat(Spectrum.distortion(s, hertz, 40)).isLessThan(1e-6);
        assertThat(Spectrum.harmonics(s, hertz, 3)[0]).isCloseTo(3, within(1e-6));
    }

    @Property(tries = 40)
    void harmonicsAreThoseThatWereAdded(@ForAll @DoubleRange(min = 0.05, max = 0.15) double seconds,
            @ForAll @DoubleRange(min = 50, max = 300) double hertz, @ForAll @IntRange(min = 2, max = 7) int order,
            @ForAll @DoubleRange(min = 0.01, max = 1) double amplitude) {
        double[] amplitudes = new double[order];
        amplitudes[0] = 10;
        amplitudes[order - 1] = amplitude;
        Series s = signal(seconds, hertz, 0.4, 1, amplitudes);
        double[] found = Spectrum.harmonics(s, hertz, 8);
        for (int k = 0; k < found.length; k++) {
            assertThat(found[k]).as("harmonic %d", k + 1).isCloseTo(k < order ? amplitudes[k] : 0, within(1e-6));
        }
        assertThat(Spectrum.distortion(s, hertz, 40)).isCloseTo(amplitude / 10, within(1e-6));
    }

    @Test
    void aSquareWaveHasTheDistortionOfItsSeries() {
        double[] odd = new double[39];
        double sum = 0;
        for (int k = 1; k <= 39; k += 2) {
            odd[k - 1] = 4 / (Math.PI * k);
            sum += k == 1 ? 0 : odd[k - 1] * odd[k - 1];
        }
        assertThat(Spectrum.distortion(signal(0.0567, 50, 0, 0, odd), 50, 40)).isCloseTo(Math.sqrt(sum) / odd[0], within(1e-6));
    }
}
