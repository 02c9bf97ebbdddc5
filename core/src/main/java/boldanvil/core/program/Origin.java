package boldanvil.core.program;

/**
 * The block a statement came from.
 *
 * @param path part, subsystems and block, joined by {@code /}
 */
public record Origin(String path) {
    public static Origin of(String path) {
        return new Origin(path);
    }
}
