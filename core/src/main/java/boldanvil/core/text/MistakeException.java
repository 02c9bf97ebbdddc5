package boldanvil.core.text;

/** Leaves the statement that cannot be compiled. */
final class MistakeException extends RuntimeException {
    private static final long serialVersionUID = 1;

    private final transient Mistake mistake;

    MistakeException(Mistake mistake) {
        super(mistake.cause(), null, false, false);
        this.mistake = mistake;
    }

    Mistake mistake() {
        return mistake;
    }
}
