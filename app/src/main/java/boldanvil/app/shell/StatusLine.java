package boldanvil.app.shell;

import boldanvil.app.model.Figures;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.Workspace;
import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Finding;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.ProgressBar;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;

/** Findings, background work with progress and cancel, the device's health. */
final class StatusLine extends HBox {
    private final Workspace workspace;
    private final RigSession session;
    private final Button findings = new Button();
    private final Label message = new Label();
    private final HBox work = new HBox(8);
    private final Label step = new Label();
    private final ProgressBar progress = new ProgressBar();
    private final Label device = new Label();

    StatusLine(Workspace workspace, RigSession session, Runnable toggleFindings) {
        this.workspace = workspace;
        this.session = session;
        getStyleClass().add("status-line");
        findings.setId("findings-button");
        findings.getStyleClass().add("quiet");
        findings.setOnAction(_ -> toggleFindings.run());
        progress.setPrefWidth(120);
        progress.setMaxHeight(10);
        var cancel = new Button("Cancel");
        cancel.setId("cancel");
        cancel.getStyleClass().add("quiet");
        cancel.setOnAction(_ -> session.cancel());
        work.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        work.getChildren().addAll(step, progress, cancel);
        work.setVisible(false);
        message.setId("message");
        HBox.setHgrow(message, Priority.ALWAYS);
        message.setMaxWidth(Double.MAX_VALUE);
        getChildren().addAll(findings, message, work, device);
        workspace.onChange(this::refresh);
        session.onChange(this::refresh);
    }

    /** Shows a short message. */
    void showMessage(String text) {
        message.setText(text);
    }

    /** Findings of the project, and those about an instant of the last run. */
    static List<Finding> findings(Workspace workspace, RigSession session) {
        List<Finding> all = new ArrayList<>(session.findings().stream().filter(Finding::hasInstant).toList());
        all.addAll(workspace.findings());
        return all;
    }

    private void refresh() {
        var all = findings(workspace, session);
        long errors = all.stream().filter(Finding::isError).count();
        findings.setText(all.isEmpty() ? "No findings" : Figures.count(all.size(), "finding")
                + (errors > 0 ? ", " + Figures.count(errors, "error") : ""));
        findings.getStyleClass().removeAll("bad", "warning");
        if (!all.isEmpty()) {
            findings.getStyleClass().add(errors > 0 ? "bad" : "warning");
        }
        boolean preparing = session.phase() == RigSession.Phase.PREPARING;
        work.setVisible(preparing);
        if (preparing && !session.steps().isEmpty()) {
            step.setText(session.steps().getLast().name());
            progress.setProgress(session.share() > 0 ? session.share() : ProgressBar.INDETERMINATE_PROGRESS);
        }
        device.setText(device());
        device.getStyleClass().removeAll("bad", "good", "faint");
        device.getStyleClass().add(session.phase() == RigSession.Phase.LOST ? "bad"
                : session.phase() == RigSession.Phase.RUNNING ? "good" : "faint");
    }

    private String device() {
        var run = session.run().orElse(null);
        if (run == null) {
            return "no rig running";
        }
        var boards = Boards.of(run.review().project());
        String devices = run.rig().places().values().stream().filter(p -> p.mode() == Rig.Mode.DEVICE || p.mode() == Rig.Mode.TARGET)
                .flatMap(p -> boards.find(p.device()).stream()).map(Board::title).distinct().collect(Collectors.joining(" and "));
        String where = devices.isEmpty() ? run.rig().needsBench() ? "bench process" : "this process" : devices + " (stand-in)";
        return run.rig().name() + " on " + where + " · " + switch (session.phase()) {
            case RUNNING -> "running" + (session.isOlder() ? " an older build" : "") + (run.overruns() > 0
                    ? " · " + Figures.count(run.overruns(), "overrun") : "");
            case PAUSED -> "paused";
            case LOST -> "connection lost";
            case PREPARING -> "starting";
            default -> "ended";
        };
    }
}
