package boldanvil.app.chart;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.report.Ticks;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.DoubleRange;
import net.jqwik.api.constraints.IntRange;
import org.junit.jupiter.api.Test;

class TicksTest {
    @Test
    void ticksAreRoundNumbers() {
        assertThat(Ticks.of(0, 10, 5)).containsExactly(0.0, 2.0, 4.0, 6.0, 8.0, 10.0);
        assertThat(Ticks.of(0.13, 0.38, 5)).hasSize(5).first().satisfies(v -> assertThat(v).isCloseTo(0.15, within(1e-12)));
    }

    @Property(tries = 200)
    void thereAreNeverManyMoreThanWanted(@ForAll @DoubleRange(min = -1e6, max = 1e6) double low,
            @ForAll @DoubleRange(min = 0.01, max = 1e6) double width, @ForAll @IntRange(min = 2, max = 12) int wanted) {
        var ticks = Ticks.of(low, low + width, wanted);
        assertThat(ticks).hasSizeLessThanOrEqualTo(wanted + 1);
        assertThat(ticks).allMatch(t -> t >= low - width * 1e-6 && t <= low + width * (1 + 1e-6));
    }

    @Test
    void textsHaveTheDecimalsOfTheirStep() {
        assertThat(Ticks.text(0.25, 0, 1, 4)).isEqualTo("0.3");
        assertThat(Ticks.text(2000, 0, 10_000, 5)).isEqualTo("2000");
        assertThat(Ticks.text(-0.0, -1, 1, 4)).isEqualTo("0.0");
    }

    @Test
    void anEmptyRangeHasNoTicks() {
        assertThat(Ticks.of(1, 1, 5)).isEmpty();
    }
}
