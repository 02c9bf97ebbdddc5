package boldanvil.core.board;

import boldanvil.core.frame.CanMessage;
import boldanvil.core.frame.Codec;
import boldanvil.core.frame.Dbc;
import boldanvil.core.frame.FrameException;
import boldanvil.core.frame.PacketLayout;
import boldanvil.core.frame.RegisterLayout;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;

/** What terminals on lines and buses carry, and how long that takes. Their texts have been checked when their sheet was lowered. */
public final class Lines {
    /** A start bit, eight data bits and a stop bit. */
    private static final int BITS_OF_A_SERIAL_BYTE = 10;
    /** Eight bits and the acknowledge. */
    private static final int BITS_OF_AN_I2C_BYTE = 9;
    /** Address, register, address again for reading. */
    private static final int I2C_BYTES_BEFORE = 3;

    private Lines() {}

    /** How a terminal's values lie in bytes. */
    public static Codec codec(Terminal t) {
        return switch (t.kind()) {
            case PACKET_OUT, PACKET_IN -> packet(t);
            case I2C_IN, SPI_IN -> register(t);
            case FRAME_OUT, FRAME_IN -> message(t);
            default -> throw new IllegalArgumentException(t.path());
        };
    }

    public static PacketLayout packet(Terminal t) {
        return PacketLayout.of(t.texts().get("fields"), t.texts().get("order"), t.texts().get("header"), t.texts().get("checksum"));
    }

    public static CanMessage message(Terminal t) {
        return Dbc.find(t.texts().get("dbc"), t.texts().get("message"));
    }

    public static RegisterLayout register(Terminal t) {
        if (isLevelSensor(t)) {
            // The stand-in of Larkmere's level sensor: millimetres from 0 to 65,535, a new value every 20 ms.
            return new RegisterLayout(2, false, true, 1e-3, 0);
        }
        return new RegisterLayout(Integer.parseInt(t.texts().get("bytes")), t.has("sign", "signed"), t.has("order", "high byte first"), t.number("scale"), t.number("offset"));
    }

    private static boolean isLevelSensor(Terminal t) {
        return t.has("device", "level sensor");
    }

    /** Address of a register's device on an I²C bus. */
    public static int address(Terminal t) {
        return isLevelSensor(t) ? 0x29 : number(t.texts().get("address"));
    }

    /** Number of the register in its device. */
    public static int registerNumber(Terminal t) {
        return isLevelSensor(t) ? 0x10 : number(t.texts().get("register"));
    }

    /** How long a device takes between two measurements, in seconds. */
    public static double update(Terminal t) {
        return isLevelSensor(t) ? 0.02 : t.number("update");
    }

    private static int number(String text) {
        try {
            return Integer.decode(text.strip());
        } catch (NumberFormatException e) {
            throw new FrameException("'" + text + "' is no whole number.", "Write it like 41 or 0x29.");
        }
    }

    /**
     * How long one transfer takes, in seconds.
     *
     * @param rate bits per second of the line
     */
    public static double seconds(Terminal t, double rate) {
        int bytes = codec(t).bytes();
        return switch (t.kind()) {
            case PACKET_OUT, PACKET_IN -> bytes * BITS_OF_A_SERIAL_BYTE / rate;
            case I2C_IN -> ((I2C_BYTES_BEFORE + bytes) * BITS_OF_AN_I2C_BYTE + 2) / rate;
            case SPI_IN -> (1 + bytes) * 8 / rate;
            default -> message(t).worstBits() / rate;
        };
    }

    /** How many steps of a part a transfer takes, at least one. */
    public static int steps(double seconds, double tickSeconds) {
        return (int) Math.max(1, Math.ceil(seconds / tickSeconds - 1e-9));
    }

    /** Whether a terminal is on a line or bus. */
    public static boolean isLine(TerminalKind kind) {
        return switch (kind) {
            case PACKET_OUT, PACKET_IN, I2C_IN, SPI_IN, FRAME_OUT, FRAME_IN -> true;
            default -> false;
        };
    }
}
