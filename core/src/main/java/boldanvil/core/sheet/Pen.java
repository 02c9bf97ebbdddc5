package boldanvil.core.sheet;

import boldanvil.core.sheet.SheetScene.Point;
import java.util.List;

/** Draws on a window, or into a file. Coordinates in sheet units; y runs downwards. */
public interface Pen {
    /** The fonts that ship with the application. */
    enum Lettering { SANS, BOLD, MONO }

    /** How far the baseline of a text lies below its middle, as a share of its size. */
    double BASELINE = 0.34;

    /**
     * How a line is drawn.
     *
     * @param width in sheet units
     */
    record Stroke(Ink ink, double width, boolean dashed) {
        public static Stroke of(Ink ink, double width) {
            return new Stroke(ink, width, false);
        }
    }

    /** Straight lines through points, with corners rounded by a radius. */
    void line(List<Point> points, double rounding, Stroke stroke);

    /** A rectangle with rounded corners; no fill or no edge where they are null. */
    void box(double x, double y, double width, double height, double rounding, Ink fill, Stroke edge);

    /** A circle; no fill or no edge where they are null. */
    void circle(double x, double y, double radius, Ink fill, Stroke edge);

    /** A filled polygon. */
    void polygon(List<Point> points, Ink fill);

    /**
     * A line of text.
     *
     * @param y of its middle
     * @param align 0 begins at x, 0.5 is centred there, 1 ends there
     */
    void text(String text, double x, double y, double align, Lettering lettering, double size, Ink ink);

    /** Width of a text. */
    double width(String text, Lettering lettering, double size);

    /** The text, or its beginning with an ellipsis, no wider than a width. */
    default String fit(String text, Lettering lettering, double size, double room) {
        if (width(text, lettering, size) <= room) {
            return text;
        }
        int low = 0;
        int high = text.length();
        while (low < high) {
            int middle = (low + high + 1) / 2;
            if (width(text.substring(0, middle) + "…", lettering, size) <= room) {
                low = middle;
            } else {
                high = middle - 1;
            }
        }
        return low == 0 ? "" : text.substring(0, low).stripTrailing() + "…";
    }
}
