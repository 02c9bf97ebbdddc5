package boldanvil.app.pages;

import boldanvil.app.model.TrialRow;
import boldanvil.app.widget.Theme;
import boldanvil.core.report.Ticks;
import boldanvil.core.trial.StepResult;
import java.util.List;
import java.util.Locale;
import java.util.function.IntConsumer;
import java.util.function.Supplier;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.layout.Region;
import javafx.scene.paint.Color;
import javafx.scene.text.TextAlignment;

/** The steps of a trial on a time axis: a bar from where each began to where it was decided. */
final class TrialTimes extends Region {
    private static final double LEFT = 44;
    private static final double RIGHT = 16;
    private static final double TOP = 8;
    private static final double BOTTOM = 34;
    private static final double SHORTEST = 3;

    private final Canvas canvas = new Canvas();
    private final Supplier<Theme> theme;
    private List<TrialRow> rows = List.of();
    private int selected;
    private double end = 1;

    /** @param chosen gets the line of the bar that is pressed */
    TrialTimes(Supplier<Theme> theme, IntConsumer chosen) {
        this.theme = theme;
        getChildren().add(canvas);
        setMinSize(200, 80);
        canvas.setOnMousePressed(e -> {
            double h = rowHeight();
            int i = (int) ((e.getY() - TOP) / h);
            if (i >= 0 && i < rows.size()) {
                chosen.accept(rows.get(i).line());
            }
        });
    }

    void show(List<TrialRow> all, int line, double seconds) {
        rows = all.stream().filter(TrialRow::isStep).toList();
        selected = line;
        end = Math.max(1e-6, Math.max(seconds, rows.stream().flatMap(r -> r.results().stream()).mapToDouble(StepResult::to)
                .filter(Double::isFinite).max().orElse(0)));
        paint();
    }

    private double rowHeight() {
        return Math.min(18, (getHeight() - TOP - BOTTOM) / Math.max(1, rows.size()));
    }

    @Override
    protected void layoutChildren() {
        canvas.setWidth(getWidth());
        canvas.setHeight(getHeight());
        paint();
    }

    void paint() {
        GraphicsContext g = canvas.getGraphicsContext2D();
        Theme t = theme.get();
        double w = getWidth() - LEFT - RIGHT;
        g.setFill(t.card());
        g.fillRect(0, 0, getWidth(), getHeight());
        if (rows.isEmpty() || w < 40) {
            return;
        }
        double h = rowHeight();
        double bottom = TOP + h * rows.size();
        g.setFont(Theme.sans(11));
        g.setLineWidth(1);
        for (double x : Ticks.of(0, end, 8)) {
            double at = LEFT + x / end * w;
            g.setStroke(t.rule());
            g.strokeLine(at, TOP, at, bottom);
            g.setFill(t.ink());
            g.setTextAlign(TextAlignment.CENTER);
            g.fillText(figure(x), at, bottom + 14);
        }
        g.setFill(t.faint());
        g.fillText("time, s", LEFT + w / 2, bottom + 28);
        for (int i = 0; i < rows.size(); i++) {
            row(g, t, rows.get(i), TOP + i * h, h, w);
        }
    }

    private void row(GraphicsContext g, Theme t, TrialRow r, double y, double h, double w) {
        if (r.line() == selected) {
            g.setFill(t.rule().deriveColor(0, 1, 1, 0.6));
            g.fillRect(0, y, getWidth(), h);
        }
        if (h >= 10) {
            g.setFill(t.faint());
            g.setTextAlign(TextAlignment.RIGHT);
            g.fillText(Integer.toString(r.line()), LEFT - 8, y + h / 2 + 4);
        }
        for (StepResult s : r.results()) {
            if (!Double.isFinite(s.from()) || s.state() == StepResult.State.NOT_REACHED) {
                continue;
            }
            double to = Double.isFinite(s.to()) ? s.to() : end;
            double x = LEFT + s.from() / end * w;
            double length = Math.max(SHORTEST, (to - s.from()) / end * w);
            g.setFill(colour(t, s.state()));
            g.fillRoundRect(x, y + h * 0.2, length, h * 0.6, 4, 4);
            if (s.state() == StepResult.State.FAILED) {
                // A failure has a mark besides its colour.
                g.setStroke(t.madder());
                g.setLineWidth(2);
                g.strokeLine(x + length - 4, y + 1, x + length + 4, y + h - 1);
                g.strokeLine(x + length + 4, y + 1, x + length - 4, y + h - 1);
            }
        }
    }

    private static Color colour(Theme t, StepResult.State state) {
        return switch (state) {
            case PASSED -> t.moss();
            case FAILED -> t.madder();
            case RUNNING -> t.ember();
            case UNANSWERED -> t.amber();
            default -> t.faint();
        };
    }

    private static String figure(double v) {
        String s = String.format(Locale.ROOT, "%.6f", v);
        return s.replaceAll("0+$", "").replaceAll("\\.$", "");
    }
}
