package boldanvil.core.study;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.finding.FindingException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import org.junit.jupiter.api.Test;

class InOrderTest {
    @Property(tries = 200)
    void whateverTheOrderAndTheRepetitionsEachResultComesOnceAndInOrder(@ForAll @IntRange(min = 1, max = 60) int n, @ForAll long seed) {
        var random = new Random(seed);
        List<Integer> arrivals = new ArrayList<>(IntStream.range(0, n).boxed().toList());
        for (int i = 0; i < n; i++) {
            arrivals.add(random.nextInt(n));
        }
        Collections.shuffle(arrivals, random);
        List<Integer> out = new ArrayList<>();
        var order = new InOrder<Integer>(out::add);
        var seen = new HashSet<Integer>();
        for (int a : arrivals) {
            assertThat(order.put(a, a)).isEqualTo(seen.add(a));
            assertThat(order.size()).isEqualTo(seen.size());
            assertThat(order.handedOn()).isEqualTo(out.size());
        }
        assertThat(out).containsExactlyElementsOf(IntStream.range(0, n).boxed().toList());
    }

    @Test
    void aRunThatCannotBeDoneEndsTheStudy() {
        var begun = new AtomicInteger();
        List<Map<String, Double>> points = Collections.nCopies(1_000, Map.of("x", 1.0));
        assertThatThrownBy(() -> LocalRuns.each(points, 2, (_, _) -> { }, _ -> {
            if (begun.incrementAndGet() == 10) {
                throw FindingException.of("x", "It cannot be done.", "Choose another value.");
            }
            return 1;
        }, _ -> { })).isInstanceOf(FindingException.class);
        assertThat(begun.get()).isLessThan(1_000);
    }
}
