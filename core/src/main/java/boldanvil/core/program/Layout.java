package boldanvil.core.program;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * Where each slot lies in the memory of an instance. Slots are in groups by role and within a group by size, largest
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
            List<List<Slot>> units = units(program.slots().stream().filter(s -> Group.of(s) == g).toList());
            groups.put(g, units.stream().flatMap(List::stream).toList());
            if (units.isEmpty()) {
                continue;
            }
            int align = units.getFirst().getFirst().type().bytes();
            widest = Math.max(widest, align);
            at = roundUp(at, align);
            for (List<Slot> unit : units) {
                for (Slot s : unit) {
                    offsets.put(s, at);
                    at += s.bytes();
                }
                // A structure's size is a multiple of its widest member's.
                at = roundUp(at, unit.getFirst().type().bytes());
            }
            at = roundUp(at, align);
        }
        size = roundUp(at, widest);
    }

    /** Single slots, and the members of each structure together; the widest first, in both. */
    private static List<List<Slot>> units(List<Slot> slots) {
        Map<Object, List<Slot>> units = new LinkedHashMap<>();
        slots.forEach(s -> units.computeIfAbsent(s.member() == null ? s : s.member().struct(), _ -> new ArrayList<>()).add(s));
        Comparator<Slot> widestFirst = Comparator.comparingInt(s -> -s.type().bytes());
        List<List<Slot>> sorted = new ArrayList<>(units.values());
        sorted.forEach(u -> u.sort(widestFirst));
        sorted.sort(Comparator.comparing(List::getFirst, widestFirst));
        return sorted;
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

    /** Members of a group in memory order; those of a structure stand together. */
    public List<Slot> group(Group group) {
        return groups.get(group);
    }

    /** How far the inputs, which stand first, reach into an instance, in bytes. */
    public int inputBytes() {
        return groups.get(Group.IN).stream().mapToInt(s -> offset(s) + s.bytes()).max().orElse(0);
    }

    /** Bytes of one instance. */
    public int size() {
        return size;
    }
}
