package boldanvil.app.chart;

import boldanvil.app.widget.Theme;
import java.util.function.IntConsumer;
import java.util.function.Supplier;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.layout.Region;

/** A plot of many runs. A click selects the run that lies nearest; runs are drawn into an image, so that a hundred thousand are quick. */
abstract class StudyPlot extends Region {
    /** Room around a plot with two axes. */
    private static final double LEFT = 78;
    private static final double RIGHT = 24;
    private static final double TOP = 30;
    private static final double BOTTOM = 44;
    private static final double REACH = 9;

    private final Canvas canvas = new Canvas();
    private final Supplier<Theme> theme;
    private int selected = -1;

    StudyPlot(Supplier<Theme> theme, String id) {
        this.theme = theme;
        getChildren().add(canvas);
        setMinSize(240, 160);
        setId(id);
    }

    /** @param chosen gets the index of the run that is clicked, and whether it was clicked twice */
    public final void onChoose(Choice chosen) {
        setOnMouseClicked(e -> {
            int run = nearest(e.getX(), e.getY(), REACH);
            if (run >= 0) {
                chosen.chosen(run, e.getClickCount() > 1);
            }
        });
        setOnMouseMoved(e -> setCursor(nearest(e.getX(), e.getY(), REACH) >= 0 ? javafx.scene.Cursor.HAND : null));
    }

    /** What is called for a run. */
    public interface Choice {
        void chosen(int run, boolean twice);
    }

    /** Marks a run; none where below 0. */
    public final void select(int run) {
        selected = run;
        repaint();
    }

    /** The frame of a plot that fills the view. */
    final PlotFrame frame(double[] x, double[] y) {
        return new PlotFrame(LEFT, TOP, getWidth() - LEFT - RIGHT, getHeight() - TOP - BOTTOM, x, y, false);
    }

    final int selected() {
        return selected;
    }

    @Override
    protected void layoutChildren() {
        canvas.setWidth(getWidth());
        canvas.setHeight(getHeight());
        repaint();
    }

    /** Paints again, such as in other colours. */
    public final void repaint() {
        GraphicsContext g = canvas.getGraphicsContext2D();
        Theme t = theme.get();
        g.setFill(t.card());
        g.fillRect(0, 0, getWidth(), getHeight());
        if (getWidth() > 100 && getHeight() > 80) {
            paint(g, t);
        }
    }

    abstract void paint(GraphicsContext g, Theme t);

    /** The run at a place of the screen, not further than so many pixels; below 0 for none. */
    abstract int nearest(double px, double py, double reach);

    /** What has the run at an index is called with each index, in the order of painting: passed ones, then failed ones on top. */
    static void inOrder(int runs, boolean[] passed, IntConsumer each) {
        for (int i = 0; i < runs; i++) {
            if (passed == null || passed[i]) {
                each.accept(i);
            }
        }
        for (int i = 0; passed != null && i < runs; i++) {
            if (!passed[i]) {
                each.accept(i);
            }
        }
    }
}
