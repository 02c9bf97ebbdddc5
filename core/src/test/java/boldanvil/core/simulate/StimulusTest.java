package boldanvil.core.simulate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class StimulusTest {
    @Test
    void aStepIsThereAtOnceAndAlternatesWhenItRepeats() {
        var once = Stimulus.step(1, 3, 2, false);
        assertThat(once.at(0)).isEqualTo(3);
        assertThat(once.at(50)).isEqualTo(3);
        assertThat(once.isOver(1.9)).isFalse();
        assertThat(once.isOver(2)).isTrue();
        var square = Stimulus.step(1, 3, 2, true);
        assertThat(square.at(0.9)).isEqualTo(3);
        assertThat(square.at(1.1)).isEqualTo(1);
        assertThat(square.at(2.1)).isEqualTo(3);
        assertThat(square.isOver(1e9)).isFalse();
    }

    @Test
    void aRampIsStraightAndStaysAtItsEnd() {
        var r = Stimulus.ramp(-1, 3, 2, false);
        assertThat(r.at(0.5)).isEqualTo(0);
        assertThat(r.at(2)).isEqualTo(3);
        assertThat(r.at(7)).isEqualTo(3);
    }

    @ParameterizedTest
    @CsvSource({"0,0", "0.125,1", "0.25,0", "0.375,-1"})
    void aSineSwingsAroundItsMiddle(double t, double share) {
        assertThat(Stimulus.sine(5, 2, 2, 10).at(t)).isCloseTo(5 + 2 * share, within(1e-12));
    }

    /** The frequency found from the phase at two near instants follows the exponential law. */
    @ParameterizedTest
    @CsvSource({"0.5", "3", "9.5"})
    void aChirpHasItsFrequencyAtEachInstant(double t) {
        var c = Stimulus.chirp(0, 1, 1, 100, 10);
        double d = 1e-6;
        double slope = (Math.asin(c.at(t + d)) - Math.asin(c.at(t))) / d;
        assertThat(Math.abs(slope) / (2 * Math.PI)).isCloseTo(Math.pow(100, t / 10), within(0.05 * Math.pow(100, t / 10)));
    }

    @Test
    void aStaircaseHasItsTreads() {
        var s = Stimulus.staircase(0, 10, 5, 6, false);
        for (int i = 0; i <= 5; i++) {
            assertThat(s.at(i + 0.5)).isEqualTo(2.0 * i);
        }
    }

    @Test
    void aPlaybackHoldsEachValueUntilTheNext() {
        var p = Stimulus.playback(new double[] {10, 11, 13}, new double[] {4, 5, 6}, false);
        assertThat(p.at(0)).isEqualTo(4);
        assertThat(p.at(0.99)).isEqualTo(4);
        assertThat(p.at(1)).isEqualTo(5);
        assertThat(p.at(3)).isEqualTo(6);
        assertThat(p.seconds()).isEqualTo(3);
        assertThat(Stimulus.playback(new double[] {0, 1}, new double[] {1, 2}, true).at(2.5)).isEqualTo(1);
    }

    @Test
    void whatCannotBePlayedIsRefused() {
        assertThatThrownBy(() -> Stimulus.ramp(0, 1, 0, false)).hasMessageContaining("duration");
        assertThatThrownBy(() -> Stimulus.sine(0, 1, -1, 1)).hasMessageContaining("sine needs frequencies");
        assertThatThrownBy(() -> Stimulus.chirp(0, 1, 1, 0, 1)).hasMessageContaining("chirp");
        assertThatThrownBy(() -> Stimulus.staircase(0, 1, 0, 1, false)).hasMessageContaining("staircase");
        assertThatThrownBy(() -> Stimulus.playback(new double[0], new double[0], false)).hasMessageContaining("samples");
        assertThatThrownBy(() -> Stimulus.step(Double.NaN, 1, 1, false)).hasMessageContaining("two values");
    }

    @Test
    void timesAreCountedInClassesThatHoldThem() {
        var times = new ExecutionTimes();
        for (double nanos : new double[] {5, 100, 100, 1e4, 1e12}) {
            times.add(nanos);
        }
        assertThat(java.util.Arrays.stream(times.counts()).sum()).isEqualTo(5);
        assertThat(times.longest()).isEqualTo(1_000);
        assertThat(times.mean()).isCloseTo((5 + 200 + 1e4 + 1e12) / 5e9, within(1e-9));
        for (int c = 0; c < ExecutionTimes.CLASSES; c++) {
            if (times.counts()[c] == 2) {
                assertThat(ExecutionTimes.lowerEnd(c)).isLessThanOrEqualTo(100e-9);
                assertThat(ExecutionTimes.lowerEnd(c + 1)).isGreaterThan(100e-9);
            }
        }
        times.clear();
        assertThat(times.mean()).isZero();
    }
}
