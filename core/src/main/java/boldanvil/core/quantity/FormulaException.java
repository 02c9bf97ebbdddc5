package boldanvil.core.quantity;

/** Says what is wrong with an expression, in one sentence, and at which character. */
public final class FormulaException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final int position;

    public FormulaException(String message, int position) {
        super(message);
        this.position = position;
    }

    /** Index of the character at which reading stopped, from 0. */
    public int position() {
        return position;
    }
}
