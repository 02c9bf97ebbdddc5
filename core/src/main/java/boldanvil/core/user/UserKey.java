package boldanvil.core.user;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.util.HexFormat;
import java.util.Optional;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/**
 * A secret of this user, made when it is first needed. What carries a tag made with it (HMAC with SHA-256, RFC 2104) was made by this user
 * on this machine; images that came with a project do not.
 */
public final class UserKey {
    private static final String FILE = "key";
    private static final int BYTES = 32;
    private static final UserKey KEY = new UserKey(read());

    private final byte[] secret;

    private UserKey(byte[] secret) {
        this.secret = secret;
    }

    /** The key of this user; where none can be kept, one for this process alone, so that nothing made before is trusted. */
    public static UserKey get() {
        return KEY;
    }

    private static byte[] read() {
        Optional<Path> folder = UserFolder.find();
        if (folder.isPresent()) {
            try {
                return kept(folder.get().resolve(FILE));
            } catch (IOException e) {
                Log.ignored(UserKey.class, e, "The user key cannot be stored; it is valid for this process only.");
            }
        }
        return fresh();
    }

    private static byte[] fresh() {
        byte[] secret = new byte[BYTES];
        new SecureRandom().nextBytes(secret);
        return secret;
    }

    private static byte[] kept(Path file) throws IOException {
        if (Files.isRegularFile(file) && Files.size(file) == BYTES) {
            return Files.readAllBytes(file);
        }
        Path made = Files.createTempFile(file.getParent(), FILE, ".new");
        try {
            UserFolder.restrict(made, "rw-------");
            Files.write(made, fresh());
            if (Files.exists(file)) {
                Files.move(made, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
            } else {
                // Two processes that start at once must come to one key: a link is made once only.
                Files.createLink(file, made);
            }
        } catch (FileAlreadyExistsException e) {
            // The other process was first.
        } catch (UnsupportedOperationException e) {
            Files.move(made, file, StandardCopyOption.REPLACE_EXISTING);
        } finally {
            Files.deleteIfExists(made);
        }
        return Files.readAllBytes(file);
    }

    /**
     * A tag for some bytes, in hexadecimal.
     *
     * @param purpose what the tag is for; a tag for one purpose is none for another
     */
    public String tag(String purpose, byte[] bytes) {
        try {
            var mac = Mac.getInstance("HmacSHA256");
            mac.init(new SecretKeySpec(secret, "HmacSHA256"));
            mac.update(purpose.getBytes(StandardCharsets.UTF_8));
            mac.update((byte) 0);
            return HexFormat.of().formatHex(mac.doFinal(bytes));
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException(e);
        }
    }

    /** Whether a tag is that of some bytes. */
    public boolean accepts(String tag, String purpose, byte[] bytes) {
        return MessageDigest.isEqual(tag.getBytes(StandardCharsets.UTF_8), tag(purpose, bytes).getBytes(StandardCharsets.UTF_8));
    }
}
