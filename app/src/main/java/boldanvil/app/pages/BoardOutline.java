package boldanvil.app.pages;

import boldanvil.app.widget.Theme;
import boldanvil.core.board.Board;
import boldanvil.core.diagram.Patch;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.BiConsumer;
import java.util.function.Supplier;
import javafx.geometry.Point2D;
import javafx.geometry.VPos;
import javafx.scene.canvas.Canvas;
import javafx.scene.control.Tooltip;
import javafx.scene.text.TextAlignment;

/** The board with its pins where they are; a pin can be pointed at, and dragged onto another to change places. */
public final class BoardOutline extends Canvas {
    static final double SIZE = 310;
    private static final double EDGE = 46;
    private static final double REACH = 9;

    private final Supplier<Theme> theme;
    private final Tooltip tip = new Tooltip();
    private final Map<String, Point2D> places = new HashMap<>();
    private Board board;
    private Patch patch = new Patch("", List.of());
    private List<String> marked = List.of();
    private String dragged = "";
    private Point2D at = Point2D.ZERO;

    /**
     * @param swap gets two pins when one was dropped on the other
     */
    BoardOutline(Supplier<Theme> theme, BiConsumer<String, String> swap) {
        super(SIZE, SIZE);
        this.theme = theme;
        setId("outline");
        setOnMouseMoved(e -> {
            String pin = pinAt(e.getX(), e.getY());
            if (pin.isEmpty() || board == null) {
                Tooltip.uninstall(this, tip);
            } else {
                var p = board.pins().get(board.pinNumber(pin));
                var functions = board.functionsOf(pin);
                tip.setText(pin + ", position " + p.position() + (functions.isEmpty() ? "" : ": " + String.join(", ", functions))
                        + (p.also().isEmpty() ? "" : ", " + p.also()));
                Tooltip.install(this, tip);
            }
        });
        setOnMousePressed(e -> {
            String pin = pinAt(e.getX(), e.getY());
            dragged = owners().containsKey(pin) ? pin : "";
            at = new Point2D(e.getX(), e.getY());
        });
        setOnMouseDragged(e -> {
            at = new Point2D(e.getX(), e.getY());
            paint();
        });
        setOnMouseReleased(e -> {
            String target = pinAt(e.getX(), e.getY());
            String source = dragged;
            dragged = "";
            paint();
            if (!source.isEmpty() && !target.isEmpty() && !target.equals(source)) {
                swap.accept(source, target);
            }
        });
    }

    void show(Board shown, Patch shownPatch) {
        board = shown;
        patch = shownPatch;
        layOut();
        paint();
    }

    /** Rings pins. */
    void mark(List<String> pins) {
        if (!marked.equals(pins)) {
            marked = List.copyOf(pins);
            paint();
        }
    }

    /** Where a pin is drawn; for tests. */
    public Point2D placeOf(String pin) {
        return places.get(pin);
    }

    private String pinAt(double x, double y) {
        return places.entrySet().stream().filter(e -> e.getValue().distance(x, y) < REACH).map(Map.Entry::getKey).findFirst().orElse("");
    }

    private Map<String, List<String>> owners() {
        Map<String, List<String>> owners = new HashMap<>();
        patch.rows().forEach(r -> r.pins().forEach(pin -> owners.computeIfAbsent(pin, _ -> new ArrayList<>()).add(r.terminal())));
        return owners;
    }

    private void layOut() {
        places.clear();
        for (String side : List.of("north", "east", "south", "west")) {
            var pins = board.pins().stream().filter(p -> p.side().equals(side)).toList();
            double pitch = (SIZE - 2 * EDGE - 16) / Math.max(1, pins.size());
            for (int i = 0; i < pins.size(); i++) {
                double along = EDGE + 8 + pitch * (i + 0.5);
                places.put(pins.get(i).name(), switch (side) {
                    case "north" -> new Point2D(along, EDGE);
                    case "south" -> new Point2D(along, SIZE - EDGE);
                    case "east" -> new Point2D(SIZE - EDGE, along);
                    default -> new Point2D(EDGE, along);
                });
            }
        }
    }

    void paint() {
        var g = getGraphicsContext2D();
        var t = theme.get();
        g.setFill(t.card());
        g.fillRect(0, 0, SIZE, SIZE);
        if (board == null) {
            return;
        }
        var owners = owners();
        g.setStroke(t.ink());
        g.setLineWidth(1.4);
        g.strokeRoundRect(EDGE, EDGE, SIZE - 2 * EDGE, SIZE - 2 * EDGE, 14, 14);
        g.setTextBaseline(VPos.CENTER);
        g.setTextAlign(TextAlignment.CENTER);
        g.setFont(Theme.bold(13));
        g.setFill(t.ink());
        g.fillText(board.title(), SIZE / 2, SIZE / 2);
        Map<String, Integer> counts = new HashMap<>();
        for (Board.Pin p : board.pins()) {
            int i = counts.merge(p.side(), 1, Integer::sum) - 1;
            int taken = owners.getOrDefault(p.name(), List.of()).size();
            var where = places.get(p.name());
            double x = where.getX();
            double y = where.getY();
            g.setFill(taken > 1 ? t.madder() : taken == 1 ? t.steel() : p.digital() ? t.card() : t.rule());
            g.fillRect(x - 4, y - 4, 8, 8);
            g.setStroke(t.ink());
            g.setLineWidth(0.9);
            g.strokeRect(x - 4, y - 4, 8, 8);
            if (taken > 1) {
                g.setStroke(t.madder());
                g.setLineWidth(2);
                g.strokeLine(x - 8, y - 8, x + 8, y + 8);
                g.strokeLine(x - 8, y + 8, x + 8, y - 8);
            }
            if (marked.contains(p.name()) || p.name().equals(dragged)) {
                g.setStroke(t.ember());
                g.setLineWidth(2);
                g.strokeOval(x - 9, y - 9, 18, 18);
            }
            boolean last = i + 1 == board.pins().stream().filter(o -> o.side().equals(p.side())).count();
            if (taken > 0 || i == 0 || last || marked.contains(p.name())) {
                boolean upright = p.side().equals("north") || p.side().equals("south");
                g.setFont(Theme.sans(10));
                g.setFill(taken > 0 ? t.ink() : t.faint());
                // Labels above and below are in two rows, so that neighbours do not touch.
                double away = upright && i % 2 == 1 ? 28 : upright ? 15 : 19;
                g.fillText(p.name(), x + (p.side().equals("east") ? away : p.side().equals("west") ? -away : 0),
                        y + (p.side().equals("north") ? -away : p.side().equals("south") ? away : 0));
            }
        }
        if (!dragged.isEmpty()) {
            var from = places.get(dragged);
            g.setStroke(t.ember());
            g.setLineWidth(1.6);
            g.setLineDashes(5, 4);
            g.strokeLine(from.getX(), from.getY(), at.getX(), at.getY());
            g.setLineDashes();
        }
    }
}
