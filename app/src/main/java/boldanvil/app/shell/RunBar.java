package boldanvil.app.shell;

import boldanvil.app.model.Navigator;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.Workspace;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Finding;
import java.util.List;
import java.util.Locale;
import javafx.animation.AnimationTimer;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import org.kordamp.ikonli.javafx.FontIcon;

/** Where you are, which rig, run, pause, stop, time and speed. */
final class RunBar extends HBox {
    private static final List<String> SPEEDS = List.of("× 0.1", "× 1", "× 10", "× max");

    /** Figures change no more often than one can read them. */
    private static final long UPDATE_NANOS = 90_000_000;

    private final Workspace workspace;
    private final RigSession session;
    private final Navigator navigator;
    private final HBox crumbs = new HBox(2);
    private final ChoiceBox<String> rigs = new ChoiceBox<>();
    private final ChoiceBox<String> speed = new ChoiceBox<>();
    private final Button run = new Button("Run");
    private final Button pause = new Button();
    private final Button step = new Button();
    private final Button stop = new Button("Stop");
    private final Label time = new Label();
    private final Runnable toSheet;

    RunBar(Workspace workspace, RigSession session, Navigator navigator, Runnable toSheet, Runnable rigChanged) {
        this.workspace = workspace;
        this.session = session;
        this.navigator = navigator;
        this.toSheet = toSheet;
        getStyleClass().add("run-bar");
        crumbs.setAlignment(Pos.CENTER_LEFT);
        HBox.setHgrow(crumbs, Priority.ALWAYS);
        crumbs.setMinWidth(80);
        rigs.setId("rig");
        rigs.valueProperty().addListener((_, _, _) -> rigChanged.run());
        var where = new Button("Where parts run");
        where.setId("rig-grid");
        where.setMinWidth(USE_PREF_SIZE);
        where.setOnAction(_ -> {
            var at = where.localToScreen(0, where.getHeight() + 4);
            RigGrid.show(getScene().getWindow(), Math.max(0, at.getX() - 120), at.getY(), workspace, rigs.getValue());
        });
        speed.getItems().setAll(SPEEDS);
        speed.setValue("× 1");
        speed.setId("speed");
        speed.setTooltip(new Tooltip("Simulated time relative to real time"));
        run.setGraphic(FontIcon.of(org.kordamp.ikonli.feather.Feather.PLAY, 14));
        run.getStyleClass().add("primary");
        run.setId("run");
        run.setMinWidth(USE_PREF_SIZE);
        run.setOnAction(_ -> start());
        pause.setGraphic(FontIcon.of(org.kordamp.ikonli.feather.Feather.PAUSE, 14));
        pause.setId("pause");
        pause.setTooltip(new Tooltip("Pause / Resume"));
        pause.setOnAction(_ -> session.pause(session.phase() == RigSession.Phase.RUNNING));
        step.setGraphic(FontIcon.of(org.kordamp.ikonli.feather.Feather.CHEVRON_RIGHT, 14));
        step.setId("step");
        step.setTooltip(new Tooltip("While paused: run one step of the controller, or one scan of the PLC"));
        step.setOnAction(_ -> session.step());
        stop.setGraphic(FontIcon.of(org.kordamp.ikonli.feather.Feather.SQUARE, 14));
        stop.setId("stop");
        stop.setMinWidth(USE_PREF_SIZE);
        stop.setOnAction(_ -> session.stop());
        var stopAll = new Button("Stop all");
        stopAll.setId("stop-all");
        stopAll.getStyleClass().add("stop-all");
        stopAll.setMinWidth(USE_PREF_SIZE);
        stopAll.setTooltip(new Tooltip("F12: stops the running rig and all standalone rigs; devices go to their safe state"));
        stopAll.setOnAction(_ -> session.stopAll(workspace.project().name()));
        time.getStyleClass().add("mono");
        time.setMinWidth(86);
        time.setAlignment(Pos.CENTER_RIGHT);
        getChildren().addAll(crumbs, new Label("Rig"), rigs, where, speed, run, pause, step, stop, stopAll, time);
        workspace.onChange(this::refresh);
        navigator.onChange(this::refresh);
        session.onChange(this::refresh);
        new AnimationTimer() {
            private long updated;

            @Override
            public void handle(long now) {
                if (now - updated < UPDATE_NANOS) {
                    return;
                }
                updated = now;
                time.setText(session.run().map(r -> String.format(Locale.ROOT, "%.3f s", r.seconds())).orElse("0.000 s"));
            }
        }.start();
    }

    String rig() {
        return rigs.getValue() == null ? "" : rigs.getValue();
    }

    void choose(String rig) {
        rigs.setValue(rig);
    }

    void start() {
        if (rigs.getValue() == null || workspace.folder().isEmpty()) {
            return;
        }
        double factor = switch (SPEEDS.indexOf(speed.getValue())) {
            case 0 -> 0.1;
            case 2 -> 10;
            case 3 -> Double.POSITIVE_INFINITY;
            default -> 1;
        };
        session.start(workspace.project(), workspace.folder().get(), rigs.getValue(), factor);
    }

    private void refresh() {
        crumbs.getChildren().clear();
        var way = navigator.crumbs();
        for (int i = 0; i < way.size(); i++) {
            var c = way.get(i);
            boolean last = i == way.size() - 1;
            if (i > 0) {
                var arrow = new Label("▸");
                arrow.getStyleClass().add("faint");
                crumbs.getChildren().add(arrow);
            }
            if (last) {
                var here = new Label(c.title() + (i == 0 && workspace.isDirty() ? " •" : ""));
                here.getStyleClass().add("crumb-here");
                crumbs.getChildren().add(here);
            } else {
                var b = new Button(c.title() + (i == 0 && workspace.isDirty() ? " •" : ""));
                b.getStyleClass().add("crumb");
                b.setOnAction(_ -> {
                    toSheet.run();
                    navigator.open(c.path());
                });
                crumbs.getChildren().add(b);
            }
        }
        List<String> names = workspace.project().rigs().stream().map(Rig::name).toList();
        if (!names.equals(List.copyOf(rigs.getItems()))) {
            String before = rigs.getValue();
            rigs.getItems().setAll(names);
            rigs.setValue(names.contains(before) ? before : names.isEmpty() ? null : names.getFirst());
        }
        boolean errors = workspace.findings().stream().anyMatch(Finding::isError);
        run.setDisable(session.isBusy() || errors || names.isEmpty());
        run.setTooltip(new Tooltip(errors ? "Fix the errors first" : "Run the rig"));
        rigs.setDisable(session.isBusy());
        speed.setDisable(session.isBusy());
        boolean going = session.phase() == RigSession.Phase.RUNNING || session.phase() == RigSession.Phase.PAUSED;
        pause.setDisable(!going);
        pause.setGraphic(FontIcon.of(session.phase() == RigSession.Phase.PAUSED ? org.kordamp.ikonli.feather.Feather.PLAY
                : org.kordamp.ikonli.feather.Feather.PAUSE, 14));
        step.setDisable(session.phase() != RigSession.Phase.PAUSED);
        stop.setDisable(!session.isBusy());
    }
}
