package boldanvil.core.samples;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.function.ToDoubleFunction;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.DoubleRange;
import net.jqwik.api.constraints.IntRange;

/** Laws of samples in memory, held against a plain list. */
class StoreLawsTest {
    private record Sample(double time, double value) {}

    private static List<Sample> fill(SampleStore store, long seed, int n, int width) {
        var random = new Random(seed);
        List<Sample> all = new ArrayList<>();
        double t = 0;
        for (int i = 0; i < n; i++) {
            // Mostly even steps, now and then a gap.
            t += random.nextInt(50) == 0 ? 0.5 : 0.01;
            double v = random.nextInt(30) == 0 ? Double.NaN : random.nextGaussian();
            all.add(new Sample(t, v));
            store.add(0, t, (to, at) -> Arrays.fill(to, at, at + width, v));
        }
        return all;
    }

    private static SampleStore store(int width) {
        List<Column> columns = new ArrayList<>();
        int[] track = new int[width];
        for (int i = 0; i < width; i++) {
            columns.add(new Column("p.c" + i, ""));
            track[i] = i;
        }
        return new SampleStore(columns, List.of(track), Integer.MAX_VALUE);
    }

    @Property(tries = 150)
    void countsValuesAndSpansAreThoseOfAPlainList(@ForAll long seed, @ForAll @IntRange(min = 1, max = 3_000) int n,
            @ForAll @IntRange(min = 1, max = 40) int width,
            @ForAll @DoubleRange(min = -1, max = 40) double a, @ForAll @DoubleRange(min = 0, max = 40) double length) {
        var store = store(width);
        var all = fill(store, seed, n, width);
        double b = a + length;
        var inside = all.stream().filter(s -> s.time() >= a && s.time() <= b).toList();
        int column = Math.floorMod(seed, width);
        assertThat(store.count(column, a, b)).isEqualTo(inside.size());
        Series s = store.series(column, a, b);
        assertThat(s.times()).isEqualTo(inside.stream().mapToDouble(Sample::time).toArray());
        assertThat(s.values()).isEqualTo(inside.stream().mapToDouble(Sample::value).toArray());
        var before = all.stream().filter(x -> x.time() <= a).reduce((_, y) -> y);
        assertThat(store.valueAt(column, a)).isEqualTo(before.map(Sample::value).orElse(Double.NaN));
        assertThat(store.begin()).isEqualTo(all.getFirst().time());
        assertThat(store.end()).isEqualTo(all.getLast().time());
    }

    @Property(tries = 150)
    void anEnvelopeHasTheExtremesOfItsSpanAndNoOthers(@ForAll long seed, @ForAll @IntRange(min = 1, max = 4_000) int n,
            @ForAll @IntRange(min = 1, max = 60) int bins,
            @ForAll @DoubleRange(min = 0, max = 30) double a, @ForAll @DoubleRange(min = 0.05, max = 60) double length) {
        var store = store(3);
        var all = fill(store, seed, n, 3);
        double[][] e = store.envelope(1, a, a + length, bins);
        var inside = all.stream().filter(s -> s.time() >= a && s.time() <= a + length && !Double.isNaN(s.value())).toList();
        assertThat(extreme(e[0], false)).isEqualTo(Double.valueOf(extreme(inside, Sample::value, false)));
        assertThat(extreme(e[1], true)).isEqualTo(Double.valueOf(extreme(inside, Sample::value, true)));
        for (int i = 0; i < bins; i++) {
            assertThat(Double.isNaN(e[0][i])).isEqualTo(Double.isNaN(e[1][i]));
            assertThat(Double.isNaN(e[0][i]) || e[0][i] <= e[1][i]).isTrue();
        }
    }

    private static double extreme(double[] v, boolean greatest) {
        var some = Arrays.stream(v).filter(x -> !Double.isNaN(x));
        return (greatest ? some.max() : some.min()).orElse(Double.NaN);
    }

    private static double extreme(List<Sample> all, ToDoubleFunction<Sample> of, boolean greatest) {
        var some = all.stream().mapToDouble(of);
        return (greatest ? some.max() : some.min()).orElse(Double.NaN);
    }

    @Property(tries = 60)
    void everyRowIsTakenOnceAndInOrder(@ForAll long seed, @ForAll @IntRange(min = 1, max = 5_000) int n,
            @ForAll @IntRange(min = 1, max = 700) int every) {
        var store = store(2);
        store.keepIn(SampleStore.of(new RunData(List.of())));
        List<Double> taken = new ArrayList<>();
        var random = new Random(seed);
        for (int i = 0; i < n; i++) {
            double v = i;
            store.add(0, i, (to, at) -> {
                to[at] = v;
                to[at + 1] = -v;
            });
            if (random.nextInt(every) == 0) {
                take(store, taken);
            }
        }
        take(store, taken);
        assertThat(taken).hasSize(n);
        for (int i = 0; i < n; i++) {
            assertThat(taken.get(i)).isEqualTo(i);
        }
        assertThat(store.take(0)).isEmpty();
    }

    private static void take(SampleStore store, List<Double> to) {
        for (var p : store.take(0)) {
            for (int i = p.first(); i < p.first() + p.count(); i++) {
                assertThat(p.values()[2 * i]).isEqualTo(p.times()[i]).isEqualTo(-p.values()[2 * i + 1]);
                to.add(p.times()[i]);
            }
        }
    }
}
