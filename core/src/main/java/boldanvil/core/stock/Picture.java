package boldanvil.core.stock;

import java.util.List;

/**
 * What a plate shows of its block as a picture. Coordinates are shares of the room it gets: x from 0 at the left to 1, y from 0 at the top
 * to 1.
 *
 * @param alone whether it takes the place of the summary; otherwise it stands beside it
 */
public record Picture(boolean alone, List<Shape> shapes) {
    /** A piece of a picture. */
    public sealed interface Shape {}

    /** How a line is drawn. */
    public enum Weight { AXIS, CURVE, DASHED }

    /** Straight lines through points. */
    public record Line(Weight weight, double[] x, double[] y) implements Shape {}

    /**
     * A text.
     *
     * @param align 0 begins at x, 0.5 is centred there, 1 ends there
     * @param y of its middle
     */
    public record Label(String text, double x, double y, double align) implements Shape {}

    /** One expression over another, in the middle of the room. */
    public record Fraction(String above, String below) implements Shape {}

    /** A filled circle of a few units. */
    public record Dot(double x, double y) implements Shape {}

    public static final Picture NONE = new Picture(false, List.of());

    public Picture {
        shapes = List.copyOf(shapes);
    }

    static Picture beside(Shape... shapes) {
        return new Picture(false, List.of(shapes));
    }

    static Picture fraction(String above, String below) {
        return new Picture(true, List.of(new Fraction(above, below)));
    }

    public boolean isEmpty() {
        return shapes.isEmpty();
    }

    /** An open line; {@code xy} holds x and y in turn. */
    static Line curve(double... xy) {
        return line(Weight.CURVE, xy);
    }

    static Line axis(double... xy) {
        return line(Weight.AXIS, xy);
    }

    static Line dashed(double... xy) {
        return line(Weight.DASHED, xy);
    }

    private static Line line(Weight weight, double... xy) {
        double[] x = new double[xy.length / 2];
        double[] y = new double[xy.length / 2];
        for (int i = 0; i < x.length; i++) {
            x[i] = xy[2 * i];
            y[i] = xy[2 * i + 1];
        }
        return new Line(weight, x, y);
    }
}
