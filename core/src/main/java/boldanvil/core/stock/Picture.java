package boldanvil.core.stock;

import java.util.List;
import java.util.function.DoubleBinaryOperator;

/**
 * What a plate shows of its block as a picture. Coordinates are shares of the room it gets: x from 0 at the left to 1, y from 0 at the top
 * to 1.
 *
 * @param stands where it stands
 */
public record Picture(Stands stands, List<Shape> shapes) {
    /** Where a picture stands. */
    public enum Stands {
        /** Beside the summary. */
        BESIDE,
        /** In place of the summary. */
        ALONE,
        /** In place of the plate: the symbol of a network element. */
        SYMBOL
    }

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

    public static final Picture NONE = new Picture(Stands.BESIDE, List.of());

    public Picture {
        shapes = List.copyOf(shapes);
    }

    static Picture beside(Shape... shapes) {
        return new Picture(Stands.BESIDE, List.of(shapes));
    }

    static Picture fraction(String above, String below) {
        return new Picture(Stands.ALONE, List.of(new Fraction(above, below)));
    }

    static Picture symbol(List<Shape> shapes) {
        return new Picture(Stands.SYMBOL, shapes);
    }

    /** Whether it takes the place of the summary. */
    public boolean alone() {
        return stands == Stands.ALONE;
    }

    /** Whether it takes the place of the plate. */
    public boolean isSymbol() {
        return stands == Stands.SYMBOL;
    }

    /** The picture in a mirror with an upright axis. */
    private Picture mirrored() {
        return moved((x, _) -> 1 - x, (_, y) -> y);
    }

    /** The picture as a block shows it that is turned and mirrored; texts stay upright. */
    public Picture placed(int quarters, boolean mirrored) {
        Picture p = this;
        for (int i = 0; i < quarters; i++) {
            p = p.moved((_, y) -> 1 - y, (x, _) -> x);
        }
        return mirrored ? p.mirrored() : p;
    }

    private Picture moved(DoubleBinaryOperator x, DoubleBinaryOperator y) {
        return new Picture(stands, shapes.stream().<Shape>map(s -> switch (s) {
            case Line l -> new Line(l.weight(), moved(l, x), moved(l, y));
            case Label l -> new Label(l.text(), x.applyAsDouble(l.x(), l.y()), y.applyAsDouble(l.x(), l.y()), l.align());
            case Dot c -> new Dot(x.applyAsDouble(c.x(), c.y()), y.applyAsDouble(c.x(), c.y()));
            case Fraction f -> f;
        }).toList());
    }

    private static double[] moved(Line l, DoubleBinaryOperator how) {
        double[] all = new double[l.x().length];
        for (int i = 0; i < all.length; i++) {
            all[i] = how.applyAsDouble(l.x()[i], l.y()[i]);
        }
        return all;
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
