package boldanvil.core.diagram;

/**
 * A segment of a wire that was laid by hand.
 *
 * @param upright whether it runs up or down; {@code at} is then its x, else its y
 * @param at in sheet units
 */
public record Lane(boolean upright, double at) {
    /** The lane moved with the sheet around it. */
    public Lane moved(double dx, double dy) {
        return new Lane(upright, at + (upright ? dx : dy));
    }

    /** As in project files, such as {@code x320}. */
    public String text() {
        return (upright ? "x" : "y") + (at == Math.rint(at) ? Long.toString((long) at) : Double.toString(at));
    }

    /** @throws NumberFormatException when the text is not one of {@link #text} */
    public static Lane of(String text) {
        return new Lane(text.startsWith("x"), Double.parseDouble(text.substring(1)));
    }
}
