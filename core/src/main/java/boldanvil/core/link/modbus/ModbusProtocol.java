package boldanvil.core.link.modbus;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Access;
import boldanvil.core.link.DeviceLink;
import boldanvil.core.link.Endpoint;
import boldanvil.core.link.LinkProtocol;
import boldanvil.core.program.Program;

/** Modbus TCP. */
public final class ModbusProtocol implements LinkProtocol {
    @Override
    public String name() {
        return "modbus";
    }

    @Override
    public DeviceLink tags(Endpoint at, Place place, Access access) {
        return new ModbusLink(at, place);
    }

    @Override
    public DeviceLink connect(Endpoint at, Place place, String secret, Program program) {
        throw FindingException.of(place, "Modbus knows registers and no programs.", "Bind the ports of the part to tags.");
    }

    @Override
    public DeviceLink loader(Endpoint at, Place place, String secret) {
        throw FindingException.of(place, "Nothing can be downloaded over Modbus.", "Load the program with the PLC's own tool.");
    }
}
