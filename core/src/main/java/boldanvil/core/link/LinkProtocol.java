package boldanvil.core.link;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.program.Program;
import java.util.ServiceLoader;

/**
 * A protocol by which devices are reached; a service. A new one is a package with an implementation and its line in
 * {@code META-INF/services}.
 */
public interface LinkProtocol {
    /** The protocol of the stand-ins. */
    String OF_STAND_INS = "xcp";

    /** The name in endpoints. */
    String name();

    /**
     * Connects to a device that runs a program.
     *
     * @param place how findings name the device
     * @param secret what the keys to the device follow from
     * @param program what it runs
     * @throws FindingException when nothing answers, or the device refuses the key
     */
    DeviceLink connect(Endpoint at, Place place, String secret, Program program);

    /** Connects to the loader of a device, for identity and deployment. */
    DeviceLink loader(Endpoint at, Place place, String secret);

    /**
     * Connects to a device by its tags.
     *
     * @param place how findings name the device
     * @throws FindingException when nothing answers, when the device refuses, or when the protocol knows no tags
     */
    default DeviceLink tags(Endpoint at, Place place, Access access) {
        throw FindingException.of(place, "Devices are not reached by tags over " + name() + ".", "Use opcua or modbus.");
    }

    /**
     * The protocol of an endpoint.
     *
     * @throws FindingException when there is none of this name
     */
    static LinkProtocol of(Endpoint at) {
        for (LinkProtocol p : ServiceLoader.load(LinkProtocol.class, LinkProtocol.class.getClassLoader())) {
            if (p.name().equals(at.protocol())) {
                return p;
            }
        }
        throw FindingException.of(at.toString(), "There is no protocol '" + at.protocol() + "'.", "Use xcp, opcua or modbus.");
    }
}
