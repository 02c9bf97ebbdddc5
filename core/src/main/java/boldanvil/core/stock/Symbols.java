package boldanvil.core.stock;

import static boldanvil.core.stock.Picture.curve;

import boldanvil.core.stock.Picture.Dot;
import boldanvil.core.stock.Picture.Label;
import boldanvil.core.stock.Picture.Shape;
import java.util.ArrayList;
import java.util.List;
import java.util.function.DoubleUnaryOperator;

/**
 * Symbols of network elements: circuits after IEC 60617, fluids after ISO 1219, mechanics in the form of textbooks. Those of two contacts
 * lie between the middles of two opposite sides.
 */
final class Symbols {
    private static final int POINTS = 24;

    private Symbols() {}

    private static Picture of(Shape... shapes) {
        return Picture.symbol(List.of(shapes));
    }

    private static Shape ellipse(double x, double y, double rx, double ry) {
        return arc(x, y, rx, ry, 0, 2 * Math.PI);
    }

    /** Part of an ellipse; angles from the right, clockwise as y grows downwards. */
    private static Shape arc(double x, double y, double rx, double ry, double from, double to) {
        return path(t -> x + rx * Math.cos(from + (to - from) * t), t -> y + ry * Math.sin(from + (to - from) * t));
    }

    private static Shape path(DoubleUnaryOperator x, DoubleUnaryOperator y) {
        double[] xy = new double[2 * POINTS + 2];
        for (int i = 0; i <= POINTS; i++) {
            xy[2 * i] = x.applyAsDouble((double) i / POINTS);
            xy[2 * i + 1] = y.applyAsDouble((double) i / POINTS);
        }
        return curve(xy);
    }

    private static Shape box(double left, double top, double right, double bottom) {
        return curve(left, top, right, top, right, bottom, left, bottom, left, top);
    }

    /** Leads from the left and the right side. */
    private static Shape left(double to) {
        return curve(0, 0.5, to, 0.5);
    }

    private static Shape right(double from) {
        return curve(from, 0.5, 1, 0.5);
    }

    private static Shape above(double to) {
        return curve(0.5, 0, 0.5, to);
    }

    private static Shape below(double from) {
        return curve(0.5, from, 0.5, 1);
    }

    static Picture ground(Values v) {
        return of(above(0.45), curve(0.15, 0.45, 0.85, 0.45), curve(0.28, 0.62, 0.72, 0.62), curve(0.41, 0.79, 0.59, 0.79));
    }

    static Picture resistor(Values v) {
        return of(left(0.2), box(0.2, 0.3, 0.8, 0.7), right(0.8));
    }

    static Picture inductor(Values v) {
        return of(left(0.18), bow(0.18), bow(0.34), bow(0.50), bow(0.66), right(0.82));
    }

    private static Shape bow(double from) {
        return arc(from + 0.08, 0.5, 0.08, 0.22, Math.PI, 2 * Math.PI);
    }

    static Picture capacitor(Values v) {
        return of(left(0.44), curve(0.44, 0.15, 0.44, 0.85), curve(0.56, 0.15, 0.56, 0.85), right(0.56));
    }

    static Picture voltage(Values v) {
        return of(above(0.2), ellipse(0.5, 0.5, 0.3, 0.3), curve(0.5, 0.2, 0.5, 0.8), below(0.8), plus(0.72, 0.1));
    }

    static Picture current(Values v) {
        return of(above(0.2), ellipse(0.5, 0.5, 0.3, 0.3), curve(0.2, 0.5, 0.8, 0.5), below(0.8), curve(0.86, 0.3, 0.86, 0.02),
                curve(0.8, 0.1, 0.86, 0.02, 0.92, 0.1));
    }

    private static Shape plus(double x, double y) {
        return new Label("+", x, y, 0.5);
    }

    static Picture voltmeter(Values v) {
        return of(above(0.22), ellipse(0.5, 0.5, 0.28, 0.28), new Label("V", 0.5, 0.5, 0.5), below(0.78), curve(0.78, 0.5, 1, 0.5));
    }

    static Picture ammeter(Values v) {
        return of(left(0.22), ellipse(0.5, 0.5, 0.28, 0.28), new Label("A", 0.5, 0.5, 0.5), right(0.78), above(0.22));
    }

    static Picture contact(Values v) {
        return of(left(0.25), curve(0.25, 0.5, 0.75, 0.2), right(0.72));
    }

    static Picture pulsed(Values v) {
        return of(left(0.25), curve(0.25, 0.5, 0.75, 0.2), right(0.72), above(0.1), curve(0.38, 0.1, 0.38, 0.02, 0.5, 0.02));
    }

    static Picture halfBridge(Values v) {
        return of(above(0.12), curve(0.5, 0.12, 0.38, 0.4), below(0.88), curve(0.5, 0.62, 0.38, 0.88), curve(0.5, 0.38, 0.5, 0.62),
                curve(0.5, 0.5, 1,
                0.5), box(0.16, 0.08, 0.84, 0.92), curve(0, 0.5, 0.16, 0.5),
                curve(0.22, 0.56, 0.22, 0.44, 0.28, 0.44, 0.28, 0.56, 0.34, 0.56));
    }

    static Picture diode(Values v) {
        return of(left(0.32), curve(0.32, 0.18, 0.32, 0.82, 0.68, 0.5, 0.32, 0.18), curve(0.68, 0.18, 0.68, 0.82), right(0.68));
    }

    static Picture mosfet(Values v) {
        return of(above(0.28), below(0.72), curve(0.5, 0.28, 0.36, 0.28), curve(0.5, 0.72, 0.36, 0.72), curve(0.5, 0.5, 0.36, 0.5),
                curve(0.5, 0.5, 0.5, 0.72), curve(0.36, 0.2, 0.36, 0.36), curve(0.36, 0.42, 0.36, 0.58), curve(0.36, 0.64, 0.36, 0.8),
                curve(0.28, 0.25, 0.28, 0.75), curve(0, 0.5, 0.28, 0.5), curve(0.44, 0.44, 0.36, 0.5, 0.44, 0.56),
                curve(0.5, 0.28, 0.72, 0.28, 0.72, 0.42), curve(0.62, 0.42, 0.82, 0.42),
                curve(0.62, 0.58, 0.72, 0.42, 0.82, 0.58, 0.62, 0.58),
                curve(0.72, 0.58, 0.72, 0.72, 0.5, 0.72));
    }

    static Picture transformer(Values v) {
        List<Shape> shapes = new ArrayList<>();
        for (double y : new double[] {0.26, 0.42, 0.58, 0.74}) {
            shapes.add(arc(0.34, y, 0.1, 0.08, -Math.PI / 2, Math.PI / 2));
            shapes.add(arc(0.66, y, 0.1, 0.08, Math.PI / 2, 3 * Math.PI / 2));
        }
        for (double x : new double[] {0, 1}) {
            double inner = x == 0 ? 0.34 : 0.66;
            shapes.add(curve(x, 1.0 / 3, x == 0 ? 0.15 : 0.85, 1.0 / 3, x == 0 ? 0.15 : 0.85, 0.18, inner, 0.18));
            shapes.add(curve(x, 2.0 / 3, x == 0 ? 0.15 : 0.85, 2.0 / 3, x == 0 ? 0.15 : 0.85, 0.82, inner, 0.82));
        }
        shapes.add(curve(0.48, 0.15, 0.48, 0.85));
        shapes.add(curve(0.52, 0.15, 0.52, 0.85));
        shapes.add(new Dot(0.25, 0.24));
        shapes.add(new Dot(0.75, 0.24));
        return Picture.symbol(shapes);
    }

    static Picture machine(Values v) {
        return of(above(0.2), ellipse(0.5, 0.5, 0.3, 0.3), new Label("M", 0.5, 0.5, 0.5), below(0.8), curve(0.8, 0.46, 1, 0.46),
                curve(0.8, 0.54, 1, 0.54));
    }

    static Picture frame(Values v) {
        return of(left(0.5), curve(0.5, 0.1, 0.5, 0.9), curve(0.5, 0.3, 0.75, 0.1), curve(0.5, 0.55, 0.75, 0.35),
                curve(0.5, 0.8, 0.75, 0.6), curve(0.55, 0.95, 0.75, 0.82));
    }

    static Picture inertia(Values v) {
        return of(curve(0, 0.46, 0.38, 0.46), curve(0, 0.54, 0.38, 0.54), box(0.38, 0.08, 0.62, 0.92), curve(0.62, 0.46, 1, 0.46),
                curve(0.62, 0.54, 1, 0.54));
    }

    static Picture mass(Values v) {
        return of(left(0.25), box(0.25, 0.15, 0.75, 0.85), right(0.75));
    }

    static Picture damper(Values v) {
        return of(left(0.5), curve(0.5, 0.32, 0.5, 0.68), curve(0.35, 0.2, 0.7, 0.2, 0.7, 0.8, 0.35, 0.8), right(0.7));
    }

    static Picture spring(Values v) {
        return of(left(0.18), curve(0.18, 0.5, 0.24, 0.2, 0.34, 0.8, 0.44, 0.2, 0.54, 0.8, 0.64, 0.2, 0.74, 0.8, 0.8, 0.5), right(0.8));
    }

    static Picture drive(Values v) {
        return of(left(0.3), ellipse(0.6, 0.5, 0.3, 0.3), curve(0.75, 0.5, 0.42, 0.5), curve(0.52, 0.38, 0.42, 0.5, 0.52, 0.62));
    }

    static Picture sensor(Values v) {
        return of(left(0.22), ellipse(0.5, 0.5, 0.28, 0.28), curve(0.42, 0.65, 0.6, 0.32), curve(0.51, 0.36, 0.6, 0.32, 0.61, 0.44));
    }

    static Picture gear(Values v) {
        return of(curve(0, 0.5, 0.3, 0.5), box(0.3, 0.1, 0.5, 0.9), box(0.5, 0.28, 0.7, 0.72), curve(0.7, 0.5, 1, 0.5));
    }

    static Picture rack(Values v) {
        return of(left(0.22), ellipse(0.42, 0.42, 0.2, 0.3), curve(0.2, 0.76, 0.26, 0.72, 0.32, 0.8, 0.38, 0.72, 0.44, 0.8, 0.5, 0.72, 0.56,
                0.8, 0.62, 0.72, 0.68, 0.8), curve(0.2, 0.88, 0.8, 0.88, 0.8, 0.5), right(0.8));
    }

    static Picture tank(Values v) {
        return of(curve(0, 0.5, 0.12, 0.5, 0.12, 0.85, 0.3, 0.85), curve(0.3, 0.1, 0.3, 0.9, 0.85, 0.9, 0.85, 0.1),
                curve(0.3, 0.35, 0.85, 0.35));
    }

    static Picture pipe(Values v) {
        return of(curve(0, 0.5, 0.15, 0.5), box(0.15, 0.36, 0.85, 0.64), curve(0.85, 0.5, 1, 0.5));
    }
}
