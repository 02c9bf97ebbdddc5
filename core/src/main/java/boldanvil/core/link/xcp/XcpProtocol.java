package boldanvil.core.link.xcp;

import boldanvil.core.finding.Place;
import boldanvil.core.link.DeviceLink;
import boldanvil.core.link.Endpoint;
import boldanvil.core.link.LinkProtocol;
import boldanvil.core.program.Program;

/** XCP on TCP. */
public final class XcpProtocol implements LinkProtocol {
    @Override
    public String name() {
        return "xcp";
    }

    @Override
    public DeviceLink connect(Endpoint at, Place place, String secret, Program program) {
        return new XcpLink(new XcpClient(place, at.address(), secret), program);
    }

    @Override
    public DeviceLink loader(Endpoint at, Place place, String secret) {
        return new XcpProgrammer(place, at.address(), secret);
    }
}
