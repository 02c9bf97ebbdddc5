package boldanvil.app.sheet;

import boldanvil.app.model.Navigator;
import boldanvil.app.model.SheetEdits;
import boldanvil.core.sheet.SheetScene.Node;
import java.util.Optional;
import java.util.Set;
import javafx.scene.input.KeyCode;
import javafx.scene.input.KeyEvent;

/** What the keys do on a sheet that has the focus. */
final class SheetKeys {
    private final SheetCanvas canvas;
    private final SheetGestures gestures;
    private final SheetEdits edits;
    private final Navigator navigator;

    SheetKeys(SheetCanvas canvas, SheetGestures gestures, SheetEdits edits, Navigator navigator) {
        this.canvas = canvas;
        this.gestures = gestures;
        this.edits = edits;
        this.navigator = navigator;
        canvas.addEventHandler(KeyEvent.KEY_PRESSED, this::key);
        canvas.addEventHandler(KeyEvent.KEY_TYPED, this::typed);
    }

    private void key(KeyEvent e) {
        boolean handled = true;
        Set<String> selected = canvas.selection();
        if (e.getCode() == KeyCode.DELETE || e.getCode() == KeyCode.BACK_SPACE) {
            if (e.isShiftDown()) {
                edits.deleteAndJoin(canvas.ref(), selected);
            } else {
                canvas.deleteSelection();
            }
        } else if (e.getCode() == KeyCode.ENTER && selected.size() == 1 && !e.isShortcutDown()) {
            selectedNode().ifPresent(n -> {
                if (n.opens()) {
                    navigator.enter(n.id());
                } else {
                    gestures.open(n);
                }
            });
        } else if (e.getCode() == KeyCode.F2 && selected.size() == 1) {
            selectedNode().ifPresent(gestures::editName);
        } else if (e.getCode() == KeyCode.ESCAPE) {
            boolean drawing = gestures.cancel();
            if (!drawing && selected.isEmpty() && canvas.selectedWires().isEmpty() && canvas.selectedMarks().isEmpty()) {
                navigator.up();
            } else if (!drawing) {
                canvas.select(Set.of());
            }
        } else if (e.getCode().isArrowKey() && (!selected.isEmpty() || !canvas.selectedMarks().isEmpty()) && !e.isAltDown()
                && !e.isShortcutDown()) {
            double dx = e.getCode() == KeyCode.LEFT ? -10 : e.getCode() == KeyCode.RIGHT ? 10 : 0;
            double dy = e.getCode() == KeyCode.UP ? -10 : e.getCode() == KeyCode.DOWN ? 10 : 0;
            edits.move(canvas.ref(), selected, canvas.selectedMarks(), dx, dy);
        } else {
            handled = false;
        }
        if (handled) {
            e.consume();
        }
    }

    private Optional<Node> selectedNode() {
        return canvas.shown().node(canvas.selection().iterator().next());
    }

    /** A letter on the sheet asks for a block. */
    private void typed(KeyEvent e) {
        String c = e.getCharacter();
        if (canvas.ref() != null && c.length() == 1 && Character.isLetter(c.charAt(0)) && !e.isShortcutDown() && !e.isAltDown()) {
            var at = canvas.toSheet(canvas.getWidth() / 2, canvas.getHeight() / 3);
            gestures.find(at.getX(), at.getY(), c);
            e.consume();
        }
    }
}
