package boldanvil.core.files;

import boldanvil.core.user.Log;
import boldanvil.core.user.UserFolder;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/**
 * SHA-256 hashes of texts that passed their schema check, in a file of this user's folder. An unchanged project opens without the
 * validator, which takes longer to load than everything else.
 */
final class CheckedFiles {
    /** Lines kept; beyond, the file begins again. */
    private static final int MOST = 4_000;

    private final Optional<Path> file;
    private Set<String> known;

    CheckedFiles(Optional<Path> file) {
        this.file = file;
    }

    /** The list of this user; without one where there is no folder for it. */
    static CheckedFiles ofUser() {
        return new CheckedFiles(UserFolder.find().map(f -> f.resolve("checked-files")));
    }

    /** What stands for a text and the schema it is held against, the schema's own text included. */
    static String key(String schema, String text) {
        try (var in = CheckedFiles.class.getResourceAsStream(schema + ".schema.json")) {
            var hash = MessageDigest.getInstance("SHA-256");
            hash.update(in.readAllBytes());
            return HexFormat.of().formatHex(hash.digest(text.getBytes(StandardCharsets.UTF_8)));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    synchronized boolean contains(String key) {
        return known().contains(key);
    }

    synchronized void add(String key) {
        if (file.isEmpty() || !known().add(key)) {
            return;
        }
        try {
            Files.createDirectories(file.get().getParent());
            if (known.size() > MOST) {
                known.clear();
                known.add(key);
                Files.writeString(file.get(), key + "\n");
            } else {
                Files.writeString(file.get(), key + "\n", StandardOpenOption.CREATE, StandardOpenOption.APPEND);
            }
        } catch (IOException e) {
            Log.ignored(CheckedFiles.class, e, "The list of checked files cannot be written; files are checked again at the next start.");
        }
    }

    private Set<String> known() {
        if (known == null) {
            known = ConcurrentHashMap.newKeySet();
            if (file.isPresent() && Files.exists(file.get())) {
                try {
                    Files.readAllLines(file.get()).stream().filter(l -> l.length() == 64).limit(MOST).forEach(known::add);
                } catch (IOException e) {
                    Log.ignored(CheckedFiles.class, e, "The list of checked files cannot be read; all files are checked.");
                }
            }
        }
        return known;
    }
}
