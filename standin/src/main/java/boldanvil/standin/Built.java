package boldanvil.standin;

import boldanvil.core.build.Builder;
import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.function.Function;

/**
 * An image as it was built.
 *
 * @param file where it lies
 * @param sha256 what it must be, in hexadecimal
 */
record Built(Path file, String sha256) {
    private static final long LONGEST = 256L << 20;

    /**
     * Has it loaded from a copy that nobody can exchange.
     *
     * @throws FindingException when the file is no longer what was built
     */
    <T> T with(Function<Path, T> load) {
        try {
            if (!Files.isRegularFile(file) || Files.size(file) > LONGEST) {
                throw changed();
            }
            byte[] bytes = Files.readAllBytes(file);
            if (!Builder.sha256(bytes).equals(sha256)) {
                throw changed();
            }
            return PrivateImage.with(bytes, load);
        } catch (IOException e) {
            throw FindingException.of(file.toString(), "The image cannot be read: " + e.getMessage() + ".", "Build again.");
        }
    }

    private FindingException changed() {
        return FindingException.of(file.toString(), "The image was changed after it was built; it was not loaded.",
                "Build again, and find out which program writes to the folder.");
    }
}
