package boldanvil.app.bench;

import boldanvil.app.model.Figures;
import boldanvil.app.widget.Theme;
import boldanvil.core.bench.Health;
import boldanvil.core.simulate.ExecutionTimes;
import java.util.Locale;
import java.util.function.Supplier;
import javafx.geometry.VPos;
import javafx.scene.canvas.Canvas;
import javafx.scene.control.Label;
import javafx.scene.layout.VBox;
import javafx.scene.text.TextAlignment;

/** How the run fares: load, execution times, what was lost. */
final class HealthPane extends VBox {
    private final Supplier<Theme> theme;
    private Health shown = Health.NONE;

    HealthPane(Supplier<Theme> theme) {
        super(6);
        this.theme = theme;
        getStyleClass().add("card");
        setId("health");
    }

    /** @param frames pictures the chart draws a second */
    void update(Health h, double frames) {
        if (h.equals(shown) && !getChildren().isEmpty()) {
            return;
        }
        shown = h;
        getChildren().clear();
        var heading = new Label("Health");
        heading.getStyleClass().add("strong");
        getChildren().add(heading);
        if (h.parts().isEmpty()) {
            line("No rig is running, or no data has arrived yet.", "faint");
            return;
        }
        for (Health.Part p : h.parts()) {
            line(String.format(Locale.ROOT, "%s, %s: load %.1f %%", p.name(), p.where(), 100 * p.load()), p.load() > 0.9 ? "bad"
                    : p.load() > 0.7 ? "warning" : "");
            line(String.format(Locale.ROOT, "step %s: mean %s, longest %s", Figures.seconds(p.step()), Figures.seconds(p.mean()),
                    Figures.seconds(p.longest())), "faint");
            p.tasks().forEach((task, load) -> line(String.format(Locale.ROOT, "   %s  %.1f %%", task.replace('_', ' '), 100 * load),
                    load > 0.7 ? "warning" : "faint"));
            getChildren().add(histogram(p.counts(), p.step(), "time of a step"));
            p.link().ifPresent(this::link);
            p.latency().ifPresent(this::latency);
        }
        line(Figures.count(h.overruns(), "overrun"), h.overruns() > 0 ? "bad" : "");
        line(h.lostRows() + " sample rows lost", h.lostRows() > 0 ? "bad" : "");
        if (h.rowsPerSecond() > 0) {
            line(String.format(Locale.ROOT, "%.0f sample rows per second over the link", h.rowsPerSecond()), "");
        }
        line("clock drift " + Figures.seconds(h.drift()), Math.abs(h.drift()) > 0.01 ? "warning" : "");
        line(String.format(Locale.ROOT, "%.0f pictures per second", frames), "faint");
    }

    private void link(Health.Link l) {
        line(String.format(Locale.ROOT, "link to the PLC: mean %s, 99 %% below %s, longest %s", Figures.seconds(l.mean()), Figures.seconds(
                l.usual()), Figures.seconds(l.longest())), "");
        if (l.age() > 0) {
            line("values of the PLC up to " + Figures.seconds(l.age()) + " old", l.age() > 1 ? "bad" : "");
        }
    }

    private void latency(Health.Latency l) {
        boolean late = l.budget() > 0 && l.longest() > l.budget();
        line(String.format(Locale.ROOT, "edge to output: mean %s, 99 %% below %s, longest %s%s", Figures.seconds(l.mean()),
                Figures.seconds(l.usual()), Figures.seconds(l.longest()), l.budget() > 0 ? " of " + Figures.seconds(l.budget()) : ""),
                late ? "bad" : "");
        getChildren().add(histogram(l.counts(), l.budget() > 0 ? l.budget() : Double.POSITIVE_INFINITY, "time from edge to output"));
        if (l.overruns() > 0) {
            line(Figures.count(l.overruns(), "step") + " not done in time", "bad");
        }
    }

    private void line(String text, String style) {
        var l = new Label(text);
        l.getStyleClass().add("small");
        l.setWrapText(true);
        if (!style.isEmpty()) {
            l.getStyleClass().add(style);
        }
        getChildren().add(l);
    }

    /** @param limit times above stand out, in seconds */
    private Canvas histogram(long[] counts, double limit, String caption) {
        int first = 0;
        int last = Math.max(0, counts.length - 1);
        while (first < last && counts[first] == 0) {
            first++;
        }
        while (last > first && counts[last] == 0) {
            last--;
        }
        var c = new Canvas(212, 44);
        var g = c.getGraphicsContext2D();
        var t = theme.get();
        int from = Math.max(0, first - 1);
        int to = Math.min(counts.length, last + 2);
        double most = 1;
        for (long n : counts) {
            most = Math.max(most, Math.log1p(n));
        }
        double w = 212.0 / Math.max(1, to - from);
        for (int i = from; i < to; i++) {
            double height = 28 * Math.log1p(counts[i]) / most;
            g.setFill(ExecutionTimes.lowerEnd(i) > limit ? t.madder() : t.steel());
            g.fillRect((i - from) * w, 30 - height, Math.max(1, w - 1), height);
        }
        g.setStroke(t.rule());
        g.strokeLine(0, 30.5, 212, 30.5);
        g.setFill(t.faint());
        g.setFont(Theme.sans(10));
        g.setTextBaseline(VPos.CENTER);
        g.fillText(Figures.seconds(ExecutionTimes.lowerEnd(from)), 0, 38);
        g.setTextAlign(TextAlignment.RIGHT);
        g.fillText(Figures.seconds(ExecutionTimes.lowerEnd(to)), 212, 38);
        g.setTextAlign(TextAlignment.CENTER);
        g.fillText(caption, 106, 38);
        return c;
    }
}
