package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.app.Demo;
import boldanvil.app.bench.BenchPage;
import boldanvil.app.model.RigSession;
import boldanvil.app.pages.RunsPage;
import boldanvil.app.sheet.SheetPage;
import boldanvil.core.diagram.BenchLayout.Control;
import boldanvil.core.runs.Mark;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.transfer.RunImport;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import javafx.geometry.Point2D;
import javafx.scene.Node;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListView;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleButton;
import javafx.scene.input.KeyCode;
import javafx.scene.input.MouseButton;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;
import org.testfx.util.WaitForAsyncUtils;

/** The bench and its record: driving, watching, measuring, keeping, comparing. */
class BenchWindowTest extends WindowFixture {
    @Start
    void start(Stage stage) throws Exception {
        begin(stage);
    }

    private static final String TARGET = "controller.position_loop.target";
    private static final String GAIN = "controller.position_loop.Kp_position.k";

    private void run(FxRobot robot, String rig) throws Exception {
        page(robot, "bench");
        choose(robot, rig);
        robot.clickOn("#run");
        awaitPhase(RigSession.Phase.RUNNING);
    }

    private double now() {
        return shell.session().run().orElseThrow().seconds();
    }

    private double live(String tunable) {
        return shell.session().run().orElseThrow().get(tunable);
    }

    private static Label notice(FxRobot robot) {
        return robot.lookup("#bench-notice").query();
    }

    private void gateDrive(FxRobot robot) throws Exception {
        folder = Demo.copyTo(temporary.resolve("gate" + count++), "gate-drive");
        robot.interact(() -> shell.open(folder));
    }

    @Test
    void aStimulusIsPlayedAndStoppedAndStaysWithinTheControl(FxRobot robot) throws Exception {
        run(robot, "desk");
        robot.clickOn(byId(robot, "stimulus-" + TARGET));
        robot.interact(() -> robot.lookup("#stimulus-shape").<ChoiceBox<String>>query().setValue("staircase"));
        type(robot, "stimulus-from", "100 mm");
        type(robot, "stimulus-to", "0.9");
        robot.clickOn("#stimulus-start");
        assertThat(robot.lookup("#stimulus-message").queryAs(Label.class).getText()).contains("beyond the control's limits");
        type(robot, "stimulus-to", "0.2");
        type(robot, "stimulus-for", "0.5 s");
        robot.clickOn("#stimulus-start");
        await(() -> live(TARGET) == 0.2);
        assertThat(shell.session().marks()).anyMatch(m -> m.text().equals("staircase on " + TARGET));
        robot.interact(() -> robot.lookup("#stimulus-shape").<ChoiceBox<String>>query().setValue("sine"));
        type(robot, "stimulus-middle", "0.2");
        type(robot, "stimulus-amplitude", "0.05");
        type(robot, "stimulus-for", "1000 s");
        robot.clickOn("#stimulus-start");
        await(() -> live(TARGET) > 0.24);
        robot.clickOn("#stimulus-stop");
        await(() -> shell.session().run().orElseThrow().driven().isEmpty());
        assertThat(live(TARGET)).isBetween(0.149, 0.251);
    }

    @Test
    void aSetOfValuesIsAppliedAtOnceTakenBackAndKept(FxRobot robot) throws Exception {
        run(robot, "code");
        robot.clickOn("#bench-tuning");
        type(robot, "tune-" + GAIN, "9");
        type(robot, "tune-" + TARGET, "20 cm");
        type(robot, "tune-panel.enable", "nonsense");
        assertThat(shell.session().planned()).containsOnlyKeys(GAIN, TARGET);
        robot.clickOn("#tuning-apply");
        await(() -> live(GAIN) == 9 && live(TARGET) == 0.2);
        await(() -> shell.session().marks().stream().anyMatch(m -> m.kind() == Mark.Kind.CHANGE && m.text().contains(GAIN)
                && m.text().contains(TARGET)));
        await(() -> shell.session().planned().isEmpty() && ((TextField) byId(robot, "tune-" + GAIN)).getText().isEmpty());
        await(() -> shell.session().values().stream().anyMatch(r -> r.address().equals(GAIN) && r.device() == 9));
        type(robot, "tuning-name", "B");
        robot.clickOn("#tuning-keep");
        assertThat(shell.workspace().project().bench().sets().getFirst().values()).containsEntry(GAIN, 9.0);
        robot.clickOn("#tuning-undo");
        await(() -> live(GAIN) == 12 && live(TARGET) == 0.4);
        robot.clickOn("#tuning-load");
        await(() -> shell.session().planned().size() > 5);
        robot.clickOn("#tuning-apply");
        await(() -> live(GAIN) == 9);
        // What was kept is a step of the project's history.
        robot.interact(() -> shell.workspace().undo());
        assertThat(shell.workspace().project().bench().sets()).isEmpty();
    }

    @Test
    void theStopKeyStopsWhereverTheFocusIs(FxRobot robot) throws Exception {
        for (String page : List.of("sheet", "trials", "bench")) {
            run(robot, "desk");
            page(robot, page);
            if (page.equals("bench")) {
                robot.clickOn("#note").write("typing");
            }
            keys(robot, KeyCode.F12);
            awaitPhase(RigSession.Phase.ENDED);
        }
    }

    @Test
    void stopAllAlsoEndsARigThatIsOnlyBeingStarted(FxRobot robot) throws Exception {
        page(robot, "bench");
        choose(robot, "swage");
        robot.clickOn("#run");
        robot.clickOn("#stop-all");
        await(() -> !shell.session().isBusy());
        assertThat(shell.session().phase()).isIn(RigSession.Phase.IDLE, RigSession.Phase.ENDED);
    }

    @Test
    void aLimitThatIsExceededEndsTheRunAndIsShown(FxRobot robot) throws Exception {
        run(robot, "desk");
        robot.clickOn("#bench-limits");
        robot.interact(() -> robot.lookup("#limit-tap").<ComboBox<String>>query().setValue("drive.position"));
        robot.clickOn("#limit-add");
        assertThat(shell.workspace().project().bench().limits()).hasSize(1);
        type(robot, "limit-maximum", "150");
        type(robot, "limit-unit", "mm");
        robot.clickOn("#limit-add");
        assertThat(shell.workspace().project().bench().limits()).hasSize(2);
        awaitPhase(RigSession.Phase.ENDED);
        await(() -> notice(robot).getText().contains("above its limit 0.15"));
        assertThat(shell.session().marks()).anyMatch(m -> m.kind() == Mark.Kind.LIMIT);
        await(() -> new RunShelf(folder.resolve("runs")).list().stream().anyMatch(
                e -> e.note().findings().stream().anyMatch(f -> f.contains("above its limit"))));
    }

    @Test
    void theTriggerHoldsThePictureAtAnEdge(FxRobot robot) throws Exception {
        gateDrive(robot);
        run(robot, "desk");
        // The profile's own steps are over.
        await(() -> now() > 1.3);
        robot.interact(() -> {
            shell.page(BenchPage.class).traces().setSpan(0.1);
            robot.lookup("#span").<ComboBox<String>>query().setValue("0.1 s");
        });
        robot.clickOn("#trigger");
        robot.interact(() -> {
            robot.lookup("#trigger-mode").<ChoiceBox<String>>query().setValue("single");
            robot.lookup("#trigger-tap").<ChoiceBox<String>>query().setValue("controller.speed_loop.speed_demand");
        });
        type(robot, "trigger-level", "0.65");
        robot.clickOn("#trigger-arm");
        await(() -> robot.lookup("#trigger-state").queryAs(Label.class).getText().contains("waiting"));
        double before = now();
        enterStep(robot);
        var recorded = shell.session().run().orElseThrow().store();
        int stepped = recorded.indexOf("controller.speed_loop.speed_demand");
        await(() -> recorded.valueAt(stepped, now()) > 0.65);
        await(() -> robot.lookup("#trigger-state").queryAs(Label.class).getText().isEmpty());
        double end = shell.page(BenchPage.class).traces().end();
        assertThat(end).isBetween(before, now() + 0.1);
        await(() -> now() > end + 0.5);
        // A single trigger stays.
        assertThat(shell.page(BenchPage.class).traces().end()).isEqualTo(end);
        // A fifth of the span lies before the edge.
        assertThat(recorded.valueAt(stepped, end - 0.082)).isLessThan(0.65);
        assertThat(recorded.valueAt(stepped, end - 0.078)).isGreaterThan(0.65);
    }

    private void enterStep(FxRobot robot) {
        robot.clickOn(byId(robot, "up-helm.trim")).clickOn(byId(robot, "up-helm.trim"));
    }

    @Test
    void holdStopsThePictureButNotTheRecording(FxRobot robot) throws Exception {
        run(robot, "desk");
        await(() -> now() > 0.5);
        robot.clickOn("#hold");
        double end = shell.page(BenchPage.class).traces().end();
        double seconds = now();
        await(() -> now() > seconds + 0.6);
        assertThat(shell.page(BenchPage.class).traces().end()).isEqualTo(end);
        robot.clickOn("#stop");
        awaitPhase(RigSession.Phase.ENDED);
        await(() -> !new RunShelf(folder.resolve("runs")).list().isEmpty());
        assertThat(new RunShelf(folder.resolve("runs")).list().getFirst().note().seconds()).isGreaterThan(seconds + 0.5);
    }

    @Test
    void wheelAndDragZoomAndPanAndHold(FxRobot robot) throws Exception {
        run(robot, "desk");
        await(() -> now() > 0.5);
        var traces = shell.page(BenchPage.class).traces();
        var bounds = traces.localToScreen(traces.getBoundsInLocal());
        robot.moveTo(new Point2D(bounds.getCenterX(), bounds.getCenterY()));
        double span = traces.span();
        robot.scroll(1, javafx.geometry.VerticalDirection.UP);
        WaitForAsyncUtils.waitForFxEvents();
        assertThat(traces.span()).isNotEqualTo(span);
        assertThat(traces.view().isHeld()).isFalse();
        double before = traces.end();
        robot.moveTo(new Point2D(bounds.getCenterX(), bounds.getCenterY())).press(MouseButton.PRIMARY)
                .moveTo(new Point2D(bounds.getCenterX() + 100, bounds.getCenterY())).release(MouseButton.PRIMARY);
        WaitForAsyncUtils.waitForFxEvents();
        assertThat(traces.view().isHeld()).isTrue();
        assertThat(robot.lookup("#hold").queryAs(ToggleButton.class).isSelected()).isTrue();
        assertThat(traces.end()).isLessThan(before + 0.5);
        keys(robot, KeyCode.SHORTCUT, KeyCode.HOME);
        assertThat(traces.view().isHeld()).isFalse();
    }

    @Test
    void cursorsMeasureBetweenThemAndSnapToEdges(FxRobot robot) throws Exception {
        gateDrive(robot);
        run(robot, "desk");
        await(() -> now() > 1.6);
        robot.clickOn("#hold").clickOn("#cursors").clickOn("#measure");
        robot.interact(() -> shell.page(BenchPage.class).traces().setCursors(1.3, 1.5));
        await(() -> robot.lookup("#measure-range").queryAs(Label.class).getText().contains("Between the cursors"));
        await(() -> row(robot, "speed demand") != null && Math.abs(Double.parseDouble(cell(robot, "speed demand", 2)) - 0.6) < 1e-6);
        assertThat(Double.parseDouble(cell(robot, "phase A", 2))).isCloseTo(0, within(1.0));
        // The speed demand went from 0.2 to 0.6 near 1.1 s.
        robot.interact(() -> {
            shell.page(BenchPage.class).traces().view().show(0.9, 1.4);
            shell.page(BenchPage.class).traces().setCursors(1.0, 1.3);
            shell.page(BenchPage.class).traces().requestFocus();
        });
        keys(robot, KeyCode.S);
        assertThat(shell.page(BenchPage.class).traces().cursorA()).isCloseTo(1.11, within(0.05));
        assertThat(shell.page(BenchPage.class).traces().measured()[1]).isCloseTo(1.3, within(1e-9));
    }

    private static Object row(FxRobot robot, String signal) {
        return robot.lookup("#measurements").<TableView<?>>query().getItems().stream()
                .filter(r -> r.toString().replace('_', ' ').contains("." + signal + ",")).findFirst().orElse(null);
    }

    private static String cell(FxRobot robot, String signal, int column) {
        TableView<?> table = robot.lookup("#measurements").query();
        return text(table, column, table.getItems().indexOf(row(robot, signal)));
    }

    private static <T> String text(TableView<T> table, int column, int row) {
        return String.valueOf(table.getColumns().get(column).getCellData(row));
    }

    @Test
    void whenTheLinkIsLostWhatWasRecordedIsKept(FxRobot robot) throws Exception {
        run(robot, "swage");
        await(() -> now() > 1);
        type(robot, "note", "before the plug");
        robot.clickOn("#note").push(KeyCode.ENTER);
        robot.clickOn("#unplug");
        awaitPhase(RigSession.Phase.LOST);
        var shelf = new RunShelf(folder.resolve("runs"));
        await(() -> !shelf.list().isEmpty() && shelf.list().getFirst().note().whole());
        var entry = shelf.list().getFirst();
        assertThat(entry.note().seconds()).isGreaterThan(0.9);
        assertThat(entry.note().findings()).anyMatch(f -> f.contains("lost"));
        assertThat(entry.marks()).extracting(Mark::text).contains("before the plug");
        try (var samples = entry.open()) {
            assertThat(samples.series(samples.indexOf("drive.position")).size()).isGreaterThan(900);
        }
        page(robot, "runs");
        await(() -> robot.lookup("#runs").<ListView<?>>query().getItems().size() == 1);
        robot.interact(() -> shell.page(RunsPage.class).list().getSelectionModel().select(0));
        await(() -> robot.lookup("#run-made").queryAs(Label.class).getText().contains("lost"));
    }

    @Test
    void controlsAreMovedChangedAndTakenOffTheBench(FxRobot robot) throws Exception {
        page(robot, "bench");
        var edits = new boldanvil.app.model.BenchEdits(shell.workspace());
        robot.interact(() -> edits.move(GAIN, TARGET));
        assertThat(shell.workspace().project().bench().controls().getFirst().tunable()).isEqualTo(GAIN);
        Control first = shell.workspace().project().bench().controls().getFirst();
        robot.interact(() -> edits.remove(first));
        assertThat(shows(robot, "control-" + GAIN)).isFalse();
        robot.interact(() -> shell.workspace().undo());
        await(() -> shows(robot, "control-" + GAIN));
        // A block of the sheet comes to the bench by one action.
        page(robot, "sheet");
        open(robot, "controller/position loop");
        robot.interact(() -> shell.page(SheetPage.class).canvas().select(java.util.Set.of(
                shell.page(SheetPage.class).canvas().shown().nodes().stream()
                .filter(n -> n.title().equals("speed controller")).findFirst().orElseThrow().id())));
        keys(robot, KeyCode.SHORTCUT, KeyCode.E);
        await(() -> shows(robot, "control-controller.position_loop.speed_controller.kp"));
        assertThat(byId(robot, "control-controller.position_loop.speed_controller.ki").isVisible()).isTrue();
    }

    @Test
    void softLimitsArePassedOnPurposeOnly(FxRobot robot) throws Exception {
        run(robot, "desk");
        enter(robot, "number-" + GAIN, "30");
        WaitForAsyncUtils.waitForFxEvents();
        assertThat(live(GAIN)).isEqualTo(12);
        robot.push(KeyCode.ENTER);
        await(() -> live(GAIN) == 30);
        enter(robot, "number-" + GAIN, "50");
        assertThat(live(GAIN)).isEqualTo(30);
        robot.clickOn(byId(robot, "restore-" + GAIN));
        await(() -> live(GAIN) == 12);
        Node dial = byId(robot, "dial-" + TARGET);
        robot.interact(dial::requestFocus);
        keys(robot, KeyCode.END);
        await(() -> Math.abs(live(TARGET) - 0.55) < 1e-9);
        keys(robot, KeyCode.SHIFT, KeyCode.END);
        await(() -> Math.abs(live(TARGET) - 0.6) < 1e-9);
    }

    @Test
    void theSpeedLoopIsTakenByHandAndGivenBackWithoutABump(FxRobot robot) throws Exception {
        gateDrive(robot);
        run(robot, "desk");
        await(() -> now() > 2);
        var store = shell.session().run().orElseThrow().store();
        int current = store.indexOf("controller.speed_loop.torque_current");
        for (int i = 0; i < 2; i++) {
            double before = store.latest(current);
            double at = now();
            robot.clickOn(byId(robot, "switch-controller.speed_loop.by_hand"));
            await(() -> now() > at + 0.2);
            var around = boldanvil.core.measure.Measurement.of(store.series(current, at, at + 0.15));
            assertThat(around.least()).isCloseTo(before, within(0.2));
            assertThat(around.greatest()).isCloseTo(before, within(0.2));
        }
    }

    @Test
    void runsAreNamedFoundStarredDeletedAndBroughtBack(FxRobot robot) throws Exception {
        for (String rig : List.of("desk", "asbuilt")) {
            run(robot, rig);
            await(() -> now() > 0.3);
            robot.clickOn("#stop");
            awaitPhase(RigSession.Phase.ENDED);
        }
        page(robot, "runs");
        await(() -> shell.page(RunsPage.class).list().getItems().size() == 2);
        robot.interact(() -> shell.page(RunsPage.class).list().getSelectionModel().select(1));
        robot.clickOn("#run-name");
        robot.clickOn("#ask").write("Reference").clickOn("#ask-ok");
        await(() -> shell.page(RunsPage.class).list().getItems().stream().anyMatch(e -> e.note().name().equals("Reference")));
        robot.clickOn("#run-star");
        await(() -> shell.page(RunsPage.class).list().getItems().getFirst().note().starred());
        robot.clickOn("#run-search").write("reference");
        await(() -> shell.page(RunsPage.class).list().getItems().size() == 1);
        robot.interact(() -> shell.page(RunsPage.class).list().getSelectionModel().select(0));
        robot.clickOn("#run-delete");
        await(() -> shell.page(RunsPage.class).list().getItems().isEmpty());
        robot.clickOn("#run-undelete");
        await(() -> shell.page(RunsPage.class).list().getItems().size() == 1);
        assertThat(new RunShelf(folder.resolve("runs")).list()).anyMatch(e -> e.note().title().equals("Reference") && e.note().starred());
    }

    @Test
    void aRunIsExportedInEveryFormAndAnotherToolsFileIsImported(FxRobot robot) throws Exception {
        run(robot, "desk");
        await(() -> now() > 0.4);
        robot.clickOn("#stop");
        awaitPhase(RigSession.Phase.ENDED);
        page(robot, "runs");
        await(() -> shell.page(RunsPage.class).list().getItems().size() == 1);
        robot.interact(() -> shell.page(RunsPage.class).list().getSelectionModel().select(0));
        await(() -> shell.page(RunsPage.class).verdict().startsWith("One run"));
        for (String kind : List.of("CSV", "HDF5", "VCD", "PNG", "SVG", "PDF")) {
            Path file = folder.resolve("out." + (kind.equals("HDF5") ? "h5" : kind.toLowerCase(java.util.Locale.ROOT)));
            robot.interact(() -> shell.page(RunsPage.class).export(kind, file));
            await(() -> shell.page(RunsPage.class).verdict().equals("Wrote " + file.getFileName() + "."));
            assertThat(Files.size(file)).isGreaterThan(1_000);
        }
        assertThat(RunImport.open(folder.resolve("out.h5")).series(0)).isEqualTo(RunImport.open(folder.resolve("out.csv")).series(0));
        robot.interact(() -> shell.page(RunsPage.class).export("CSV", folder.resolve("none/out.csv")));
        await(() -> shell.page(RunsPage.class).verdict().contains("cannot be written"));
        Path other = Files.writeString(folder.resolve("other.csv"), "time;speed [rpm]\n0;60\n1;120\n");
        robot.interact(() -> shell.page(RunsPage.class).importFile(other));
        robot.clickOn("#import-go");
        await(() -> shell.page(RunsPage.class).list().getItems().size() == 2);
        var imported = new RunShelf(folder.resolve("runs")).list().stream().filter(e -> e.note().rig().equals("imported")).findFirst()
                .orElseThrow();
        assertThat(imported.open().series(0).name()).isEqualTo("imported.speed");
        assertThat(imported.open().series(0).values()[0]).isCloseTo(60 * Math.PI * 2 / 60, within(1e-9));
    }

    @Test
    void stepsDifferencesAndOriginsOfTwoRunsAreShown(FxRobot robot) throws Exception {
        gateDrive(robot);
        run(robot, "desk");
        await(() -> now() > 1.7);
        robot.clickOn("#stop");
        awaitPhase(RigSession.Phase.ENDED);
        page(robot, "runs");
        robot.clickOn("#run-overlay");
        run(robot, "code");
        await(() -> now() > 1.7);
        robot.clickOn("#stop");
        awaitPhase(RigSession.Phase.ENDED);
        page(robot, "runs");
        // The run lays itself over the one of the other rig.
        await(() -> shell.page(RunsPage.class).verdict().contains("no deviation"));
        assertThat(shell.page(RunsPage.class).traces().layers()).hasSize(2);
        robot.clickOn("#runs-steps");
        await(() -> robot.lookup("#steps").<TableView<?>>query().getItems().size() >= 4);
        robot.clickOn("#run-difference");
        await(() -> shell.page(RunsPage.class).traces().charts().size() == 6);
        robot.clickOn("#runs-origin");
        await(() -> robot.lookup("#origins").<TableView<?>>query().getItems().stream().anyMatch(r -> r.toString().contains("what=rig")));
        robot.interact(() -> robot.lookup("#run-align").<ChoiceBox<String>>query().setValue("by best fit"));
        await(() -> shell.page(RunsPage.class).verdict().contains("no deviation"));
    }

    @Test
    void aBrokenRunIsToldOfAndTheOthersStay(FxRobot robot) throws Exception {
        var shelf = new RunShelf(folder.resolve("runs"));
        var note = boldanvil.core.runs.RunNote.beginning("desk", "2026-05-04T10:20:30Z", 1e-3, java.util.Map.of(), java.util.Map.of())
                .ended(1, List.of(), List.of());
        var bad = shelf.save(note, SampleStore.of(new RunData(List.of())), java.util.Map.of());
        Files.write(bad.folder().resolve("samples.h5"), new byte[100]);
        Path torn = Files.createDirectories(folder.resolve("runs/20270101-torn"));
        Files.writeString(torn.resolve("run.json"), "{");
        page(robot, "runs");
        await(() -> shell.page(RunsPage.class).list().getItems().size() == 1);
        await(() -> robot.lookup("#run-made").queryAs(Label.class).getText().contains("cannot be read"));
        robot.interact(() -> shell.page(RunsPage.class).list().getSelectionModel().select(0));
        await(() -> shell.page(RunsPage.class).verdict().contains("damaged or not an HDF5 file"));
    }
}
