package boldanvil.app.sheet;

import boldanvil.app.model.Navigator;
import boldanvil.app.model.SheetEdits;
import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.Lane;
import boldanvil.core.diagram.Mark;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.Wire;
import boldanvil.core.sheet.Box;
import boldanvil.core.sheet.PortPlaces;
import boldanvil.core.sheet.SheetPainter;
import boldanvil.core.sheet.SheetScene.Node;
import boldanvil.core.sheet.SheetScene.Point;
import boldanvil.core.sheet.SheetScene.PortKind;
import boldanvil.core.sheet.SheetScene;
import boldanvil.core.sheet.Way;
import boldanvil.core.sheet.WireRouter;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import javafx.geometry.Point2D;
import javafx.scene.Cursor;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.input.MouseButton;
import javafx.scene.input.MouseEvent;
import javafx.scene.input.ScrollEvent;

/** What pointer and keys do on a sheet: select, move, wire, lay wires, resize, open, zoom and pan. */
public final class SheetGestures {
    /**
     * An end of a wire that is being drawn.
     *
     * @param wire the wire it is the end of, for an end that is re-hung; else null
     */
    record End(String node, String port, PortKind kind, Point at, Wire wire) {}

    /** Gets what is asked of the block finder: where, what was typed so far, and the open end of a wire or null. */
    public interface Finder {
        void open(double x, double y, String typed, Open from);
    }

    /** The end of a wire that was dropped on empty paper. */
    public record Open(String node, String port, PortKind kind) {}

    private enum Drag { NONE, MOVE, COPY, WIRE, LANE, SIZE, PORT, BAND, PAN }

    private static final double HANDLE = 7;
    private static final double CLICK = 4;
    private static final double EDGE = 8;

    private final SheetCanvas canvas;
    private final SheetEdits edits;
    private final Navigator navigator;
    private Finder onFind = (_, _, _, _) -> { };
    private Consumer<String> onText = _ -> { };
    private BiConsumer<Node, Boolean> onEditInPlace = (_, _) -> { };
    private Consumer<Mark> onMark = _ -> { };
    private Consumer<MouseEvent> onMenu = _ -> { };
    private Drag drag = Drag.NONE;
    private double pressX;
    private double pressY;
    private double nowX;
    private double nowY;
    private double panFromX;
    private double panFromY;
    private End from;
    private Wire laying;
    private int segment;
    private String sizing = "";
    private boolean gridShown = true;

    SheetGestures(SheetCanvas canvas, SheetEdits edits, Navigator navigator) {
        this.canvas = canvas;
        this.edits = edits;
        this.navigator = navigator;
        canvas.addEventHandler(MouseEvent.MOUSE_PRESSED, this::pressed);
        canvas.addEventHandler(MouseEvent.MOUSE_DRAGGED, this::dragged);
        canvas.addEventHandler(MouseEvent.MOUSE_RELEASED, this::released);
        canvas.addEventHandler(MouseEvent.MOUSE_MOVED, this::moved);
        canvas.addEventHandler(ScrollEvent.SCROLL, this::scrolled);
        new SheetKeys(canvas, this, edits, navigator);
    }

    /** Gets the id of a block that was opened and is not a subsystem. */
    void onText(Consumer<String> action) {
        onText = action;
    }

    /** What to do when a block is asked for on empty paper. */
    public void onFind(Finder finder) {
        onFind = finder;
    }

    /** What to do when the name of a plate is to be edited in place (true), or its main value (false). */
    void onEditInPlace(BiConsumer<Node, Boolean> action) {
        onEditInPlace = action;
    }

    /** What to do when a frame or a note is opened. */
    void onMark(Consumer<Mark> action) {
        onMark = action;
    }

    /** What to do on a click with the other button. */
    void onMenu(Consumer<MouseEvent> action) {
        onMenu = action;
    }

    public boolean isGridShown() {
        return gridShown;
    }

    /** Shows the grid or hides it; blocks snap to it in either case. */
    public void showGrid(boolean on) {
        gridShown = on;
        canvas.paint();
    }

    private SheetScene scene() {
        return canvas.shown();
    }

    private double dx() {
        return Sheet.onGrid(nowX - pressX);
    }

    private double dy() {
        return Sheet.onGrid(nowY - pressY);
    }

    /** A plate where it is drawn at the moment. */
    Node dragged(Node n) {
        if (drag == Drag.MOVE && canvas.selection().contains(n.id())) {
            return n.moved(dx(), dy());
        }
        if (drag == Drag.PORT && n.id().equals(from.node())) {
            return n.port(from.kind(), from.port()).map(p -> PortPlaces.moved(n, p, nowX, nowY)).orElse(n);
        }
        return drag == Drag.SIZE && n.id().equals(sizing) ? new Node(n.id(), n.plate(), n.ports(), n.x(), n.y(), sizedWidth(n.x()),
                sizedHeight(n.y())) : n;
    }

    /** A mark where it is drawn at the moment. */
    Mark dragged(Mark m) {
        if (drag == Drag.MOVE && canvas.selectedMarks().contains(m.id())) {
            return m.at(m.x() + dx(), m.y() + dy());
        }
        return drag == Drag.SIZE && m.id().equals(sizing) ? m.sized(sizedWidth(m.x()), sizedHeight(m.y())) : m;
    }

    /** The way of a wire as it is drawn at the moment. */
    List<Point> dragged(Wire w, List<Point> way) {
        if (drag == Drag.LANE && w.equals(laying) && way != null) {
            var ends = WireRouter.ends(scene(), w);
            var laid = ends == null ? List.<Point>of() : WireRouter.laid(w.laid(lanes(way)), ends);
            return laid.isEmpty() ? way : laid;
        }
        return way;
    }

    private List<Lane> lanes(List<Point> way) {
        boolean upright = way.get(segment).x() == way.get(segment + 1).x();
        return Way.moved(way, segment, Sheet.onGrid(upright ? nowX : nowY));
    }

    private double sizedWidth(double x) {
        return Math.max(40, Sheet.onGrid(nowX - x));
    }

    private double sizedHeight(double y) {
        return Math.max(30, Sheet.onGrid(nowY - y));
    }

    /** Draws what is being drawn by hand. */
    void paint(SheetPainter painter, GraphicsContext g, Theme t) {
        if (drag == Drag.WIRE && from != null) {
            var a = from.at();
            var b = new Point(nowX, nowY);
            painter.sketch(from.kind() != PortKind.INPUT ? WireRouter.plain(a, b) : WireRouter.plain(b, a));
        } else if (drag == Drag.BAND) {
            g.setStroke(t.steel());
            g.setLineWidth(1 / canvas.view().zoom());
            g.strokeRect(Math.min(pressX, nowX), Math.min(pressY, nowY), Math.abs(nowX - pressX), Math.abs(nowY - pressY));
        } else if (drag == Drag.COPY) {
            for (Node n : scene().nodes()) {
                if (canvas.selection().contains(n.id())) {
                    painter.plate(n.moved(dx(), dy()), true, null);
                }
            }
        }
        handles(g, t);
    }

    /** The corner of a single selected plate or mark, by which it is resized. */
    private void handles(GraphicsContext g, Theme t) {
        Point corner = corner();
        if (corner != null && drag == Drag.NONE) {
            double r = HANDLE / canvas.view().zoom() / 2;
            g.setFill(t.steel());
            g.fillRect(corner.x() - r, corner.y() - r, 2 * r, 2 * r);
        }
    }

    private Point corner() {
        if (canvas.selection().size() + canvas.selectedMarks().size() != 1) {
            return null;
        }
        if (canvas.selectedMarks().isEmpty()) {
            return scene().node(canvas.selection().iterator().next()).map(n -> new Point(n.x() + n.width(), n.y() + n.height()))
                    .orElse(null);
        }
        String id = canvas.selectedMarks().iterator().next();
        return scene().marks().stream().filter(m -> m.id().equals(id)).findFirst()
                .map(m -> new Point(m.x() + m.width(), m.y() + m.height())).orElse(null);
    }

    private boolean isAtCorner(double x, double y) {
        Point c = corner();
        double reach = HANDLE / canvas.view().zoom();
        return c != null && Math.abs(c.x() - x) < reach && Math.abs(c.y() - y) < reach;
    }

    private void pressed(MouseEvent e) {
        canvas.requestFocus();
        var p = canvas.toSheet(e.getX(), e.getY());
        pressX = p.getX();
        pressY = p.getY();
        nowX = pressX;
        nowY = pressY;
        if (e.getButton() != MouseButton.PRIMARY) {
            drag = Drag.PAN;
            panFromX = e.getX() - canvas.view().panX();
            panFromY = e.getY() - canvas.view().panY();
            return;
        }
        if (isAtCorner(pressX, pressY)) {
            drag = Drag.SIZE;
            sizing = canvas.selectedMarks().isEmpty() ? canvas.selection().iterator().next() : canvas.selectedMarks().iterator().next();
            return;
        }
        from = SheetHits.port(scene(), pressX, pressY);
        Node hit = SheetHits.node(scene(), pressX, pressY);
        if (from != null) {
            drag = e.isAltDown() ? Drag.PORT : Drag.WIRE;
            from = e.isAltDown() ? from : WireEnds.held(scene(), canvas.selectedWires(), from);
        } else if (hit != null) {
            pressedPlate(e, hit);
        } else {
            pressedPaper(e);
        }
        canvas.paint();
    }

    private void pressedPlate(MouseEvent e, Node hit) {
        if (e.getClickCount() == 2) {
            if (hit.opens()) {
                navigator.enter(hit.id());
            } else if (pressY < hit.y() + 24) {
                onEditInPlace.accept(hit, true);
            } else {
                open(hit);
            }
            return;
        }
        Set<String> next = new LinkedHashSet<>(canvas.selection());
        if (e.isShiftDown() || e.isShortcutDown()) {
            if (!next.remove(hit.id())) {
                next.add(hit.id());
            }
            canvas.select(next, canvas.selectedMarks(), Set.of());
        } else if (!next.contains(hit.id())) {
            canvas.select(Set.of(hit.id()));
        }
        drag = e.isAltDown() ? Drag.COPY : Drag.MOVE;
    }

    /** Opens the text or the main value of a block. */
    void open(Node hit) {
        onText.accept(hit.id());
        onEditInPlace.accept(hit, false);
    }

    private void pressedPaper(MouseEvent e) {
        Wire wire = SheetHits.wire(scene(), canvas.routes().ways(), pressX, pressY);
        if (wire != null) {
            var way = canvas.routes().ways().get(wire);
            if (e.isShortcutDown()) {
                // A branch: another wire from the same output.
                from = new End(wire.from(), wire.fromPort(), wire.isNet() ? PortKind.CONTACT : PortKind.OUTPUT, new Point(pressX, pressY),
                        null);
                drag = Drag.WIRE;
            } else {
                Set<Wire> wires = e.isShiftDown() ? new HashSet<>(canvas.selectedWires()) : new HashSet<>();
                wires.add(wire);
                canvas.select(e.isShiftDown() ? canvas.selection() : Set.of(), Set.of(), wires);
                segment = SheetHits.segment(way, pressX, pressY);
                laying = wire;
                drag = segment < 0 ? Drag.NONE : Drag.LANE;
            }
            return;
        }
        Mark mark = SheetHits.mark(scene(), pressX, pressY);
        if (mark != null) {
            if (e.getClickCount() == 2) {
                onMark.accept(mark);
                return;
            }
            // A frame is moved with what is in it.
            canvas.select(SheetHits.within(scene(), mark), Set.of(mark.id()), Set.of());
            drag = Drag.MOVE;
            return;
        }
        if (!e.isShiftDown()) {
            canvas.select(Set.of());
        }
        if (e.getClickCount() == 2) {
            onFind.open(pressX, pressY, "", null);
        } else {
            drag = Drag.BAND;
        }
    }

    private void dragged(MouseEvent e) {
        if (drag == Drag.PAN) {
            canvas.view().pan(e.getX() - panFromX, e.getY() - panFromY);
            canvas.shift();
        } else if (drag != Drag.NONE) {
            var p = canvas.toSheet(e.getX(), e.getY());
            nowX = p.getX();
            nowY = p.getY();
            canvas.paint();
        }
    }

    private void released(MouseEvent e) {
        Drag was = drag;
        drag = Drag.NONE;
        boolean still = Math.hypot(nowX - pressX, nowY - pressY) * canvas.view().zoom() < CLICK;
        switch (was) {
            case PAN -> {
                boolean clicked = e.getButton() == MouseButton.SECONDARY && e.isStillSincePress();
                if (clicked) {
                    menu(e);
                }
            }
            case MOVE -> finishMove();
            case COPY -> {
                if (dx() != 0 || dy() != 0) {
                    canvas.select(edits.duplicate(canvas.ref(), canvas.selection(), dx(), dy()));
                }
            }
            case WIRE -> {
                if (!still) {
                    finishWire();
                }
            }
            case PORT -> {
                if (!still) {
                    finishPort();
                }
            }
            case LANE -> {
                if (!still) {
                    var way = canvas.routes().ways().get(laying);
                    Wire laid = laying.laid(lanes(way));
                    edits.lay(canvas.ref(), laying, laid);
                    canvas.select(laid);
                }
            }
            case SIZE -> finishSize();
            case BAND -> finishBand();
            default -> { }
        }
        canvas.paint();
    }

    private void menu(MouseEvent e) {
        Node hit = SheetHits.node(scene(), pressX, pressY);
        Wire wire = hit == null ? SheetHits.wire(scene(), canvas.routes().ways(), pressX, pressY) : null;
        Mark mark = hit == null && wire == null ? SheetHits.mark(scene(), pressX, pressY) : null;
        if (hit != null && !canvas.selection().contains(hit.id())) {
            canvas.select(Set.of(hit.id()));
        } else if (wire != null) {
            canvas.select(wire);
        } else if (mark != null) {
            canvas.select(Set.of(), Set.of(mark.id()), Set.of());
        } else if (hit == null) {
            canvas.select(Set.of());
        }
        onMenu.accept(e);
    }

    private void finishMove() {
        if (dx() == 0 && dy() == 0) {
            return;
        }
        Set<String> ids = canvas.selection();
        var ref = canvas.ref();
        if (ids.size() == 1 && canvas.selectedMarks().isEmpty() && ref != null) {
            Node n = scene().node(ids.iterator().next()).orElseThrow().moved(dx(), dy());
            Wire under = SheetHits.wire(scene(), canvas.routes().ways(), n.x() + n.width() / 2, n.y() + 30);
            if (under != null && !under.touches(n.id()) && edits.insert(ref, n.id(), under, dx(), dy())) {
                return;
            }
        }
        edits.move(ref, ids, canvas.selectedMarks(), dx(), dy());
    }

    /** Whether a wire that is being drawn ends at the edge of the plate it comes from, beside the ports there. */
    private boolean isAtOwnEdge() {
        return from.wire() == null && SheetHits.port(scene(), nowX, nowY) == null && scene().node(from.node())
                .filter(n -> n.box().meets(new Box(nowX, nowY, 0, 0), EDGE) && !new Box(n.x() + EDGE, n.y() + EDGE, n.width() - 2 * EDGE,
                n.height() - 2 * EDGE).contains(nowX, nowY)).isPresent();
    }

    /** A port moves along the edge of its plate, to any side. */
    private void finishPort() {
        scene().node(from.node()).ifPresent(n -> n.port(from.kind(), from.port()).ifPresent(p -> {
            Node moved = PortPlaces.moved(n, p, nowX, nowY);
            edits.look(canvas.ref(), Set.of(n.id()), "move a port", look -> PortPlaces.of(moved, look));
        }));
    }

    private void finishSize() {
        if (!canvas.selectedMarks().isEmpty()) {
            scene().marks().stream().filter(m -> m.id().equals(sizing)).findFirst()
                    .ifPresent(m -> edits.change(canvas.ref(), m.sized(sizedWidth(m.x()), sizedHeight(m.y()))));
        } else {
            scene().node(sizing).ifPresent(n -> edits.resize(canvas.ref(), n.id(), sizedWidth(n.x()), sizedHeight(n.y())));
        }
    }

    private void finishBand() {
        Set<String> ids = new LinkedHashSet<>(canvas.selection());
        Set<String> marks = new LinkedHashSet<>(canvas.selectedMarks());
        Box band = Box.aroundPoints(List.of(new Point(pressX, pressY), new Point(nowX, nowY)));
        scene().nodes().stream().filter(n -> band.contains(n.box())).forEach(n -> ids.add(n.id()));
        scene().marks().stream().filter(m -> band.contains(SheetScene.box(m))).forEach(m -> marks.add(m.id()));
        canvas.select(ids, marks, canvas.selectedWires());
    }

    /** A wire ends at a port, at a plate that has just one fitting port free, or at a wire; on empty paper a block is asked for. */
    private void finishWire() {
        if (isAtOwnEdge()) {
            finishPort();
            return;
        }
        End to = WireEnds.target(scene(), canvas.routes(), from, nowX, nowY);
        Node plate = SheetHits.node(scene(), nowX, nowY);
        if (to != null && to.kind() == WireEnds.counterpart(from.kind()) && !(to.node().equals(from.node())
                && to.port().equals(from.port()))) {
            End out = from.kind() == PortKind.INPUT ? to : from;
            End in = from.kind() == PortKind.INPUT ? from : to;
            var wire = new Wire(out.node(), out.port(), in.node(), in.port(), from.kind() == PortKind.CONTACT);
            if (from.wire() == null) {
                edits.connect(canvas.ref(), wire);
            } else if (!from.wire().joinsSame(wire)) {
                edits.rehang(canvas.ref(), from.wire(), wire);
            }
        } else if (to == null && plate == null && from.wire() == null && canvas.ref() != null) {
            onFind.open(nowX, nowY, "", new Open(from.node(), from.port(), from.kind()));
        }
    }

    private void moved(MouseEvent e) {
        Point2D p = canvas.toSheet(e.getX(), e.getY());
        Wire wire = null;
        Node node = SheetHits.node(scene(), p.getX(), p.getY());
        if (isAtCorner(p.getX(), p.getY())) {
            canvas.setCursor(Cursor.SE_RESIZE);
        } else if (SheetHits.port(scene(), p.getX(), p.getY()) != null) {
            canvas.setCursor(Cursor.CROSSHAIR);
        } else if (node != null) {
            canvas.setCursor(Cursor.HAND);
        } else {
            wire = SheetHits.wire(scene(), canvas.routes().ways(), p.getX(), p.getY());
            canvas.setCursor(wire == null ? Cursor.DEFAULT : Cursor.MOVE);
        }
        canvas.hover(wire, node == null ? null : node.id(), e.getX(), e.getY());
    }

    private void scrolled(ScrollEvent e) {
        if (e.isShortcutDown()) {
            canvas.view().zoom(e.getDeltaY() > 0 ? 1.12 : 1 / 1.12, e.getX(), e.getY());
        } else {
            canvas.view().pan(canvas.view().panX() + e.getDeltaX(), canvas.view().panY() + e.getDeltaY());
        }
        canvas.shift();
        e.consume();
    }

    /** Leaves what is being drawn; gives false where nothing is. */
    boolean cancel() {
        boolean drawing = drag != Drag.NONE;
        drag = Drag.NONE;
        canvas.paint();
        return drawing;
    }

    void editName(Node n) {
        onEditInPlace.accept(n, true);
    }

    void find(double x, double y, String typed) {
        onFind.open(x, y, typed, null);
    }
}
