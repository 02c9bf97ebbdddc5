package boldanvil.core.program;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import org.junit.jupiter.api.Test;

class FaultTest {
    @Property
    void theFirstFaultKeepsItsKindAndPlace(@ForAll @IntRange(min = 0, max = 8) int kind,
            @ForAll @IntRange(min = 1, max = 65_535) int place) {
        int fault = Fault.raise(0, 1 << kind, place);
        assertThat(Fault.bits(fault)).isEqualTo(1 << kind);
        assertThat(Fault.placed(fault)).isEqualTo(1 << kind);
        assertThat(Fault.placeNumber(fault)).isEqualTo(place);
        assertThat(Fault.raise(fault, 1 << kind, place + 1)).as("the same kind again changes nothing").isEqualTo(fault);
    }

    @Property
    void aSecondKindIsKeptWithoutItsPlace(@ForAll @IntRange(min = 0, max = 8) int first, @ForAll @IntRange(min = 0, max = 8) int second,
            @ForAll @IntRange(min = 1, max = 65_535) int place) {
        int fault = Fault.raise(Fault.raise(0, 1 << first, place), 1 << second, 7);
        assertThat(Fault.bits(fault)).isEqualTo(1 << first | 1 << second);
        assertThat(Fault.placed(fault)).isEqualTo(1 << first);
        assertThat(Fault.placeNumber(fault)).isEqualTo(place);
    }

    @Property
    void inWhateverOrderTheyComeTheKindsAreTheSame(@ForAll @IntRange(min = 0, max = 511) int kinds) {
        int up = 0;
        int down = 0;
        for (int bit : Fault.all()) {
            up = (kinds & bit) != 0 ? Fault.raise(up, bit, bit) : up;
        }
        int[] all = Fault.all();
        for (int i = all.length - 1; i >= 0; i--) {
            down = (kinds & all[i]) != 0 ? Fault.raise(down, all[i], all[i]) : down;
        }
        assertThat(Fault.bits(up)).isEqualTo(kinds).isEqualTo(Fault.bits(down));
    }

    @Test
    void everyKindHasItsWordsAndACure() {
        assertThat(Arrays.stream(Fault.all()).mapToObj(Fault::describe)).doesNotHaveDuplicates().allMatch(t -> t.endsWith("."));
        assertThat(Arrays.stream(Fault.all()).mapToObj(Fault::cure)).allMatch(t -> t.endsWith("."));
        assertThat(Fault.describe(0)).isEmpty();
        assertThat(Fault.bits(0)).isZero();
        assertThat(Fault.placed(0)).isZero();
    }
}
