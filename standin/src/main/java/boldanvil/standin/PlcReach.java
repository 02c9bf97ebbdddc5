package boldanvil.standin;

import boldanvil.core.link.Access;
import tools.jackson.databind.JsonNode;

/**
 * How the stand-in of a PLC is reached.
 *
 * @param control port of its control channel
 * @param opcUa port of its OPC UA server
 */
record PlcReach(int control, String token, int opcUa, int modbus, Access access) {
    static PlcReach of(JsonNode n) {
        return new PlcReach(n.path("control").asInt(0), n.path("token").asString(""), n.path("opcua").asInt(0), n.path("modbus").asInt(0),
                new Access(n.path("user").asString(""), n.path("password").asString(""), false));
    }
}
