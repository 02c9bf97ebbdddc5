package boldanvil.core.tags;

import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.TagTable;
import boldanvil.core.iec.StGenerator;
import boldanvil.core.link.Tag;
import boldanvil.core.link.TagType;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Tap;
import boldanvil.core.program.Tunable;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * The tags of a part on a PLC. A part whose text was made from its sheet has one for each port, tunable and tap; of one that is bound to a
 * PLC with a program of its own, each port, tunable and tap that is bound is a tag.
 *
 * @param addresses direct addresses of ports in the text, by the names of the ports
 * @param inputs what is written to the device
 * @param outputs what is read of it
 * @param tunables values that may be changed while it runs
 * @param taps signals that are recorded
 */
public record PartTags(Map<String, String> addresses, List<Bound> inputs, List<Bound> outputs, List<Bound> tunables, List<Bound> taps) {
    /** The protocol by which nodes are known by name. */
    public static final String OPC_UA = "opcua";
    /** The protocol by which values are known by the number of a register. */
    public static final String MODBUS = "modbus";

    private static final long USUAL_PERIOD_NANOS = 20_000_000;

    /**
     * A value of a part and the tag it is.
     *
     * @param path of the variable in the PLC
     * @param periodNanos how often a real PLC is asked for it
     */
    public record Bound(Slot slot, String path, Tag tag, Scale scale, long periodNanos) {
        /** What the PLC is to hold for a value of the slot. */
        public Object held(double value) {
            return scale.held(value, tag.type());
        }

        /** The value of the slot for what the PLC holds. */
        public double signal(double held) {
            return slot.type().convert(scale.signal(held));
        }
    }

    public PartTags {
        addresses = Map.copyOf(addresses);
        inputs = List.copyOf(inputs);
        outputs = List.copyOf(outputs);
        tunables = List.copyOf(tunables);
        taps = List.copyOf(taps);
    }

    /**
     * The tags of a part at its place.
     *
     * @param table of the part
     */
    public static PartTags of(Program program, Rig.Place place, TagTable table) {
        return usesTable(place, table) ? bound(program, place.protocol(), table) : of(program, place.protocol());
    }

    /** Whether a part at a place is reached by the tags of its table. */
    public static boolean usesTable(Rig.Place place, TagTable table) {
        return place.own() || !place.isStandIn() && !table.bindings().isEmpty();
    }

    /** The text a part has on the stand-in of a PLC. */
    public static String text(Program program, Rig.Place place, TagTable table) {
        return place.own() ? table.program() : StGenerator.of(program, of(program, place.protocol()).addresses()).text();
    }

    private static PartTags bound(Program program, String protocol, TagTable table) {
        var lines = table.byName();
        Map<Signal.Use, List<Bound>> all = new EnumMap<>(Signal.Use.class);
        for (Signal s : Signal.of(program)) {
            var line = lines.get(table.bindings().getOrDefault(s.name(), ""));
            if (line != null) {
                all.computeIfAbsent(s.use(), _ -> new ArrayList<>()).add(new Bound(s.slot(), TagAddress.path(line),
                        TagAddress.of(line, protocol),
                        Scale.of(line), TagAddress.periodNanos(line, USUAL_PERIOD_NANOS)));
            }
        }
        return new PartTags(Map.of(), all.getOrDefault(Signal.Use.INPUT, List.of()), all.getOrDefault(Signal.Use.OUTPUT, List.of()),
                all.getOrDefault(Signal.Use.TUNABLE, List.of()), all.getOrDefault(Signal.Use.SIGNAL, List.of()));
    }

    /** @param protocol how the ports are reached; over Modbus they get addresses one behind the other */
    public static PartTags of(Program program, String protocol) {
        var paths = StGenerator.paths(program);
        var portPaths = StGenerator.portPaths(program);
        Map<String, String> addresses = new LinkedHashMap<>();
        List<Bound> inputs = new ArrayList<>();
        List<Bound> outputs = new ArrayList<>();
        var registers = new Registers();
        for (Port p : program.ports()) {
            String path = portPaths.get(p.name());
            TagType type = TagType.of(p.slot().type());
            String address = TagAddress.node(path);
            if (protocol.equals(MODBUS)) {
                addresses.put(p.name(), registers.direct(type));
                address = registers.modbus();
            }
            var bound = new Bound(p.slot(), path, new Tag(path, address, type, p.isInput(), p.path()), Scale.NONE, USUAL_PERIOD_NANOS);
            (p.isInput() ? inputs : outputs).add(bound);
        }
        Set<Slot> seen = new HashSet<>();
        List<Bound> tunables = new ArrayList<>();
        for (Tunable t : program.tunables()) {
            if (seen.add(t.slot())) {
                tunables.add(bound(t.slot(), paths, t.path()));
            }
        }
        List<Bound> taps = new ArrayList<>();
        for (Tap t : program.taps()) {
            if (!t.slot().isArray() && seen.add(t.slot()) && inputs.stream().noneMatch(b -> b.slot() == t.slot())
                    && outputs.stream().noneMatch(b -> b.slot() == t.slot())) {
                taps.add(bound(t.slot(), paths, t.name()));
            }
        }
        return new PartTags(addresses, inputs, outputs, tunables, taps);
    }

    private static Bound bound(Slot slot, Map<Slot, String> paths, String comment) {
        String path = paths.get(slot);
        return new Bound(slot, path, new Tag(path, TagAddress.node(path), TagType.of(slot.type()), true, comment), Scale.NONE,
                USUAL_PERIOD_NANOS);
    }

    /** Gives out addresses of the memory, bits in its first registers and other values behind them. */
    private static final class Registers {
        private static final int BITS = 512;
        private int bit;
        private int word = BITS / 16;
        private String last = "";

        String direct(TagType type) {
            if (type == TagType.BOOL) {
                last = "coil " + bit;
                return "%MX" + bit / 8 + "." + bit++ % 8;
            }
            int words = Math.max(1, type.bits() / 16);
            word = (word + words - 1) / words * words;
            // The low word lies first in the memory.
            last = "holding " + word + (words > 1 ? " swapped" : "");
            String size = type.bits() == 8 ? "B" : words == 1 ? "W" : words == 2 ? "D" : "L";
            String address = "%M" + size + (type.bits() == 8 ? 2 * word : word / words);
            word += words;
            return address;
        }

        String modbus() {
            return last;
        }
    }
}
