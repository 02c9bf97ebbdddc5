package boldanvil.app.bench;

import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.BenchLayout.Control;
import java.util.Locale;
import java.util.function.DoubleConsumer;
import java.util.function.Supplier;
import javafx.geometry.VPos;
import javafx.scene.canvas.Canvas;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.MouseEvent;
import javafx.scene.input.ScrollEvent;
import javafx.scene.layout.Region;
import javafx.scene.text.TextAlignment;

/** A knob that is turned by dragging around it, by the wheel or by the arrow keys; with Shift, beyond its soft limits. */
final class Dial extends Region {
    private static final double SIZE = 148;
    private static final double FROM = 225;
    private static final double SWEEP = 270;

    private final Canvas canvas = new Canvas(SIZE, SIZE);
    private final double minimum;
    private final double maximum;
    private final double softMinimum;
    private final double softMaximum;
    private final double stride;
    private final String unit;
    private final Supplier<Theme> theme;
    private final DoubleConsumer turned;
    private double value;
    private double reached = Double.NaN;

    Dial(Control c, Supplier<Theme> theme, DoubleConsumer turned) {
        minimum = c.minimum();
        maximum = c.maximum();
        softMinimum = c.softMinimum();
        softMaximum = c.softMaximum();
        stride = c.stride();
        unit = c.unit();
        this.theme = theme;
        this.turned = turned;
        value = minimum;
        getChildren().add(canvas);
        setPrefSize(SIZE, SIZE);
        setMinSize(SIZE, SIZE);
        setMaxSize(SIZE, SIZE);
        setFocusTraversable(true);
        setAccessibleText("dial in " + unit);
        addEventHandler(MouseEvent.MOUSE_PRESSED, this::pointed);
        addEventHandler(MouseEvent.MOUSE_DRAGGED, this::pointed);
        addEventHandler(ScrollEvent.SCROLL, e -> {
            turnTo(value + Math.signum(e.getDeltaY() + e.getDeltaX()) * stride, e.isShiftDown());
            e.consume();
        });
        addEventHandler(KeyEvent.KEY_PRESSED, this::key);
        focusedProperty().addListener((_, _, _) -> paint());
        paint();
    }

    private void key(KeyEvent e) {
        boolean on = e.isShiftDown();
        switch (e.getCode()) {
            case UP, RIGHT -> turnTo(value + stride, on);
            case DOWN, LEFT -> turnTo(value - stride, on);
            case HOME -> turnTo(minimum, on);
            case END -> turnTo(maximum, on);
            default -> {
                return;
            }
        }
        e.consume();
    }

    private void pointed(MouseEvent e) {
        requestFocus();
        double angle = Math.toDegrees(Math.atan2(SIZE / 2 - e.getY(), e.getX() - SIZE / 2));
        double share = ((FROM - angle) % 360 + 360) % 360 / SWEEP;
        turnTo(minimum + Math.min(1, share > 1.165 ? 0 : share) * (maximum - minimum), e.isShiftDown());
    }

    /** @param beyond whether soft limits are passed */
    private void turnTo(double v, boolean beyond) {
        show(beyond ? Math.clamp(v, minimum, maximum) : Math.clamp(v, Math.min(value, softMinimum), Math.max(value, softMaximum)));
        turned.accept(value);
    }

    /** Shows a value without telling anybody. */
    void show(double v) {
        value = v;
        paint();
    }

    /** A value, in the dial's unit, that is on its way to the one that is set; NaN for none. */
    void reached(double v) {
        if (Double.compare(v, reached) != 0) {
            reached = v;
            paint();
        }
    }

    double value() {
        return value;
    }

    private void paint() {
        var g = canvas.getGraphicsContext2D();
        var t = theme.get();
        double c = SIZE / 2;
        double r = SIZE / 2 - 22;
        g.clearRect(0, 0, SIZE, SIZE);
        g.setLineWidth(6);
        g.setStroke(t.rule());
        g.strokeArc(c - r, c - r, 2 * r, 2 * r, FROM, -SWEEP, javafx.scene.shape.ArcType.OPEN);
        g.setStroke(t.amber());
        g.setLineWidth(2);
        if (softMinimum > minimum) {
            double part = (softMinimum - minimum) / (maximum - minimum);
            g.strokeArc(c - r - 6, c - r - 6, 2 * r + 12, 2 * r + 12, FROM, -SWEEP * part, javafx.scene.shape.ArcType.OPEN);
        }
        if (softMaximum < maximum) {
            double part = (softMaximum - minimum) / (maximum - minimum);
            g.strokeArc(c - r - 6, c - r - 6, 2 * r + 12, 2 * r + 12, FROM - SWEEP * part, -SWEEP * (1 - part),
                    javafx.scene.shape.ArcType.OPEN);
        }
        g.setLineWidth(6);
        double share = Math.clamp((value - minimum) / (maximum - minimum), 0, 1);
        g.setStroke(isFocused() ? t.steel() : t.ink());
        g.strokeArc(c - r, c - r, 2 * r, 2 * r, FROM, -SWEEP * share, javafx.scene.shape.ArcType.OPEN);
        g.setFont(Theme.sans(10.5));
        g.setTextBaseline(VPos.CENTER);
        g.setTextAlign(TextAlignment.CENTER);
        for (int i = 0; i <= 6; i++) {
            double a = Math.toRadians(FROM - SWEEP * i / 6.0);
            g.setFill(t.faint());
            g.fillText(trim(minimum + (maximum - minimum) * i / 6.0), c + (r + 14) * Math.cos(a), c - (r + 14) * Math.sin(a));
        }
        double a = Math.toRadians(FROM - SWEEP * share);
        g.setFill(t.ember());
        g.fillOval(c + r * Math.cos(a) - 7, c - r * Math.sin(a) - 7, 14, 14);
        if (!Double.isNaN(reached)) {
            double b = Math.toRadians(FROM - SWEEP * Math.clamp((reached - minimum) / (maximum - minimum), 0, 1));
            g.setStroke(t.moss());
            g.setLineWidth(3);
            g.strokeLine(c + (r - 14) * Math.cos(b), c - (r - 14) * Math.sin(b), c + (r - 5) * Math.cos(b), c - (r - 5) * Math.sin(b));
        }
        g.setFill(t.ink());
        g.setFont(Theme.bold(19));
        g.fillText(String.format(Locale.ROOT, "%.3f", value), c, c - 3);
        g.setFont(Theme.sans(12));
        g.setFill(t.faint());
        g.fillText(unit, c, c + 16);
    }

    private static String trim(double v) {
        String s = String.format(Locale.ROOT, "%.2f", v);
        return s.contains(".") ? s.replaceAll("0+$", "").replaceAll("\\.$", "") : s;
    }
}
