package boldanvil.app.sheet;

import boldanvil.app.model.Navigator;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.SheetEdits;
import boldanvil.app.model.Workspace;
import boldanvil.app.shell.Theme;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.lower.Names;
import boldanvil.core.stock.BlockType;
import java.util.Locale;
import java.util.Set;
import java.util.concurrent.Executor;
import java.util.function.Supplier;
import javafx.scene.control.SplitPane;
import javafx.scene.layout.BorderPane;

/** The page where sheets are drawn. */
public final class SheetPage extends BorderPane {
    private final Navigator navigator;
    private final SheetEdits edits;
    private final SheetCanvas canvas;
    private final DetailsPane details;
    private final RigSession session;

    public SheetPage(Workspace workspace, SheetEdits edits, Navigator navigator, RigSession session, Supplier<Theme> theme,
            Executor background) {
        this.navigator = navigator;
        this.edits = edits;
        this.session = session;
        canvas = new SheetCanvas(workspace, edits, navigator, theme, background);
        details = new DetailsPane(workspace, edits, navigator);
        var stock = new StockPane(this::drop, this::choose);
        canvas.onSelection(() -> details.show(canvas.selection()));
        canvas.onQuickAdd(this::quickAdd);
        canvas.liveText(this::liveText);
        var split = new SplitPane(stock, canvas, details);
        SplitPane.setResizableWithParent(stock, false);
        SplitPane.setResizableWithParent(details, false);
        split.setDividerPositions(0.15, 0.775);
        setCenter(split);
        workspace.onChange(this::refresh);
        navigator.onChange(this::refresh);
    }

    public SheetCanvas canvas() {
        return canvas;
    }

    private void refresh() {
        canvas.refresh();
        details.show(canvas.selection());
    }

    private void drop(BlockType type, double sceneX, double sceneY) {
        var p = canvas.sceneToLocal(sceneX, sceneY);
        if (canvas.contains(p)) {
            var at = canvas.toSheet(p.getX(), p.getY());
            add(type, at.getX() - 60, at.getY() - 25);
        }
    }

    private void choose(BlockType type) {
        var at = canvas.toSheet(canvas.getWidth() / 2, canvas.getHeight() / 2);
        add(type, at.getX() - 60, at.getY() - 25);
    }

    private void quickAdd(double x, double y) {
        if (navigator.sheet().isPresent()) {
            var at = canvas.onScreen(x, y);
            QuickAdd.show(getScene().getWindow(), at.getX(), at.getY(), t -> add(t, x, y));
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
        int column = run.store().indexOf(address + Names.address(block));
        if (column < 0) {
            return null;
        }
        String unit = run.store().columns().get(column).unit();
        return String.format(Locale.ROOT, "%.4g %s", run.store().latest(column), unit);
    }
}
