package boldanvil.app.sheet;

import boldanvil.app.widget.Theme;
import boldanvil.core.sheet.Ink;
import boldanvil.core.sheet.Pen;
import boldanvil.core.sheet.SheetScene.Point;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import javafx.geometry.VPos;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.text.Font;
import javafx.scene.text.Text;
import javafx.scene.text.TextAlignment;

/** Draws on a canvas of the window. */
public final class CanvasPen implements Pen {
    private record Key(String text, Lettering lettering) {}

    private record Type(Lettering lettering, double size) {}

    private static final int CACHE = 20_000;
    private static final double[] DASHES = {5, 3};
    private static final double[] SOLID = {};
    private static final Map<Key, Double> WIDTHS = new HashMap<>();
    private static final Map<Type, Font> FONTS = new HashMap<>();

    private final GraphicsContext g;
    private final Theme theme;

    /** To be used on the thread of the window. */
    public CanvasPen(GraphicsContext g, Theme theme) {
        this.g = g;
        this.theme = theme;
        g.setTextBaseline(VPos.CENTER);
    }

    private void stroke(Stroke s) {
        g.setStroke(theme.colour(s.ink()));
        g.setLineWidth(s.width());
        g.setLineDashes(s.dashed() ? DASHES : SOLID);
    }

    @Override
    public void line(List<Point> points, double rounding, Stroke stroke) {
        stroke(stroke);
        g.beginPath();
        g.moveTo(points.getFirst().x(), points.getFirst().y());
        for (int i = 1; i < points.size() - 1; i++) {
            Point p = points.get(i);
            if (rounding > 0) {
                Point q = points.get(i + 1);
                g.arcTo(p.x(), p.y(), q.x(), q.y(), rounding);
            } else {
                g.lineTo(p.x(), p.y());
            }
        }
        g.lineTo(points.getLast().x(), points.getLast().y());
        g.stroke();
        g.setLineDashes(null);
    }

    @Override
    public void box(double x, double y, double width, double height, double rounding, Ink fill, Stroke edge) {
        if (fill != null) {
            g.setFill(theme.colour(fill));
            g.fillRoundRect(x, y, width, height, 2 * rounding, 2 * rounding);
        }
        if (edge != null) {
            stroke(edge);
            g.strokeRoundRect(x, y, width, height, 2 * rounding, 2 * rounding);
            g.setLineDashes(null);
        }
    }

    @Override
    public void circle(double x, double y, double radius, Ink fill, Stroke edge) {
        if (fill != null) {
            g.setFill(theme.colour(fill));
            g.fillOval(x - radius, y - radius, 2 * radius, 2 * radius);
        }
        if (edge != null) {
            stroke(edge);
            g.strokeOval(x - radius, y - radius, 2 * radius, 2 * radius);
        }
    }

    @Override
    public void polygon(List<Point> points, Ink fill) {
        g.setFill(theme.colour(fill));
        g.fillPolygon(points.stream().mapToDouble(Point::x).toArray(), points.stream().mapToDouble(Point::y).toArray(), points.size());
    }

    @Override
    public void text(String text, double x, double y, double align, Lettering lettering, double size, Ink ink) {
        g.setFont(font(lettering, size));
        g.setFill(theme.colour(ink));
        g.setTextAlign(align == 0 ? TextAlignment.LEFT : align == 1 ? TextAlignment.RIGHT : TextAlignment.CENTER);
        g.fillText(text, x, y);
    }

    private static Font font(Lettering lettering, double size) {
        return FONTS.computeIfAbsent(new Type(lettering, size), t -> switch (t.lettering()) {
            case SANS -> Theme.sans(t.size());
            case BOLD -> Theme.bold(t.size());
            case MONO -> Theme.mono(t.size());
        });
    }

    @Override
    public double width(String text, Lettering lettering, double size) {
        if (WIDTHS.size() > CACHE) {
            WIDTHS.clear();
            FONTS.clear();
        }
        // Widths are proportional to the size, so that each text is measured once for all scales.
        return size / 12 * WIDTHS.computeIfAbsent(new Key(text, lettering), k -> {
            var t = new Text(k.text());
            t.setFont(font(k.lettering(), 12));
            return t.getLayoutBounds().getWidth();
        });
    }
}
