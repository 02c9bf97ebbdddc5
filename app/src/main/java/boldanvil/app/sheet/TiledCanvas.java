package boldanvil.app.sheet;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashMap;
import java.util.Iterator;
import java.util.Map;
import javafx.animation.AnimationTimer;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.layout.Pane;

/**
 * A drawing larger than its window, in square pieces. When it is moved, pieces move, and only those that come into view are drawn; those
 * around the window are drawn ahead, one for each picture.
 */
final class TiledCanvas extends Pane {
    /** Width and height of a piece in pixels. */
    static final int SIZE = 256;

    /** Draws a piece. */
    interface Painter {
        /**
         * @param g of a piece of {@link #SIZE} by {@link #SIZE}
         * @param x where its left edge is in the drawing
         * @param y where its upper edge is in the drawing
         */
        void paint(GraphicsContext g, double x, double y);
    }

    private record Tile(int column, int row) {}

    private final Painter painter;
    private final Map<Tile, Canvas> tiles = new HashMap<>();
    /** Pieces that show nothing. */
    private final Deque<Canvas> spare = new ArrayDeque<>();
    private final AnimationTimer ahead = new AnimationTimer() {
        @Override
        public void handle(long now) {
            if (!drawOne(1)) {
                stop();
            }
        }
    };
    private long left;
    private long top;

    TiledCanvas(Painter painter) {
        this.painter = painter;
        setManaged(false);
        setMouseTransparent(true);
    }

    /**
     * Draws everything again.
     *
     * @param x where the window's left edge is in the drawing
     * @param y where its upper edge is in the drawing
     */
    void draw(double x, double y) {
        ahead.stop();
        left = Math.round(x);
        top = Math.round(y);
        keep(0);
        tiles.forEach((tile, canvas) -> {
            place(tile, canvas);
            paint(tile, canvas);
        });
        drawAll();
    }

    /** Moves the window, as in {@link #draw}, over a drawing that is still the same. */
    void move(double x, double y) {
        left = Math.round(x);
        top = Math.round(y);
        keep(1);
        tiles.forEach(this::place);
        drawAll();
        ahead.start();
    }

    /** Keeps the pieces within so many around the window; the others can be used for new ones. */
    private void keep(int around) {
        for (Iterator<Map.Entry<Tile, Canvas>> i = tiles.entrySet().iterator(); i.hasNext(); ) {
            var e = i.next();
            if (!isWithin(e.getKey(), around)) {
                e.getValue().setVisible(false);
                spare.push(e.getValue());
                i.remove();
            }
        }
    }

    private Canvas blank() {
        if (spare.isEmpty()) {
            var canvas = new Canvas(SIZE, SIZE);
            getChildren().add(canvas);
            return canvas;
        }
        spare.peek().setVisible(true);
        return spare.pop();
    }

    private void drawAll() {
        while (drawOne(0)) {
            // One after the other.
        }
    }

    /** Draws a piece that is missing, within so many around the window; false when none is. */
    private boolean drawOne(int around) {
        for (int c = first(left) - around; c <= last(left, getWidth()) + around; c++) {
            for (int r = first(top) - around; r <= last(top, getHeight()) + around; r++) {
                var tile = new Tile(c, r);
                if (!tiles.containsKey(tile)) {
                    var canvas = blank();
                    tiles.put(tile, canvas);
                    place(tile, canvas);
                    paint(tile, canvas);
                    return true;
                }
            }
        }
        return false;
    }

    private static int first(long edge) {
        return (int) Math.floorDiv(edge, (long) SIZE);
    }

    private static int last(long edge, double size) {
        return (int) Math.floorDiv(edge + Math.max(0, (long) Math.ceil(size) - 1), (long) SIZE);
    }

    private boolean isWithin(Tile t, int around) {
        return t.column() >= first(left) - around && t.column() <= last(left, getWidth()) + around && t.row() >= first(top) - around
                && t.row() <= last(top, getHeight()) + around;
    }

    private void place(Tile t, Canvas canvas) {
        canvas.relocate((double) t.column() * SIZE - left, (double) t.row() * SIZE - top);
    }

    private void paint(Tile t, Canvas canvas) {
        painter.paint(canvas.getGraphicsContext2D(), (double) t.column() * SIZE, (double) t.row() * SIZE);
    }
}
