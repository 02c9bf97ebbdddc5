package boldanvil.app.sheet;

import boldanvil.app.model.Navigator;
import boldanvil.app.model.SheetEdits;
import boldanvil.app.model.Workspace;
import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.Mark;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.sheet.Box;
import boldanvil.core.sheet.Ink;
import boldanvil.core.sheet.Routes;
import boldanvil.core.sheet.SheetPainter.Emphasis;
import boldanvil.core.sheet.SheetPainter;
import boldanvil.core.sheet.SheetScene.Node;
import boldanvil.core.sheet.SheetScene.Point;
import boldanvil.core.sheet.SheetScene;
import boldanvil.core.sheet.Signals;
import boldanvil.core.sheet.WireRouter;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.Executor;
import java.util.function.Function;
import java.util.function.Supplier;
import javafx.application.Platform;
import javafx.geometry.Point2D;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.control.Label;
import javafx.scene.layout.Pane;
import javafx.scene.shape.Rectangle;

/** Shows a sheet and what is selected on it. */
public final class SheetCanvas extends Pane {
    private static final double LABEL = 40;

    private final TiledCanvas drawing = new TiledCanvas(this::paint);
    private final Label hint = new Label();
    private final Workspace workspace;
    private final SheetEdits edits;
    private final Navigator navigator;
    private final Supplier<Theme> theme;
    private final Executor background;
    private final List<Runnable> selectionListeners = new ArrayList<>();
    private final SheetView view = new SheetView();
    private final SheetGestures gestures;
    private final OverviewMap map = new OverviewMap((x, y) -> {
        view.centre(x, y);
        shift();
    });
    private Function<String, String> liveText = _ -> null;
    private Supplier<Map<Wire, String>> wireTexts = Map::of;
    private Supplier<Map<String, String>> chips = Map::of;
    private Supplier<Map<Wire, Emphasis>> emphases = Map::of;
    private Supplier<List<Node>> ghosts = List::of;
    private Hover onHover = (_, _, _, _) -> { };
    private SheetScene scene = SheetScene.EMPTY;
    private Box bounds = Box.EMPTY;
    /** What follows from the scene and is drawn each time. */
    private Set<String> wired = Set.of();
    private Map<String, String> tags = Map.of();
    private Map<Wire, Emphasis> emphasis = Map.of();
    private Map<Wire, String> wireNames = Map.of();
    private Map<Wire, String> values = Map.of();
    private boolean namesShown;
    private List<Node> removed = List.of();
    private Routes routes = Routes.NONE;
    private final Set<String> selected = new LinkedHashSet<>();
    private final Set<String> selectedMarks = new LinkedHashSet<>();
    private final Set<Wire> selectedWires = new LinkedHashSet<>();
    private String shownPath = "\0";
    private boolean fitPending = true;
    private double paintedZoom;

    /** @param background routes wires */
    public SheetCanvas(Workspace workspace, SheetEdits edits, Navigator navigator, Supplier<Theme> theme, Executor background) {
        this.workspace = workspace;
        this.edits = edits;
        this.navigator = navigator;
        this.theme = theme;
        this.background = background;
        hint.setMouseTransparent(true);
        hint.getStyleClass().add("faint");
        getChildren().addAll(drawing, hint, map);
        setId("sheet-canvas");
        setFocusTraversable(true);
        setMinSize(100, 100);
        var clip = new Rectangle();
        clip.widthProperty().bind(widthProperty());
        clip.heightProperty().bind(heightProperty());
        setClip(clip);
        gestures = new SheetGestures(this, edits, navigator);
    }

    /** What the pointer and the keys do. */
    public SheetGestures gestures() {
        return gestures;
    }

    public void onSelection(Runnable listener) {
        selectionListeners.add(listener);
    }

    /** Texts that are on plates while a rig runs, by block name; null for none. */
    public void liveText(Function<String, String> text) {
        liveText = text;
    }

    /** Values that stand on wires. */
    public void wireTexts(Supplier<Map<Wire, String>> texts) {
        wireTexts = texts;
    }

    /** Small texts above plates, by block id. */
    public void chips(Supplier<Map<String, String>> texts) {
        chips = texts;
    }

    /** Wires that stand out, other than by selection. */
    public void emphasis(Supplier<Map<Wire, Emphasis>> wires) {
        emphases = wires;
    }

    /** Shows the names of signals on wires, or hides them. */
    void toggleNames() {
        namesShown = !namesShown;
        decorate();
    }

    /** Plates that are not on the sheet any more, and are shown for comparison. */
    public void ghosts(Supplier<List<Node>> plates) {
        ghosts = plates;
    }

    /** What to do while the pointer is on a wire or a block; it gets null for both when it leaves. */
    public void onHover(Hover action) {
        onHover = action;
    }

    /** Gets the wire or the id of the block under the pointer, each null for none, and the place of the pointer in this pane. */
    public interface Hover {
        void over(Wire wire, String block, double x, double y);
    }

    void hover(Wire wire, String block, double x, double y) {
        onHover.over(wire, block, x, y);
    }

    SheetView view() {
        return view;
    }

    Routes routes() {
        return routes;
    }

    /** Wires that are selected. */
    public Set<Wire> selectedWires() {
        return Set.copyOf(selectedWires);
    }

    /** Frames and notes that are selected, by id. */
    public Set<String> selectedMarks() {
        return Set.copyOf(selectedMarks);
    }

    /** Selects a wire alone. */
    public void select(Wire wire) {
        select(Set.of(), Set.of(), Set.of(wire));
    }

    /** Selects blocks or parts by id. */
    public void select(Set<String> ids) {
        select(ids, Set.of(), Set.of());
    }

    /** Selects blocks, marks and wires. */
    public void select(Set<String> ids, Set<String> marks, Set<Wire> wires) {
        selected.clear();
        selected.addAll(ids);
        selectedMarks.clear();
        selectedMarks.addAll(marks);
        selectedWires.clear();
        selectedWires.addAll(wires);
        selectionListeners.forEach(Runnable::run);
        paint();
    }

    public Set<String> selection() {
        return Set.copyOf(selected);
    }

    SheetRef ref() {
        return navigator.sheet().orElse(null);
    }

    /** Shows the sheet as it is now. */
    public void refresh() {
        boolean other = !shownPath.equals(navigator.path());
        shownPath = navigator.path();
        if (other) {
            selected.clear();
            selectedMarks.clear();
            selectedWires.clear();
            fitPending = true;
        }
        scene = ref() == null ? SheetScene.system(workspace.source()) : SheetScene.of(workspace.source(), ref(), navigator.path());
        bounds = scene.bounds();
        wired = SheetPainter.wired(scene);
        tags = chips.get();
        wireNames = namesShown ? Signals.names(scene) : Map.of();
        emphasis = emphases.get();
        removed = ghosts.get();
        selected.removeIf(id -> scene.node(id).isEmpty());
        selectedMarks.removeIf(id -> scene.marks().stream().noneMatch(m -> m.id().equals(id)));
        selectedWires.removeIf(w -> scene.links().stream().noneMatch(l -> l.wire().equals(w)));
        String wanted = navigator.takeWanted();
        scene.nodes().stream().filter(n -> n.title().equals(wanted)).findFirst().ifPresent(n -> select(Set.of(n.id())));
        routes = new Routes(provisional(other), List.of(), Map.of());
        var mine = scene;
        background.execute(() -> {
            var found = Routes.of(mine);
            Platform.runLater(() -> {
                if (scene == mine) {
                    routes = found;
                    paint();
                }
            });
        });
        view.size(getWidth(), getHeight(), bounds);
        if (fitPending && getWidth() > 0) {
            fit();
        }
        paint();
    }

    /** Old ways where both ends stayed, straight ones elsewhere, until the router is done. */
    private Map<Wire, List<Point>> provisional(boolean fresh) {
        Map<Wire, List<Point>> next = new HashMap<>();
        Map<String, Node> nodes = new HashMap<>();
        scene.nodes().forEach(n -> nodes.put(n.id(), n));
        for (var link : scene.links()) {
            var ends = WireRouter.ends(nodes.get(link.wire().from()), nodes.get(link.wire().to()), link.wire());
            if (ends != null) {
                var laid = WireRouter.laid(link.wire(), ends);
                var old = fresh ? null : routes.ways().get(link.wire());
                boolean same = old != null && old.getFirst().equals(ends[0].at()) && old.getLast().equals(ends[1].at());
                next.put(link.wire(), !laid.isEmpty() ? laid : same ? old : WireRouter.plain(ends[0].at(), ends[1].at()));
            }
        }
        return next;
    }

    /** Zooms so that the whole sheet shows, never larger than life. */
    public void fit() {
        fitPending = false;
        view.size(getWidth(), getHeight(), bounds);
        view.fit(bounds);
    }

    /** Shows the sheet at a scale, around the middle of the window. */
    public void zoomTo(double scale) {
        view.zoom(scale / view.zoom(), getWidth() / 2, getHeight() / 2);
        shift();
    }

    /** Zooms so that the selection shows; the whole sheet where nothing is selected. */
    public void fitSelection() {
        var some = new SheetScene(scene.nodes().stream().filter(n -> selected.contains(n.id())).toList(), List.of(),
                scene.marks().stream().filter(m -> selectedMarks.contains(m.id())).toList());
        view.fit(some.nodes().isEmpty() && some.marks().isEmpty() ? bounds : some.bounds());
        paint();
    }

    @Override
    protected void layoutChildren() {
        boolean resized = drawing.getWidth() != getWidth() || drawing.getHeight() != getHeight();
        hint.autosize();
        hint.relocate((getWidth() - hint.getWidth()) / 2, (getHeight() - hint.getHeight()) / 2);
        map.relocate(getWidth() - map.getWidth() - 12, getHeight() - map.getHeight() - 12);
        if (resized) {
            drawing.resize(getWidth(), getHeight());
            view.size(getWidth(), getHeight(), bounds);
            if (fitPending || view.isFitted()) {
                fit();
            }
            paint();
        }
    }

    /** Sheet coordinates of a point of this pane. */
    public Point2D toSheet(double x, double y) {
        return view.toSheet(x, y);
    }

    /** Where a point of the sheet is on the screen. */
    public Point2D onScreen(double x, double y) {
        return localToScreen(x * view.zoom() + view.panX(), y * view.zoom() + view.panY());
    }

    /** Where a point of the sheet is in this pane. */
    Point2D inPane(double x, double y) {
        return new Point2D(x * view.zoom() + view.panX(), y * view.zoom() + view.panY());
    }

    public SheetScene shown() {
        return scene;
    }

    /** Follows the view after panning or zooming. */
    void shift() {
        if (view.zoom() != paintedZoom) {
            paint();
        } else {
            drawing.move(-view.panX(), -view.panY());
            map.show(scene, bounds, view, getWidth(), getHeight(), theme.get());
        }
    }

    /** Takes the texts above plates, the wires that stand out and the plates that are gone anew, and draws. */
    void decorate() {
        tags = chips.get();
        wireNames = namesShown ? Signals.names(scene) : Map.of();
        emphasis = emphases.get();
        removed = ghosts.get();
        paint();
    }

    /** Draws everything again. */
    public void paint() {
        paintedZoom = view.zoom();
        boolean empty = scene.nodes().isEmpty() && scene.marks().isEmpty();
        hint.setVisible(empty);
        if (empty) {
            hint.setText(ref() == null ? "The system sheet is empty. Add a controller and a plant from the stock on the left."
                    : "An empty sheet. Drag a block from the stock, or type the name of a block here.");
        }
        values = wireTexts.get();
        drawing.draw(-view.panX(), -view.panY());
        map.show(scene, bounds, view, getWidth(), getHeight(), theme.get());
    }

    /** Draws a piece of the sheet, whose upper left corner is so many pixels from the sheet's origin. */
    private void paint(GraphicsContext g, double x, double y) {
        var t = theme.get();
        double zoom = paintedZoom;
        g.setTransform(1, 0, 0, 1, 0, 0);
        g.setFill(t.paper());
        g.fillRect(0, 0, TiledCanvas.SIZE, TiledCanvas.SIZE);
        if (gestures.isGridShown()) {
            grid(g, t, x, y);
        }
        g.setTransform(zoom, 0, 0, zoom, -x, -y);
        var painter = new SheetPainter(new CanvasPen(g, t), zoom);
        sheet(painter, new Box(x / zoom, y / zoom, TiledCanvas.SIZE / zoom, TiledCanvas.SIZE / zoom));
        gestures.paint(painter, g, t);
    }

    /** Draws what meets a part of the sheet. */
    private void sheet(SheetPainter painter, Box shown) {
        for (Mark m : scene.marks()) {
            painter.mark(gestures.dragged(m), selectedMarks.contains(m.id()));
        }
        for (var link : scene.links()) {
            var way = gestures.dragged(link.wire(), routes.ways().get(link.wire()));
            if (way != null && shown.meets(Box.aroundPoints(way), 1)) {
                painter.wire(link, way, routes.hops().getOrDefault(link.wire(), List.of()), selectedWires.contains(link.wire())
                        ? Emphasis.CHOSEN : emphasis.getOrDefault(link.wire(), Emphasis.NONE));
            }
        }
        painter.branches(routes, shown);
        for (Node n : scene.nodes()) {
            boolean chosen = selected.contains(n.id());
            Node at = gestures.dragged(n);
            if (!shown.meets(at.box(), LABEL)) {
                continue;
            }
            painter.plate(at, chosen, liveText.apply(n.title()));
            painter.ports(at, wired, n.opens());
            if (tags.containsKey(n.id())) {
                painter.tag(at, tags.get(n.id()));
            }
        }
        removed.forEach(painter::ghost);
        painter.names(routes, wireNames, shown);
        painter.values(routes, values, Ink.EMBER, shown);
    }

    /** Dots at every fifth step of the grid. */
    private void grid(GraphicsContext g, Theme t, double left, double top) {
        double step = 50 * view.zoom();
        if (step < 14) {
            return;
        }
        g.setFill(t.rule());
        for (double x = Math.ceil(left / step) * step - left; x < TiledCanvas.SIZE; x += step) {
            for (double y = Math.ceil(top / step) * step - top; y < TiledCanvas.SIZE; y += step) {
                g.fillRect(x - 0.7, y - 0.7, 1.4, 1.4);
            }
        }
    }

    /** Deletes what is selected. */
    public void deleteSelection() {
        if (!selected.isEmpty() || !selectedWires.isEmpty() || !selectedMarks.isEmpty()) {
            edits.delete(ref(), Set.copyOf(selected), Set.copyOf(selectedWires), Set.copyOf(selectedMarks));
        }
    }
}
