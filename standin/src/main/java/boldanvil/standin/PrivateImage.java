package boldanvil.standin;

import boldanvil.core.user.TemporaryFiles;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.function.Function;

/** An image in a file of its own that nobody else can exchange between the look at it and its loading. */
final class PrivateImage {
    private PrivateImage() {}

    /** Has an image loaded from a file that is there only in the meantime; a loaded library keeps its pages. */
    static <T> T with(byte[] image, Function<Path, T> load) throws IOException {
        Path file = TemporaryFiles.file("image", ".so");
        try {
            Files.write(file, image);
            return load.apply(file);
        } finally {
            Files.deleteIfExists(file);
        }
    }
}
