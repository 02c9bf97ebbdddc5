package boldanvil.app.sheet;

import boldanvil.app.model.Figures;
import boldanvil.core.compare.Change;
import boldanvil.core.compare.ProjectDiff;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.sheet.SheetScene;
import boldanvil.core.sheet.SheetSource;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import java.util.function.Supplier;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** What differs between another state of the project and the open one: a list here, and marks on the sheets. */
final class ComparePane extends VBox {
    private final Supplier<Project> present;
    private final ListView<Change> list = new ListView<>();
    private final Label heading = new Label();
    private final Label count = new Label();
    private final CheckBox layout = new CheckBox("Drawing too");
    private final Runnable changed;
    private Project other;
    private List<Change> changes = List.of();

    /**
     * @param go shows the place of a change
     * @param changed is called when other marks are to be shown
     */
    ComparePane(Supplier<Project> present, Consumer<Change> go, Runnable changed) {
        super(6);
        this.present = present;
        this.changed = changed;
        setId("compare");
        getStyleClass().add("side");
        heading.getStyleClass().add("heading");
        heading.setWrapText(true);
        count.getStyleClass().addAll("small", "faint");
        list.setId("compare-list");
        list.setCellFactory(_ -> new Cell());
        list.getSelectionModel().selectedItemProperty().addListener((_, _, c) -> {
            if (c != null) {
                go.accept(c);
            }
        });
        layout.setId("compare-layout");
        layout.setOnAction(_ -> {
            refresh();
            changed.run();
        });
        var close = new Button("End comparison");
        close.setId("compare-end");
        close.setOnAction(_ -> end());
        var row = new HBox(8, layout, close);
        row.setAlignment(Pos.CENTER_LEFT);
        setVgrow(list, Priority.ALWAYS);
        setPrefWidth(300);
        setMinWidth(200);
        var empty = new Label("No differences.");
        empty.getStyleClass().add("faint");
        list.setPlaceholder(empty);
        getChildren().addAll(heading, count, row, list);
    }

    /** Compares with another state. */
    void begin(String name, Project before) {
        other = before;
        heading.setText("Compared with " + name);
        refresh();
        changed.run();
    }

    void end() {
        other = null;
        changes = List.of();
        changed.run();
    }

    boolean isOn() {
        return other != null;
    }

    /** Compares again with the open project; whoever calls draws the marks. */
    void refresh() {
        if (other == null) {
            return;
        }
        changes = ProjectDiff.of(other, present.get());
        var shown = changes.stream().filter(c -> layout.isSelected() || !c.layout()).toList();
        list.getItems().setAll(shown);
        count.setText(Figures.count(shown.size(), "difference"));
    }

    /** What the plates of a sheet are marked with, by block id. */
    Map<String, String> marks(SheetRef ref) {
        Map<String, String> marks = new HashMap<>();
        for (Change c : changes) {
            if (!c.id().isEmpty() && java.util.Objects.equals(c.sheet(), ref) && (layout.isSelected() || !c.layout())) {
                String text = c.kind() == Change.Kind.CHANGED ? "changed: " + c.item() : c.kind().label();
                marks.merge(c.id(), text, (a, b) -> a.startsWith("changed: ") ? a + ", " + c.item() : a);
            }
        }
        return marks;
    }

    /** The plates of a sheet that are only in the other state. */
    List<SheetScene.Node> removed(SheetRef ref, String path) {
        if (other == null || ref == null) {
            return List.of();
        }
        var gone = changes.stream().filter(c -> c.kind() == Change.Kind.REMOVED && ref.equals(c.sheet())).map(Change::id).toList();
        if (gone.isEmpty()) {
            return List.of();
        }
        var scene = SheetScene.of(SheetSource.of(other, LoweredSystem.of(Project.empty(other.name())), List.of()), ref, path);
        return scene.nodes().stream().filter(n -> gone.contains(n.id())).toList();
    }

    private static final class Cell extends ListCell<Change> {
        @Override
        protected void updateItem(Change c, boolean empty) {
            super.updateItem(c, empty);
            setText(null);
            if (empty || c == null) {
                setGraphic(null);
                return;
            }
            var place = new Label(c.place().text().isEmpty() ? "system sheet" : c.place().text());
            place.getStyleClass().addAll("small", "faint");
            var text = new Label(c.text());
            text.setWrapText(true);
            setPrefWidth(100);
            setGraphic(new VBox(1, place, text));
        }
    }
}
