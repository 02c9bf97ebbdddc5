package boldanvil.core.runs;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.samples.RunData;
import boldanvil.core.samples.Series;
import java.util.List;
import java.util.Map;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.Size;
import org.junit.jupiter.api.Test;

class ComparisonTest {
    private static RunData run(double... values) {
        double[] times = new double[values.length];
        for (int i = 0; i < times.length; i++) {
            times[i] = i * 0.1;
        }
        return new RunData(List.of(new Series("x", "m", times, values)));
    }

    private static Comparison.Row row(RunData a, RunData b, double tolerance) {
        return Comparison.of(a, b, Map.of("*", tolerance)).rows().getFirst();
    }

    @Test
    void equalRunsDoNotDeviate() {
        var c = Comparison.of(run(1, 2, 3), run(1, 2, 3), Map.of());
        assertThat(c.passes()).isTrue();
        assertThat(c.rows().getFirst().largest()).isZero();
        assertThat(c.rows().getFirst().rms()).isZero();
    }

    @Test
    void theLargestDeviationAndItsInstant() {
        var r = row(run(1, 2, 3, 4), run(1, 2.5, 1, 4), 0);
        assertThat(r.largest()).isEqualTo(2);
        assertThat(r.largestAt()).isEqualTo(0.2);
        assertThat(r.rms()).isCloseTo(Math.sqrt((0.25 + 4) / 4), within(1e-15));
        assertThat(r.compared()).isEqualTo(4);
    }

    @Test
    void theFirstInstantBeyondTheTolerance() {
        assertThat(row(run(0, 0, 0), run(0.1, 0.2, 0.9), 0.15).beyond()).hasValue(0.1);
        assertThat(row(run(0, 0, 0), run(0.1, 0.2, 0.9), 1).beyond()).isEmpty();
    }

    @Test
    void aTapCanHaveItsOwnTolerance() {
        assertThat(Comparison.of(run(0), run(1), Map.of("*", 0.0, "x", 2.0)).passes()).isTrue();
        assertThat(Comparison.of(run(0), run(1), Map.of("*", 2.0, "x", 0.5)).passes()).isFalse();
    }

    @Test
    void aMissingTapFails() {
        var other = new RunData(List.of(new Series("y", "", new double[] {0}, new double[] {1})));
        var c = Comparison.of(run(1), other, Map.of("*", 9.0));
        assertThat(c.passes()).isFalse();
        assertThat(c.onlyInFirst()).containsExactly("x");
        assertThat(c.onlyInSecond()).containsExactly("y");
    }

    @Test
    void otherInstantsAreTakenOnStraightLines() {
        var coarse = new RunData(List.of(new Series("x", "m", new double[] {0, 0.2}, new double[] {0, 2})));
        assertThat(row(run(0, 1, 2), coarse, 1e-12).within()).isTrue();
    }

    @Test
    void onlyTheCommonSpanIsCompared() {
        assertThat(row(run(1, 2, 3, 4, 5), run(1, 2, 3), 0).compared()).isEqualTo(3);
    }

    @Test
    void whatIsNoNumberInOneRunOnlyIsADeviation() {
        assertThat(row(run(1, Double.NaN), run(1, 2), 1e9).within()).isFalse();
        assertThat(row(run(1, Double.NaN), run(1, Double.NaN), 0).within()).isTrue();
        assertThat(row(run(Double.POSITIVE_INFINITY), run(Double.POSITIVE_INFINITY), 0).within()).isTrue();
    }

    @Test
    void runsThatNeverMeetDoNotPass() {
        var late = new RunData(List.of(new Series("x", "m", new double[] {9}, new double[] {1})));
        assertThat(Comparison.of(run(1), late, Map.of("*", 9.0)).passes()).isFalse();
    }

    @Property(tries = 50)
    void comparingIsSymmetricInSize(@ForAll @Size(5) double[] a, @ForAll @Size(5) double[] b) {
        var there = row(run(a), run(b), 0);
        var back = row(run(b), run(a), 0);
        assertThat(there.largest()).isEqualTo(back.largest());
        assertThat(there.beyond()).isEqualTo(back.beyond());
    }
}
