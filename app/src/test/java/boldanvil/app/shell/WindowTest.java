package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.app.bench.BenchPage;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.StepLog;
import boldanvil.app.pages.BoardOutline;
import boldanvil.app.pages.RunsPage;
import boldanvil.app.pages.TrialsPage;
import boldanvil.app.sheet.SheetPage;
import boldanvil.core.control.DeviceRegistry;
import boldanvil.core.diagram.Patch;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Variable;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.runs.RunShelf;
import java.nio.file.Files;
import java.nio.file.Path;
import javafx.geometry.Point2D;
import javafx.scene.Node;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.Labeled;
import javafx.scene.control.ListView;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleButton;
import boldanvil.app.model.StudyViews.View;
import javafx.scene.input.KeyCode;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;
import org.testfx.util.WaitForAsyncUtils;

/** The window, driven by pointer and keys through the real toolkit, without a display. */
class WindowTest extends WindowFixture {
    @Start
    void start(Stage stage) throws Exception {
        begin(stage);
    }

    private static final SheetRef LOOP = new SheetRef("controller", "current-loop");

    @Test
    void aSweepIsPlannedRunShownAndSaved(FxRobot robot) throws Exception {
        robot.clickOn("#page-trials");
        robot.clickOn("#trials-view-sweep");
        var plan = robot.lookup("#sweep-plan").queryAs(Label.class);
        assertThat(plan.getText()).contains("No varied value is chosen");
        robot.interact(() -> robot.lookup("#vary-name-1").<javafx.scene.control.ComboBox<String>>query()
                .setValue("controller.position_loop.target"));
        enter(robot, "vary-values-1", "[0.1, 0.2");
        assertThat(plan.getText()).contains("Write a list");
        enter(robot, "vary-values-1", "0.1 : 0.3 : 3");
        robot.clickOn("#vary-more");
        robot.interact(() -> robot.lookup("#vary-name-2").<javafx.scene.control.ComboBox<String>>query().setValue("Kp_x"));
        enter(robot, "vary-values-2", "[8, 12]");
        assertThat(plan.getText()).isEqualTo("6 runs.");
        enter(robot, "sweep-length", "20 ms");
        robot.clickOn("#sweep-start");
        await(() -> !shell.sweeps().isRunning() && shell.sweeps().table().filter(t -> t.size() == 6).isPresent());
        var table = robot.lookup("#sweep-table").<javafx.scene.control.TableView<Integer>>query();
        await(() -> table.getItems().size() == 6);
        assertThat(table.getColumns()).extracting(c -> c.getText()).startsWith("run", "controller.position_loop.target [m]", "Kp_x",
                "last [A]");
        Path csv = temporary.resolve("sweep.csv");
        robot.interact(() -> shell.page(TrialsPage.class).sweep().save(csv.toFile()));
        var message = robot.lookup("#sweep-message").queryAs(Label.class);
        await(() -> message.getText().contains("Saved as sweep.csv"));
        assertThat(Files.readAllLines(csv)).hasSize(7).first().asString().startsWith("controller.position_loop.target [m],Kp_x,");
        robot.interact(() -> shell.page(TrialsPage.class).sweep().save(temporary.resolve("no such/sweep.csv").toFile()));
        await(() -> message.getText().contains("cannot be written"));
        for (View v : View.values()) {
            robot.clickOn("#sweep-view-" + v.name().toLowerCase(java.util.Locale.ROOT));
        }
        robot.interact(() -> {
            shell.page(TrialsPage.class).sweep().choose("drive.position", "maximum");
            shell.page(TrialsPage.class).sweep().limit("at most", "1 m");
            table.getSelectionModel().select(2);
        });
        assertThat(robot.lookup("#sweep-verdict").queryAs(Label.class).getText()).startsWith("6 of 6 runs keep the limit");
        robot.clickOn("#sweep-open-run");
        await(() -> shell.page(boldanvil.app.pages.RunsPage.class).list().getSelectionModel().getSelectedItems().stream()
                .anyMatch(e -> e.note().name().equals("study, run 3")));
    }

    @Test
    void aFindingLeadsToItsBlock(FxRobot robot) throws Exception {
        robot.interact(() -> shell.workspace().edit("break", p -> p.change(LOOP, s -> s.change("b6", b -> b.with("kp", "nope")))));
        await(() -> !shell.workspace().findings().stream().noneMatch(f -> f.isError()));
        robot.clickOn("#findings-button");
        robot.clickOn("#findings .list-cell");
        await(() -> shell.navigator().path().equals("controller/current loop"));
        assertThat(shell.page(SheetPage.class).canvas().selection()).containsExactly(node("current controller").id());
        assertThat(robot.lookup("#page-sheet").queryAs(ToggleButton.class).getText()).contains("1");
    }

    @Test
    void savingAndOpeningAgainKeepsTheWork(FxRobot robot) throws Exception {
        open(robot, "controller/position loop");
        robot.clickOn(middle("target"));
        enter(robot, "field-value", "0.3 m");
        await(() -> shell.workspace().isDirty());
        keys(robot, KeyCode.SHORTCUT, KeyCode.S);
        await(() -> !shell.workspace().isDirty());
        assertThat(Files.readString(folder.resolve("parts/controller.json"))).contains("\"value\": \"0.3 m\"");
        robot.interact(() -> shell.open(folder));
        assertThat(shell.workspace().project()).isEqualTo(ProjectReader.read(folder));
        assertThat(shell.workspace().undoName()).isEmpty();
    }

    @Test
    void aConflictOnThePatchSheetShowsWhereItHappens(FxRobot robot) throws Exception {
        page(robot, "patch");
        assertThat(robot.lookup((Labeled l) -> l.getText() != null && l.getText().equals("62.06")).tryQuery()).isPresent();
        robot.interact(() -> robot.lookup("#channel-reset").<ChoiceBox<String>>query().setValue("IO.E13"));
        await(() -> shell.workspace().findings().stream().anyMatch(f -> f.cause().contains("Pin E13 is used by terminal 'enable'")));
        assertThat(robot.lookup((Labeled l) -> l.getText() != null && l.getText().contains("used by terminal")).tryQuery()).isPresent();
        robot.clickOn("#proposal-reset-0");
        await(() -> noError());
        assertThat(patch().row("reset").orElseThrow().peripheral()).startsWith("IO.").isNotEqualTo("IO.E13");
        assertThat(shell.workspace().undoName().orElseThrow()).startsWith("Move 'reset' to IO.");
        assertThat(robot.lookup((Labeled l) -> l.getText() != null && l.getText().contains("used by terminal")).tryQuery()).isEmpty();
    }

    private boolean noError() {
        return shell.workspace().findings().stream().noneMatch(f -> f.isError());
    }

    private Patch patch() {
        return shell.workspace().project().patches().get("controller");
    }

    @Test
    void pinsAreSwappedByDragPlacesFoundAndClocksAsked(FxRobot robot) throws Exception {
        page(robot, "patch");
        BoardOutline outline = robot.lookup("#outline").query();
        drag(robot, outline.localToScreen(outline.placeOf("N1")), outline.localToScreen(outline.placeOf("N3")));
        await(() -> patch().row("leg A").orElseThrow().pin().equals("N3"));
        assertThat(patch().row("leg B").orElseThrow().pin()).isEqualTo("N1");
        drag(robot, outline.localToScreen(outline.placeOf("W3")), outline.localToScreen(outline.placeOf("E16")));
        await(() -> robot.lookup("#patch-notice").queryAs(Label.class).getText().contains("'shunt A' cannot use pin E16"));
        robot.interact(() -> shell.workspace().edit("clear", p -> p.withPatch("controller",
                patch().withRows(patch().rows().subList(0, 3)))));
        await(() -> !noError());
        robot.clickOn("#find-places");
        await(() -> noError() && patch().rows().size() == 8);
        enter(robot, "clock-core", "84 MHz");
        await(() -> robot.lookup((Labeled l) -> l.getText() != null && l.getText().startsWith("crystal 12.0 MHz /")).tryQuery().isPresent()
                && patch().clock().get("core").equals("84 MHz"));
        assertThat(robot.lookup("#verdict").queryAs(Label.class).getText()).contains("within limits");
    }

    @Test
    void theBoardIsChangedAfterSeeingWhatThatMeansAndChangedBack(FxRobot robot) throws Exception {
        page(robot, "patch");
        var before = patch().rows();
        robot.interact(() -> robot.lookup("#board").<ChoiceBox<String>>query().setValue("clinker16"));
        await(() -> robot.lookup("#board-change").tryQuery().isPresent());
        assertThat(robot.lookup((Labeled l) -> l.getText() != null && l.getText().contains("resolution 13.04 → 7.229 bits")).tryQuery())
                .isPresent();
        assertThat(patch().board()).isEqualTo("swage32");
        robot.clickOn("#change-board");
        await(() -> patch().board().equals("clinker16"));
        await(() -> robot.lookup("#verdict").queryAs(Label.class).getText().contains("Clinker 16 is too slow"));
        robot.interact(() -> robot.lookup("#board").<ChoiceBox<String>>query().setValue("swage32"));
        await(() -> robot.lookup("#change-board").tryQuery().isPresent());
        robot.clickOn("#change-board");
        await(() -> patch().board().equals("swage32"));
        assertThat(patch().rows()).isEqualTo(before);
    }

    @Test
    void aDeployWithAFaultSaysWhatToDoAndTheNextOneWorks(FxRobot robot) throws Exception {
        choose(robot, "swage");
        page(robot, "build");
        robot.clickOn("#build");
        await(() -> shell.session().built().containsKey("controller") && !shell.session().isBusy());
        assertThat(shell.session().run()).isEmpty();
        robot.interact(() -> robot.lookup("#fault").<ChoiceBox<String>>query().setValue("verify failure"));
        robot.clickOn("#run");
        await(() -> robot.lookup((Labeled l) -> l.getText() != null && l.getText().contains("Verification failed")
                && l.getText().contains("Download again")).tryQuery().isPresent());
        awaitPhase(RigSession.Phase.IDLE);
        assertThat(shell.session().steps().getLast()).isEqualTo(new StepLog.Step("Verify swage32", true, true));
        robot.interact(() -> robot.lookup("#fault").<ChoiceBox<String>>query().setValue("none"));
        robot.clickOn("#run");
        awaitPhase(RigSession.Phase.RUNNING);
        robot.interact(() -> shell.workspace().edit("tune", p -> p.withVariables(p.variables().stream()
                .map(v -> v.name().equals("Kp_x") ? new Variable("Kp_x", "13", v.note()) : v).toList())));
        await(() -> shell.session().isOlder());
        await(() -> robot.lookup((Labeled l) -> l.getText() != null && l.getText().contains("running an older build")).tryQuery()
                .isPresent());
        robot.interact(() -> shell.workspace().undo());
        await(() -> !shell.session().isOlder());
        var before = shell.session().run().orElseThrow();
        robot.clickOn("#leave");
        awaitPhase(RigSession.Phase.ENDED);
        double left = before.seconds();
        robot.clickOn("#reconnect");
        awaitPhase(RigSession.Phase.RUNNING);
        await(() -> shell.session().run().orElseThrow().seconds() > left);
        WaitForAsyncUtils.asyncFx(() -> DeviceRegistry.devices().forEach(d -> ProcessHandle.of(d.process().pid())
                .ifPresent(ProcessHandle::destroyForcibly)));
        awaitPhase(RigSession.Phase.LOST);
    }

    @Test
    void onTheDeskTracesMoveWhenTheDialIsTurned(FxRobot robot) throws Exception {
        page(robot, "bench");
        choose(robot, "desk");
        robot.clickOn("#run");
        awaitPhase(RigSession.Phase.RUNNING);
        turnTheDialAndSeeThePaddleFollow(robot);
        robot.clickOn("#stop");
        awaitPhase(RigSession.Phase.ENDED);
        await(() -> new RunShelf(folder.resolve("runs")).list().size() == 1);
    }

    /** Points at the dial's 0.1 m and waits for set-point and paddle. */
    private void turnTheDialAndSeeThePaddleFollow(FxRobot robot) throws Exception {
        var run = shell.session().run().orElseThrow();
        Node dial = byId(robot, "dial-controller.position_loop.target");
        var bounds = dial.localToScreen(dial.getBoundsInLocal());
        // 0.1 of 0.6 m is 45° on from the start of the dial, which is at 225°: straight to the left.
        robot.clickOn(new Point2D(bounds.getCenterX() - 48, bounds.getCenterY()));
        await(() -> Math.abs(run.get("controller.position_loop.target") - 0.1) < 0.01);
        double goal = run.get("controller.position_loop.target");
        int position = run.store().indexOf("drive.position");
        await(() -> Math.abs(run.store().latest(position) - goal) < 0.002);
        // A run younger than the span begins at the left.
        assertThat(shell.page(BenchPage.class).traces().end()).isCloseTo(Math.max(run.seconds(),
                shell.page(BenchPage.class).traces().span()), within(1.0));
    }

    @Test
    void theStandInIsBuiltForDeployedDrivenTunedUnpluggedAndRecovers(FxRobot robot) throws Exception {
        page(robot, "bench");
        choose(robot, "swage");
        robot.clickOn("#run");
        awaitPhase(RigSession.Phase.RUNNING);
        assertThat(shell.session().steps()).extracting(StepLog.Step::name)
                .contains("Build controller", "Check identity and link of swage32",
                "Download to swage32", "Verify swage32");
        turnTheDialAndSeeThePaddleFollow(robot);
        changeAGainAndBringProjectAndDeviceTogether(robot);
        // Flip enable: the bridge goes to its middle.
        var run = shell.session().run().orElseThrow();
        robot.clickOn(byId(robot, "switch-panel.enable"));
        int duty = run.store().indexOf("controller.bridge.duty");
        await(() -> run.store().latest(duty) == 0.5);
        robot.clickOn("#unplug");
        awaitPhase(RigSession.Phase.LOST);
        await(() -> robot.lookup("#bench-notice").queryAs(Label.class).getText().contains("lost"));
        robot.clickOn("#run");
        awaitPhase(RigSession.Phase.RUNNING);
        page(robot, "build");
        await(() -> !robot.lookup("#build-log").<ListView<?>>query().getItems().isEmpty());
        robot.clickOn("#stop");
        awaitPhase(RigSession.Phase.ENDED);
    }

    private void changeAGainAndBringProjectAndDeviceTogether(FxRobot robot) throws Exception {
        var run = shell.session().run().orElseThrow();
        String gain = "controller.position_loop.Kp_position.k";
        enter(robot, "number-" + gain, "9");
        await(() -> run.get(gain) == 9);
        await(() -> shows(robot, "take-" + gain));
        robot.clickOn(byId(robot, "push-" + gain));
        await(() -> run.get(gain) == 12);
        await(() -> !shows(robot, "take-" + gain));
        await(() -> ((TextField) byId(robot, "number-" + gain)).getText().equals("12"));
        enter(robot, "number-" + gain, "10");
        await(() -> shows(robot, "take-" + gain));
        robot.clickOn(byId(robot, "take-" + gain));
        await(() -> "10".equals(shell.workspace().project().variableTexts().get("Kp_x")));
        await(() -> !shows(robot, "take-" + gain));
    }

    @Test
    void twoRunsAreOverlaidAndCompared(FxRobot robot) throws Exception {
        for (String rig : new String[] {"desk", "code"}) {
            page(robot, "bench");
            choose(robot, rig);
            robot.clickOn("#run");
            awaitPhase(RigSession.Phase.RUNNING);
            await(() -> shell.session().run().orElseThrow().seconds() > 0.4);
            robot.clickOn("#stop");
            awaitPhase(RigSession.Phase.ENDED);
        }
        page(robot, "runs");
        await(() -> robot.lookup("#runs").<ListView<?>>query().getItems().size() == 2);
        robot.interact(() -> shell.page(RunsPage.class).list().getSelectionModel().selectAll());
        await(() -> shell.page(RunsPage.class).verdict().contains("no deviation in 15 taps"));
        assertThat(robot.lookup("#comparison").<TableView<?>>query().getItems()).hasSize(15);
        enter(robot, "tolerance", "2 furlongs");
        await(() -> shell.page(RunsPage.class).verdict().startsWith("Tolerance"));
    }

    @Test
    void generatedCodeLeadsToItsBlockAndBack(FxRobot robot) throws Exception {
        choose(robot, "swage");
        page(robot, "build");
        ListView<?> code = robot.lookup("#code").query();
        await(() -> code.getItems().size() > 100);
        open(robot, "controller/position loop");
        page(robot, "sheet");
        robot.clickOn(middle("speed limit"));
        keys(robot, KeyCode.SHORTCUT, KeyCode.L);
        await(() -> robot.lookup("#code").query().isVisible() && code.getSelectionModel().getSelectedItem() != null);
        assertThat(code.getSelectionModel().getSelectedItem().toString()).contains("speed limit");
        open(robot, "");
        robot.clickOn("#jump");
        await(() -> shell.navigator().path().equals("controller/position loop"));
    }

    @Test
    void whereAPartRunsIsChosenInTheGrid(FxRobot robot) throws Exception {
        choose(robot, "desk");
        robot.clickOn("#rig-grid");
        await(() -> robot.lookup("#place-controller-1").tryQuery().isPresent());
        robot.clickOn("#place-controller-1");
        await(() -> shell.workspace().project().rig("desk").orElseThrow().needsBench());
        assertThat(shell.workspace().undoName()).hasValue("change rig desk");
    }

    @Test
    void everyCommandIsInThePalette(FxRobot robot) throws Exception {
        keys(robot, KeyCode.SHORTCUT, KeyCode.K);
        await(() -> robot.lookup("#palette").tryQuery().isPresent());
        robot.write("dark").push(KeyCode.ENTER);
        await(() -> shell.getStyleClass().contains("night"));
        keys(robot, KeyCode.ALT, KeyCode.DIGIT4);
        await(() -> shell.page(BenchPage.class).isVisible());
    }

    @Test
    void theLogIsShownAndDiagnosticsAreCopied(FxRobot robot) throws Exception {
        keys(robot, KeyCode.SHORTCUT, KeyCode.K);
        await(() -> robot.lookup("#palette").tryQuery().isPresent());
        robot.write("show log").push(KeyCode.ENTER);
        await(() -> robot.lookup("#log").tryQuery().isPresent());
        assertThat(robot.lookup("#log").queryAs(javafx.scene.control.TextArea.class).getText()).isNotBlank();
        robot.clickOn("#copy-diagnostics");
        var copied = new String[1];
        robot.interact(() -> copied[0] = javafx.scene.input.Clipboard.getSystemClipboard().getString());
        assertThat(copied[0]).contains("Bold Anvil", "Larkmere Lock", "Processors");
        assertThat(robot.lookup("#message").queryAs(Label.class).getText()).isEqualTo("Copied the diagnostics.");
    }
}
