package boldanvil.app.pages;

import boldanvil.app.model.Reports;
import boldanvil.app.model.TrialRow;
import boldanvil.app.model.TrialSession;
import boldanvil.app.model.TrialSession.Job;
import boldanvil.app.model.Workspace;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.AskCard;
import boldanvil.app.widget.Buttons;
import boldanvil.core.bench.LiveRun;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.evidence.RecordedTrial;
import boldanvil.core.evidence.Requirements;
import boldanvil.core.evidence.TrialRecord;
import boldanvil.core.evidence.TrialReport;
import boldanvil.core.evidence.TrialRunner;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.trial.StepResult;
import boldanvil.core.trial.Trial;
import boldanvil.core.trial.TrialLines;
import boldanvil.core.trial.TrialSet;
import boldanvil.core.trial.Verdict;
import java.io.File;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import javafx.animation.Animation;
import javafx.animation.KeyFrame;
import javafx.animation.Timeline;
import javafx.beans.property.SimpleStringProperty;
import javafx.geometry.Insets;
import javafx.geometry.Orientation;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.SplitPane;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.control.ToggleButton;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import javafx.stage.FileChooser;
import javafx.util.Duration;

/** The trials of the project: a list, the steps of one as a table or text, and what came of them over time. */
public final class TrialView extends BorderPane {
    private final PageHost host;
    private final Workspace workspace;
    private final TrialSession session;
    private final TableView<Trial> list = new TableView<>();
    private final TrialSteps steps;
    private final ChoiceBox<String> rig = new ChoiceBox<>();
    private final Label title = Forms.heading("");
    private final Label facts = Forms.faint("");
    private final Label message = Forms.message("trial-message");
    private final Label question = Forms.line("");
    private final HBox asked;
    private final TrialEvidence evidence;
    private final Button run = Buttons.button("Run trial", "trial-run", "Run this trial on the rig", this::run);
    private final Button runAll = Buttons.button("Run all", "trial-run-all", "Run every trial on the first rig it names", this::runAll);
    private final ToggleButton coverage = Buttons.toggle("Coverage", "trial-coverage", _ -> { });
    private final ToggleButton pause = Buttons.toggle("Pause", "trial-pause", this::hold);
    private final Button step = Buttons.button("Run one step", "trial-step", "Let 1 ms of simulated time pass",
            () -> host().trials().step(1_000_000));
    private final Button stop = Buttons.button("Stop", "trial-stop", "End the trial", () -> host().trials().cancel());
    private final Button report = Buttons.button("Save report", "trial-report", "Write what came of the trials as HTML or PDF",
            this::askForReport);
    private final Button openRun;
    private final HBox actions;
    private List<Finding> findings = List.of();
    private Object known;
    private boolean filling;

    /** @param show gets the id of a run that is to be shown */
    TrialView(PageHost host, Consumer<String> show) {
        this.host = host;
        workspace = host.workspace();
        session = host.trials();
        steps = new TrialSteps(this::source, this::edit, this::draw);
        evidence = new TrialEvidence(host, steps::select);
        rig.setId("trial-rig");
        rig.valueProperty().addListener((_, _, _) -> {
            if (!filling) {
                check();
            }
        });
        openRun = Buttons.button("Open run", "trial-open-run", "Show the run of this trial on the page Runs",
                () -> job().flatMap(session::run).ifPresent(show));
        actions = TagsPage.bar(new Label("Rig"), rig, coverage, run, runAll, pause, step, stop, openRun, report);
        var yes = Buttons.button("Yes", "trial-yes", "Answer the question by yes", () -> session.answer(true));
        var no = Buttons.button("No", "trial-no", "Answer the question by no", () -> session.answer(false));
        question.setId("trial-question");
        asked = TagsPage.bar(question, yes, no);
        asked.setPadding(new Insets(6, 12, 6, 12));
        asked.managedProperty().bind(asked.visibleProperty());
        asked.setVisible(false);
        var all = new SplitPane(side(), body());
        SplitPane.setResizableWithParent(all.getItems().getFirst(), false);
        all.setDividerPositions(0.22);
        setCenter(all);
        session.onChange(this::changed);
        workspace.onChange(() -> {
            if (isVisible() && getScene() != null) {
                refresh();
            }
        });
        var clock = new Timeline(new KeyFrame(Duration.millis(150), _ -> poll()));
        clock.setCycleCount(Animation.INDEFINITE);
        session.onChange(() -> {
            if (session.isRunning()) {
                clock.play();
            } else {
                clock.stop();
            }
        });
        changed();
    }

    /** What can be done with trials, for the line above the view. */
    HBox actions() {
        return actions;
    }

    private Node side() {
        list.setId("trial-list");
        list.setPlaceholder(Forms.faint("A trial says what is done to a rig and what is expected of it. Press New trial to write one."));
        var name = new TableColumn<Trial, String>("Trial");
        name.setCellValueFactory(d -> new SimpleStringProperty(d.getValue().name()));
        name.setPrefWidth(150);
        var verdict = new TableColumn<Trial, String>("Verdict");
        verdict.setCellValueFactory(d -> new SimpleStringProperty(verdict(d.getValue())));
        verdict.setCellFactory(_ -> new TrialSteps.ResultCell<>());
        verdict.setPrefWidth(90);
        list.getColumns().setAll(List.of(name, verdict));
        list.setColumnResizePolicy(TableView.CONSTRAINED_RESIZE_POLICY_FLEX_LAST_COLUMN);
        list.getSelectionModel().selectedItemProperty().addListener((_, _, _) -> {
            if (!filling) {
                open();
            }
        });
        var add = Buttons.button("New trial", "trial-new", "Write a new trial", () ->
                AskCard.show(list, "Name of the trial", "", this::add));
        var remove = Buttons.button("Delete", "trial-delete", "Delete this trial; Undo brings it back", this::remove);
        var fromRun = Buttons.button("From last run", "trial-from-run",
                "Make a trial of what was done in the last run, with what had settled as expectations", this::fromRun);
        var side = new VBox(8, list, TagsPage.bar(add, remove), fromRun);
        side.getStyleClass().add("side");
        side.setMinWidth(220);
        VBox.setVgrow(list, Priority.ALWAYS);
        return side;
    }

    private Node body() {
        title.setId("trial-title");
        var head = new VBox(2, title, facts);
        head.setPadding(new Insets(8, 12, 4, 12));
        message.setPadding(new Insets(2, 12, 4, 12));
        var above = new BorderPane(steps);
        above.setTop(new VBox(head, asked));
        above.setBottom(message);
        var both = new SplitPane(above, evidence);
        both.setOrientation(Orientation.VERTICAL);
        both.setDividerPositions(0.62);
        return both;
    }

    private String verdict(Trial t) {
        return session.records().stream().filter(r -> r.trial().name().equals(t.name())).reduce((_, b) -> b)
                .map(r -> mark(r.verdict()) + r.verdict().label()).orElse("");
    }

    private static String mark(Verdict v) {
        return switch (v) {
            case PASSED -> "✓ ";
            case FAILED, ERROR -> "✕ ";
            case OPEN -> "? ";
        };
    }

    private Optional<Trial> trial() {
        return Optional.ofNullable(list.getSelectionModel().getSelectedItem());
    }

    private String source() {
        return trial().map(t -> workspace.project().trials().getOrDefault(t.name() + Trial.ENDING, "")).orElse("");
    }

    private Optional<Job> job() {
        return trial().filter(_ -> rig.getValue() != null).map(t -> new Job(t.name(), rig.getValue()));
    }

    /** Another project is there. */
    void opened() {
        known = null;
        list.getSelectionModel().clearSelection();
        refresh();
    }

    /** Shows what the project has now. */
    void refresh() {
        Project p = workspace.project();
        if (p.trials().equals(known)) {
            return;
        }
        known = p.trials();
        String before = trial().map(Trial::name).orElse("");
        filling = true;
        list.getItems().setAll(new TrialSet(p.trials()).all().stream()
                .filter(t -> !p.trials().get(t.name() + Trial.ENDING).isBlank()).toList());
        filling = false;
        select(before, 0);
        if (trial().isEmpty() && !list.getItems().isEmpty()) {
            list.getSelectionModel().selectFirst();
        } else {
            open();
        }
    }

    /** Selects a trial, and a line of it where that is above 0. */
    void select(String name, int line) {
        list.getItems().stream().filter(t -> t.name().equals(name)).findFirst().ifPresent(t -> list.getSelectionModel().select(t));
        if (line > 0) {
            steps.select(line);
        }
    }

    private void open() {
        filling = true;
        List<String> rigs = trial().map(t -> workspace.project().rigs().stream().map(Rig::name).filter(t::isFor).toList())
                .orElse(List.of());
        if (!rigs.equals(List.copyOf(rig.getItems()))) {
            String before = rig.getValue();
            rig.getItems().setAll(rigs);
            rig.setValue(rigs.contains(before) ? before : rigs.contains(host.rig()) ? host.rig() : rigs.isEmpty() ? null : rigs.getFirst());
        }
        filling = false;
        title.setText(trial().map(Trial::title).orElse(""));
        facts.setText(trial().map(t -> (t.rigs().isEmpty() ? "for every rig" : "for " + String.join(", ", t.rigs())) + " · at most "
                + t.limit()
                + (t.covers().isEmpty() ? "" : " · covers " + String.join(", ", t.covers()))
                + (t.tags().isEmpty() ? "" : " · tags " + String.join(", ", t.tags()))).orElse(""));
        steps.showText();
        check();
    }

    /** Looks in the background whether the trial fits the rig. */
    private void check() {
        findings = trial().map(t -> new TrialSet(workspace.project().trials()).findings(t.name())).orElse(List.of());
        fill();
        job().ifPresent(j -> {
            Project p = workspace.project();
            host.workOut(() -> {
                try {
                    return TrialRunner.check(p, j.trial(), j.rig());
                } catch (FindingException e) {
                    return e.findings();
                }
            }, found -> {
                if (job().filter(j::equals).isPresent()) {
                    findings = found;
                    fill();
                }
            });
        });
    }

    private List<StepResult> results() {
        if (job().isPresent() && session.current().equals(job())) {
            return session.progress().steps();
        }
        return job().flatMap(session::record).map(TrialRecord::steps).orElse(List.of());
    }

    private void fill() {
        steps.show(trial().map(t -> TrialRow.of(t.name(), source(), results(), findings)).orElse(List.of()));
        draw();
        tell();
    }

    private void tell() {
        openRun.setDisable(job().flatMap(session::run).isEmpty());
        if (session.current().isPresent()) {
            Job j = session.current().get();
            message.setText(session.preparing().isEmpty() ? String.format(Locale.ROOT, "%s on %s: %.3f s%s", j.trial(), j.rig(),
                    session.seconds(), session.isPaused() ? ", paused" : "") : session.preparing() + " …");
            return;
        }
        var record = job().flatMap(session::record);
        if (!session.findings().isEmpty() || !findings.isEmpty()) {
            message.setText((session.findings().isEmpty() ? findings : session.findings()).getFirst().toString());
        } else if (record.isPresent()) {
            TrialRecord r = record.get();
            message.setText(String.format(Locale.ROOT, "%s on %s: %d of %d expectations, %.3f s simulated in %.3f s.%s", r.verdict()
                    .label(),
                    r.rig(), r.passed(), r.expectations().size(), r.seconds(), r.wallSeconds(), r.findings().isEmpty() ? ""
                    : " " + r.findings().getFirst()));
        } else {
            message.setText(trial().isPresent() ? "Press Run to see what comes of it." : "");
        }
    }

    private void changed() {
        run.setDisable(session.isRunning());
        runAll.setDisable(session.isRunning());
        stop.setDisable(!session.isRunning());
        pause.setDisable(!session.isRunning());
        step.setDisable(!session.isPaused());
        report.setDisable(session.records().isEmpty());
        if (!session.isRunning()) {
            pause.setSelected(false);
        }
        list.refresh();
        poll();
    }

    private void poll() {
        String waits = session.progress().question();
        question.setText(waits);
        asked.setVisible(!waits.isEmpty());
        fill();
    }

    private void draw() {
        double seconds = session.current().equals(job()) && job().isPresent() ? session.seconds() : 0;
        evidence.show(steps.rows(), steps.selected(), seconds, job().flatMap(session::record));
    }

    private void edit(String name, UnaryOperator<String> how) {
        trial().ifPresent(t -> {
            String file = t.name() + Trial.ENDING;
            workspace.edit(name, p -> p.withTrial(file, how.apply(p.trials().getOrDefault(file, ""))));
            refresh();
        });
    }

    private String add(String name) {
        if (!name.matches("[A-Za-z0-9][A-Za-z0-9_-]{0,60}")) {
            return "Use letters, digits, '-' and '_'.";
        }
        if (!workspace.project().trials().getOrDefault(name + Trial.ENDING, "").isBlank()) {
            return "There is a trial of this name.";
        }
        workspace.edit("New trial", p -> p.withTrial(name + Trial.ENDING, TrialLines.fresh(name.replace('-', ' '), host.rig().isEmpty()
                ? p.rigs().isEmpty() ? "desk" : p.rigs().getFirst().name() : host.rig())));
        refresh();
        select(name, 0);
        return "";
    }

    /** Makes a trial of what was done in the last run of a rig. */
    private void fromRun() {
        host.session().run().filter(r -> r.state() == LiveRun.State.ENDED).ifPresentOrElse(r -> host.workOut(() -> RecordedTrial.of(
                "Recorded on " + r.rig().name(), r.rig().name(), r.review().system(), r.interventions(), r.store(), r.seconds(), 0.02),
                made -> {
                    String name = TrialLines.freeName(workspace.project().trials(), "recorded");
                    workspace.edit("Trial from run", p -> p.withTrial(name + Trial.ENDING, made));
                    refresh();
                    select(name, 0);
                }), () -> host.showMessage("Run a rig and stop it first; what you change meanwhile becomes the steps."));
    }

    private void remove() {
        edit("Delete trial", _ -> "");
    }

    /** Runs the selected trial on the chosen rig. */
    void run() {
        steps.takeText();
        job().ifPresent(j -> start(List.of(j)));
    }

    /** Runs every trial on the first rig it names. */
    void runAll() {
        steps.takeText();
        Project p = workspace.project();
        start(list.getItems().stream().map(t -> new Job(t.name(), t.suitedRigs(p).stream().findFirst().orElse(""))).toList());
    }

    private void start(List<Job> jobs) {
        Path build = workspace.folder().map(f -> f.resolve("build")).orElse(Path.of("build"));
        session.start(workspace.project(), jobs, build, workspace.folder().map(f -> f.resolve("runs")).orElse(null),
                coverage.isSelected());
    }

    private PageHost host() {
        return host;
    }

    private void hold(boolean on) {
        session.pause(on);
    }

    private void askForReport() {
        var chooser = new FileChooser();
        chooser.setTitle("Save the report");
        chooser.setInitialFileName("trials.html");
        chooser.getExtensionFilters().setAll(new FileChooser.ExtensionFilter("HTML", "*.html"),
                new FileChooser.ExtensionFilter("PDF", "*.pdf"));
        File to = chooser.showSaveDialog(getScene().getWindow());
        if (to != null) {
            saveReport(to.toPath());
        }
    }

    /** Writes what came of the trials, as the ending of the file's name says. */
    public void saveReport(Path to) {
        Project p = workspace.project();
        var records = session.records();
        host.workOut(() -> {
            var r = new TrialReport("Trials of " + p.name(), records, Requirements.of(List.of(p)));
            if (to.toString().toLowerCase(Locale.ROOT).endsWith(".pdf")) {
                Reports.trials(r, to);
            } else {
                Reports.whole(to, beside -> Files.writeString(beside, r.html()));
            }
            return to.getFileName().toString();
        }, name -> host.showMessage("Saved as " + name + "."));
    }

    void repaint() {
        evidence.paint();
    }
}
