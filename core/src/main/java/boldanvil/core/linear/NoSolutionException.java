package boldanvil.core.linear;

/** A problem that has no solution, with its cause and what to do. */
public final class NoSolutionException extends RuntimeException {
    private static final long serialVersionUID = 1;

    private final String cure;

    public NoSolutionException(String cause, String cure) {
        super(cause);
        this.cure = cure;
    }

    /** What to do. */
    public String cure() {
        return cure;
    }
}
