package boldanvil.core.text;

/**
 * Something wrong in a text.
 *
 * @param line from 1
 * @param column from 1
 * @param cause what is wrong, one sentence
 * @param cure what to do about it, one sentence
 * @param isWarning whether the text can be used in spite of it
 */
public record Mistake(int line, int column, String cause, String cure, boolean isWarning) {
    /** The cause with its place in the text. */
    public String located() {
        return "Line " + line + ", column " + column + ": " + cause;
    }
}
