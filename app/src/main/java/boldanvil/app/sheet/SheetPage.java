package boldanvil.app.sheet;

import boldanvil.app.model.CoverageMarks;
import boldanvil.app.model.ContactValues;
import boldanvil.app.model.Navigator;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.SheetEdits;
import boldanvil.app.model.PastRun;
import boldanvil.app.model.TimeTravel;
import boldanvil.app.model.Workspace;
import boldanvil.app.page.Command;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Chooser;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.edit.BlockFinder;
import boldanvil.core.edit.Usages;
import boldanvil.core.edit.Wiring;
import boldanvil.core.finding.Place;
import boldanvil.core.network.Domain;
import boldanvil.core.sheet.Layer;
import boldanvil.core.sheet.SheetScene;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.OwnBlocks;
import boldanvil.core.stock.Stock;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.DoubleSupplier;
import java.util.function.ToIntFunction;
import javafx.animation.Animation;
import javafx.animation.KeyFrame;
import javafx.animation.Timeline;
import javafx.application.Platform;
import javafx.geometry.Point2D;
import javafx.scene.Node;
import javafx.geometry.Pos;
import javafx.scene.control.Label;
import javafx.scene.control.SplitPane;
import javafx.scene.control.Tab;
import javafx.scene.control.TabPane;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.StackPane;
import javafx.util.Duration;
import org.kordamp.ikonli.Ikon;
import org.kordamp.ikonli.feather.Feather;

/** The page where sheets are drawn. */
public final class SheetPage extends BorderPane implements Page {
    private static final double STOCK_ENDS = 0.165;
    private static final double DETAILS_BEGIN = 0.775;

    private final PageHost host;
    private final ToIntFunction<String> toBench;
    private final Consumer<String> toCode;
    private final Navigator navigator;
    private final SheetEdits edits;
    private final SheetCanvas canvas;
    private final DetailsPane details;
    private final StockPane stock;
    private final OutlinePane outline;
    private final TabPane side;
    private final SplitPane split;
    private final StockUse use;
    private final SheetCommands actions;
    private final Command parent;
    private final Command fit = Command.of("Fit the sheet to the window", "Shortcut+DIGIT0", this::fit);
    private final Command onBench = Command.of("Show the selected block on the bench", "Shortcut+E", this::sendToBench);
    private final Command inCode = Command.of("Show the selected block's code", "Shortcut+L", this::showCode);
    private final Command pin = Command.of("Show the value of the selected wire", "Shortcut+T", this::pinWire);
    private final TimeTravel travel;
    private final LiveTexts live;
    private final ContactValues contacts;
    private final ElementHover element;
    private final ComparePane compare;
    private final Label legend = new Label();
    private Layer layer;
    private boolean covered;
    private final WhyPane why;
    private final PastCommands past;
    private final OwnBlockCommands ownBlocks;
    private final RigSession session;
    private final TextPane text;

    /**
     * @param toBench shows a block on the bench; gives the number of its tunables and taps
     * @param toCode shows the generated code of a block
     * @param cursor the instant at the cursor of the traces; NaN where there is none
     */
    public SheetPage(PageHost host, ToIntFunction<String> toBench, Consumer<String> toCode, DoubleSupplier cursor) {
        this.host = host;
        this.toBench = toBench;
        this.toCode = toCode;
        navigator = host.navigator();
        parent = Command.of("Parent sheet", "Alt+UP", navigator::up);
        edits = host.edits();
        session = host.session();
        travel = new TimeTravel(Platform::runLater);
        live = new LiveTexts(session, travel);
        Workspace workspace = host.workspace();
        canvas = new SheetCanvas(workspace, edits, navigator, host::theme, host.drawing());
        details = new DetailsPane(workspace, edits, navigator);
        use = new StockUse(host.memory());
        stock = new StockPane(new Taker(), use, this::finder, host::theme);
        actions = new SheetCommands(host, canvas);
        past = new PastCommands(host, this, canvas, travel, cursor);
        ownBlocks = new OwnBlockCommands(host, canvas, stock);
        canvas.onSelection(() -> details.show(canvas.selection()));
        canvas.gestures().onFind(this::find);
        canvas.liveText(block -> live.of(navigator.path(), block));
        text = new TextPane(workspace, edits, host::theme, chart -> live.activeSteps(chart));
        canvas.gestures().onText(id -> openText(workspace, id));
        var editor = new InPlaceEditor(canvas, edits, id -> navigator.sheet().flatMap(r -> workspace.project().sheet(r))
                .flatMap(s -> s.block(id)), b -> OwnBlocks.type(workspace.project().library(), b));
        canvas.gestures().onEditInPlace(editor::open);
        canvas.gestures().onMenu(e -> SheetMenu.show(canvas, e, fitting()));
        canvas.gestures().onMark(m -> MarkCard.show(canvas, edits, m));
        details.onText(id -> openText(workspace, id));
        compare = new ComparePane(workspace::project, c -> host.show(c.place()), this::showSide);
        var hover = new WireHover(travel, host::theme);
        contacts = new ContactValues(session::live, travel, Platform::runLater);
        element = new ElementHover(contacts, id -> navigator.sheet().flatMap(r -> workspace.project().sheet(r))
                .flatMap(s -> s.block(id)));
        canvas.getChildren().addAll(hover, element);
        canvas.onHover((wire, block, x, y) -> {
            hover.over(wire, x, y);
            element.over(block, x, y);
        });
        canvas.wireTexts(() -> PastValues.of(canvas.shown(), canvas.routes(), travel));
        canvas.chips(this::chips);
        why = new WhyPane(travel, host::show, host::showMessage);
        canvas.emphasis(() -> why.wires(canvas.shown(), navigator.sheet().orElse(null), navigator.path()));
        canvas.ghosts(() -> compare.removed(navigator.sheet().orElse(null), navigator.path()));
        travel.onChange(() -> {
            if (why.refresh()) {
                showSide();
            } else {
                canvas.paint();
            }
            text.repaint();
        });
        var drawn = new BorderPane(canvas);
        drawn.setTop(ownBlocks.bar());
        drawn.setBottom(new InstantBar(travel));
        legend.setId("sheet-legend");
        legend.getStyleClass().addAll("small", "legend");
        legend.setVisible(false);
        legend.setMouseTransparent(true);
        StackPane.setAlignment(legend, Pos.TOP_LEFT);
        var middle = new StackPane(drawn, legend, text);
        middle.setMinSize(0, 0);
        outline = new OutlinePane(path -> {
            if (path.contains("/")) {
                navigator.show(Place.sheet(path));
            } else {
                navigator.open(path);
            }
        });
        var stockTab = new Tab("Stock", stock);
        var outlineTab = new Tab("Outline", outline);
        side = new TabPane(stockTab, outlineTab);
        side.setTabClosingPolicy(TabPane.TabClosingPolicy.UNAVAILABLE);
        side.setMinWidth(140);
        side.getSelectionModel().selectedItemProperty().addListener(_ -> refresh());
        split = new SplitPane(side, middle, details);
        SplitPane.setResizableWithParent(side, false);
        SplitPane.setResizableWithParent(details, false);
        split.setDividerPositions(STOCK_ENDS, DETAILS_BEGIN);
        setCenter(split);
        var clock = new Timeline(new KeyFrame(Duration.millis(100), _ -> live()));
        clock.setCycleCount(Animation.INDEFINITE);
        clock.play();
        workspace.onChange(this::refresh);
        navigator.onChange(() -> {
            text.close();
            refresh();
        });
    }

    /** Draws again what changes while a rig runs. */
    private void live() {
        if (isVisible() && getScene() != null && session.isBusy() && !travel.isOn()) {
            canvas.paint();
            text.repaint();
            if (element.isWanted()) {
                navigator.sheet().ifPresent(ref -> contacts.ask(ref, navigator.path()));
            }
        }
    }

    @Override
    public String name() {
        return "Sheet";
    }

    @Override
    public Ikon icon() {
        return Feather.EDIT_3;
    }

    @Override
    public Node node() {
        return this;
    }

    @Override
    public boolean owns(Place place) {
        return place.sheetPath().isPresent() || place instanceof Place.Named;
    }

    @Override
    public void show(Place place) {
        navigator.show(place);
    }

    @Override
    public void opened() {
        travel.end();
        compare.end();
        ownBlocks.opened();
        navigator.forget();
        navigator.open("");
    }

    @Override
    public void repaint() {
        canvas.paint();
        stock.repaint();
    }

    @Override
    public List<Command> commands() {
        List<Command> all = new ArrayList<>(actions.editing());
        all.addAll(List.of(parent,
                Command.of("Back", "Alt+LEFT", navigator::back), Command.of("Forward", "Alt+RIGHT", navigator::forward),
                Command.of("Find and replace …", "Shortcut+F", () -> SearchCard.show(this, host)),
                Command.of("Where is this used", "", this::showUses),
                fit, Command.of("Fit the selection to the window", "Shortcut+Shift+DIGIT0", canvas::fitSelection),
                onBench, inCode, pin,
                Command.of("Fold or show the stock", "Alt+S", this::foldStock),
                Command.of("Fold or show the details", "Alt+D", this::foldDetails)));
        all.addAll(past.all());
        all.addAll(actions.arranging());
        all.addAll(ownBlocks.all());
        all.addAll(actions.exporting());
        all.add(Command.of("Show or hide names on wires", "", canvas::toggleNames).in("View"));
        for (Layer l : Layer.values()) {
            all.add(Command.of("Show or hide labels: " + l.title().toLowerCase(Locale.ROOT), "", () -> show(l)).in("View"));
        }
        all.addAll(new CompareCommands(host, this, this::compare).all());
        return all;
    }

    /** The commands that fit what is selected, in groups. */
    private List<List<Command>> fitting() {
        if (!canvas.selectedWires().isEmpty()) {
            return List.of(past.onWire(), List.of(pin), actions.onWire());
        }
        if (canvas.selection().isEmpty() && canvas.selectedMarks().isEmpty()) {
            return List.of(actions.onPaper(), List.of(fit, parent));
        }
        return List.of(actions.editing(), List.of(onBench, inCode), actions.onBlocks(), ownBlocks.all());
    }

    private void fit() {
        canvas.fit();
        canvas.paint();
    }

    @Override
    public boolean show(Place place, double seconds) {
        return past.show(place, seconds);
    }

    /** Shows the values of a run at an instant, on the sheet that is open. */
    public void show(PastRun run, double seconds) {
        host.show(this);
        past.begin(run, seconds);
    }

    /** The past instant that is shown. */
    public TimeTravel timeTravel() {
        return travel;
    }

    /** Shows the labels of a layer, or none. */
    public void show(Layer l) {
        layer = layer == l ? null : l;
        covered = false;
        legend.setText(layer == null ? "" : layer.legend());
        legend.setVisible(layer != null);
        canvas.decorate();
    }

    private Map<String, String> chips() {
        SheetRef ref = navigator.sheet().orElse(null);
        if (why.isOn()) {
            return why.marks(canvas.shown(), ref, navigator.path());
        }
        if (compare.isOn()) {
            return compare.marks(ref);
        }
        if (covered && ref != null) {
            return host.workspace().project().sheet(ref).map(s -> CoverageMarks.of(host.trials().coverage(), s, navigator.path()))
                    .orElse(Map.of());
        }
        return layer == null || ref == null ? Map.of() : layer.of(host.workspace().source(), ref, navigator.path());
    }

    /** Shows above each plate how much of it the trials ran, or no longer. */
    public void toggleCoverage() {
        covered = !covered;
        legend.setText(covered ? "Coverage by trials: outcomes, condition values and table entries that were seen" : layer == null ? ""
                : layer.legend());
        legend.setVisible(covered || layer != null);
        canvas.paint();
    }

    /** Compares the open project with another state of it. */
    public void compare(String name, Project before) {
        compare.begin(name, before);
    }

    /** Shows what is explained or compared in place of the details, or the details again; and what it marks on the sheet. */
    private void showSide() {
        Node wanted = why.isOn() ? why : compare.isOn() ? compare : details;
        int at = 0;
        while (at < split.getItems().size() && !List.of(why, compare, details).contains(split.getItems().get(at))) {
            at++;
        }
        if (at < split.getItems().size() && split.getItems().get(at) != wanted) {
            double[] positions = split.getDividerPositions();
            split.getItems().set(at, wanted);
            split.setDividerPositions(positions);
        } else if (at == split.getItems().size() && wanted != details) {
            split.getItems().add(wanted);
        }
        canvas.decorate();
    }

    private void pinWire() {
        var wires = canvas.selectedWires();
        var sheet = navigator.sheet();
        if (wires.size() != 1 || sheet.isEmpty()) {
            host.showMessage("Select one wire inside a part first.");
            return;
        }
        String tap = edits.pin(sheet.get(), wires.iterator().next());
        host.showMessage("'" + tap + "' shows the wire's value while a rig runs" + (session.isBusy() ? ", from the next start." : "."));
    }

    /** The path of the selected block; empty, with a message, unless exactly one is selected. */
    private Optional<String> selectedPath() {
        var ids = canvas.selection();
        var node = ids.size() == 1 ? canvas.shown().node(ids.iterator().next()) : Optional.<SheetScene.Node>empty();
        if (node.isEmpty()) {
            host.showMessage("Select one block first.");
        }
        return node.map(n -> navigator.path() + "/" + n.title());
    }

    /** Lists where the selected block is named outside its sheet. */
    private void showUses() {
        selectedPath().ifPresent(path -> {
            var uses = Usages.block(host.workspace().project(), path);
            if (uses.isEmpty()) {
                host.showMessage("'" + path.substring(path.lastIndexOf('/') + 1) + "' is named nowhere outside its sheet.");
                return;
            }
            var window = getScene().getWindow();
            Chooser.show(window, window.getX() + 400, window.getY() + 120, 460, "uses", "Place",
                    t -> uses.stream().filter(u -> (u.place().text() + u.text()).toLowerCase(Locale.ROOT)
                    .contains(t.toLowerCase(Locale.ROOT)))
                            .toList(), u -> new Chooser.Reading(u.place().text(), u.text()), u -> host.show(u.place()));
        });
    }

    private void sendToBench() {
        selectedPath().ifPresent(path -> {
            String title = path.substring(path.lastIndexOf('/') + 1);
            host.showMessage(toBench.applyAsInt(path) == 0 ? title + " has no tunable and no tap." : title + " is on the bench.");
        });
    }

    private void showCode() {
        selectedPath().ifPresent(toCode);
    }

    /** Opens the text of a block of the open sheet, if it has one. */
    public void openText(Workspace workspace, String id) {
        SheetRef ref = navigator.sheet().orElse(null);
        if (ref != null) {
            workspace.project().sheet(ref).flatMap(s -> s.block(id)).filter(b -> Stock.find(b.type()).flatMap(TextPane::text).isPresent())
                    .ifPresent(b -> text.open(ref, navigator.path(), b));
        }
    }

    /** Puts a file's text in the place of the text that is open. */
    public void loadText(Path file) {
        text.load(file);
    }

    public SheetCanvas canvas() {
        return canvas;
    }

    /** Folds the stock away, or shows it again. */
    public void foldStock() {
        fold(side, 0);
    }

    /** Folds the details away, or shows them again. */
    public void foldDetails() {
        fold(details, split.getItems().size());
    }

    private void fold(Node side, int at) {
        if (!split.getItems().remove(side)) {
            split.getItems().add(at, side);
        }
        boolean left = split.getItems().contains(side);
        boolean right = split.getItems().contains(details);
        split.setDividerPositions(left && right ? new double[] {STOCK_ENDS, DETAILS_BEGIN}
                : left ? new double[] {STOCK_ENDS} : right ? new double[] {DETAILS_BEGIN} : new double[0]);
    }

    private void refresh() {
        ownBlocks.refresh();
        stock.showParts(navigator.path().isEmpty());
        if (travel.isOn()) {
            travel.show(navigator.sheet().orElse(null), navigator.path());
        }
        compare.refresh();
        if (side.getSelectionModel().getSelectedIndex() == 1) {
            outline.show(host.workspace().project());
        }
        canvas.refresh();
        details.show(canvas.selection());
    }

    /** Puts what is taken from the stock where it was dropped, or in the middle; beside the sheet it is put back. */
    private final class Taker implements StockPane.Taker {
        @Override
        public void block(BlockType type, Point2D place) {
            SheetRef ref = navigator.sheet().orElse(null);
            if (place == null && ref != null && canvas.selection().size() == 1) {
                use.used(type);
                canvas.select(Set.of(edits.addBehind(ref, type, canvas.selection().iterator().next())));
                canvas.requestFocus();
                return;
            }
            var at = onSheet(place);
            if (at != null) {
                put(type, at.getX(), at.getY(), null);
            }
        }

        @Override
        public void part(Part.Kind kind, Point2D place) {
            var at = onSheet(place);
            if (at != null) {
                canvas.select(Set.of(edits.addPart(kind, at.getX(), at.getY())));
                canvas.requestFocus();
            }
        }

        @Override
        public void own(OwnBlock block, Point2D place) {
            var at = onSheet(place);
            SheetRef ref = navigator.sheet().orElse(null);
            if (at != null && ref != null) {
                String id = edits.addUse(ref, block, ownBlocks.inFolder(), at.getX(), at.getY());
                canvas.select(id.isEmpty() ? Set.of() : Set.of(id));
                canvas.requestFocus();
            }
        }

        private Point2D onSheet(Point2D place) {
            var p = place == null ? new Point2D(canvas.getWidth() / 2, canvas.getHeight() / 2) : canvas.sceneToLocal(place);
            return canvas.getLayoutBounds().contains(p) ? canvas.toSheet(p.getX(), p.getY()).subtract(60, 25) : null;
        }
    }

    private BlockFinder finder() {
        boolean continuous = navigator.sheet().flatMap(r -> host.workspace().project().part(r.part()))
                .map(p -> p.sampleTime().equals(Settings.CONTINUOUS)).orElse(false);
        return new BlockFinder(continuous, use.recent());
    }

    /** Asks for a block at a place; at the open end of a wire only for those that fit there. */
    private void find(double x, double y, String typed, SheetGestures.Open from) {
        if (navigator.sheet().isPresent()) {
            var at = canvas.onScreen(x, y);
            var finder = finder();
            SheetRef ref = navigator.sheet().get();
            var part = host.workspace().project().part(ref.part()).orElseThrow();
            var domain = from == null ? Optional.<Domain>empty()
                    : part.sheet(ref.sheet()).flatMap(s -> Wiring.domain(part, s, from.node(), from.port()));
            Chooser.show(getScene().getWindow(), at.getX(), at.getY(), 300, "quick-add", "Block, such as gain", typed,
                    text -> finder.find(text).stream().filter(t -> from == null || fits(t, from, domain)).toList(),
                    t -> new Chooser.Reading(t.title(), t.family().title()), t -> put(t, x, y, from));
        }
    }

    private static boolean fits(BlockType t, SheetGestures.Open from, Optional<Domain> domain) {
        var face = t.face(new Settings(t, Map.of()));
        return switch (from.kind()) {
            case OUTPUT -> !face.inputs().isEmpty() || t.role() == BlockType.Role.SUBSYSTEM;
            case INPUT -> !face.outputs().isEmpty() || t.role() == BlockType.Role.SUBSYSTEM;
            case CONTACT -> face.contacts().stream().anyMatch(c -> domain.isEmpty() || domain.get() == c.domain());
        };
    }

    private void put(BlockType t, double x, double y, SheetGestures.Open from) {
        SheetRef ref = navigator.sheet().orElse(null);
        if (ref != null) {
            use.used(t);
            canvas.select(Set.of(from == null ? edits.add(ref, t, x, y) : edits.addAt(ref, t, x, y, from.node(), from.port(),
                    from.kind())));
            canvas.requestFocus();
        }
    }
}
