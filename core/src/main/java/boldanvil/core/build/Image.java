package boldanvil.core.build;

import java.nio.file.Path;
import java.util.List;

/**
 * A compiled part.
 *
 * @param file the shared library
 * @param sha256 of its bytes, in hexadecimal
 * @param bytes its size
 * @param codeBytes machine code and constants as compiled here
 * @param ramBytes memory of one instance
 * @param fresh whether it was compiled now, as opposed to taken from the last build
 * @param command the compiler's command line
 */
public record Image(Path file, String sha256, long bytes, long codeBytes, long ramBytes, boolean fresh, List<String> command) {
    public Image {
        command = List.copyOf(command);
    }
}
