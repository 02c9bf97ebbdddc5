package boldanvil.core.build;

import java.nio.file.Path;
import java.util.List;

/**
 * A compiled part.
 *
 * @param file the shared library, or the executable of a cross build
 * @param sha256 of its bytes, in hexadecimal
 * @param sources hash of the sources it was made from, see {@link Sources#stamp}
 * @param bytes its size
 * @param sizes what the compiler made of the part
 * @param ramBytes memory of one instance
 * @param compiled names of the files that were compiled now; empty when all was as before
 * @param command the command line that compiled the part's own file
 */
public record Image(Path file, String sha256, String sources, long bytes, Sizes sizes, long ramBytes, List<String> compiled,
        List<String> command) {
    /**
     * Sizes in bytes.
     *
     * @param code machine code and constants
     * @param data initialised variables
     * @param zeroed variables that begin as zero
     * @param stack deepest stack of a tick, along the compiler's own call graph; 0 where it is not known
     */
    public record Sizes(long code, long data, long zeroed, long stack) {}

    public Image {
        compiled = List.copyOf(compiled);
        command = List.copyOf(command);
    }

    /** Whether anything was compiled now, as opposed to taken from the last build. */
    public boolean fresh() {
        return !compiled.isEmpty();
    }

    public long codeBytes() {
        return sizes.code();
    }
}
