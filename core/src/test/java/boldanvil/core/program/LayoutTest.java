package boldanvil.core.program;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.ArrayList;
import java.util.List;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.Size;
import org.junit.jupiter.api.Test;

class LayoutTest {
    private static Program program(List<Slot> slots, Slot fault) {
        return new Program("p", "P", 1_000, slots, List.of(), List.of(), List.of(), List.of(), null, List.of(), List.of(), List.of(),
                fault);
    }


    @Property
    void slotsAreAlignedAndDoNotOverlap(@ForAll @Size(max = 40) List<@net.jqwik.api.constraints.IntRange(max = 34) Integer> picks) {
        var roles = List.of(Slot.Role.INPUT, Slot.Role.OUTPUT, Slot.Role.TUNABLE, Slot.Role.SIGNAL, Slot.Role.LATCH, Slot.Role.STATE,
                Slot.Role.CONTINUOUS);
        List<Slot> slots = new ArrayList<>();
        for (int pick : picks) {
            slots.add(Slot.of("s" + slots.size(), roles.get(pick / 5), Type.values()[pick % 5]));
        }
        var fault = Slot.of("fault", Slot.Role.STATE, Type.INT32);
        slots.add(fault);
        var layout = Layout.of(program(slots, fault));
        boolean[] taken = new boolean[layout.size()];
        for (Slot s : slots) {
            int at = layout.offset(s);
            assertThat(at % s.type().bytes()).isZero();
            for (int i = at; i < at + s.type().bytes(); i++) {
                assertThat(taken[i]).as("byte %d", i).isFalse();
                taken[i] = true;
            }
        }
    }

    @Test
    void groupsFollowEachOtherAndWideMembersComeFirst() {
        var flag = Slot.of("flag", Slot.Role.INPUT, Type.BOOL);
        var wide = Slot.of("wide", Slot.Role.INPUT, Type.FLOAT64);
        var out = Slot.of("out", Slot.Role.OUTPUT, Type.FLOAT32);
        var fault = Slot.of("fault", Slot.Role.STATE, Type.INT32);
        var layout = Layout.of(program(List.of(flag, wide, out, fault), fault));
        assertThat(layout.offset(wide)).isZero();
        assertThat(layout.offset(flag)).isEqualTo(8);
        assertThat(layout.offset(out)).isEqualTo(16);
        assertThat(layout.offset(fault)).isEqualTo(20);
        assertThat(layout.size()).isEqualTo(24);
    }

    @Test
    void aSlotOfAnotherProgramIsRefused() {
        var fault = Slot.of("fault", Slot.Role.STATE, Type.INT32);
        var layout = Layout.of(program(List.of(fault), fault));
        assertThatThrownBy(() -> layout.offset(Slot.of("other", Slot.Role.STATE, Type.INT32)))
                .isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> Layout.Group.of(Slot.of("x", Slot.Role.LOCAL, Type.INT32)))
                .isInstanceOf(IllegalArgumentException.class);
    }
}
