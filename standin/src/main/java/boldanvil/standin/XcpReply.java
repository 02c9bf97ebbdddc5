package boldanvil.standin;

import boldanvil.core.link.xcp.Xcp;

/** Answers to XCP commands. */
final class XcpReply {
    private XcpReply() {}

    /** The positive response without data. */
    static byte[] ok() {
        return bytes(Xcp.RESPONSE);
    }

    /** @param code one of the error codes of the protocol */
    static byte[] error(int code) {
        return bytes(Xcp.ERROR, code);
    }

    static byte[] bytes(int... values) {
        byte[] b = new byte[values.length];
        for (int i = 0; i < values.length; i++) {
            b[i] = (byte) values[i];
        }
        return b;
    }
}
