package boldanvil.app.bench;

import boldanvil.app.model.Figures;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.Workspace;
import boldanvil.core.bench.Values;
import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Units;
import java.util.List;
import java.util.function.Consumer;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** Tunables whose values differ between project, build and device, with buttons that make them agree. */
final class DifferencesPane extends ScrollPane {
    private final Workspace workspace;
    private final RigSession session;
    private final Consumer<String> message;
    private final VBox lines = new VBox(3);
    private List<Values.Row> shown = List.of();

    DifferencesPane(Workspace workspace, RigSession session, Consumer<String> message) {
        super();
        this.workspace = workspace;
        this.session = session;
        this.message = message;
        lines.setStyle("-fx-padding: 4 12 6 12;");
        lines.setId("differences");
        setContent(lines);
        setFitToWidth(true);
        setHbarPolicy(ScrollBarPolicy.NEVER);
        setMaxHeight(118);
        setMinHeight(USE_PREF_SIZE);
    }

    /** Shows the values of the session; none while nothing runs. */
    void refresh() {
        boolean live = session.phase() == RigSession.Phase.RUNNING || session.phase() == RigSession.Phase.PAUSED;
        if (!live) {
            lines.getChildren().clear();
            shown = List.of();
        } else if (!session.values().equals(shown)) {
            shown = session.values();
            list(shown);
        }
        setManaged(!lines.getChildren().isEmpty());
        setVisible(!lines.getChildren().isEmpty());
    }

    private void list(List<Values.Row> shownValues) {
        lines.getChildren().clear();
        var differing = shownValues.stream().filter(Values.Row::differs).toList();
        if (shownValues.isEmpty()) {
            return;
        }
        var heading = new Label(differing.isEmpty() ? "Project and device agree in all " + shownValues.size() + " tunables."
                : "Values that differ");
        heading.getStyleClass().add(differing.isEmpty() ? "faint" : "section");
        lines.getChildren().add(heading);
        for (Values.Row r : differing) {
            var name = new Label(r.address().replace('_', ' '));
            name.setTextOverrun(javafx.scene.control.OverrunStyle.LEADING_ELLIPSIS);
            name.setMinWidth(60);
            name.setPrefWidth(250);
            var values = new Label("project " + shown(r, r.project()) + "   built " + shown(r, r.built()) + "   device "
                    + Figures.text(r.device(), 6, r.unit()));
            values.getStyleClass().add("mono");
            HBox.setHgrow(values, Priority.ALWAYS);
            values.setMaxWidth(Double.MAX_VALUE);
            values.setMinWidth(USE_PREF_SIZE);
            var take = new Button("Copy to project");
            take.setTooltip(new Tooltip("Copies the value of the device to the project"));
            take.setMinWidth(USE_PREF_SIZE);
            take.setId("take-" + r.address());
            take.setOnAction(_ -> copyToProject(r));
            var push = new Button("Revert to project value");
            push.setTooltip(new Tooltip("Sets the device back to the value of the project"));
            push.setMinWidth(USE_PREF_SIZE);
            push.setId("push-" + r.address());
            push.setDisable(Double.isNaN(r.project()));
            push.setOnAction(_ -> session.set(r.address(), r.project()));
            var line = new HBox(8, name, values, take, push);
            line.setAlignment(Pos.CENTER_LEFT);
            lines.getChildren().add(line);
        }
    }

    private void copyToProject(Values.Row r) {
        try {
            var next = Values.copyToProject(workspace.project(), workspace.review(), r.address(), r.device());
            workspace.edit("take " + r.address() + " from the device", _ -> next);
        } catch (FindingException e) {
            message.accept(e.findings().getFirst().toString());
        }
    }

    private static String shown(Values.Row r, double si) {
        return Figures.text(Units.fromSi(r.unit(), si));
    }
}
