package boldanvil.core.samples;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.util.List;
import org.junit.jupiter.api.Test;

class SeriesTest {
    @Test
    void valuesBetweenSamplesLieOnTheLine() {
        var s = new Series("x", "", new double[] {0, 1, 3}, new double[] {0, 10, 30});
        assertThat(s.at(0.5)).isEqualTo(5);
        assertThat(s.at(2)).isEqualTo(20);
        assertThat(s.at(1)).isEqualTo(10);
        assertThat(s.at(-1)).isNaN();
        assertThat(s.at(4)).isNaN();
    }

    @Test
    void lengthsMustFit() {
        assertThatThrownBy(() -> new Series("x", "", new double[2], new double[3])).isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    void theEndOfARunIsItsLastInstant() {
        assertThat(new RunData(List.of(new Series("x", "", new double[] {0, 2}, new double[2]),
                new Series("y", "", new double[] {5}, new double[1]))).end()).isEqualTo(5);
        assertThat(new RunData(List.of()).end()).isZero();
    }

    private static SampleStore store(int n) {
        var s = new SampleStore(List.of(new Column("x", "m"), new Column("empty", "")));
        for (int i = 0; i < n; i++) {
            s.add(0, i * 0.001, Math.sin(i * 0.01));
        }
        return s;
    }

    @Test
    void aStoreGrowsAsItMust() {
        var s = store(10_000);
        assertThat(s.size(0)).isEqualTo(10_000);
        assertThat(s.tail(0, 9_998).times()).containsExactly(9.998, 9.999);
        assertThat(s.latest(0)).isEqualTo(Math.sin(9_999 * 0.01));
        assertThat(s.latest(1)).isNaN();
        assertThat(s.indexOf("empty")).isEqualTo(1);
        assertThat(s.indexOf("none")).isEqualTo(-1);
    }

    @Test
    void aStoreWithALimitGivesUpItsOldestSamples() {
        var s = new SampleStore(List.of(new Column("x", "")), 1_000);
        for (int i = 0; i < 5_000; i++) {
            s.add(0, i, -i);
        }
        assertThat(s.size(0)).isLessThanOrEqualTo(1_000);
        assertThat(s.latest(0)).isEqualTo(-4_999);
        assertThat(s.keptSince()).isPositive().isEqualTo(s.tail(0, 0).times()[0]);
        double[] t = s.tail(0, 0).times();
        for (int i = 1; i < t.length; i++) {
            assertThat(t[i]).isEqualTo(t[i - 1] + 1);
        }
        assertThat(store(100).keptSince()).isZero();
    }

    @Test
    void columnsOfOneTrackShareTheirInstants() {
        var columns = List.of(new Column("a", ""), new Column("slow", ""), new Column("b", ""));
        var s = new SampleStore(columns, List.of(new int[] {2, 0}, new int[] {1}), 40_000);
        for (int k = 0; k < 70_000; k++) {
            double v = k;
            s.add(0, k, (row, at) -> {
                row[at] = -v;
                row[at + 1] = v;
            });
        }
        s.add(1, 5, 7);
        assertThat(s.latest(0)).isEqualTo(69_999);
        assertThat(s.latest(2)).isEqualTo(-69_999);
        assertThat(s.size(0)).isEqualTo(s.size(2)).isBetween(30_000, 40_000);
        assertThat(s.valueAt(0, 69_000.5)).isEqualTo(69_000);
        assertThat(s.envelope(2, 60_000, 60_010, 1)).isEqualTo(new double[][] {{-60_010}, {-60_000}});
        var all = s.snapshot().series();
        assertThat(all.get(0).times()).isSameAs(all.get(2).times()).endsWith(69_998, 69_999).startsWith(s.keptSince());
        assertThat(all.get(0).values()).isEqualTo(all.get(0).times());
        assertThat(all.get(1).times()).containsExactly(5);
        assertThatThrownBy(() -> s.add(0, 1.0, 2.0)).isInstanceOf(IllegalArgumentException.class).hasMessageContaining("a shares");
    }

    @Test
    void theEnvelopeHoldsEveryExtreme() {
        var s = store(10_000);
        double[][] e = s.envelope(0, 0, 10, 50);
        double low = Double.POSITIVE_INFINITY;
        double high = Double.NEGATIVE_INFINITY;
        for (int i = 0; i < 50; i++) {
            assertThat(e[0][i]).isLessThanOrEqualTo(e[1][i]);
            low = Math.min(low, e[0][i]);
            high = Math.max(high, e[1][i]);
        }
        assertThat(high).isCloseTo(1, within(1e-4));
        assertThat(low).isCloseTo(-1, within(1e-4));
        assertThat(s.envelope(1, 0, 10, 5)[0]).containsOnly(Double.NaN);
    }

    @Test
    void aValueHoldsUntilTheNextSample() {
        var s = store(3);
        assertThat(s.valueAt(0, 0.0015)).isEqualTo(Math.sin(0.01));
        assertThat(s.valueAt(0, 5)).isEqualTo(Math.sin(0.02));
        assertThat(s.valueAt(0, -1)).isNaN();
    }

    @Test
    void aStoreOfAFinishedRunHasItsSamplesAndCanGrowOn() {
        var copy = SampleStore.of(store(5).snapshot());
        assertThat(copy.snapshot()).isEqualTo(store(5).snapshot());
        copy.add(0, 1, 9);
        copy.add(1, 1, 8);
        assertThat(copy.latest(0)).isEqualTo(9);
        assertThat(copy.size(1)).isEqualTo(1);
    }
}
