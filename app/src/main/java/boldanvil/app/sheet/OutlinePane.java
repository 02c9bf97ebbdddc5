package boldanvil.app.sheet;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.stock.OwnBlocks;
import java.util.HashSet;
import java.util.Set;
import java.util.function.Consumer;
import javafx.scene.control.TreeCell;
import javafx.scene.control.TreeItem;
import javafx.scene.control.TreeView;

/** The whole project as a tree: parts, subsystems and blocks. */
final class OutlinePane extends TreeView<OutlinePane.Entry> {
    /**
     * An entry.
     *
     * @param path diagram path
     * @param remark what kind it is
     */
    record Entry(String title, String path, String remark) {}

    private final Set<String> open = new HashSet<>(Set.of(""));

    /** @param go gets the diagram path of an entry that was chosen */
    OutlinePane(Consumer<String> go) {
        setId("project-outline");
        setCellFactory(_ -> new Cell());
        setOnMouseClicked(_ -> choose(go));
        setOnKeyPressed(e -> {
            if (e.getCode() == javafx.scene.input.KeyCode.ENTER) {
                choose(go);
            }
        });
    }

    private void choose(Consumer<String> go) {
        var item = getSelectionModel().getSelectedItem();
        if (item != null) {
            go.accept(item.getValue().path());
        }
    }

    /** Shows a project; what was open stays open. */
    void show(Project p) {
        var root = item(new Entry(p.name(), "", "project"));
        for (Part part : p.parts()) {
            var child = item(new Entry(part.title(), part.id(), part.kind() == Part.Kind.CONTROLLER ? "controller" : "plant"));
            fill(child, part, part.main(), part.id(), new HashSet<>());
            root.getChildren().add(child);
        }
        setRoot(root);
    }

    /** @param within ids of the sheets around; one that contains itself is not entered again */
    private void fill(TreeItem<Entry> parent, Part part, Sheet sheet, String path, Set<String> within) {
        if (!within.add(sheet.id())) {
            return;
        }
        for (Block b : sheet.blocks()) {
            String at = path + "/" + b.name();
            var child = item(new Entry(b.name(), at, OwnBlocks.type(part.library(), b).map(t -> t.title()).orElse(b.type())));
            part.sheet(b.inner()).ifPresent(s -> fill(child, part, s, at, within));
            parent.getChildren().add(child);
        }
        within.remove(sheet.id());
    }

    private TreeItem<Entry> item(Entry e) {
        var item = new TreeItem<>(e);
        item.setExpanded(open.contains(e.path()));
        item.expandedProperty().addListener((_, _, on) -> {
            if (on) {
                open.add(e.path());
            } else {
                open.remove(e.path());
            }
        });
        return item;
    }

    private static final class Cell extends TreeCell<Entry> {
        @Override
        protected void updateItem(Entry e, boolean empty) {
            super.updateItem(e, empty);
            setText(empty || e == null ? null : e.title());
            setTooltip(empty || e == null ? null : new javafx.scene.control.Tooltip(e.remark()));
        }
    }
}
