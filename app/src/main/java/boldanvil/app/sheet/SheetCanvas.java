package boldanvil.app.sheet;

import boldanvil.app.model.Navigator;
import boldanvil.app.model.SheetEdits;
import boldanvil.app.model.SheetScene;
import boldanvil.app.model.SheetScene.Node;
import boldanvil.app.model.SheetScene.Point;
import boldanvil.app.model.SheetScene.PortKind;
import boldanvil.app.model.Workspace;
import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.Executor;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;
import javafx.application.Platform;
import javafx.geometry.Point2D;
import javafx.scene.Cursor;
import javafx.scene.canvas.Canvas;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;
import javafx.scene.input.MouseButton;
import javafx.scene.input.MouseEvent;
import javafx.scene.input.ScrollEvent;
import javafx.scene.layout.Pane;

/** Shows a sheet and takes pointer and keys: select, move, wire, open, zoom, pan. */
public final class SheetCanvas extends Pane {

    /** An end of a wire that is being drawn. */
    record End(String node, String port, PortKind kind, Point at) {}

    private enum Drag { NONE, MOVE, WIRE, BAND, PAN }

    private final Canvas canvas = new Canvas();
    private final TextMeasure measure = new TextMeasure();
    private final Workspace workspace;
    private final SheetEdits edits;
    private final Navigator navigator;
    private final Supplier<Theme> theme;
    private final Executor background;
    private final List<Runnable> selectionListeners = new ArrayList<>();
    private BiConsumer<Double, Double> onQuickAdd = (_, _) -> { };
    private Consumer<String> onText = _ -> { };
    private Function<String, String> liveText = _ -> null;
    private SheetScene scene = new SheetScene(List.of(), List.of());
    private Map<Wire, List<Point>> routes = Map.of();
    private final Set<String> selected = new LinkedHashSet<>();
    private final Set<Wire> selectedWires = new HashSet<>();
    private double zoom = 1;
    private double panX = 20;
    private double panY = 20;
    private Drag drag = Drag.NONE;
    private double pressX;
    private double pressY;
    private double nowX;
    private double nowY;
    private End from;
    private String shownPath = "\0";
    private boolean fitPending = true;

    /** @param background routes wires */
    public SheetCanvas(Workspace workspace, SheetEdits edits, Navigator navigator, Supplier<Theme> theme, Executor background) {
        this.workspace = workspace;
        this.edits = edits;
        this.navigator = navigator;
        this.theme = theme;
        this.background = background;
        getChildren().add(canvas);
        setId("sheet-canvas");
        setFocusTraversable(true);
        setMinSize(100, 100);
        addEventHandler(MouseEvent.MOUSE_PRESSED, this::pressed);
        addEventHandler(MouseEvent.MOUSE_DRAGGED, this::dragged);
        addEventHandler(MouseEvent.MOUSE_RELEASED, this::released);
        addEventHandler(MouseEvent.MOUSE_MOVED, this::moved);
        addEventHandler(ScrollEvent.SCROLL, this::scrolled);
        addEventHandler(KeyEvent.KEY_PRESSED, this::key);
    }

    /** Gets the id of a block that was opened and is not a subsystem. */
    void onText(Consumer<String> action) {
        onText = action;
    }

    /** What to do on a double click on empty paper; gets sheet coordinates. */
    public void onQuickAdd(BiConsumer<Double, Double> action) {
        onQuickAdd = action;
    }

    public void onSelection(Runnable listener) {
        selectionListeners.add(listener);
    }

    /** Texts that are on plates while a rig runs, by block name; null for none. */
    public void liveText(Function<String, String> text) {
        liveText = text;
    }

    /** Wires that are selected. */
    public Set<Wire> selectedWires() {
        return Set.copyOf(selectedWires);
    }

    /** Selects a wire alone. */
    public void select(Wire wire) {
        selected.clear();
        selectedWires.clear();
        selectedWires.add(wire);
        paint();
    }

    private SheetRef ref() {
        return navigator.sheet().orElse(null);
    }

    /** Shows the sheet as it is now. */
    public void refresh() {
        boolean other = !shownPath.equals(navigator.path());
        shownPath = navigator.path();
        if (other) {
            selected.clear();
            selectedWires.clear();
            fitPending = true;
        }
        scene = ref() == null ? SheetScene.system(workspace) : SheetScene.of(workspace, ref(), navigator.path());
        selected.removeIf(id -> scene.node(id).isEmpty());
        selectedWires.removeIf(w -> scene.links().stream().noneMatch(l -> l.wire().equals(w)));
        String wanted = navigator.takeWanted();
        scene.nodes().stream().filter(n -> n.title().equals(wanted)).findFirst().ifPresent(n -> select(Set.of(n.id())));
        routes = provisional(other);
        var mine = scene;
        background.execute(() -> {
            var found = WireRouter.route(mine);
            Platform.runLater(() -> {
                if (scene == mine) {
                    routes = found;
                    paint();
                }
            });
        });
        if (fitPending && getWidth() > 0) {
            fit();
        }
        paint();
    }

    /** Old ways where both ends stayed, straight ones elsewhere, until the router is done. */
    private Map<Wire, List<Point>> provisional(boolean fresh) {
        Map<Wire, List<Point>> next = new HashMap<>();
        for (var link : scene.links()) {
            var ends = WireRouter.ends(scene, link.wire());
            if (ends != null) {
                var old = fresh ? null : routes.get(link.wire());
                boolean same = old != null && old.getFirst().equals(ends[0].at()) && old.getLast().equals(ends[1].at());
                next.put(link.wire(), same ? old : WireRouter.plain(ends[0].at(), ends[1].at()));
            }
        }
        return next;
    }

    public Set<String> selection() {
        return Set.copyOf(selected);
    }

    /** Selects blocks or parts by id. */
    public void select(Set<String> ids) {
        selected.clear();
        selected.addAll(ids);
        selectedWires.clear();
        selectionListeners.forEach(Runnable::run);
        paint();
    }

    /** Zooms so that the whole sheet shows, never larger than life. */
    public void fit() {
        fitPending = false;
        double w = Math.max(100, getWidth());
        double h = Math.max(100, getHeight());
        if (scene.nodes().isEmpty()) {
            zoom = 1;
            panX = 20;
            panY = 20;
            return;
        }
        double minX = scene.nodes().stream().mapToDouble(Node::x).min().orElse(0);
        double minY = scene.nodes().stream().mapToDouble(Node::y).min().orElse(0);
        double maxX = scene.nodes().stream().mapToDouble(n -> n.x() + n.width()).max().orElse(0);
        double maxY = scene.nodes().stream().mapToDouble(n -> n.y() + n.height()).max().orElse(0);
        zoom = Math.clamp(Math.min(w / (maxX - minX + 70), h / (maxY - minY + 80)), 0.3, 1.0);
        panX = w / 2 - zoom * (minX + maxX) / 2;
        panY = h / 2 - zoom * (minY + maxY) / 2;
    }

    @Override
    protected void layoutChildren() {
        boolean resized = canvas.getWidth() != getWidth() || canvas.getHeight() != getHeight();
        canvas.setWidth(getWidth());
        canvas.setHeight(getHeight());
        if (resized) {
            if (fitPending) {
                fit();
            }
            paint();
        }
    }

    /** Sheet coordinates of a point of this pane. */
    public Point2D toSheet(double x, double y) {
        return new Point2D((x - panX) / zoom, (y - panY) / zoom);
    }

    /** Where a point of the sheet is on the screen. */
    public Point2D onScreen(double x, double y) {
        return localToScreen(x * zoom + panX, y * zoom + panY);
    }

    public SheetScene shown() {
        return scene;
    }

    /** Draws everything again. */
    public void paint() {
        var t = theme.get();
        var g = canvas.getGraphicsContext2D();
        g.setTransform(1, 0, 0, 1, 0, 0);
        g.setFill(t.paper());
        g.fillRect(0, 0, getWidth(), getHeight());
        g.setTransform(zoom, 0, 0, zoom, panX, panY);
        var painter = new SheetPainter(g, t, measure);
        painter.wires(scene, routes, selectedWires);
        Set<String> wired = new HashSet<>();
        for (var link : scene.links()) {
            wired.add("out " + link.wire().from() + "\0" + link.wire().fromPort());
            wired.add("in " + link.wire().to() + "\0" + link.wire().toPort());
        }
        double dx = drag == Drag.MOVE ? snap(nowX - pressX) : 0;
        double dy = drag == Drag.MOVE ? snap(nowY - pressY) : 0;
        for (Node n : scene.nodes()) {
            boolean chosen = selected.contains(n.id());
            Node at = chosen ? n.moved(dx, dy) : n;
            painter.plate(at, chosen, liveText.apply(n.title()));
            painter.ports(at, wired, n.opens());
        }
        if (drag == Drag.WIRE) {
            var a = from.at();
            var b = new Point(nowX, nowY);
            painter.polyline(from.kind() != PortKind.INPUT ? WireRouter.plain(a, b) : WireRouter.plain(b, a), t.steel(), 2, false);
        } else if (drag == Drag.BAND) {
            g.setStroke(t.steel());
            g.setLineWidth(1);
            g.strokeRect(Math.min(pressX, nowX), Math.min(pressY, nowY), Math.abs(nowX - pressX), Math.abs(nowY - pressY));
        }
        if (scene.nodes().isEmpty()) {
            g.setTransform(1, 0, 0, 1, 0, 0);
            g.setFill(t.faint());
            g.setFont(Theme.sans(15));
            g.setTextAlign(javafx.scene.text.TextAlignment.CENTER);
            g.fillText(ref() == null ? "The system sheet is empty. Add a controller and a plant from the stock on the left."
                    : "An empty sheet. Drag a block from the stock, or double-click here and type its name.",
                    getWidth() / 2, getHeight() / 2);
        }
    }

    private static double snap(double v) {
        return Math.round(v / 10) * 10.0;
    }

    private void pressed(MouseEvent e) {
        requestFocus();
        var p = toSheet(e.getX(), e.getY());
        pressX = p.getX();
        pressY = p.getY();
        nowX = pressX;
        nowY = pressY;
        if (e.getButton() != MouseButton.PRIMARY) {
            drag = Drag.PAN;
            pressX = e.getX() - panX;
            pressY = e.getY() - panY;
            return;
        }
        from = SheetHits.port(scene, pressX, pressY);
        Node hit = SheetHits.node(scene, pressX, pressY);
        if (from != null) {
            drag = Drag.WIRE;
        } else if (hit != null) {
            if (e.getClickCount() == 2) {
                open(hit);
                return;
            }
            if (e.isShiftDown() || e.isShortcutDown()) {
                if (!selected.remove(hit.id())) {
                    selected.add(hit.id());
                }
            } else if (!selected.contains(hit.id())) {
                selected.clear();
                selected.add(hit.id());
            }
            selectedWires.clear();
            drag = Drag.MOVE;
            selectionListeners.forEach(Runnable::run);
        } else {
            pressedPaper(e);
        }
        paint();
    }

    private void pressedPaper(MouseEvent e) {
        Wire wire = SheetHits.wire(scene, routes, pressX, pressY);
        if (!e.isShiftDown()) {
            selected.clear();
            selectedWires.clear();
        }
        if (wire != null) {
            selectedWires.add(wire);
        } else if (e.getClickCount() == 2) {
            onQuickAdd.accept(pressX, pressY);
        } else {
            drag = Drag.BAND;
        }
        selectionListeners.forEach(Runnable::run);
    }

    private void dragged(MouseEvent e) {
        if (drag == Drag.PAN) {
            panX = e.getX() - pressX;
            panY = e.getY() - pressY;
        } else if (drag != Drag.NONE) {
            var p = toSheet(e.getX(), e.getY());
            nowX = p.getX();
            nowY = p.getY();
        }
        paint();
    }

    private void released(MouseEvent e) {
        Drag was = drag;
        drag = Drag.NONE;
        switch (was) {
            case MOVE -> {
                double dx = snap(nowX - pressX);
                double dy = snap(nowY - pressY);
                if (dx != 0 || dy != 0) {
                    edits.move(ref(), Set.copyOf(selected), dx, dy);
                }
            }
            case WIRE -> finishWire();
            case BAND -> {
                for (Node n : scene.nodes()) {
                    boolean inside = n.x() >= Math.min(pressX, nowX) && n.x() + n.width() <= Math.max(pressX, nowX)
                            && n.y() >= Math.min(pressY, nowY) && n.y() + n.height() <= Math.max(pressY, nowY);
                    if (inside) {
                        selected.add(n.id());
                    }
                }
                selectionListeners.forEach(Runnable::run);
            }
            default -> { }
        }
        paint();
    }

    /** A wire ends at a port, or at a plate that has just one fitting port free. */
    private void finishWire() {
        End to = SheetHits.port(scene, nowX, nowY);
        if (to == null) {
            Node n = SheetHits.node(scene, nowX, nowY);
            if (n != null && !n.id().equals(from.node())) {
                to = n.ports(counterpart(from.kind())).stream()
                        .filter(p -> p.kind() != PortKind.INPUT || scene.links().stream().noneMatch(l -> l.wire().drives(n.id(), p.name())))
                        .findFirst().map(p -> new End(n.id(), p.name(), p.kind(), n.at(p))).orElse(null);
            }
        }
        if (to != null && to.kind() == counterpart(from.kind()) && !to.equals(from)) {
            End out = from.kind() == PortKind.INPUT ? to : from;
            End in = from.kind() == PortKind.INPUT ? from : to;
            edits.connect(ref(), new Wire(out.node(), out.port(), in.node(), in.port(), from.kind() == PortKind.CONTACT));
        }
    }

    /** What a port can be connected to. */
    private static PortKind counterpart(PortKind kind) {
        return switch (kind) {
            case INPUT -> PortKind.OUTPUT;
            case OUTPUT -> PortKind.INPUT;
            case CONTACT -> PortKind.CONTACT;
        };
    }

    private void moved(MouseEvent e) {
        var p = toSheet(e.getX(), e.getY());
        setCursor(SheetHits.port(scene, p.getX(), p.getY()) != null ? Cursor.CROSSHAIR : SheetHits.node(scene, p.getX(), p.getY()) != null
                ? Cursor.HAND
                : Cursor.DEFAULT);
    }

    private void scrolled(ScrollEvent e) {
        if (e.isShortcutDown()) {
            var p = toSheet(e.getX(), e.getY());
            zoom = Math.clamp(zoom * (e.getDeltaY() > 0 ? 1.12 : 1 / 1.12), 0.2, 3);
            panX = e.getX() - p.getX() * zoom;
            panY = e.getY() - p.getY() * zoom;
        } else {
            panX += e.getDeltaX();
            panY += e.getDeltaY();
        }
        paint();
        e.consume();
    }

    private void open(Node n) {
        if (n.opens()) {
            navigator.enter(n.id());
        } else {
            onText.accept(n.id());
        }
    }

    private void key(KeyEvent e) {
        boolean handled = true;
        if (e.getCode() == KeyCode.DELETE || e.getCode() == KeyCode.BACK_SPACE) {
            deleteSelection();
        } else if (e.getCode() == KeyCode.ENTER && selected.size() == 1) {
            scene.nodes().stream().filter(n -> selected.contains(n.id())).findFirst().ifPresent(this::open);
        } else if (e.getCode() == KeyCode.ESCAPE) {
            if (selected.isEmpty() && selectedWires.isEmpty()) {
                navigator.up();
            } else {
                select(Set.of());
            }
        } else if (e.getCode().isArrowKey() && !selected.isEmpty() && !e.isAltDown() && !e.isShortcutDown()) {
            double dx = e.getCode() == KeyCode.LEFT ? -10 : e.getCode() == KeyCode.RIGHT ? 10 : 0;
            double dy = e.getCode() == KeyCode.UP ? -10 : e.getCode() == KeyCode.DOWN ? 10 : 0;
            edits.move(ref(), Set.copyOf(selected), dx, dy);
        } else if (e.isShortcutDown()) {
            handled = shortcut(e.getCode());
        } else {
            handled = false;
        }
        if (handled) {
            e.consume();
        }
    }

    private boolean shortcut(KeyCode code) {
        switch (code) {
            case C -> copy();
            case X -> {
                copy();
                deleteSelection();
            }
            case V -> paste();
            case A -> select(new LinkedHashSet<>(scene.nodes().stream().map(Node::id).toList()));
            default -> {
                return false;
            }
        }
        return true;
    }

    /** Deletes what is selected. */
    public void deleteSelection() {
        if (!selected.isEmpty() || !selectedWires.isEmpty()) {
            edits.delete(ref(), Set.copyOf(selected), Set.copyOf(selectedWires));
        }
    }

    /** Takes copies of the selected blocks. */
    public void copy() {
        if (ref() != null && !selected.isEmpty()) {
            edits.copy(ref(), Set.copyOf(selected));
        }
    }

    /** Puts copied blocks on this sheet. */
    public void paste() {
        if (ref() != null) {
            select(edits.paste(ref()));
        }
    }

}
