package boldanvil.standin;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.link.xcp.Xcp;
import boldanvil.core.link.xcp.XcpAccess;
import java.util.Arrays;
import org.junit.jupiter.api.Test;

/** Seed and key of ASAM MCD-1 XCP, 7.5.1.8 and 7.5.1.9. */
class XcpLockTest {
    private static final int ALL = XcpAccess.CALIBRATION | XcpAccess.MEASUREMENT;

    private final XcpLock lock = new XcpLock("token");

    private static byte[] unlock(String token, int resource, byte[] answer) {
        byte[] key = XcpAccess.key(token, resource, Arrays.copyOfRange(answer, 2, answer.length));
        byte[] packet = new byte[2 + key.length];
        packet[0] = (byte) Xcp.UNLOCK;
        packet[1] = (byte) key.length;
        System.arraycopy(key, 0, packet, 2, key.length);
        return packet;
    }

    @Test
    void eachResourceHasItsOwnKey() {
        assertThat(lock.locked(ALL)).isEqualTo(ALL);
        byte[] seed = lock.seed(0, XcpAccess.CALIBRATION, ALL);
        assertThat(seed).hasSize(2 + XcpAccess.SEED_BYTES).startsWith((byte) Xcp.RESPONSE, (byte) XcpAccess.SEED_BYTES);
        assertThat(lock.unlock(unlock("token", XcpAccess.CALIBRATION, seed))).startsWith((byte) Xcp.RESPONSE);
        assertThat(lock.isOpen(XcpAccess.CALIBRATION)).isTrue();
        assertThat(lock.isOpen(XcpAccess.MEASUREMENT)).isFalse();
        assertThat(lock.locked(ALL)).isEqualTo(XcpAccess.MEASUREMENT);
        seed = lock.seed(0, XcpAccess.MEASUREMENT, ALL);
        assertThat(lock.unlock(unlock("token", XcpAccess.CALIBRATION, seed))).as("the key to another resource").isNull();
        assertThat(lock.isOpen(XcpAccess.MEASUREMENT)).isFalse();
    }

    @Test
    void aWrongKeyHangsUpAndASeedIsForOneKey() {
        byte[] seed = lock.seed(0, XcpAccess.CALIBRATION, ALL);
        assertThat(lock.unlock(unlock("guess", XcpAccess.CALIBRATION, seed))).isNull();
        byte[] again = lock.unlock(unlock("token", XcpAccess.CALIBRATION, seed));
        assertThat(again).as("the seed is used up").containsExactly((byte) Xcp.ERROR, (byte) Xcp.ERR_SEQUENCE);
        byte[] fresh = lock.seed(0, XcpAccess.CALIBRATION, ALL);
        assertThat(fresh).isNotEqualTo(seed);
        assertThat(lock.unlock(unlock("token", XcpAccess.CALIBRATION, seed))).as("a key that was listened to").isNull();
    }

    @Test
    void aKeyThatIsCutShortOrTooLongIsWrong() {
        for (int length : new int[] {0, 1, 31, 33}) {
            byte[] seed = lock.seed(0, XcpAccess.CALIBRATION, ALL);
            byte[] whole = unlock("token", XcpAccess.CALIBRATION, seed);
            assertThat(lock.unlock(Arrays.copyOf(whole, 2 + length))).isNull();
            assertThat(lock.isOpen(XcpAccess.CALIBRATION)).isFalse();
        }
        assertThat(lock.seed(0, XcpAccess.CALIBRATION, ALL)).isNotNull();
        assertThat(lock.unlock(new byte[] {(byte) Xcp.UNLOCK})).containsExactly((byte) Xcp.ERROR, (byte) Xcp.ERR_SEQUENCE);
    }

    @Test
    void onlyOneResourceThatIsThereHasASeed() {
        byte[] refused = {(byte) Xcp.ERROR, (byte) Xcp.ERR_OUT_OF_RANGE};
        assertThat(lock.seed(0, ALL, ALL)).isEqualTo(refused);
        assertThat(lock.seed(0, 0, ALL)).isEqualTo(refused);
        assertThat(lock.seed(1, XcpAccess.CALIBRATION, ALL)).as("the rest of a seed that was whole").isEqualTo(refused);
        assertThat(lock.seed(0, XcpAccess.PROGRAMMING, ALL)).isEqualTo(refused);
    }
}
