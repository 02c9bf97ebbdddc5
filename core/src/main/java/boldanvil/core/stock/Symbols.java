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

    static Picture fluxmeter(Values v) {
        return of(above(0.22), ellipse(0.5, 0.5, 0.28, 0.28), new Label("Vs", 0.5, 0.5, 0.42), below(0.78), curve(0.78, 0.5, 1, 0.5));
    }

    static Picture chargemeter(Values v) {
        return of(left(0.22), ellipse(0.5, 0.5, 0.28, 0.28), new Label("As", 0.5, 0.5, 0.42), right(0.78), above(0.22));
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

    static Picture alternating(Values v) {
        return of(above(0.2), ellipse(0.5, 0.5, 0.3, 0.3), path(t -> 0.34 + 0.32 * t, t -> 0.5 - 0.12 * Math.sin(2 * Math.PI * t)),
                below(0.8), plus(0.72, 0.1));
    }

    static Picture threePhase(Values v) {
        return of(left(0.2), ellipse(0.5, 0.5, 0.3, 0.4), path(t -> 0.34 + 0.32 * t, t -> 0.42 - 0.1 * Math.sin(2 * Math.PI * t)),
                new Label("3", 0.5, 0.68, 0.5), curve(0.72, 0.25, 1, 0.25), right(0.8), curve(0.72, 0.75, 1, 0.75));
    }

    static Picture load(Values v) {
        return of(above(0.2), box(0.34, 0.2, 0.66, 0.8), below(0.8), curve(0.4, 0.64, 0.5, 0.64, 0.5, 0.36, 0.6, 0.36),
                curve(0, 0.5, 0.34, 0.5));
    }

    static Picture battery(Values v) {
        return of(above(0.36), curve(0.2, 0.36, 0.8, 0.36), curve(0.36, 0.46, 0.64, 0.46), curve(0.2, 0.56, 0.8, 0.56),
                curve(0.36, 0.66, 0.64, 0.66), below(0.66), plus(0.72, 0.16));
    }

    static Picture solar(Values v) {
        return of(above(0.25), box(0.25, 0.25, 0.75, 0.75), curve(0.36, 0.45, 0.64, 0.45), curve(0.42, 0.56, 0.58, 0.56), below(0.75),
                curve(0.02, 0.08, 0.22, 0.28), curve(0.12, 0.26, 0.22, 0.28, 0.2, 0.18), plus(0.84, 0.14));
    }

    static Picture saturable(Values v) {
        return of(left(0.18), bow(0.18), bow(0.34), bow(0.50), bow(0.66), right(0.82), curve(0.2, 0.86, 0.4, 0.86, 0.6, 0.16, 0.8, 0.16));
    }

    static Picture igbt(Values v) {
        return of(above(0.25), below(0.75), curve(0.5, 0.25, 0.36, 0.4), curve(0.36, 0.6, 0.5, 0.75), curve(0.36, 0.3, 0.36, 0.7),
                curve(0.28, 0.34, 0.28, 0.66), curve(0, 0.5, 0.28, 0.5), curve(0.42, 0.74, 0.5, 0.75, 0.47, 0.66),
                curve(0.5, 0.25, 0.74, 0.25, 0.74, 0.42), curve(0.64, 0.42, 0.84, 0.42),
                curve(0.64, 0.58, 0.74, 0.42, 0.84, 0.58, 0.64, 0.58),
                curve(0.74, 0.58, 0.74, 0.75, 0.5, 0.75));
    }

    static Picture thyristor(Values v) {
        return of(left(0.32), curve(0.32, 0.18, 0.32, 0.82, 0.68, 0.5, 0.32, 0.18), curve(0.68, 0.18, 0.68, 0.82), right(0.68),
                curve(0.68, 0.6, 0.82, 0.9));
    }

    static Picture bridge(Values v) {
        return of(above(0.1), below(0.9), box(0.14, 0.1, 0.86, 0.9), curve(0.14, 0.9, 0.86, 0.1), curve(0.24, 0.28, 0.42, 0.28),
                curve(0.24, 0.36, 0.42, 0.36), path(t -> 0.54 + 0.24 * t, t -> 0.7 - 0.08 * Math.sin(2 * Math.PI * t)));
    }

    static Picture threeLevel(Values v) {
        return of(above(0.1), below(0.9), box(0.14, 0.1, 0.86, 0.9), curve(0.14, 0.9, 0.86, 0.1), new Label("3", 0.34, 0.3, 0.5),
                path(t -> 0.54 + 0.24 * t, t -> 0.7 - 0.08 * Math.sin(2 * Math.PI * t)));
    }

    /** A machine with three phases and a letter for its kind. */
    static Picture rotating(String letter) {
        return of(curve(0, 0.25, 0.28, 0.3), left(0.2), curve(0, 0.75, 0.28, 0.7), ellipse(0.5, 0.5, 0.3, 0.34),
                new Label("M3", 0.5, 0.42, 0.5),
                new Label(letter, 0.5, 0.64, 0.5), curve(0.8, 0.46, 1, 0.46), curve(0.8, 0.54, 1, 0.54));
    }

    static Picture friction(Values v) {
        return of(left(0.36), box(0.36, 0.22, 0.64, 0.5), right(0.64), curve(0.2, 0.56, 0.8, 0.56), curve(0.3, 0.56, 0.22, 0.68),
                curve(0.44, 0.56, 0.36, 0.68), curve(0.58, 0.56, 0.5, 0.68), curve(0.72, 0.56, 0.64, 0.68));
    }

    static Picture play(Values v) {
        return of(left(0.4), curve(0.4, 0.3, 0.4, 0.7), curve(0.4, 0.3, 0.48, 0.3), curve(0.4, 0.7, 0.48, 0.7), curve(0.52, 0.5, 0.6, 0.5),
                curve(0.52, 0.4, 0.52, 0.6), right(0.6), curve(0.48, 0.3, 0.48, 0.36), curve(0.48, 0.7, 0.48, 0.64));
    }

    static Picture stop(Values v) {
        return of(left(0.4), box(0.4, 0.38, 0.56, 0.62), curve(0.22, 0.7, 0.22, 0.9), curve(0.82, 0.15, 0.82, 0.85),
                curve(0.82, 0.3, 0.94, 0.2), curve(0.82, 0.5, 0.94, 0.4), curve(0.82, 0.7, 0.94, 0.6));
    }

    static Picture worm(Values v) {
        return of(left(0.18), box(0.18, 0.36, 0.56, 0.64), curve(0.26, 0.64, 0.32, 0.36), curve(0.36, 0.64, 0.42, 0.36),
                curve(0.46, 0.64, 0.52, 0.36), ellipse(0.72, 0.5, 0.16, 0.3), right(0.88));
    }

    static Picture belt(Values v) {
        return of(left(0.28), ellipse(0.28, 0.5, 0.1, 0.14), ellipse(0.7, 0.5, 0.16, 0.26), curve(0.28, 0.36, 0.7, 0.24),
                curve(0.28, 0.64, 0.7, 0.76), right(0.7));
    }

    static Picture eccentric(Values v) {
        return of(left(0.45), ellipse(0.45, 0.5, 0.08, 0.08), curve(0.5, 0.56, 0.66, 0.76), ellipse(0.72, 0.82, 0.1, 0.1));
    }

    static Picture planar(Values v) {
        return of(box(0.22, 0.25, 0.78, 0.75), curve(0.5, 0.5, 0.7, 0.5), curve(0.63, 0.43, 0.7, 0.5, 0.63, 0.57),
                curve(0.5, 0.5, 0.5, 0.32), curve(0.44, 0.39, 0.5, 0.32, 0.56, 0.39));
    }

    static Picture convection(Values v) {
        return of(left(0.3), curve(0.3, 0.15, 0.3, 0.85), wave(0.42), wave(0.54), wave(0.66), right(0.74));
    }

    private static Shape wave(double x) {
        return path(t -> x + 0.04 * Math.sin(4 * Math.PI * t), t -> 0.8 - 0.6 * t);
    }

    static Picture volume(Values v) {
        return of(left(0.2), ellipse(0.52, 0.5, 0.32, 0.3), curve(0.34, 0.5, 0.7, 0.5));
    }

    static Picture orifice(Values v) {
        return of(left(1), curve(0.38, 0.15, 0.5, 0.42, 0.62, 0.15), curve(0.38, 0.85, 0.5, 0.58, 0.62, 0.85));
    }

    static Picture throttle(Values v) {
        return of(left(1), curve(0.38, 0.15, 0.5, 0.42, 0.62, 0.15), curve(0.38, 0.85, 0.5, 0.58, 0.62, 0.85), curve(0.3, 0.9, 0.72, 0.1),
                curve(0.62, 0.12, 0.72, 0.1, 0.71, 0.22));
    }

    static Picture check(Values v) {
        return of(left(0.36), ellipse(0.5, 0.5, 0.12, 0.12), curve(0.3, 0.3, 0.38, 0.5, 0.3, 0.7), right(0.62));
    }

    static Picture relief(Values v) {
        return of(left(0.25), box(0.25, 0.25, 0.75, 0.75), curve(0.34, 0.62, 0.66, 0.62), curve(0.58, 0.55, 0.66, 0.62, 0.58, 0.69),
                right(0.75),
                curve(0.5, 0.25, 0.42, 0.2, 0.58, 0.14, 0.42, 0.08, 0.58, 0.02));
    }

    static Picture directional(Values v) {
        return of(box(0.05, 0.25, 0.95, 0.75), curve(0.35, 0.25, 0.35, 0.75), curve(0.65, 0.25, 0.65, 0.75), curve(0.13, 0.75, 0.13, 0.28),
                curve(0.1, 0.36, 0.13, 0.28, 0.16, 0.36), curve(0.27, 0.25, 0.27, 0.72), curve(0.24, 0.64, 0.27, 0.72, 0.3, 0.64),
                curve(0.73, 0.75, 0.87, 0.28), curve(0.73, 0.28, 0.87, 0.72), curve(1.0 / 3, 0, 0.42, 0.25), curve(2.0 / 3, 0, 0.58, 0.25),
                curve(1.0 / 3, 1, 0.42, 0.75), curve(2.0 / 3, 1, 0.58, 0.75));
    }

    static Picture pump(Values v) {
        return of(above(0.2), ellipse(0.5, 0.5, 0.3, 0.3), curve(0.38, 0.36, 0.5, 0.2, 0.62, 0.36, 0.38, 0.36), below(0.8),
                curve(0, 0.46, 0.2, 0.46), curve(0, 0.54, 0.2, 0.54));
    }

    static Picture cylinder(Values v) {
        return of(box(0.1, 0.3, 0.75, 0.7), box(0.4, 0.3, 0.46, 0.7), curve(0.46, 0.47, 1, 0.47), curve(0.46, 0.53, 1, 0.53),
                curve(1.0 / 3, 1, 1.0 / 3, 0.85, 0.18, 0.85, 0.18, 0.7), curve(2.0 / 3, 1, 2.0 / 3, 0.7));
    }

    static Picture pair(Values v) {
        // A heat contact on the same side moves the others up.
        boolean heated = v.text(Elements.HEATING.name()).equals("yes");
        double anode = heated ? 0.25 : 1.0 / 3;
        double cathode = heated ? 0.5 : 2.0 / 3;
        double base = (anode + cathode) / 2 - 0.08;
        double tip = base + 0.14;
        return of(box(0.14, 0.08, 0.86, 0.92), above(0.3), curve(0.5, 0.3, 0.36, 0.6), below(0.6), curve(0, 0.5, 0.14, 0.5),
                curve(0.2, 0.56, 0.2, 0.44, 0.26, 0.44, 0.26, 0.56, 0.32, 0.56), curve(1, anode, 0.74, anode, 0.74, base),
                curve(0.66, base, 0.82, base, 0.74, tip, 0.66, base), curve(0.66, tip, 0.82, tip),
                curve(0.74, tip, 0.74, cathode, 1, cathode));
    }
}
