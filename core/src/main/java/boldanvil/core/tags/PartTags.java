package boldanvil.core.tags;

import boldanvil.core.iec.StGenerator;
import boldanvil.core.link.Tag;
import boldanvil.core.link.TagType;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Tap;
import boldanvil.core.program.Tunable;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * The tags of a part whose text was made from its sheet: one for each port, tunable and tap.
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

    /**
     * A value of a part and the tag it is.
     *
     * @param path of the variable in the text
     */
    public record Bound(Slot slot, String path, Tag tag) {}

    public PartTags {
        addresses = Map.copyOf(addresses);
        inputs = List.copyOf(inputs);
        outputs = List.copyOf(outputs);
        tunables = List.copyOf(tunables);
        taps = List.copyOf(taps);
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
            String address = node(path);
            if (protocol.equals(MODBUS)) {
                addresses.put(p.name(), registers.direct(type));
                address = registers.modbus();
            }
            var bound = new Bound(p.slot(), path, new Tag(path, address, type, p.isInput(), p.path()));
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
        return new Bound(slot, path, new Tag(path, node(path), TagType.of(slot.type()), true, comment));
    }

    private static String node(String path) {
        return "ns=2;s=" + path;
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
