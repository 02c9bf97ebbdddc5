package boldanvil.app.chart;

import boldanvil.app.widget.Theme;
import boldanvil.core.study.Sensitivity;
import boldanvil.core.study.Sensitivity.Estimate;
import java.util.List;
import java.util.Locale;
import java.util.function.Supplier;
import javafx.geometry.VPos;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.paint.Color;
import javafx.scene.text.TextAlignment;

/** How much each value contributes to the variance of a result: two bars for each, with their intervals. */
public final class IndicesView extends StudyPlot {
    private static final double LEFT = 190;
    private static final double RIGHT = 110;
    private static final double TOP = 34;
    private static final double BOTTOM = 50;
    private static final double MOST_ROW = 70;

    private List<Sensitivity.Index> indices = List.of();
    private String result = "";

    public IndicesView(Supplier<Theme> theme) {
        super(theme, "study-indices");
    }

    /** @param of the result whose variance is explained */
    public void show(String of, List<Sensitivity.Index> what) {
        result = of;
        indices = List.copyOf(what);
        repaint();
    }

    @Override
    void paint(GraphicsContext g, Theme t) {
        if (indices.isEmpty()) {
            return;
        }
        double row = Math.min(MOST_ROW, (getHeight() - TOP - BOTTOM) / indices.size());
        double most = Math.max(1, indices.stream().mapToDouble(i -> i.total().high()).max().orElse(1));
        var frame = new PlotFrame(LEFT, TOP, getWidth() - LEFT - RIGHT, row * indices.size(), new double[] {0, most * 1.02},
                new double[] {0, indices.size()}, false);
        g.setTextBaseline(VPos.CENTER);
        g.setFont(Theme.sans(11.5));
        for (double v = 0; v <= most; v += 0.2) {
            double x = Math.round(frame.across(v)) + 0.5;
            g.setStroke(t.rule());
            g.setLineWidth(1);
            g.strokeLine(x, TOP, x, TOP + frame.height());
            g.setFill(t.ink());
            g.setTextAlign(TextAlignment.CENTER);
            g.fillText(String.format(Locale.ROOT, "%.1f", v), x, TOP + frame.height() + 12);
        }
        g.setFont(Theme.bold(12.5));
        g.setTextAlign(TextAlignment.LEFT);
        g.fillText("share of the variance of " + result, 10, TOP - 18);
        for (int i = 0; i < indices.size(); i++) {
            var index = indices.get(i);
            double y = TOP + (i + 0.5) * row;
            g.setFill(t.ink());
            g.setFont(Theme.sans(12));
            g.setTextAlign(TextAlignment.RIGHT);
            g.fillText(index.name(), LEFT - 10, y, LEFT - 16);
            bar(g, t, frame, index.firstOrder(), y - row * 0.2, row * 0.28, t.trace(0));
            bar(g, t, frame, index.total(), y + row * 0.2, row * 0.28, t.trace(1));
        }
        key(g, t, LEFT, "alone", t.trace(0));
        key(g, t, LEFT + 110, "with all interactions", t.trace(1));
        g.setFill(t.faint());
        g.fillText("Lines: interval of 95 %", LEFT + 290, TOP + frame.height() + 32);
    }

    private void key(GraphicsContext g, Theme t, double x, String text, Color colour) {
        double y = TOP + Math.min(MOST_ROW, (getHeight() - TOP - BOTTOM) / indices.size()) * indices.size() + 32;
        g.setFill(colour);
        g.fillRect(x, y - 5, 14, 10);
        g.setFill(t.ink());
        g.setFont(Theme.sans(11.5));
        g.setTextAlign(TextAlignment.LEFT);
        g.fillText(text, x + 20, y);
    }

    private static void bar(GraphicsContext g, Theme t, PlotFrame frame, Estimate e, double y, double height, Color colour) {
        g.setFill(colour);
        double x = frame.across(0);
        g.fillRect(x, y - height / 2, Math.max(0, frame.across(Math.max(0, e.value())) - x), height);
        g.setStroke(t.ink());
        g.setLineWidth(1.4);
        double low = frame.across(Math.max(0, e.low()));
        double high = frame.across(Math.max(0, e.high()));
        g.strokeLine(low, y, high, y);
        g.strokeLine(low, y - 4, low, y + 4);
        g.strokeLine(high, y - 4, high, y + 4);
        g.setFill(t.ink());
        g.setFont(Theme.mono(11));
        g.setTextAlign(TextAlignment.LEFT);
        g.fillText(String.format(Locale.ROOT, "%.3f", e.value()), Math.max(high, frame.across(Math.max(0, e.value()))) + 6, y);
    }

    @Override
    int nearest(double px, double py, double reach) {
        return -1;
    }
}
