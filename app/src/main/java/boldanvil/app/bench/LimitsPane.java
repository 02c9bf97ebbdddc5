package boldanvil.app.bench;

import boldanvil.app.model.BenchEdits;
import boldanvil.app.model.Figures;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.Workspace;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.diagram.BenchLayout.Limit;
import boldanvil.core.finding.FindingException;
import boldanvil.core.simulate.TapList;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** Limits that end a run: value, rate, for how long. They are watched where the rig runs. */
final class LimitsPane extends VBox {
    private final Workspace workspace;
    private final RigSession session;
    private final BenchEdits edits;
    private final VBox rows = new VBox(6);
    private final ComboBox<String> tap = new ComboBox<>();
    private final Map<String, TextField> fields = new LinkedHashMap<>();
    private final Label message = new Label();
    private List<Limit> shown;

    LimitsPane(Workspace workspace, RigSession session, BenchEdits edits) {
        super(8);
        this.workspace = workspace;
        this.session = session;
        this.edits = edits;
        getStyleClass().add("side");
        var heading = new Label("Limits");
        heading.getStyleClass().add("heading");
        var hint = new Label("When a signal leaves its limits, the rig stops: devices go to their safe state, and the run is kept up to "
                + "that instant.");
        hint.setWrapText(true);
        hint.getStyleClass().addAll("small", "faint");
        tap.setId("limit-tap");
        tap.setPromptText("signal");
        tap.setMaxWidth(Double.MAX_VALUE);
        tap.setOnShowing(_ -> tap.getItems().setAll(TapList.of(workspace.review().system()).entries().stream().map(TapList.Entry::address)
                .toList()));
        var grid = new GridPane();
        grid.setHgap(6);
        grid.setVgap(4);
        int row = 0;
        for (String name : new String[] {"unit", "minimum", "maximum", "per second", "for seconds"}) {
            var f = new TextField();
            f.setId("limit-" + name.replace(' ', '-'));
            f.setPrefColumnCount(8);
            f.setPromptText(name.equals("unit") ? "SI" : name.equals("for seconds") ? "immediately" : "none");
            fields.put(name, f);
            grid.addRow(row++, new Label(name), f);
        }
        var add = new Button("Add limit");
        add.setId("limit-add");
        add.setOnAction(_ -> add());
        message.setWrapText(true);
        message.getStyleClass().addAll("small", "bad");
        getChildren().addAll(heading, hint, rows, tap, grid, add, message);
    }

    void refresh() {
        var limits = workspace.project().bench().limits();
        if (limits.equals(shown)) {
            return;
        }
        if (shown != null) {
            session.guard(limits);
        }
        shown = limits;
        rows.getChildren().clear();
        limits.forEach(this::row);
        if (limits.isEmpty()) {
            var none = new Label("No limits yet.");
            none.getStyleClass().add("faint");
            rows.getChildren().add(none);
        }
    }

    private static String words(Limit l) {
        List<String> parts = new ArrayList<>();
        if (!Double.isNaN(l.least())) {
            parts.add("≥ " + Figures.text(l.least()) + " " + l.unit());
        }
        if (!Double.isNaN(l.most())) {
            parts.add("≤ " + Figures.text(l.most()) + " " + l.unit());
        }
        if (!Double.isNaN(l.rate())) {
            parts.add("changes ≤ " + Figures.text(l.rate()) + " " + l.unit() + "/s");
        }
        return String.join(", ", parts) + (l.seconds() > 0 ? ", for " + Figures.seconds(l.seconds()) : "");
    }

    private void row(Limit l) {
        var name = new Label(l.tap().replace('_', ' '));
        name.getStyleClass().add("strong");
        var what = new Label(words(l));
        what.setWrapText(true);
        var remove = new Button("Remove");
        remove.getStyleClass().add("quiet");
        remove.setOnAction(_ -> edits.change("remove the limit on " + l.tap(),
                b -> b.withLimits(b.limits().stream().filter(x -> !x.equals(l)).toList())));
        HBox.setHgrow(what, Priority.ALWAYS);
        what.setMaxWidth(Double.MAX_VALUE);
        var line = new HBox(6, what, remove);
        line.setAlignment(Pos.CENTER_LEFT);
        var card = new VBox(2, name, line);
        card.getStyleClass().add("card");
        rows.getChildren().add(card);
    }

    private double number(String field) {
        String text = fields.get(field).getText().strip();
        if (text.isEmpty()) {
            return field.equals("for seconds") ? 0 : Double.NaN;
        }
        try {
            return Double.parseDouble(text);
        } catch (NumberFormatException e) {
            throw FindingException.of("limit", "'" + text + "' is not a number.",
                    "Type a number without its unit; the unit belongs in the field 'unit'.");
        }
    }

    private void add() {
        message.setText("");
        try {
            if (tap.getValue() == null) {
                throw FindingException.of("limit", "No signal is chosen.", "Choose one above.");
            }
            var limit = new Limit(tap.getValue(), fields.get("unit").getText().strip(), number("minimum"), number("maximum"),
                    number("per second"), number("for seconds"));
            if (Double.isNaN(limit.least()) && Double.isNaN(limit.most()) && Double.isNaN(limit.rate())) {
                throw FindingException.of("limit", "No limit was entered.", "Type at least one.");
            }
            var next = new ArrayList<>(workspace.project().bench().limits());
            next.add(limit);
            RigStarter.guards(next);
            edits.change("limit " + limit.tap(), b -> b.withLimits(next));
        } catch (FindingException e) {
            message.setText(e.findings().getFirst().cause() + " " + e.findings().getFirst().cure());
        }
    }
}
