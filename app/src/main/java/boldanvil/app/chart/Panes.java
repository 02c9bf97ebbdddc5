package boldanvil.app.chart;

import boldanvil.app.model.AxisRange;
import boldanvil.app.model.Viewport;
import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.report.Ticks;
import boldanvil.core.runs.Mark;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import javafx.scene.paint.Color;

/** What a {@link TraceView} shows and where it lies: panes one above the other with a common time axis. Its painters read it. */
final class Panes {
    static final double LEFT = 66;
    static final double RIGHT = 14;
    static final double RIGHT_AXIS = 58;
    static final double BOTTOM = 36;
    static final double MARKS = 16;
    static final double GAP = 8;
    static final double HEAD = 20;

    final Viewport view = new Viewport();
    final Map<String, AxisRange[]> ranges = new HashMap<>();
    List<Chart> charts = List.of();
    List<TraceView.Layer> layers = List.of();
    List<Mark> marks = List.of();
    List<TraceView.Annotation> annotations = List.of();
    /** How far signals of the first run may deviate, by tap, SI. */
    Map<String, Double> tolerances = Map.of();
    boolean autoscale = true;
    boolean cursorsShown;
    double cursorA = Double.NaN;
    double cursorB = Double.NaN;
    double trigger = Double.NaN;
    /** The right end, moved by less than a pixel so that pictures can be moved by whole ones. */
    double steadyEnd;
    /** Why a run cannot be read; empty for none. */
    String failure = "";
    double width;
    double height;

    double begin() {
        return steadyEnd - view.span();
    }

    double right() {
        return charts.stream().anyMatch(c -> !c.rightTaps().isEmpty()) ? RIGHT_AXIS : RIGHT;
    }

    double plotWidth() {
        return Math.max(10, width - LEFT - right());
    }

    double timeAt(double x) {
        return begin() + (x - LEFT) / plotWidth() * view.span();
    }

    double xOf(double time) {
        return LEFT + (time - begin()) / view.span() * plotWidth();
    }

    double marksHeight() {
        return marks.isEmpty() && Double.isNaN(trigger) ? 0 : MARKS;
    }

    double paneHeight() {
        int n = Math.max(1, charts.size());
        return (height - BOTTOM - marksHeight() - GAP * (n - 1)) / n;
    }

    double paneTop(int index) {
        return marksHeight() + index * (paneHeight() + GAP);
    }

    int paneAt(double y) {
        for (int i = 0; i < charts.size(); i++) {
            if (y >= paneTop(i) && y < paneTop(i) + paneHeight()) {
                return i;
            }
        }
        return -1;
    }

    AxisRange[] ranges(Chart c) {
        return ranges.computeIfAbsent(c.title(), _ -> {
            AxisRange[] r = {new AxisRange(), new AxisRange()};
            r[0].lock(!autoscale);
            r[1].lock(!autoscale);
            return r;
        });
    }

    double now() {
        return layers.isEmpty() ? 0 : layers.getFirst().samples().end();
    }

    /** About how many ticks a scale gets; at least so many that two are there. */
    static int wanted(AxisRange axis, double plotHeight) {
        return Ticks.enough(axis.low(), axis.high(), (int) Math.max(2, plotHeight / 24));
    }

    static Color colour(Theme t, Mark.Kind kind) {
        return switch (kind) {
            case CHANGE -> t.ember();
            case FAULT -> t.amber();
            case LIMIT -> t.madder();
            case MODE -> t.steel();
            case NOTE -> t.ink();
        };
    }
}
