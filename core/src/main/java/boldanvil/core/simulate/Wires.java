package boldanvil.core.simulate;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.lower.LoweredSystem.Link;
import java.util.List;
import java.util.stream.Stream;

/** Finds wires between parts by the address of one of their ends, {@code part.port}. */
public final class Wires {
    private Wires() {}

    static boolean isNamed(Link wire, String address) {
        return from(wire).equals(address) || to(wire).equals(address);
    }

    private static String from(Link wire) {
        return wire.fromPart() + "." + wire.from().name();
    }

    private static String to(Link wire) {
        return wire.toPart() + "." + wire.to().name();
    }

    /** All addresses by which wires of a system can be named. */
    public static List<String> addresses(LoweredSystem system) {
        return system.links().stream().flatMap(l -> Stream.of(from(l), to(l))).distinct().sorted().toList();
    }

    /**
     * Checks that a fault can be put where it is to be.
     *
     * @throws FindingException at a place when there is no such wire or part
     */
    public static void require(LoweredSystem system, String address, WireFault fault, Place place) {
        if (!fault.kind().isOfPart()) {
            at(system, address, place);
        } else if (system.program(address).isEmpty()) {
            throw FindingException.of(place, "There is no part '" + address + "'.",
                    "Parts are: " + String.join(", ", system.parts().keySet()) + ".");
        }
        if (!fault.other().isEmpty()) {
            at(system, fault.other(), place);
        }
    }

    /**
     * The wires at an address: one for an input, all that begin there for an output.
     *
     * @throws FindingException at a place when there is none
     */
    public static List<Link> at(LoweredSystem system, String address, Place place) {
        var found = system.links().stream().filter(l -> isNamed(l, address)).toList();
        if (found.isEmpty()) {
            throw FindingException.of(place, "There is no wire at '" + address + "'.",
                    "Name one of its ends: " + String.join(", ", addresses(system)) + ".");
        }
        return found;
    }
}
