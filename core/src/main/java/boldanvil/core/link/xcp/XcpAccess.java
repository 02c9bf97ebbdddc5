package boldanvil.core.link.xcp;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/**
 * Seed and key of XCP (ASAM MCD-1 XCP 1.5, part 2, section 7.5.1.8): a device gives a random seed, and unlocks a resource for whoever
 * answers with the key that follows from the seed and the rig's token. The key is HMAC with SHA-256 (RFC 2104) of resource and seed.
 */
public final class XcpAccess {
    /** Calibration and paging. */
    public static final int CALIBRATION = 0x01;
    /** Measurement. */
    public static final int MEASUREMENT = 0x04;
    /** Programming of flash. */
    public static final int PROGRAMMING = 0x10;
    /** Bytes of a seed. */
    public static final int SEED_BYTES = 16;

    private XcpAccess() {}

    /** The key to a resource. */
    public static byte[] key(String token, int resource, byte[] seed) {
        try {
            var mac = Mac.getInstance("HmacSHA256");
            mac.init(new SecretKeySpec(token.getBytes(StandardCharsets.UTF_8), "HmacSHA256"));
            mac.update((byte) resource);
            return mac.doFinal(seed);
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException(e);
        }
    }
}
