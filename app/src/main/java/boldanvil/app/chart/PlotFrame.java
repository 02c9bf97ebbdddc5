package boldanvil.app.chart;

import boldanvil.app.widget.Theme;
import boldanvil.core.report.Ticks;
import java.util.List;
import java.util.Locale;
import javafx.geometry.VPos;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.text.TextAlignment;

/**
 * The frame of a plot: axes with their numbers and names, and where a value is within it.
 *
 * @param x least and greatest value along; of a logarithmic axis its decimal logarithms
 * @param y least and greatest value upwards
 */
record PlotFrame(double left, double top, double width, double height, double[] x, double[] y, boolean logarithmic) {
    double across(double v) {
        return left + ((logarithmic ? Math.log10(v) : v) - x[0]) / (x[1] - x[0]) * width;
    }

    double up(double v) {
        return top + height - (v - y[0]) / (y[1] - y[0]) * height;
    }

    /** The value along at a place of the screen. */
    double valueAcross(double px) {
        double v = x[0] + (px - left) / width * (x[1] - x[0]);
        return logarithmic ? Math.pow(10, v) : v;
    }

    /** The value upwards at a place of the screen. */
    double valueUp(double py) {
        return y[0] + (top + height - py) / height * (y[1] - y[0]);
    }

    boolean contains(double px, double py) {
        return px >= left && px <= left + width && py >= top && py <= top + height;
    }

    /**
     * Draws the axes.
     *
     * @param title what the vertical axis shows, with its unit
     * @param along what the horizontal axis shows; empty where another plot below shows it
     */
    void paint(GraphicsContext g, Theme t, String title, String along) {
        g.setTextBaseline(VPos.CENTER);
        g.setLineWidth(1);
        g.setFont(Theme.sans(11.5));
        int rows = (int) Math.max(2, height / 40);
        g.setTextAlign(TextAlignment.RIGHT);
        for (double v : Ticks.of(y[0], y[1], rows)) {
            double at = Math.round(up(v)) + 0.5;
            g.setStroke(t.rule());
            g.strokeLine(left, at, left + width, at);
            g.setFill(t.ink());
            g.fillText(Ticks.text(v, y[0], y[1], rows), left - 6, at);
        }
        g.setTextAlign(TextAlignment.CENTER);
        if (logarithmic) {
            decades(g, t, !along.isEmpty());
        } else {
            int columns = (int) Math.max(3, width / 70);
            for (double v : Ticks.of(x[0], x[1], columns)) {
                column(g, t, Math.round(across(v)) + 0.5, along.isEmpty() ? "" : Ticks.text(v, x[0], x[1], columns));
            }
        }
        g.setStroke(t.faint());
        g.strokeRect(left + 0.5, top + 0.5, width - 1, height - 1);
        g.setFill(t.ink());
        g.setFont(Theme.bold(12.5));
        g.fillText(along, left + width / 2, top + height + 32);
        g.setTextAlign(TextAlignment.LEFT);
        g.fillText(title, 10, top - 15);
    }

    private void column(GraphicsContext g, Theme t, double at, String text) {
        g.setStroke(t.rule());
        g.strokeLine(at, top, at, top + height);
        g.setFill(t.ink());
        g.fillText(text, at, top + height + 13);
    }

    private void decades(GraphicsContext g, Theme t, boolean numbered) {
        for (int d = (int) Math.ceil(x[0] - 1e-9); d <= x[1] + 1e-9; d++) {
            column(g, t, Math.round(left + (d - x[0]) / (x[1] - x[0]) * width) + 0.5, numbered ? power(d) : "");
        }
    }

    private static String power(int d) {
        return d >= -2 && d <= 4 ? String.format(Locale.ROOT, d < 0 ? "%." + -d + "f" : "%.0f", Math.pow(10, d)) : "1e" + d;
    }

    /** Least and greatest with a little room; null where there is nothing to show. */
    static double[] range(List<double[]> all) {
        double low = Double.POSITIVE_INFINITY;
        double high = Double.NEGATIVE_INFINITY;
        for (double[] some : all) {
            for (double v : some) {
                if (Double.isFinite(v)) {
                    low = Math.min(low, v);
                    high = Math.max(high, v);
                }
            }
        }
        if (low > high) {
            return null;
        }
        double room = low == 0 && high == 0 ? 1 : Math.max((high - low) * 0.05, Math.max(1e-9, Math.abs(high) * 1e-3));
        return new double[] {low - room, high + room};
    }
}
