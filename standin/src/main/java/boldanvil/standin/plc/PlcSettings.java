package boldanvil.standin.plc;

import boldanvil.core.text.PlcProgram;
import java.nio.file.Path;
import java.util.Map;

/**
 * How a PLC is set up.
 *
 * @param around sizes of its process image
 * @param bindAddress where its servers listen
 * @param opcUaPort 0 for any free port; -1 for no OPC UA
 * @param modbusPort 0 for any free port; -1 for no Modbus
 * @param users passwords by name of who may write over OPC UA
 * @param anonymousWrites whether anyone may write over OPC UA
 * @param folder where program, retained values and certificates are kept; null for nowhere
 */
record PlcSettings(PlcProgram.Surroundings around, String bindAddress, int opcUaPort, int modbusPort, Map<String, String> users,
        boolean anonymousWrites, Path folder) {
    static final String LOOPBACK = "127.0.0.1";

    PlcSettings {
        users = Map.copyOf(users);
    }
}
