package boldanvil.core.files;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.Map;
import java.util.TreeMap;

/** A hash by which files of a project, or other texts with names, are known again. */
public final class TextsHash {
    private TextsHash() {}

    /** SHA-256 of texts and their names, in the order of the names; hexadecimal. */
    public static String of(Map<String, String> texts) {
        try {
            var digest = MessageDigest.getInstance("SHA-256");
            new TreeMap<>(texts).forEach((name, text) -> {
                digest.update((name + "\n" + text.length() + "\n").getBytes(StandardCharsets.UTF_8));
                digest.update(text.getBytes(StandardCharsets.UTF_8));
            });
            return HexFormat.of().formatHex(digest.digest());
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }
}
