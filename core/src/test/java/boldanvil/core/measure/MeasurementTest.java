package boldanvil.core.measure;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.samples.Series;
import java.util.function.DoubleUnaryOperator;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Statistics, spectra, triggers and lines against signals whose numbers are known. */
class MeasurementTest {
    private static Series signal(double seconds, double dt, DoubleUnaryOperator f) {
        return StepMetricsTest.sampled(seconds, dt, f);
    }

    private static double square(double t, double hertz, double duty) {
        double phase = t * hertz + 1e-9;
        return phase - Math.floor(phase) < duty ? 1 : 0;
    }

    @Test
    void aSineHasItsMeanRmsAndFrequency() {
        var m = Measurement.of(signal(1, 1e-4, t -> 3 + 2 * Math.sin(2 * Math.PI * 50 * t)));
        assertThat(m.mean()).isCloseTo(3, within(1e-6));
        assertThat(m.rms()).isCloseTo(Math.sqrt(9 + 2), within(1e-3));
        assertThat(m.rippleRms()).isCloseTo(Math.sqrt(2), within(1e-3));
        assertThat(m.peakToPeak()).isCloseTo(4, within(1e-6));
        assertThat(m.frequency()).isCloseTo(50, within(1e-3));
        assertThat(m.duty()).isCloseTo(0.5, within(1e-4));
        assertThat(m.seconds()).isCloseTo(1, within(1e-9));
    }

    @ParameterizedTest
    @ValueSource(doubles = {0.1, 0.35, 0.9})
    void aPulseTrainHasItsDutyCycle(double duty) {
        var m = Measurement.of(signal(0.1, 1e-6, t -> 24 * square(t, 1_000, duty)));
        assertThat(m.frequency()).isCloseTo(1_000, within(0.5));
        assertThat(m.duty()).isCloseTo(duty, within(2e-3));
    }

    @Test
    void theMeanDoesNotDependOnWhereSamplesLie() {
        // A straight line from 0 to 10, sampled densely at its beginning only.
        var s = new Series("x", "", new double[] {0, 0.1, 0.2, 0.3, 10}, new double[] {0, 0.1, 0.2, 0.3, 10});
        assertThat(Measurement.of(s).mean()).isCloseTo(5, within(1e-12));
        assertThat(Measurement.of(s).rms()).isCloseTo(10 / Math.sqrt(3), within(1e-12));
    }

    @Test
    void whatCannotBeMeasuredIsNoNumber() {
        assertThat(Measurement.of(new Series("x", "", new double[0], new double[0]))).isEqualTo(Measurement.NONE);
        var flat = Measurement.of(signal(1, 0.1, _ -> 4));
        assertThat(flat.mean()).isEqualTo(4);
        assertThat(flat.frequency()).isNaN();
        assertThat(Measurement.of(new Series("x", "", new double[] {1, 2}, new double[] {Double.NaN, 6})).mean()).isEqualTo(6);
    }

    @Test
    void theMeanOverASwitchingPeriodIsFlat() {
        var s = signal(0.02, 1e-6, t -> 2 + (t * 10_000 + 1e-9) % 1);
        var mean = Measurement.meanOver(s, 1e-4);
        assertThat(mean.times()[0]).isCloseTo(1e-4, within(1e-6));
        for (double v : mean.values()) {
            assertThat(v).isCloseTo(2.5, within(0.02));
        }
        assertThatThrownBy(() -> Measurement.meanOver(s, 0)).isInstanceOf(IllegalArgumentException.class);
    }

    @ParameterizedTest
    @ValueSource(strings = {"HANN", "BLACKMAN_HARRIS", "FLAT_TOP"})
    void aSpectrumShowsEachSineWithItsAmplitude(String window) {
        var s = signal(1, 1e-4, t -> 1.5 + 3 * Math.sin(2 * Math.PI * 123.4 * t) + 0.2 * Math.cos(2 * Math.PI * 700 * t));
        var spectrum = Spectrum.of(s, Spectrum.Window.valueOf(window));
        assertThat(spectrum.strongest()).isCloseTo(123.4, within(0.7));
        assertThat(near(spectrum, 123.4)).isCloseTo(3, within(0.02));
        assertThat(near(spectrum, 700)).isCloseTo(0.2, within(0.01));
        assertThat(near(spectrum, 2_000)).isLessThan(1e-3);
        assertThat(spectrum.amplitudes()[0]).isCloseTo(1.5, within(1e-2));
    }

    private static double near(Spectrum s, double hertz) {
        double best = 0;
        for (int i = 1; i < s.frequencies().length; i++) {
            best = Math.abs(s.frequencies()[i] - hertz) < 5 ? Math.max(best, s.amplitudes()[i]) : best;
        }
        return best;
    }

    @Test
    void distortionIsThatOfTheFourierSeries() {
        // A triangle has harmonics 1/k² for odd k (Bronstein, table of Fourier series).
        var triangle = signal(1, 1e-5, t -> 2 / Math.PI * Math.asin(Math.sin(2 * Math.PI * 50 * t)));
        double sum = 0;
        for (int k = 3; k <= 39; k += 2) {
            sum += Math.pow(k, -4);
        }
        assertThat(Spectrum.distortion(triangle, 50, 40)).isCloseTo(Math.sqrt(sum), within(1e-5));
        assertThat(Spectrum.amplitude(triangle, 50)).isCloseTo(8 / (Math.PI * Math.PI), within(1e-5));
        assertThat(Spectrum.distortion(signal(1, 1e-4, t -> Math.sin(2 * Math.PI * 50 * t)), 50, 40)).isLessThan(1e-9);
    }

    @Test
    void aPureSineHasNoDistortionWhateverTheSpan() {
        for (double span : new double[] {0.0567, 0.0213, 0.1, 0.0999}) {
            for (double dt : new double[] {1e-4, 1.37e-4}) {
                assertThat(Spectrum.distortion(signal(span, dt, t -> 3 + 2 * Math.sin(2 * Math.PI * 50 * t + 0.3)), 50, 40))
                        .as("%s s by %s s", span, dt).isLessThan(1e-6);
            }
        }
        var third = signal(0.0567, 1e-4, t -> Math.sin(2 * Math.PI * 50 * t) + 0.1 * Math.cos(2 * Math.PI * 150 * t));
        assertThat(Spectrum.distortion(third, 50, 40)).isCloseTo(0.1, within(1e-9));
    }

    @Test
    void aHistogramCountsEveryNumberOnce() {
        var h = Histogram.of(new double[] {0, 1, 1, 2, 3, 4, Double.NaN, 10}, 5);
        assertThat(h.counts()).containsExactly(3, 2, 1, 0, 1);
        assertThat(h.total()).isEqualTo(7);
        assertThat(h.width()).isEqualTo(2);
        assertThat(Histogram.of(new double[] {7, 7}, 3).total()).isEqualTo(2);
        assertThat(Histogram.of(new double[0], 3).total()).isZero();
    }

    @Test
    void anEdgeIsWhereTheLineBetweenSamplesCrosses() {
        var edges = Edge.find(signal(1, 0.01, t -> Math.sin(2 * Math.PI * 2 * t + 0.1)), 0.5, 0.05);
        assertThat(edges).hasSize(4);
        assertThat(edges.getFirst().rising()).isTrue();
        assertThat(edges.getFirst().seconds()).isCloseTo((Math.asin(0.5) - 0.1) / (4 * Math.PI), within(1e-4));
        assertThat(edges.get(1).seconds()).isCloseTo((Math.PI - Math.asin(0.5) - 0.1) / (4 * Math.PI), within(1e-4));
    }

    @Test
    void noiseSmallerThanTheHysteresisMakesNoEdges() {
        var random = new java.util.Random(3);
        var noisy = signal(1, 1e-3, t -> t + 0.02 * (random.nextDouble() - 0.5));
        assertThat(Edge.find(noisy, 0.5, 0.03)).hasSize(1);
        assertThat(Edge.find(noisy, 0.5, 0)).hasSizeGreaterThan(1);
        assertThat(Edge.nearest(signal(1, 1e-3, t -> square(t, 5, 0.5)), 0.31).orElseThrow()).isCloseTo(0.3, within(2e-3));
        assertThat(Edge.nearest(signal(1, 0.1, _ -> 1), 0.5)).isEmpty();
    }

    @Test
    void triggersFindWhatTheyAreSetTo() {
        var s = signal(2, 1e-3, t -> t < 1 ? square(t, 5, 0.5) : square(t, 5, 0.1));
        assertThat(Trigger.edge(Trigger.Kind.RISING, 0.5, 0.1).first(s, 0.25).orElseThrow()).isCloseTo(0.4, within(2e-3));
        assertThat(Trigger.edge(Trigger.Kind.FALLING, 0.5, 0.1).first(s, 0.25).orElseThrow()).isCloseTo(0.3, within(2e-3));
        assertThat(Trigger.edge(Trigger.Kind.EITHER, 0.5, 0.1).first(s, 0.35).orElseThrow()).isCloseTo(0.4, within(2e-3));
        assertThat(Trigger.edge(Trigger.Kind.ABOVE, 0.5, 0).first(s, 0.15).orElseThrow()).isCloseTo(0.2, within(2e-3));
        assertThat(Trigger.edge(Trigger.Kind.BELOW, 0.5, 0).first(s, 0.05).orElseThrow()).isCloseTo(0.1, within(2e-3));
        assertThat(Trigger.edge(Trigger.Kind.CHANGE, 0, 0).first(s, 0.15).orElseThrow()).isCloseTo(0.2, within(2e-3));
        assertThat(new Trigger(Trigger.Kind.PULSE, 0.5, 0.1, 0, 0.05).first(s, 0).orElseThrow()).isCloseTo(1.02, within(3e-3));
        assertThat(Trigger.edge(Trigger.Kind.RISING, 5, 0).first(s, 0)).isEmpty();
    }

    @Test
    void pulseWidthModulationIsReadFromItsLine() {
        var pwm = Lines.pwm(signal(0.01, 1e-6, t -> square(t, 2_000, 0.3))).orElseThrow();
        assertThat(pwm.hertz()).isCloseTo(2_000, within(1.0));
        assertThat(pwm.duty()).isCloseTo(0.3, within(2e-3));
        assertThat(pwm.periods()).isEqualTo(19);
        assertThat(Lines.pwm(signal(1, 0.1, _ -> 1))).isEmpty();
    }

    @Test
    void deadTimeIsTheShortestGapBetweenTwoLines() {
        var upper = signal(0.01, 1e-6, t -> square(t, 1_000, 0.5));
        var lower = signal(0.01, 1e-6, t -> {
            double p = t * 1_000 + 1e-9;
            double part = p - Math.floor(p);
            return part > 0.52 && part < 0.97 ? 1 : 0;
        });
        assertThat(Lines.deadTime(upper, lower)).isCloseTo(20e-6, within(2e-6));
        var through = signal(0.01, 1e-6, t -> square(t + 0.0005 + 10e-6, 1_000, 0.5));
        assertThat(Lines.deadTime(upper, through)).isNegative();
    }

    @Test
    void anEncoderIsCountedUpAndDown() {
        // 100 lines a turn: position in lines is 10 t forwards for 1 s, then back to half.
        DoubleUnaryOperator lines = t -> t < 1 ? 10 * t : 10 - 10 * (t - 1);
        var a = signal(1.5, 1e-4, t -> square(lines.applyAsDouble(t) + 0.125, 1, 0.5));
        var b = signal(1.5, 1e-4, t -> square(lines.applyAsDouble(t) + 0.125 - 0.25, 1, 0.5));
        var index = signal(1.5, 1e-4, t -> Math.abs(lines.applyAsDouble(t) - 8) < 0.1 ? 1 : 0);
        var e = Lines.encoder(a, b, java.util.Optional.of(index));
        assertThat(e.errors()).isZero();
        assertThat(Measurement.of(e.count()).greatest()).isCloseTo(40, within(1.0));
        assertThat(e.count().values()[e.count().size() - 1]).isCloseTo(20, within(1.0));
        assertThat(e.indices().getFirst()).isBetween(31L, 33L);
        var both = new Series("a", "", new double[] {0, 1}, new double[] {0, 1});
        assertThat(Lines.encoder(both, both, java.util.Optional.empty()).errors()).isEqualTo(1);
    }

    @ParameterizedTest
    @ValueSource(strings = {"NONE", "EVEN", "ODD"})
    void aSerialLineIsReadByteByByte(String parity) {
        var p = Lines.Parity.valueOf(parity);
        int[] sent = {0x55, 0x00, 0xFF, 'L', 0x80};
        java.util.List<Integer> bits = new java.util.ArrayList<>(java.util.List.of(1, 1, 1));
        for (int c : sent) {
            bits.add(0);
            for (int i = 0; i < 8; i++) {
                bits.add(c >> i & 1);
            }
            if (p != Lines.Parity.NONE) {
                bits.add(Integer.bitCount(c) % 2 == (p == Lines.Parity.EVEN ? 0 : 1) ? 0 : 1);
            }
            bits.add(1);
        }
        bits.addAll(java.util.List.of(1, 1, 1));
        double bit = 1 / 9_600.0;
        var line = signal(bits.size() * bit - 1e-6, 7e-6, t -> bits.get(Math.min(bits.size() - 1, (int) (t / bit))));
        var read = Lines.uart(line, 9_600, 8, p);
        assertThat(read).extracting(Lines.Character::value).containsExactly(0x55, 0x00, 0xFF, (int) 'L', 0x80);
        assertThat(read).allMatch(Lines.Character::framed).allMatch(Lines.Character::parity);
        assertThat(read.getFirst().start()).isCloseTo(3 * bit, within(1e-5));
        // The wrong speed is seen.
        assertThat(Lines.uart(line, 19_200, 8, p)).anyMatch(c -> !c.framed() || !c.parity() || c.value() != 0x55);
    }

    @ParameterizedTest
    @ValueSource(doubles = {-0.3, -0.0123, 0, 0.05, 0.4})
    void theBestFitFindsAKnownShift(double shift) {
        DoubleUnaryOperator f = t -> Math.exp(-20 * (t - 1) * (t - 1)) - 0.5 * Math.exp(-80 * (t - 1.6) * (t - 1.6));
        var first = signal(3, 1e-3, f);
        var second = signal(3, 1e-3, t -> f.applyAsDouble(t + shift));
        assertThat(Alignment.bestFit(first, second)).isCloseTo(shift, within(1e-4));
    }
}
