package boldanvil.additions;

import boldanvil.core.finding.Place;
import boldanvil.core.link.DeviceLink;
import boldanvil.core.link.Endpoint;
import boldanvil.core.link.LinkProtocol;
import boldanvil.core.program.Program;
import java.util.Set;

/** A protocol whose devices answer with their own address. */
public final class EchoProtocol implements LinkProtocol {
    @Override
    public String name() {
        return "echo";
    }

    @Override
    public DeviceLink connect(Endpoint at, Place place, String secret, Program program) {
        return new DeviceLink() {
            @Override
            public Set<Capability> capabilities() {
                return Set.of(Capability.IDENTIFY);
            }

            @Override
            public Identity identify() {
                return new Identity(at.host(), Integer.toString(at.port()), "1", "", "");
            }

            @Override
            public void close() { }
        };
    }

    @Override
    public DeviceLink loader(Endpoint at, Place place, String secret) {
        return connect(at, place, secret, null);
    }
}
