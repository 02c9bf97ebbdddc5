package boldanvil.core.program;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;

/**
 * Where each slot lies in the memory of an instance. Slots stand in groups by role and within a group by size, largest
 * first, so that the layout is the same on every target with natural alignment; generated C asserts it when compiled.
 */
public final class Layout {
    /** The groups in the order of the context struct. */
    public enum Group {
        IN("in", Slot.Role.INPUT),
        OUT("out", Slot.Role.OUTPUT),
        TUNE("tune", Slot.Role.TUNABLE),
        SIGNAL("sig", Slot.Role.SIGNAL, Slot.Role.LATCH),
        STATE("state", Slot.Role.STATE, Slot.Role.CONTINUOUS);

        private final String field;
        private final List<Slot.Role> roles;

        Group(String field, Slot.Role... roles) {
            this.field = field;
            this.roles = List.of(roles);
        }

        /** The member's name in the C context struct. */
        public String field() {
            return field;
        }

        public static Group of(Slot slot) {
            for (Group g : values()) {
                if (g.roles.contains(slot.role())) {
                    return g;
                }
            }
            throw new IllegalArgumentException(slot + " is not in memory");
        }
    }

    private final Map<Slot, Integer> offsets = new IdentityHashMap<>();
    private final Map<Group, List<Slot>> groups = new java.util.EnumMap<>(Group.class);
    private final int size;

    private Layout(Program program) {
        int at = 0;
        int widest = 1;
        for (Group g : Group.values()) {
            List<Slot> members = new ArrayList<>(program.slots().stream().filter(s -> Group.of(s) == g).toList());
            members.sort(Comparator.comparingInt((Slot s) -> -s.type().bytes()));
            groups.put(g, List.copyOf(members));
            if (members.isEmpty()) {
                continue;
            }
            int align = members.getFirst().type().bytes();
            widest = Math.max(widest, align);
            at = roundUp(at, align);
            for (Slot s : members) {
                offsets.put(s, at);
                at += s.bytes();
            }
            at = roundUp(at, align);
        }
        size = roundUp(at, widest);
    }

    public static Layout of(Program program) {
        return new Layout(program);
    }

    private static int roundUp(int n, int to) {
        return (n + to - 1) / to * to;
    }

    /** Byte offset of a slot from the start of an instance. */
    public int offset(Slot slot) {
        Integer offset = offsets.get(slot);
        if (offset == null) {
            throw new IllegalArgumentException(slot + " is not in this layout");
        }
        return offset;
    }

    /** Members of a group in memory order. */
    public List<Slot> group(Group group) {
        return groups.get(group);
    }

    /** Bytes of one instance. */
    public int size() {
        return size;
    }
}
