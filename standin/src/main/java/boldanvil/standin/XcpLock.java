package boldanvil.standin;

import boldanvil.core.link.xcp.Xcp;
import boldanvil.core.link.xcp.XcpAccess;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.Arrays;

/** What one master has unlocked, by seed and key; see {@link XcpAccess}. */
final class XcpLock {
    /** How long a master that has unlocked nothing may be silent. */
    static final int STRANGER_MILLIS = 2_000;
    /** How long any other master may be silent. */
    static final int IDLE_MILLIS = 20_000;
    private static final SecureRandom RANDOM = new SecureRandom();

    private final String token;
    private int open;
    private int asked;
    private byte[] seed;

    XcpLock(String token) {
        this.token = token;
    }

    boolean isOpen(int resource) {
        return (open & resource) != 0;
    }

    /** Which of some resources are locked, as bits. */
    int locked(int resources) {
        return resources & ~open;
    }

    /** The answer to GET_SEED. */
    byte[] seed(int mode, int resource, int resources) {
        if (mode != 0 || Integer.bitCount(resource) != 1 || (resource & resources) == 0) {
            return new byte[] {(byte) Xcp.ERROR, Xcp.ERR_OUT_OF_RANGE};
        }
        asked = resource;
        seed = new byte[XcpAccess.SEED_BYTES];
        RANDOM.nextBytes(seed);
        byte[] answer = new byte[2 + seed.length];
        answer[0] = (byte) Xcp.RESPONSE;
        answer[1] = (byte) seed.length;
        System.arraycopy(seed, 0, answer, 2, seed.length);
        return answer;
    }

    /** The answer to UNLOCK; null to hang up, as the standard has it for a wrong key. */
    byte[] unlock(byte[] p) {
        if (seed == null || p.length < 2) {
            return new byte[] {(byte) Xcp.ERROR, Xcp.ERR_SEQUENCE};
        }
        byte[] wanted = XcpAccess.key(token, asked, seed);
        seed = null;
        if (!MessageDigest.isEqual(wanted, Arrays.copyOfRange(p, 2, p.length)) || (p[1] & 0xFF) != wanted.length) {
            return null;
        }
        open |= asked;
        return new byte[] {(byte) Xcp.RESPONSE, (byte) locked(XcpAccess.CALIBRATION | XcpAccess.MEASUREMENT | XcpAccess.PROGRAMMING)};
    }
}
