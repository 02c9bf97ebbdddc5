package boldanvil.app.bench;

import boldanvil.app.model.BenchEdits;
import boldanvil.app.model.Figures;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.Workspace;
import boldanvil.core.bench.ValueFiles;
import boldanvil.core.bench.Values;
import boldanvil.core.diagram.BenchLayout.ValueSet;
import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.Consumer;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.MenuButton;
import javafx.scene.control.MenuItem;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.FlowPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import javafx.stage.FileChooser;

/** Values that are changed together: typed one by one, applied at once between two steps, taken back at once. */
final class TuningPane extends VBox {
    private final Workspace workspace;
    private final RigSession session;
    private final BenchEdits edits;
    private final Consumer<String> message;
    private final TextField filter = new TextField();
    private final VBox rows = new VBox(3);
    private final Button apply = new Button("Apply");
    private final Button discard = new Button("Clear");
    private final Button undo = new Button("Revert");
    private final ChoiceBox<String> sets = new ChoiceBox<>();
    private final TextField name = new TextField();
    private final Map<String, Label> present = new HashMap<>();
    private final Map<String, String> units = new java.util.HashMap<>();
    private final Map<String, TextField> fields = new HashMap<>();
    private List<String> listed = List.of();

    TuningPane(Workspace workspace, RigSession session, BenchEdits edits, Consumer<String> message) {
        super(8);
        this.workspace = workspace;
        this.session = session;
        this.edits = edits;
        this.message = message;
        getStyleClass().add("side");
        var heading = new Label("Tuning");
        heading.getStyleClass().add("heading");
        var hint = new Label("Type new values, then apply all of them together, between two steps.");
        hint.setWrapText(true);
        hint.getStyleClass().addAll("small", "faint");
        filter.setPromptText("find a tunable");
        filter.setId("tuning-filter");
        filter.textProperty().addListener((_, _, _) -> list(true));
        apply.setId("tuning-apply");
        apply.getStyleClass().add("primary");
        apply.setOnAction(_ -> session.applyPlan());
        discard.setId("tuning-discard");
        discard.setOnAction(_ -> session.discardPlan());
        undo.setId("tuning-undo");
        undo.setTooltip(new Tooltip("Restores the values from before the last set"));
        undo.setOnAction(_ -> session.undoValues());
        sets.setId("tuning-sets");
        sets.setPrefWidth(110);
        var load = new Button("Load");
        load.setId("tuning-load");
        load.setTooltip(new Tooltip("Copies the values of the set into the fields"));
        load.setOnAction(_ -> chosen().ifPresent(this::load));
        name.setPromptText("name");
        name.setId("tuning-name");
        name.setPrefColumnCount(7);
        var keep = new Button("Save as");
        keep.setId("tuning-keep");
        keep.setTooltip(new Tooltip("Saves the present values of the rig, with those typed, as a set of the project"));
        keep.setOnAction(_ -> keep());
        var more = new MenuButton("Files");
        more.setId("tuning-files");
        more.getItems().addAll(item("Export the set …", this::export), item("Import a set …", this::readIn));
        var setLine = new HBox(6, new Label("Set"), sets, load);
        setLine.setAlignment(Pos.CENTER_LEFT);
        var keepLine = new HBox(6, keep, name, more);
        keepLine.setAlignment(Pos.CENTER_LEFT);
        getChildren().addAll(heading, hint, new FlowPane(6, 6, apply, discard, undo), setLine, keepLine, filter, rows);
    }

    private static MenuItem item(String text, Runnable action) {
        var i = new MenuItem(text);
        i.setOnAction(_ -> action.run());
        return i;
    }

    void refresh() {
        var names = workspace.project().bench().sets().stream().map(ValueSet::name).toList();
        if (!names.equals(List.copyOf(sets.getItems()))) {
            String before = sets.getValue();
            sets.getItems().setAll(names);
            sets.setValue(names.contains(before) ? before : names.isEmpty() ? null : names.getLast());
        }
        list(false);
        var planned = session.planned();
        apply.setText(planned.isEmpty() ? "Apply" : "Apply " + Figures.count(planned.size(), "value"));
        boolean live = session.phase() == RigSession.Phase.RUNNING || session.phase() == RigSession.Phase.PAUSED;
        apply.setDisable(planned.isEmpty() || !live);
        discard.setDisable(planned.isEmpty());
        undo.setDisable(!session.canUndoValues() || !live);
        for (Values.Row r : session.values()) {
            Label l = present.get(r.address());
            if (l != null) {
                l.setText(Figures.text(r.device(), 5, r.unit()));
            }
        }
        fields.forEach((address, field) -> {
            if (!planned.containsKey(address) && !field.isFocused() && !field.getText().isEmpty()) {
                field.clear();
            } else if (planned.containsKey(address) && field.getText().isEmpty()) {
                field.setText(Figures.text(planned.get(address), 6, units.getOrDefault(address, "")));
            }
        });
    }

    private record Listed(String address, String unit, double initial, double minimum, double maximum) {}

    private void list(boolean anew) {
        List<Listed> all = new ArrayList<>();
        var system = workspace.review().system();
        String wanted = filter.getText().toLowerCase(Locale.ROOT).strip();
        system.parts().keySet().forEach(part -> system.program(part).ifPresent(p -> p.tunables().forEach(t -> {
            String address = part + "." + t.name();
            if (address.replace('_', ' ').toLowerCase(Locale.ROOT).contains(wanted)) {
                all.add(new Listed(address, t.slot().unit(), t.slot().initial(), t.minimum(), t.maximum()));
            }
        })));
        var addresses = all.stream().map(Listed::address).toList();
        if (!anew && addresses.equals(listed)) {
            return;
        }
        listed = addresses;
        rows.getChildren().clear();
        present.clear();
        fields.clear();
        units.clear();
        all.forEach(t -> units.put(t.address(), t.unit()));
        all.stream().limit(200).forEach(this::row);
        if (all.isEmpty()) {
            var none = new Label("No tunable matches.");
            none.getStyleClass().add("faint");
            rows.getChildren().add(none);
        }
    }

    private void row(Listed t) {
        var title = new Label(t.address().replace('_', ' '));
        title.setTooltip(new Tooltip(t.address()));
        title.setTextOverrun(javafx.scene.control.OverrunStyle.LEADING_ELLIPSIS);
        title.getStyleClass().add("small");
        var now = new Label(Figures.text(t.initial(), 5, t.unit()));
        now.getStyleClass().add("mono");
        now.setMaxWidth(Double.MAX_VALUE);
        HBox.setHgrow(now, Priority.ALWAYS);
        present.put(t.address(), now);
        var field = new TextField();
        field.setId("tune-" + t.address());
        field.setPrefColumnCount(6);
        field.setPromptText("new value");
        fields.put(t.address(), field);
        field.textProperty().addListener((_, _, text) -> typed(t, field, text));
        field.setOnAction(_ -> session.applyPlan());
        var line = new HBox(6, now, field);
        line.setAlignment(Pos.CENTER_LEFT);
        var box = new VBox(1, title, line);
        box.setStyle("-fx-padding: 3 0 3 0;");
        rows.getChildren().add(box);
    }

    private void typed(Listed t, TextField field, String text) {
        field.getStyleClass().remove("wrong");
        if (text.isBlank()) {
            session.plan(t.address(), Double.NaN);
            return;
        }
        try {
            double v = text.strip().equals("on") ? 1 : text.strip().equals("off") ? 0 : Formula.evaluate(text, Map.of(), t.unit());
            if (v < t.minimum() || v > t.maximum()) {
                throw new FormulaException("outside its limits", 0);
            }
            session.plan(t.address(), v);
        } catch (FormulaException e) {
            field.getStyleClass().add("wrong");
            field.setTooltip(new Tooltip(e.getMessage()));
            session.plan(t.address(), Double.NaN);
        }
    }

    private java.util.Optional<ValueSet> chosen() {
        return workspace.project().bench().sets().stream().filter(s -> s.name().equals(sets.getValue())).findFirst();
    }

    private void load(ValueSet set) {
        var system = workspace.review().system();
        int unknown = 0;
        for (var e : set.values().entrySet()) {
            try {
                boldanvil.core.simulate.Addresses.tunable(system, e.getKey(), e.getValue());
                session.plan(e.getKey(), e.getValue());
            } catch (FindingException x) {
                unknown++;
            }
        }
        refresh();
        message.accept(unknown == 0 ? "The values of " + set.name() + " are in the fields; apply them."
                : unknown + " values of " + set.name()
                + " were left out: the tunable does not exist here, or the value is outside its limits.");
    }

    private void keep() {
        if (name.getText().isBlank()) {
            message.accept("Type a name for the set first.");
            return;
        }
        edits.keep(new ValueSet(name.getText().strip(), present()));
        sets.setValue(name.getText().strip());
        message.accept("Saved " + name.getText().strip() + ".");
    }

    /** The values the rig has, or would have at its start, with those typed. */
    private Map<String, Double> present() {
        Map<String, Double> all = new LinkedHashMap<>();
        var system = workspace.review().system();
        system.parts().keySet().forEach(part -> system.program(part).ifPresent(
                p -> p.tunables().forEach(t -> all.put(part + "." + t.name(), t.slot().initial()))));
        session.values().stream().filter(r -> all.containsKey(r.address())).forEach(r -> all.put(r.address(), r.device()));
        all.putAll(session.planned());
        return all;
    }

    private FileChooser chooser(String title) {
        var chooser = new FileChooser();
        chooser.setTitle(title);
        chooser.getExtensionFilters().addAll(new FileChooser.ExtensionFilter("JSON", "*.json"),
                new FileChooser.ExtensionFilter("CSV", "*.csv"));
        return chooser;
    }

    private void export() {
        var file = chooser("Export the set").showSaveDialog(getScene().getWindow());
        if (file != null) {
            guarded(() -> ValueFiles.write(chosen().orElseGet(() -> new ValueSet("present", present())), file.toPath()));
        }
    }

    private void readIn() {
        var file = chooser("Import a set of values").showOpenDialog(getScene().getWindow());
        if (file != null) {
            guarded(() -> {
                var set = ValueFiles.read(file.toPath());
                edits.keep(set);
                load(set);
            });
        }
    }

    private void guarded(Runnable action) {
        try {
            action.run();
        } catch (FindingException e) {
            message.accept(e.findings().getFirst().toString());
        }
    }
}
