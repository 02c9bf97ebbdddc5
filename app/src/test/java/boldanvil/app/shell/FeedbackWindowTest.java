package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.app.pages.LoopPage;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.layout.VBox;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;
import org.testfx.util.WaitForAsyncUtils;

/** Limits, hardware and state feedback on the Loop page: opened, checked, designed, put on the sheet, taken back. */
class FeedbackWindowTest extends WindowFixture {
    @Start
    void start(Stage stage) throws Exception {
        begin(stage);
    }

    private LoopPage loop() {
        return shell.page(LoopPage.class);
    }

    private void openLoop(FxRobot robot, String place) throws Exception {
        robot.interact(() -> shell.show("Loop"));
        await(() -> shows(robot, "loop-place"));
        robot.interact(() -> robot.lookup("#loop-place").<ComboBox<String>>query().getEditor().setText(place));
        type(robot, "loop-after", "0.4 s");
        press(robot, "#loop-open");
        await(() -> !loop().session().isBusy());
        assertThat(loop().session().shown()).as(loop().session().message()).isPresent();
    }

    private void view(FxRobot robot, String name) {
        press(robot, "#loop-view-" + name);
        WaitForAsyncUtils.waitForFxEvents();
    }

    @Test
    void theBoardsDelayAndTheLimitsAreSeen(FxRobot robot) throws Exception {
        openLoop(robot, "controller/position loop/speed limit");
        var built = loop().session().shown().orElseThrow().built().orElseThrow();
        assertThat(built.how().longest()).isBetween(20e-6, 100e-6);
        view(robot, "limits");
        type(robot, "check-size", "0.05");
        type(robot, "check-time", "0.1 s");
        press(robot, "#check-start");
        await(() -> !robot.lookup("#check-words").queryAs(VBox.class).getChildren().isEmpty());
        var words = robot.lookup("#check-words").queryAs(VBox.class).getChildren().stream().map(n -> ((Label) n).getText()).toList();
        assertThat(words).anyMatch(w -> w.startsWith("'speed controller' is at its upper limit 18.00"))
                .anyMatch(w -> w.startsWith("As built"));
        // Another loop has not been checked.
        robot.interact(() -> loop().session().clear());
        await(() -> robot.lookup("#check-words").queryAs(VBox.class).getChildren().isEmpty());
        press(robot, "#check-start");
    }

    @Test
    void tolerancesAndALeadAreSeenBeforeTheyAreOnTheSheet(FxRobot robot) throws Exception {
        openLoop(robot, "controller/current loop/current controller");
        robot.interact(() -> {
            var box = robot.lookup("#loop-variable").<ComboBox<String>>query();
            box.getOnShowing().handle(null);
            box.setValue("L");
        });
        WaitForAsyncUtils.waitForFxEvents();
        type(robot, "loop-random", "3");
        press(robot, "#loop-vary");
        await(() -> !loop().session().isBusy());
        assertThat(loop().session().varied()).hasSize(5);
        assertThat(robot.lookup("#loop-worst").queryAs(Label.class).getText()).startsWith("Least phase margin ").contains("L = ");
        assertThat(robot.lookup("#loop-step").queryAs(Label.class).getText()).startsWith("Step: rises in ");
        assertThat(robot.lookup("#loop-system").queryAs(javafx.scene.control.TextArea.class).getText()).startsWith("in z, 1 ms")
                .contains("poles");
        robot.interact(() -> robot.lookup("#loop-system-form").<ChoiceBox<?>>query().getSelectionModel().select(2));
        assertThat(robot.lookup("#loop-system").queryAs(javafx.scene.control.TextArea.class).getText()).contains("A = [[");
        double before = loop().session().shown().orElseThrow().at().margins().phase().orElseThrow().value();
        robot.interact(() -> {
            var way = robot.lookup("#loop-way").<ChoiceBox<Object>>query();
            way.setValue(way.getItems().stream().filter(w -> w.toString().startsWith("Lead")).findFirst().orElseThrow());
        });
        type(robot, "loop-crossover", "1500");
        type(robot, "loop-turn", "-20 °");
        press(robot, "#loop-design");
        await(() -> !loop().session().isBusy());
        assertThat(loop().session().message()).isEmpty();
        double after = loop().session().shown().orElseThrow().at().margins().phase().orElseThrow().value();
        assertThat(Math.toDegrees(before - after)).isCloseTo(20, within(3.0));
        int blocks = shell.workspace().project().part("controller").orElseThrow().sheet("current-loop").orElseThrow().blocks().size();
        press(robot, "#loop-insert");
        await(() -> shell.workspace().project().part("controller").orElseThrow().sheet("current-loop").orElseThrow().blocks().size()
                == blocks + 1);
        robot.interact(() -> shell.workspace().undo());
        assertThat(shell.workspace().project().part("controller").orElseThrow().sheet("current-loop").orElseThrow().blocks())
                .hasSize(blocks);
    }

    private static String plantMessage(FxRobot robot) {
        return robot.lookup("#plant-message").queryAs(Label.class).getText();
    }

    @Test
    void aTypedPlantIsSampledSideBySideAndOpenedAsALoop(FxRobot robot) throws Exception {
        robot.interact(() -> shell.show("Loop"));
        WaitForAsyncUtils.waitForFxEvents();
        view(robot, "plant");
        press(robot, "#plant-sample");
        await(() -> robot.lookup("#plant-table").queryAs(javafx.scene.layout.GridPane.class).getRowCount() == 9);
        type(robot, "plant-denominator", "0");
        press(robot, "#plant-open");
        await(() -> plantMessage(robot).contains("denominator is zero"));
        robot.interact(() -> {
            var form = robot.lookup("#plant-form").<ChoiceBox<Object>>query();
            form.setValue(form.getItems().stream().filter(f -> f.toString().startsWith("Frequency points")).findFirst().orElseThrow());
        });
        type(robot, "plant-file", "nothing.csv");
        press(robot, "#plant-open");
        await(() -> plantMessage(robot).contains("cannot be read"));
        robot.interact(() -> robot.lookup("#plant-form").<ChoiceBox<?>>query().getSelectionModel().select(0));
        WaitForAsyncUtils.waitForFxEvents();
        type(robot, "plant-denominator", "1, 1, 0");
        press(robot, "#plant-open");
        await(() -> loop().session().shown().isPresent() && !loop().session().isBusy());
        assertThat(loop().session().shown().orElseThrow().view().loop().samplePeriod()).isEqualTo(0.1);
        type(robot, "loop-crossover", "0.5");
        press(robot, "#loop-design");
        await(() -> !loop().session().isBusy());
        assertThat(loop().session().message()).isEmpty();
        press(robot, "#loop-send");
        assertThat(status(robot)).startsWith("The plant is typed");
    }

    @Test
    void aReadyExperimentSaysWhatToDoAndNeedsARun(FxRobot robot) throws Exception {
        robot.interact(() -> shell.show("Loop"));
        WaitForAsyncUtils.waitForFxEvents();
        view(robot, "motor-and-sensor");
        press(robot, "#guide-start");
        assertThat(status(robot)).startsWith("Choose a run");
        robot.interact(() -> shell.run("desk"));
        await(() -> shell.session().live().filter(r -> r.seconds() > 1).isPresent());
        robot.interact(() -> shell.session().stop());
        await(() -> !shell.session().isBusy());
        robot.interact(() -> {
            shell.show("Loop");
            robot.lookup("#guide-test").<ChoiceBox<String>>query().setValue("Motor, locked: R and L");
            for (String signal : new String[] {"voltage", "current"}) {
                var box = robot.lookup("#guide-" + signal).<ComboBox<String>>query();
                box.getOnShowing().handle(null);
                box.setValue("drive." + signal);
            }
        });
        type(robot, "guide-from", "0.2 s");
        type(robot, "guide-to", "0.24 s");
        press(robot, "#guide-start");
        await(() -> !loop().guide().isBusy());
        // The motor was not held, so that the values are not those of a locked one; but there are some, with bounds.
        assertThat(loop().guide().result()).as(loop().guide().message()).isPresent();
        robot.interact(() -> robot.lookup("#guide-into-R").<ComboBox<String>>query().setValue("R"));
        press(robot, "#guide-write");
        robot.clickOn("#confirm-write");
        WaitForAsyncUtils.waitForFxEvents();
        assertThat(shell.workspace().project().variables()).anyMatch(v -> v.name().equals("R") && v.note().contains("identified from"));
    }

    @Test
    void aStateFeedbackIsDesignedPutOnTheSheetAndTakenBack(FxRobot robot) throws Exception {
        openLoop(robot, "controller/current loop/current controller");
        view(robot, "state-feedback");
        press(robot, "#feedback-start");
        assertThat(status(robot)).startsWith("Open a loop and add an output");
        robot.interact(() -> {
            var out = robot.lookup("#feedback-out").<ComboBox<String>>query();
            out.getOnShowing().handle(null);
            assertThat(out.getItems()).contains("controller/current loop/current");
            out.setValue("controller/current loop/current");
        });
        WaitForAsyncUtils.waitForFxEvents();
        type(robot, "feedback-deviations", "0.5");
        type(robot, "feedback-input", "6");
        type(robot, "feedback-integral", "0.001");
        press(robot, "#feedback-start");
        await(() -> !loop().feedback().isBusy());
        assertThat(loop().feedback().result()).as(loop().feedback().message()).isPresent();
        var f = loop().feedback().result().orElseThrow().feedback();
        assertThat(f.closed().isStable()).isTrue();
        assertThat(f.closed().channel(0, 0).gainAtRest()).isCloseTo(1, within(1e-6));
        type(robot, "feedback-low", "-24 V");
        type(robot, "feedback-high", "24 V");
        robot.interact(() -> {
            var reference = robot.lookup("#feedback-reference").<ComboBox<String>>query();
            reference.getOnShowing().handle(null);
            reference.setValue("controller/current loop/demand");
        });
        press(robot, "#feedback-put");
        await(() -> shell.workspace().project().part("controller").orElseThrow().sheet("state-feedback").isPresent());
        assertThat(status(robot)).startsWith("The state feedback drives the wire now");
        robot.interact(() -> shell.workspace().undo());
        assertThat(shell.workspace().project().part("controller").orElseThrow().sheet("state-feedback")).isEmpty();
        // Poles of which there are too few.
        robot.interact(() -> robot.lookup("#feedback-way").<ChoiceBox<String>>query().setValue("Poles"));
        type(robot, "feedback-poles", "1000");
        press(robot, "#feedback-start");
        await(() -> !loop().feedback().isBusy());
        assertThat(loop().feedback().message()).contains("poles were given");
        type(robot, "feedback-poles", "many");
        press(robot, "#feedback-start");
        assertThat(status(robot)).startsWith("A value cannot be computed");
    }
}
