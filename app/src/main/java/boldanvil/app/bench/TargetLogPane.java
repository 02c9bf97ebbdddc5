package boldanvil.app.bench;

import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Buttons;
import boldanvil.app.widget.Choices;
import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.TargetLogs;
import boldanvil.core.finding.FindingException;
import boldanvil.core.target.TargetLog.Keep;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.ProgressBar;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;

/** Logs that real-time targets keep in their own memory while the rig runs. */
final class TargetLogPane extends VBox {
    private static final String FIRST = "the first steps";
    private static final String LAST = "the last steps";

    private final PageHost host;
    private final ChoiceBox<String> part = new ChoiceBox<>();
    private final TextField every = new TextField("1");
    private final ChoiceBox<String> keep = new ChoiceBox<>();
    private final ProgressBar bar = new ProgressBar(0);
    private final Label state = new Label();
    private final Label message = new Label();
    private final Button start = Buttons.button("Start log", "log-start", "The target logs all taps of the part from now on",
            this::start);
    private final Button end = Buttons.button("End log", "log-end", "The target logs no more; what it has stays", this::end);
    private final Button upload = Buttons.button("Upload", "log-upload", "Ends the log and puts it on the page Runs", this::upload);

    TargetLogPane(PageHost host) {
        super(8);
        this.host = host;
        getStyleClass().add("side");
        var heading = new Label("Log on the target");
        heading.getStyleClass().add("heading");
        var hint = new Label("A real-time target keeps the taps of a part in its own memory, at steps too short for the link.");
        hint.setWrapText(true);
        hint.getStyleClass().addAll("small", "faint");
        part.setId("log-part");
        part.setMaxWidth(Double.MAX_VALUE);
        every.setId("log-every");
        every.setPrefColumnCount(4);
        every.setTooltip(new Tooltip("1 logs each step of the part, 10 each tenth"));
        keep.setId("log-keep");
        keep.getItems().setAll(FIRST, LAST);
        keep.setValue(FIRST);
        keep.setTooltip(new Tooltip("What stays when the memory is full"));
        bar.setMaxWidth(Double.MAX_VALUE);
        state.setWrapText(true);
        state.setId("log-state");
        state.getStyleClass().add("small");
        message.setWrapText(true);
        message.setId("log-message");
        message.getStyleClass().add("small");
        getChildren().addAll(heading, hint, part, row(new Label("Every"), every, new Label("steps")), row(new Label("Keep"), keep),
                row(start, end, upload), bar, state, message);
        refresh();
    }

    private static HBox row(javafx.scene.Node... nodes) {
        var row = new HBox(6, nodes);
        row.setAlignment(Pos.CENTER_LEFT);
        return row;
    }

    private Optional<TargetLogs> logs() {
        return host.session().run().flatMap(LiveRun::targetLogs);
    }

    private void attempt(Runnable action) {
        message.setText("");
        try {
            action.run();
        } catch (FindingException e) {
            var f = e.findings().getFirst();
            message.setText(f.cause() + " " + f.cure());
        }
        refresh();
    }

    private void start() {
        attempt(() -> {
            var logs = logs().filter(_ -> host.session().live().isPresent()).orElseThrow(() -> FindingException.of("log",
                    "No rig with a target is running.", "Press Run first."));
            int n;
            try {
                n = Integer.parseInt(every.getText().strip());
            } catch (NumberFormatException e) {
                n = 0;
            }
            if (n < 1) {
                throw FindingException.of("log", "'" + every.getText() + "' is not a number of steps.",
                        "Write a whole number from 1 on.");
            }
            logs.start(part.getValue(), List.of(), n, keep.getValue().equals(LAST) ? Keep.LAST : Keep.FIRST);
        });
    }

    private void end() {
        attempt(() -> logs().ifPresent(l -> l.end(part.getValue())));
    }

    private void upload() {
        message.setText("Reading the log …");
        String which = part.getValue();
        host.workOut(() -> {
            try {
                host.session().uploadLog(which);
                return "The log is on the page Runs.";
            } catch (FindingException e) {
                var f = e.findings().getFirst();
                return f.cause() + " " + f.cure();
            }
        }, message::setText);
    }

    /** Shows how far the log is. */
    void refresh() {
        List<String> parts = host.workspace().project().rig(host.rig()).map(boldanvil.core.diagram.Rig::onTargets).orElse(List.of());
        Choices.offer(part, parts);
        boolean running = host.session().live().isPresent();
        var log = logs().map(l -> l.states().get(part.getValue())).filter(s -> part.getValue() != null);
        start.setDisable(!running || parts.isEmpty());
        end.setDisable(log.isEmpty() || log.get().ended());
        upload.setDisable(log.isEmpty());
        bar.setVisible(log.isPresent());
        bar.setProgress(log.map(s -> s.rows() / (double) Math.max(1, s.capacity())).orElse(0.0));
        state.setText(parts.isEmpty() ? "No part of this rig runs on a target." : log.map(s -> String.format(Locale.ROOT,
                "%,d of %,d rows, %.1f MB%s%s", s.rows(), s.capacity(), s.rows() * s.rowBytes() / 1e6, Double.isNaN(s.fullSeconds()) ? ""
                : String.format(Locale.ROOT, ", full since %.3f s", s.fullSeconds()), s.ended() ? ", ended" : ""))
                .orElse(running ? "No log." : "Press Run, then start a log."));
    }
}
