package boldanvil.app.chart;

import boldanvil.app.widget.Theme;
import java.util.Arrays;
import java.util.function.Supplier;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.text.TextAlignment;

/** How one number of all runs is distributed. */
public final class HistogramView extends StudyPlot {
    private String label = "";
    private double[] values = {};
    private boolean[] passed;
    private double limit = Double.NaN;
    private PlotFrame frame;
    private int[] classOf = {};

    public HistogramView(Supplier<Theme> theme) {
        super(theme, "study-histogram");
    }

    /**
     * @param what the number is, with its unit
     * @param numbers of each run
     * @param good for each run; null where nothing is asked of it
     * @param border of what is good; NaN for none
     */
    public void show(String what, double[] numbers, boolean[] good, double border) {
        label = what;
        values = numbers;
        passed = good;
        limit = border;
        repaint();
    }

    @Override
    void paint(GraphicsContext g, Theme t) {
        frame = null;
        double[] finite = Arrays.stream(values).filter(Double::isFinite).sorted().toArray();
        if (finite.length == 0) {
            return;
        }
        double low = finite[0];
        double high = Math.max(finite[finite.length - 1], low + Math.max(1e-12, Math.abs(low) * 1e-9));
        // The width of Freedman and Diaconis, within what can be seen.
        double spread = finite[finite.length * 3 / 4] - finite[finite.length / 4];
        double width = 2 * spread / Math.cbrt(finite.length);
        int classes = (int) Math.clamp(width > 0 ? (high - low) / width : 1, 8, 80);
        int[] good = new int[classes];
        int[] bad = new int[classes];
        classOf = new int[values.length];
        for (int i = 0; i < values.length; i++) {
            classOf[i] = Double.isFinite(values[i]) ? Math.min(classes - 1, (int) ((values[i] - low) / (high - low) * classes)) : -1;
            if (classOf[i] >= 0) {
                (passed == null || passed[i] ? good : bad)[classOf[i]]++;
            }
        }
        int most = 1;
        for (int c = 0; c < classes; c++) {
            most = Math.max(most, good[c] + bad[c]);
        }
        double room = (high - low) * 0.03;
        double left = Double.isFinite(limit) ? Math.min(low, limit) : low;
        double right = Double.isFinite(limit) ? Math.max(high, limit) : high;
        frame = frame(new double[] {left - room, right + room}, new double[] {0, most * 1.08});
        frame.paint(g, t, "runs", label);
        for (int c = 0; c < classes; c++) {
            double x0 = frame.across(low + c * (high - low) / classes);
            double x1 = frame.across(low + (c + 1) * (high - low) / classes);
            bar(g, x0, x1, 0, good[c], t.trace(0));
            bar(g, x0, x1, good[c], good[c] + bad[c], t.madder());
        }
        if (Double.isFinite(limit)) {
            double x = Math.round(frame.across(limit)) + 0.5;
            g.setStroke(t.madder());
            g.setLineDashes(6, 4);
            g.strokeLine(x, frame.top(), x, frame.top() + frame.height());
            g.setLineDashes();
            g.setFill(t.madder());
            g.setTextAlign(TextAlignment.LEFT);
            g.setFont(Theme.sans(11.5));
            g.fillText("limit", x + 4, frame.top() + 9);
        }
        if (selected() >= 0 && selected() < values.length && Double.isFinite(values[selected()])) {
            double x = frame.across(values[selected()]);
            g.setFill(t.ink());
            g.fillPolygon(new double[] {x - 5, x + 5, x}, new double[] {frame.top() - 8, frame.top() - 8, frame.top()}, 3);
        }
    }

    private void bar(GraphicsContext g, double x0, double x1, int from, int to, javafx.scene.paint.Color colour) {
        if (to > from) {
            g.setFill(colour);
            g.fillRect(x0 + 0.5, frame.up(to), Math.max(1, x1 - x0 - 1), frame.up(from) - frame.up(to));
        }
    }

    /** The run whose number is nearest, where its bar is pressed. */
    @Override
    int nearest(double px, double py, double reach) {
        if (frame == null || !frame.contains(px, py)) {
            return -1;
        }
        double at = frame.valueAcross(px);
        int best = -1;
        for (int i = 0; i < values.length; i++) {
            if (Double.isFinite(values[i]) && (best < 0 || Math.abs(values[i] - at) < Math.abs(values[best] - at))) {
                best = i;
            }
        }
        return best;
    }
}
