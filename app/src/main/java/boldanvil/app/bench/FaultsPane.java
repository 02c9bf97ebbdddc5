package boldanvil.app.bench;

import boldanvil.app.model.RigSession;
import boldanvil.app.model.Workspace;
import boldanvil.app.widget.Buttons;
import boldanvil.core.bench.LiveRun;
import boldanvil.core.evidence.RecordedTrial;
import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Variables;
import boldanvil.core.simulate.WireFault;
import boldanvil.core.simulate.Wires;
import boldanvil.core.trial.FaultText;
import boldanvil.core.trial.FaultWords;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import javafx.geometry.Pos;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** Faults that are put on wires and parts while the rig runs. */
final class FaultsPane extends VBox {
    private final Workspace workspace;
    private final RigSession session;
    private final ComboBox<String> kind = new ComboBox<>();
    private final TextField values = new TextField();
    private final ComboBox<String> place = new ComboBox<>();
    private final VBox rows = new VBox(6);
    private final Label message = new Label();
    private Map<String, WireFault> shown;

    FaultsPane(Workspace workspace, RigSession session) {
        super(8);
        this.workspace = workspace;
        this.session = session;
        getStyleClass().add("side");
        var heading = new Label("Faults");
        heading.getStyleClass().add("heading");
        var hint = new Label("A fault acts on what arrives at the end of a wire, or on a part as a whole: the same for models, code and "
                + "devices.");
        hint.setWrapText(true);
        hint.getStyleClass().addAll("small", "faint");
        kind.setId("fault-kind");
        kind.getItems().setAll(Arrays.stream(FaultWords.values()).map(FaultWords::label).toList());
        kind.setMaxWidth(Double.MAX_VALUE);
        kind.setPromptText("fault");
        kind.valueProperty().addListener((_, _, label) -> {
            values.setPromptText(words(label).map(FaultWords::example).filter(e -> !e.isEmpty()).orElse("no value needed"));
            offer();
        });
        values.setId("fault-values");
        values.setPromptText("of 0.2 V");
        values.setOnAction(_ -> insert());
        place.setId("fault-place");
        place.setMaxWidth(Double.MAX_VALUE);
        place.setPromptText("wire or part");
        place.setOnShowing(_ -> offer());
        var insert = Buttons.button("Insert", "fault-insert", "Put the fault on the wire or part", this::insert);
        var clear = Buttons.button("Clear all", "fault-clear", "Take all faults away", () -> session.clear(""));
        message.setWrapText(true);
        message.setId("fault-message");
        message.getStyleClass().addAll("small", "bad");
        var present = new Label("PRESENT");
        present.getStyleClass().add("section");
        getChildren().addAll(heading, hint, kind, values, place, new HBox(6, insert, clear), message, present, rows);
    }

    private static java.util.Optional<FaultWords> words(String label) {
        return Arrays.stream(FaultWords.values()).filter(w -> w.label().equals(label)).findFirst();
    }

    /** Wires, or parts for a fault of a part. */
    private void offer() {
        var system = workspace.review().system();
        boolean ofPart = words(kind.getValue()).filter(w -> w.place() == FaultWords.Place.PROCESSOR).isPresent();
        List<String> all = ofPart ? List.copyOf(system.parts().keySet()) : Wires.addresses(system);
        if (!all.equals(List.copyOf(place.getItems()))) {
            String before = place.getValue();
            place.getItems().setAll(all);
            place.setValue(all.contains(before) ? before : null);
        }
    }

    private void insert() {
        message.setText("");
        try {
            if (kind.getValue() == null || place.getValue() == null) {
                throw FindingException.of("fault", "No fault or no wire is chosen.", "Choose both above.");
            }
            if (session.live().isEmpty()) {
                throw FindingException.of("fault", "No rig is running.", "Press Run first.");
            }
            session.insert(FaultText.of(kind.getValue() + " " + values.getText() + " on " + place.getValue(), workspace.review().system(),
                    Variables.resolve(workspace.project().variableTexts()).values()));
        } catch (FindingException e) {
            var f = e.findings().getFirst();
            message.setText(f.cause() + " " + f.cure());
        }
    }

    /** Shows the faults that are there now. */
    void refresh() {
        Map<String, WireFault> now = session.live().map(LiveRun::faults).orElse(Map.of());
        if (now.equals(shown)) {
            return;
        }
        shown = now;
        rows.getChildren().clear();
        List<VBox> cards = new ArrayList<>();
        now.forEach((address, fault) -> cards.add(card(address, fault)));
        rows.getChildren().setAll(cards);
        if (now.isEmpty()) {
            var none = new Label("No fault.");
            none.getStyleClass().add("faint");
            rows.getChildren().add(none);
        }
    }

    private String words(String address, WireFault fault) {
        try {
            return RecordedTrial.fault(workspace.review().system(), address, fault) + RecordedTrial.rhythm(fault);
        } catch (FindingException e) {
            // The wire has gone from the sheet since the rig was started.
            return fault.kind().label();
        }
    }

    private VBox card(String address, WireFault fault) {
        var what = new Label(words(address, fault));
        what.setWrapText(true);
        what.getStyleClass().addAll("strong", "bad");
        var where = new Label(address);
        where.setWrapText(true);
        where.setMaxWidth(Double.MAX_VALUE);
        HBox.setHgrow(where, Priority.ALWAYS);
        var clear = Buttons.button("Clear", "", "Take this fault away", () -> session.clear(address));
        clear.getStyleClass().add("quiet");
        var line = new HBox(6, where, clear);
        line.setAlignment(Pos.CENTER_LEFT);
        var card = new VBox(2, what, line);
        card.getStyleClass().add("card");
        return card;
    }
}
