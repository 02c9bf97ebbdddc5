package boldanvil.core.link.xcp;

import java.io.DataInputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.OutputStream;

/**
 * Numbers and framing of XCP (ASAM MCD-1 XCP 1.5, part 2) on TCP (part 3): each packet follows a header of its length and a
 * running counter, both 16 bit, little endian.
 */
public final class Xcp {
    public static final int CONNECT = 0xFF;
    public static final int DISCONNECT = 0xFE;
    public static final int GET_STATUS = 0xFD;
    public static final int GET_ID = 0xFA;
    public static final int GET_SEED = 0xF8;
    public static final int UNLOCK = 0xF7;
    public static final int SET_MTA = 0xF6;
    public static final int UPLOAD = 0xF5;
    public static final int SHORT_UPLOAD = 0xF4;
    public static final int DOWNLOAD = 0xF0;
    public static final int BUILD_CHECKSUM = 0xF3;
    /** Commands that a device defines itself; the byte after it is the command. */
    public static final int USER_CMD = 0xF1;
    /** Outputs go to their safe state and the program stops. */
    public static final int USER_SAFE_STOP = 0x01;
    public static final int SET_CAL_PAGE = 0xEB;
    public static final int GET_CAL_PAGE = 0xEA;
    /** Whose page is meant, bits of the mode. */
    public static final int PAGE_FOR_DEVICE = 0x01;
    public static final int PAGE_FOR_MASTER = 0x02;
    public static final int SET_DAQ_PTR = 0xE2;
    public static final int WRITE_DAQ = 0xE1;
    public static final int SET_DAQ_LIST_MODE = 0xE0;
    public static final int START_STOP_DAQ_LIST = 0xDE;
    public static final int START_STOP_SYNCH = 0xDD;
    public static final int GET_DAQ_CLOCK = 0xDC;
    public static final int GET_DAQ_PROCESSOR_INFO = 0xDA;
    public static final int GET_DAQ_RESOLUTION_INFO = 0xD9;
    public static final int FREE_DAQ = 0xD6;
    public static final int ALLOC_DAQ = 0xD5;
    public static final int ALLOC_ODT = 0xD4;
    public static final int ALLOC_ODT_ENTRY = 0xD3;

    public static final int PROGRAM_START = 0xD2;
    public static final int PROGRAM_CLEAR = 0xD1;
    public static final int PROGRAM = 0xD0;
    public static final int PROGRAM_RESET = 0xCF;

    /** Type of checksum that is CRC-32 (IEEE 802.3). */
    public static final int CRC_32 = 0x09;

    /** First byte of a positive response, an error, an event, a service request. */
    public static final int RESPONSE = 0xFF;
    public static final int ERROR = 0xFE;
    public static final int EVENT = 0xFD;
    public static final int SERVICE = 0xFC;

    public static final int ERR_CMD_BUSY = 0x10;
    public static final int ERR_CMD_UNKNOWN = 0x20;
    public static final int ERR_CMD_SYNTAX = 0x21;
    public static final int ERR_OUT_OF_RANGE = 0x22;
    public static final int ERR_ACCESS_DENIED = 0x24;
    /** The resource is protected and not unlocked. */
    public static final int ERR_ACCESS_LOCKED = 0x25;
    public static final int ERR_DAQ_ACTIVE = 0x11;
    public static final int ERR_PAGE_NOT_VALID = 0x26;
    public static final int ERR_MEMORY_OVERFLOW = 0x30;
    public static final int ERR_SEQUENCE = 0x29;

    /** Longest command or response, in bytes. */
    public static final int MAX_CTO = 255;
    /** Longest measurement packet, in bytes. */
    public static final int MAX_DTO = 1400;
    /** Object descriptor tables with absolute numbers 0 to 251. */
    public static final int MAX_ODTS = 252;
    /** Longest entry of such a table. */
    public static final int MAX_ENTRY = 8;

    private Xcp() {}

    /** Reads one packet; null when the peer has closed the connection. */
    public static byte[] read(DataInputStream in) throws IOException {
        int first = in.read();
        if (first < 0) {
            return null;
        }
        int length = first | in.readUnsignedByte() << 8;
        in.readUnsignedByte();
        in.readUnsignedByte();
        if (length == 0 || length > 2 * MAX_DTO) {
            throw new EOFException("a packet of " + length + " bytes");
        }
        byte[] packet = new byte[length];
        in.readFully(packet);
        return packet;
    }

    /** Writes one packet with its header, without flushing. */
    public static void write(OutputStream out, byte[] packet, int counter) throws IOException {
        out.write(new byte[] {(byte) packet.length, (byte) (packet.length >> 8), (byte) counter, (byte) (counter >> 8)});
        out.write(packet);
    }

    /** A description of an error code. */
    public static String error(int code) {
        return switch (code) {
            case ERR_CMD_BUSY -> "it is busy";
            case ERR_CMD_UNKNOWN -> "the command is not known";
            case ERR_CMD_SYNTAX -> "the command is malformed";
            case ERR_OUT_OF_RANGE -> "an address or value is out of range";
            case ERR_ACCESS_DENIED -> "access is denied";
            case ERR_ACCESS_LOCKED -> "access is locked; the key is missing or wrong";
            case ERR_DAQ_ACTIVE -> "measurement is running";
            case ERR_PAGE_NOT_VALID -> "the parameter page does not exist";
            case ERR_SEQUENCE -> "the commands are out of order";
            case ERR_MEMORY_OVERFLOW -> "its memory is too small";
            default -> "error 0x" + Integer.toHexString(code);
        };
    }
}
