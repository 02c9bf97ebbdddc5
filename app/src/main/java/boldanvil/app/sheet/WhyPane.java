package boldanvil.app.sheet;

import boldanvil.app.model.Figures;
import boldanvil.app.model.TimeTravel;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.finding.Place;
import boldanvil.core.replay.Why;
import boldanvil.core.sheet.SheetPainter.Emphasis;
import boldanvil.core.sheet.SheetScene;
import boldanvil.core.diagram.Wire;
import java.util.HashMap;
import java.util.Map;
import java.util.function.Consumer;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;

/** Why a wire had its value at an instant: a list of the blocks that had a part in it here, and marks on the sheets. */
final class WhyPane extends VBox {
    private final TimeTravel travel;
    private final Consumer<Place> go;
    private final Consumer<String> message;
    private final Label heading = new Label();
    private final Label remark = new Label();
    private final Button later = new Button("Later instant");
    private final ListView<Why.Step> list = new ListView<>();
    private Why shown;

    /**
     * @param go shows a place
     * @param message shows a short message
     */
    WhyPane(TimeTravel travel, Consumer<Place> go, Consumer<String> message) {
        super(6);
        this.travel = travel;
        this.go = go;
        this.message = message;
        setId("why");
        getStyleClass().add("side");
        heading.getStyleClass().add("heading");
        heading.setWrapText(true);
        remark.getStyleClass().addAll("small", "faint");
        remark.setWrapText(true);
        remark.setMinHeight(Region.USE_PREF_SIZE);
        remark.setText("Thick wires gave the value, thin ones decided about it. Grey wires had no part.");
        list.setId("why-list");
        list.setCellFactory(_ -> new Cell());
        list.setOnMouseClicked(_ -> show(list.getSelectionModel().getSelectedItem()));
        list.setOnKeyPressed(e -> {
            if (e.getCode() == javafx.scene.input.KeyCode.ENTER) {
                show(list.getSelectionModel().getSelectedItem());
            }
        });
        later.setId("why-later");
        later.setOnAction(_ -> travel.forward());
        var close = new Button("Close");
        close.setId("why-end");
        close.setOnAction(_ -> travel.forgetWhy());
        setVgrow(list, Priority.ALWAYS);
        setPrefWidth(300);
        setMinWidth(200);
        getChildren().addAll(heading, remark, new HBox(8, later, close), list);
    }

    private void show(Why.Step s) {
        if (s != null) {
            go.accept(Place.sheet(s.path()));
        }
    }

    boolean isOn() {
        return shown != null;
    }

    /** Takes what is explained now; gives false where that is the same as before. */
    boolean refresh() {
        Why now = travel.why().orElse(null);
        later.setVisible(travel.canGoForward());
        later.setManaged(travel.canGoForward());
        if (now == shown) {
            return false;
        }
        shown = now;
        if (now != null) {
            heading.setText("Why " + Figures.text(now.value()) + " at " + String.format(java.util.Locale.ROOT, "%.6f s", now.seconds()));
            list.getItems().setAll(now.steps());
        }
        return true;
    }

    /** How the wires of a sheet stand out. */
    Map<Wire, Emphasis> wires(SheetScene scene, SheetRef ref, String path) {
        Map<Wire, Emphasis> all = new HashMap<>();
        if (shown != null) {
            scene.links().forEach(l -> all.put(l.wire(), shown.part(ref, path, l.wire())
                    .map(p -> p == Why.Part.VALUE ? Emphasis.VALUE : Emphasis.CHOICE).orElse(Emphasis.FADED)));
        }
        return all;
    }

    /** What the plates of a sheet are marked with, by block id. */
    Map<String, String> marks(SheetScene scene, SheetRef ref, String path) {
        Map<String, String> marks = new HashMap<>();
        if (shown != null) {
            scene.nodes().forEach(n -> shown.part(ref == null ? n.id() : path + "/" + n.title())
                    .ifPresent(p -> marks.put(n.id(), p == Why.Part.VALUE ? "gave the value" : "decided")));
        }
        return marks;
    }

    private final class Cell extends ListCell<Why.Step> {
        @Override
        protected void updateItem(Why.Step s, boolean empty) {
            super.updateItem(s, empty);
            setText(null);
            if (empty || s == null) {
                setGraphic(null);
                return;
            }
            int slash = s.path().lastIndexOf('/');
            var place = new Label(s.path().substring(0, slash));
            place.getStyleClass().addAll("small", "faint");
            var name = new Label(s.path().substring(slash + 1) + " = " + Figures.text(s.value()));
            name.setWrapText(true);
            name.getStyleClass().add(s.part() == Why.Part.VALUE ? "strong" : "plain");
            var words = new Label((s.part() == Why.Part.VALUE ? "gave the value" : "decided") + (s.words().isEmpty() ? ""
                    : "; " + s.words()));
            words.setWrapText(true);
            words.getStyleClass().add("small");
            var box = new VBox(1, place, name, words);
            if (s.isKept()) {
                var back = new Button("Earlier instant");
                back.getStyleClass().add("small");
                back.setOnAction(_ -> travel.back(s.path(), () -> message.accept(s.path().substring(slash + 1)
                        + " has had this value since the start of the run.")));
                var row = new HBox(back);
                row.setAlignment(Pos.CENTER_LEFT);
                box.getChildren().add(row);
            }
            setPrefWidth(100);
            setGraphic(box);
        }
    }
}
