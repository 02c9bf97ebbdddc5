package boldanvil.app.sheet;

import boldanvil.app.model.Figures;
import boldanvil.app.model.ModeTaps;
import boldanvil.app.model.Navigator;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.SheetEdits;
import boldanvil.app.model.Workspace;
import boldanvil.app.page.Command;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Chooser;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.edit.BlockFinder;
import boldanvil.core.finding.Place;
import boldanvil.core.lower.Names;
import boldanvil.core.sheet.SheetScene;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Stock;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.ToIntFunction;
import javafx.geometry.Point2D;
import javafx.scene.Node;
import javafx.scene.control.SplitPane;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.StackPane;
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
    private final SplitPane split;
    private final StockUse use;
    private final SheetCommands actions;
    private final RigSession session;
    private final TextPane text;

    /**
     * @param toBench shows a block on the bench; gives the number of its tunables and taps
     * @param toCode shows the generated code of a block
     */
    public SheetPage(PageHost host, ToIntFunction<String> toBench, Consumer<String> toCode) {
        this.host = host;
        this.toBench = toBench;
        this.toCode = toCode;
        navigator = host.navigator();
        edits = host.edits();
        session = host.session();
        Workspace workspace = host.workspace();
        canvas = new SheetCanvas(workspace, edits, navigator, host::theme, host.drawing());
        details = new DetailsPane(workspace, edits, navigator);
        use = new StockUse(host.memory());
        stock = new StockPane(new Taker(), use, this::finder, host::theme);
        actions = new SheetCommands(host, canvas);
        canvas.onSelection(() -> details.show(canvas.selection()));
        canvas.gestures().onFind(this::find);
        canvas.liveText(this::liveText);
        text = new TextPane(workspace, edits);
        canvas.gestures().onText(id -> openText(workspace, id));
        var editor = new InPlaceEditor(canvas, edits, id -> navigator.sheet().flatMap(r -> workspace.project().sheet(r))
                .flatMap(s -> s.block(id)));
        canvas.gestures().onEditInPlace(editor::open);
        canvas.gestures().onMenu(e -> SheetMenu.show(canvas, e, actions, commands()));
        canvas.gestures().onMark(m -> MarkCard.show(canvas, edits, m));
        details.onText(id -> openText(workspace, id));
        var middle = new StackPane(canvas, text);
        middle.setMinSize(0, 0);
        split = new SplitPane(stock, middle, details);
        SplitPane.setResizableWithParent(stock, false);
        SplitPane.setResizableWithParent(details, false);
        split.setDividerPositions(STOCK_ENDS, DETAILS_BEGIN);
        setCenter(split);
        workspace.onChange(this::refresh);
        navigator.onChange(() -> {
            text.close();
            refresh();
        });
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
        return place.sheetPath().isPresent() || place instanceof Place.Variable || place instanceof Place.Named;
    }

    @Override
    public void show(Place place) {
        navigator.show(place);
    }

    @Override
    public void opened() {
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
        all.addAll(List.of(Command.of("Parent sheet", "Alt+UP", navigator::up),
                Command.of("Fit the sheet to the window", "Shortcut+DIGIT0", () -> {
                    canvas.fit();
                    canvas.paint();
                }), Command.of("Fit the selection to the window", "Shortcut+Shift+DIGIT0", canvas::fitSelection),
                Command.of("Show the selected block on the bench", "Shortcut+E", this::sendToBench),
                Command.of("Show the selected block's code", "Shortcut+L", this::showCode),
                Command.of("Show the value of the selected wire", "Shortcut+T", this::pinWire),
                Command.of("Fold or show the stock", "Alt+S", this::foldStock),
                Command.of("Fold or show the details", "Alt+D", this::foldDetails)));
        all.addAll(actions.arranging());
        return all;
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
        fold(stock, 0);
    }

    /** Folds the details away, or shows them again. */
    public void foldDetails() {
        fold(details, split.getItems().size());
    }

    private void fold(Node side, int at) {
        if (!split.getItems().remove(side)) {
            split.getItems().add(at, side);
        }
        boolean left = split.getItems().contains(stock);
        boolean right = split.getItems().contains(details);
        split.setDividerPositions(left && right ? new double[] {STOCK_ENDS, DETAILS_BEGIN}
                : left ? new double[] {STOCK_ENDS} : right ? new double[] {DETAILS_BEGIN} : new double[0]);
    }

    private void refresh() {
        stock.showParts(navigator.path().isEmpty());
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
            Chooser.show(getScene().getWindow(), at.getX(), at.getY(), 300, "quick-add", "Block, such as gain", typed,
                    text -> finder.find(text).stream().filter(t -> from == null || fits(t, from)).toList(),
                    t -> new Chooser.Reading(t.title(), t.family().title()), t -> put(t, x, y, from));
        }
    }

    private static boolean fits(BlockType t, SheetGestures.Open from) {
        var face = t.face(new Settings(t, Map.of()));
        return switch (from.kind()) {
            case OUTPUT -> !face.inputs().isEmpty() || t.role() == BlockType.Role.SUBSYSTEM;
            case INPUT -> !face.outputs().isEmpty() || t.role() == BlockType.Role.SUBSYSTEM;
            case CONTACT -> !face.contacts().isEmpty();
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

    /** The newest value of a tap that is on the open sheet. */
    private String liveText(String block) {
        var run = session.run().orElse(null);
        if (run == null || !session.isBusy() || navigator.path().isEmpty()) {
            return null;
        }
        var address = new StringBuilder();
        for (String word : navigator.path().split("/")) {
            address.append(address.isEmpty() ? word : Names.address(word)).append('.');
        }
        for (ModeTaps.Mode m : ModeTaps.of(run.review().project())) {
            // A mode chart shows its active step.
            int active = m.chart().equals(navigator.path() + "/" + block) ? run.store().indexOf(m.tap()) : -1;
            if (active >= 0) {
                return "▸ " + m.step(run.store().latest(active));
            }
        }
        int column = run.store().indexOf(address + Names.address(block));
        if (column < 0) {
            return null;
        }
        String unit = run.store().columns().get(column).unit();
        return Figures.text(run.store().latest(column), 4, unit);
    }
}
