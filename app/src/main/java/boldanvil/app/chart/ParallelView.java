package boldanvil.app.chart;

import boldanvil.app.widget.Theme;
import boldanvil.core.report.Ticks;
import java.util.List;
import java.util.function.Supplier;
import javafx.geometry.VPos;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.text.TextAlignment;

/** All numbers of each run: an upright axis for each number, a line from axis to axis for each run. */
public final class ParallelView extends StudyPlot {
    /** Lines that are drawn at most; a picture of more is a grey field. */
    private static final int MOST_LINES = 3_000;
    private static final double SIDE = 70;
    private static final double TOP = 46;
    private static final double BOTTOM = 40;

    /**
     * One number of all runs.
     *
     * @param label with its unit
     */
    public record Axis(String label, double[] values) {}

    private List<Axis> axes = List.of();
    private boolean[] passed;

    public ParallelView(Supplier<Theme> theme) {
        super(theme, "study-parallel");
    }

    /** @param good for each run; null where nothing is asked of it */
    public void show(List<Axis> what, boolean[] good) {
        axes = List.copyOf(what);
        passed = good;
        repaint();
    }

    private int runs() {
        return axes.isEmpty() ? 0 : axes.getFirst().values().length;
    }

    private double x(int axis) {
        return axes.size() == 1 ? getWidth() / 2 : SIDE + axis * (getWidth() - 2 * SIDE) / (axes.size() - 1);
    }

    private double[] range(int axis) {
        return PlotFrame.range(List.of(axes.get(axis).values()));
    }

    private double y(double value, double[] range) {
        return TOP + (getHeight() - TOP - BOTTOM) * (1 - (value - range[0]) / (range[1] - range[0]));
    }

    @Override
    void paint(GraphicsContext g, Theme t) {
        if (axes.size() < 2) {
            return;
        }
        double[][] ranges = new double[axes.size()][];
        for (int a = 0; a < ranges.length; a++) {
            ranges[a] = range(a);
        }
        int stride = Math.max(1, (runs() + MOST_LINES - 1) / MOST_LINES);
        var raster = new Raster((int) getWidth(), (int) getHeight());
        int plain = Raster.argb(t.trace(0).interpolate(t.card(), 0.45));
        int failed = Raster.argb(t.madder());
        int[] drawn = {0};
        inOrder(runs(), passed, i -> {
            // Of failed runs, which are few or what is looked for, each is drawn.
            boolean good = passed == null || passed[i];
            if (i % stride == 0 || !good && drawn[0] < 2 * MOST_LINES) {
                drawn[0]++;
                line(i, ranges, raster, good ? 0.8 : 1.1, good ? plain : failed);
            }
        });
        if (selected() >= 0 && selected() < runs()) {
            line(selected(), ranges, raster, 2.6, Raster.argb(t.ink()));
        }
        raster.show();
        g.drawImage(raster.image(), 0, 0);
        for (int a = 0; a < axes.size(); a++) {
            axis(g, t, a, ranges[a]);
        }
        g.setFill(t.faint());
        g.setFont(Theme.sans(11.5));
        g.setTextAlign(TextAlignment.LEFT);
        g.setTextBaseline(VPos.CENTER);
        g.fillText(drawn[0] < runs() ? drawn[0] + " of " + runs() + " runs drawn" : "", 10, getHeight() - 12);
    }

    private void line(int run, double[][] ranges, Raster raster, double thickness, int argb) {
        for (int a = 0; a + 1 < axes.size(); a++) {
            double from = axes.get(a).values()[run];
            double to = axes.get(a + 1).values()[run];
            if (Double.isFinite(from) && Double.isFinite(to)) {
                raster.line(x(a), y(from, ranges[a]), x(a + 1), y(to, ranges[a + 1]), thickness, argb, null);
            }
        }
    }

    private void axis(GraphicsContext g, Theme t, int a, double[] range) {
        double x = Math.round(x(a)) + 0.5;
        g.setStroke(t.ink());
        g.setLineWidth(1.2);
        g.strokeLine(x, TOP, x, getHeight() - BOTTOM);
        g.setFill(t.ink());
        boolean first = a == 0;
        boolean last = a == axes.size() - 1;
        g.setTextAlign(first ? TextAlignment.LEFT : last ? TextAlignment.RIGHT : TextAlignment.CENTER);
        g.setTextBaseline(VPos.CENTER);
        g.setFont(Theme.bold(11.5));
        double room = (getWidth() - 2 * SIDE) / (axes.size() - 1);
        // Names of neighbours stand at two heights, so that long ones do not meet.
        g.fillText(axes.get(a).label(), first ? 10 : last ? getWidth() - 10 : x, a % 2 == 0 ? 14 : 30, 1.9 * room);
        g.setFont(Theme.sans(11));
        if (range != null) {
            g.setTextAlign(TextAlignment.LEFT);
            for (double v : Ticks.of(range[0], range[1], 5)) {
                double y = y(v, range);
                g.strokeLine(x - 3, y, x + 3, y);
                String text = Ticks.text(v, range[0], range[1], 5);
                g.setFill(t.card());
                g.fillRect(x + 5, y - 7, 6.4 * text.length() + 2, 14);
                g.setFill(t.ink());
                g.fillText(text, x + 6, y);
            }
        }
    }

    @Override
    int nearest(double px, double py, double reach) {
        if (axes.size() < 2) {
            return -1;
        }
        int left = 0;
        while (left + 2 < axes.size() && px > x(left + 1)) {
            left++;
        }
        double share = (px - x(left)) / (x(left + 1) - x(left));
        if (share < 0 || share > 1) {
            return -1;
        }
        double[] a = range(left);
        double[] b = range(left + 1);
        int best = -1;
        double least = reach;
        for (int i = 0; i < runs(); i++) {
            double y = y(axes.get(left).values()[i], a) * (1 - share) + y(axes.get(left + 1).values()[i], b) * share;
            if (Math.abs(y - py) < least) {
                least = Math.abs(y - py);
                best = i;
            }
        }
        return best;
    }
}
