package boldanvil.core.user;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;
import org.junit.jupiter.api.Test;

class UserKeyTest {
    private static final byte[] IMAGE = "an image".getBytes(StandardCharsets.UTF_8);

    @Test
    void aTagIsForOneTextAndOnePurpose() {
        UserKey key = UserKey.get();
        String tag = key.tag("image", IMAGE);
        assertThat(tag).hasSize(64).matches("[0-9a-f]+");
        assertThat(key.accepts(tag, "image", IMAGE)).isTrue();
        assertThat(key.accepts(tag, "object", IMAGE)).isFalse();
        byte[] other = IMAGE.clone();
        other[0] ^= 1;
        assertThat(key.accepts(tag, "image", other)).isFalse();
        assertThat(key.accepts("", "image", IMAGE)).isFalse();
        assertThat(key.accepts(tag.substring(1), "image", IMAGE)).isFalse();
    }

    @Test
    void aBoundaryCannotBeMovedFromThePurposeIntoTheText() {
        assertThat(UserKey.get().tag("ab", "c".getBytes(StandardCharsets.UTF_8)))
                .isNotEqualTo(UserKey.get().tag("a", "bc".getBytes(StandardCharsets.UTF_8)));
    }

    @Test
    void anotherKeyDoesNotMakeTheTag() throws Exception {
        var mac = Mac.getInstance("HmacSHA256");
        mac.init(new SecretKeySpec(new byte[32], "HmacSHA256"));
        mac.update("image\0".getBytes(StandardCharsets.UTF_8));
        String guessed = java.util.HexFormat.of().formatHex(mac.doFinal(IMAGE));
        assertThat(UserKey.get().accepts(guessed, "image", IMAGE)).isFalse();
    }

    @Test
    void theKeyIsKeptForThisUserAlone() throws Exception {
        var folder = UserFolder.find().orElseThrow();
        UserKey.get();
        var file = folder.resolve("key");
        assertThat(file).isRegularFile().hasSize(32);
        assertThat(java.nio.file.Files.getPosixFilePermissions(file)).extracting(Enum::name)
                .containsExactlyInAnyOrder("OWNER_READ", "OWNER_WRITE");
        assertThat(java.nio.file.Files.readAllBytes(file)).isNotEqualTo(new byte[32]);
        assertThat(Arrays.equals(java.nio.file.Files.readAllBytes(file), java.nio.file.Files.readAllBytes(file))).isTrue();
    }
}
