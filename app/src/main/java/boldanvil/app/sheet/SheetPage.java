package boldanvil.app.sheet;

import boldanvil.app.model.Figures;
import boldanvil.app.model.ModeTaps;
import boldanvil.app.model.Navigator;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.SheetEdits;
import boldanvil.app.model.Workspace;
import boldanvil.app.shell.Chooser;
import boldanvil.app.shell.Theme;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.lower.Names;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Stock;
import java.nio.file.Path;
import java.util.Locale;
import java.util.Set;
import java.util.concurrent.Executor;
import java.util.function.Supplier;
import javafx.geometry.Point2D;
import javafx.scene.Node;
import javafx.scene.control.SplitPane;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.StackPane;

/** The page where sheets are drawn. */
public final class SheetPage extends BorderPane {
    private static final double STOCK_ENDS = 0.15;
    private static final double DETAILS_BEGIN = 0.775;

    private final Navigator navigator;
    private final SheetEdits edits;
    private final SheetCanvas canvas;
    private final DetailsPane details;
    private final StockPane stock;
    private final SplitPane split;
    private final RigSession session;
    private final TextPane text;

    public SheetPage(Workspace workspace, SheetEdits edits, Navigator navigator, RigSession session, Supplier<Theme> theme,
            Executor background) {
        this.navigator = navigator;
        this.edits = edits;
        this.session = session;
        canvas = new SheetCanvas(workspace, edits, navigator, theme, background);
        details = new DetailsPane(workspace, edits, navigator);
        stock = new StockPane(new Taker());
        canvas.onSelection(() -> details.show(canvas.selection()));
        canvas.onQuickAdd(this::quickAdd);
        canvas.liveText(this::liveText);
        text = new TextPane(workspace, edits);
        canvas.onText(id -> openText(workspace, id));
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
            var at = onSheet(place);
            if (at != null) {
                add(type, at.getX(), at.getY());
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

    private void quickAdd(double x, double y) {
        if (navigator.sheet().isPresent()) {
            var at = canvas.onScreen(x, y);
            Chooser.show(getScene().getWindow(), at.getX(), at.getY(), 270, "quick-add", "Block, such as gain", StockPane::matching,
                    t -> new Chooser.Reading(t.title(), t.family().title()), t -> add(t, x, y));
        }
    }

    private void add(BlockType type, double x, double y) {
        SheetRef ref = navigator.sheet().orElse(null);
        if (ref != null) {
            canvas.select(Set.of(edits.add(ref, type, x, y)));
            canvas.requestFocus();
        }
    }

    /** The newest value of a tap that stands on the open sheet. */
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
