package boldanvil.app.bench;

import boldanvil.app.model.RigSession;
import boldanvil.core.finding.Finding;
import java.util.function.Consumer;
import javafx.scene.control.Button;
import javafx.scene.control.ContentDisplay;
import javafx.scene.control.Label;

/** The line above the charts: what happens with the rig, and what to do next. */
final class RunNotice extends Label {
    private final Button why = new Button("Why");
    private Finding about;

    /** @param instant shows the values at the instant of a finding */
    RunNotice(Consumer<Finding> instant) {
        why.setId("notice-why");
        why.setOnAction(_ -> instant.accept(about));
        setContentDisplay(ContentDisplay.RIGHT);
        setGraphicTextGap(12);
        setWrapText(true);
        setId("bench-notice");
        setStyle("-fx-padding: 4 12 6 12;");
    }

    /** Shows the state of a session. */
    void show(RigSession session) {
        getStyleClass().removeAll("bad", "faint", "warning");
        switch (session.phase()) {
            case IDLE -> {
                boolean failed = !session.findings().isEmpty();
                setText(failed ? session.findings().getLast().toString()
                        : "No rig is running. Choose a rig above and press Run; then the controls on the left are live.");
                getStyleClass().add(failed ? "bad" : "faint");
            }
            case PREPARING -> {
                setText("Starting: " + (session.steps().isEmpty() ? "" : session.steps().getLast().name()) + " …");
                getStyleClass().add("faint");
            }
            case LOST -> {
                setText(session.findings().isEmpty() ? "The connection was lost." : session.findings().getLast().toString());
                getStyleClass().add("bad");
            }
            case ENDED -> {
                var errors = session.findings().stream().filter(Finding::isError).toList();
                setText(errors.isEmpty() ? "The run has ended. It is on the Runs page. Press Run to start again."
                        : errors.getFirst().toString());
                getStyleClass().add(errors.isEmpty() ? "faint" : "bad");
            }
            default -> {
                var findings = session.findings();
                setText(findings.isEmpty() ? "" : findings.getLast().toString());
                getStyleClass().add("warning");
            }
        }
        about = session.findings().stream().filter(f -> f.hasInstant() && f.toString().equals(getText())).findFirst().orElse(null);
        setGraphic(about == null ? null : why);
        setManaged(!getText().isEmpty());
    }
}
