package boldanvil.core.link.opcua;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Access;
import boldanvil.core.link.DeviceLink;
import boldanvil.core.link.Endpoint;
import boldanvil.core.link.LinkProtocol;
import boldanvil.core.program.Program;

/** OPC UA over TCP (OPC 10000-6, binary). */
public final class OpcUaProtocol implements LinkProtocol {
    @Override
    public String name() {
        return "opcua";
    }

    @Override
    public DeviceLink tags(Endpoint at, Place place, Access access) {
        return OpcUaLink.connect(at, place, access);
    }

    @Override
    public DeviceLink connect(Endpoint at, Place place, String secret, Program program) {
        throw FindingException.of(place, "Over OPC UA a device is reached by its tags.", "Bind the ports of the part to tags.");
    }

    @Override
    public DeviceLink loader(Endpoint at, Place place, String secret) {
        throw FindingException.of(place, "Nothing can be downloaded over OPC UA.", "Load the program with the PLC's own tool.");
    }
}
