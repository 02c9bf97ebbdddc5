package boldanvil.app.sheet;

import boldanvil.app.widget.Theme;
import boldanvil.core.sheet.Box;
import boldanvil.core.sheet.Ink;
import boldanvil.core.sheet.SheetScene;
import java.util.function.BiConsumer;
import javafx.scene.canvas.Canvas;
import javafx.scene.input.MouseEvent;

/** A small map of a sheet that is larger than its window; press or drag on it to go there. */
final class OverviewMap extends Canvas {
    private static final double WIDTH = 170;
    private static final double HEIGHT = 110;
    private static final double EDGE = 8;

    private Box bounds = Box.EMPTY;
    private double scale = 1;

    /** @param go gets the point of the sheet to show */
    OverviewMap(BiConsumer<Double, Double> go) {
        super(WIDTH, HEIGHT);
        setId("overview");
        setManaged(false);
        for (var type : new javafx.event.EventType<?>[] {MouseEvent.MOUSE_PRESSED, MouseEvent.MOUSE_DRAGGED}) {
            addEventHandler(type, event -> {
                var e = (MouseEvent) event;
                go.accept(bounds.x() + (e.getX() - EDGE) / scale, bounds.y() + (e.getY() - EDGE) / scale);
                e.consume();
            });
        }
    }

    /** Draws the map, or hides it while the whole sheet shows. */
    void show(SheetScene scene, Box content, SheetView view, double width, double height, Theme theme) {
        setVisible(!view.showsAll() && !scene.nodes().isEmpty());
        if (!isVisible()) {
            return;
        }
        bounds = content;
        scale = Math.min((WIDTH - 2 * EDGE) / Math.max(1, bounds.width()), (HEIGHT - 2 * EDGE) / Math.max(1, bounds.height()));
        var g = getGraphicsContext2D();
        g.setFill(theme.card());
        g.fillRect(0, 0, WIDTH, HEIGHT);
        g.setStroke(theme.rule());
        g.setLineWidth(1);
        g.strokeRect(0.5, 0.5, WIDTH - 1, HEIGHT - 1);
        for (var n : scene.nodes()) {
            g.setFill(n.flagged() ? theme.madder() : theme.colour(Ink.of(n.family())));
            g.fillRect(EDGE + (n.x() - bounds.x()) * scale, EDGE + (n.y() - bounds.y()) * scale, Math.max(2, n.width() * scale),
                    Math.max(1.5, n.height() * scale));
        }
        var a = view.toSheet(0, 0);
        g.setStroke(theme.steel());
        g.setLineWidth(1.5);
        double x = Math.clamp(EDGE + (a.getX() - bounds.x()) * scale, 1, WIDTH - 4);
        double y = Math.clamp(EDGE + (a.getY() - bounds.y()) * scale, 1, HEIGHT - 4);
        double right = EDGE + (a.getX() + width / view.zoom() - bounds.x()) * scale;
        double bottom = EDGE + (a.getY() + height / view.zoom() - bounds.y()) * scale;
        g.strokeRect(x, y, Math.clamp(right, x + 3, WIDTH - 1) - x, Math.clamp(bottom, y + 3, HEIGHT - 1) - y);
    }
}
