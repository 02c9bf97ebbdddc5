package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.app.chart.CurveView;
import boldanvil.app.pages.LoopPage;
import boldanvil.core.diagram.Variable;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.Slider;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;
import org.testfx.util.WaitForAsyncUtils;

/** A loop of the demo: opened, moved, designed, sent to the sheet and tried on the running rig. */
class LoopWindowTest extends WindowFixture {
    @Start
    void start(Stage stage) throws Exception {
        begin(stage);
    }

    private LoopPage loop() {
        return shell.page(LoopPage.class);
    }

    private String message(FxRobot robot) {
        return robot.lookup("#loop-message").queryAs(Label.class).getText();
    }

    private void openLoop(FxRobot robot, String place, String after) throws Exception {
        robot.interact(() -> shell.show("Loop"));
        await(() -> shows(robot, "loop-place"));
        robot.interact(() -> {
            robot.lookup("#loop-place").<ComboBox<String>>query().getEditor().setText(place);
        });
        type(robot, "loop-after", after);
        press(robot, "#loop-open");
        await(() -> !loop().session().isBusy());
    }

    private String variable(String name) {
        return shell.workspace().project().variables().stream().filter(v -> v.name().equals(name)).map(Variable::value).findFirst()
                .orElseThrow();
    }

    @Test
    void aGainIsPickedDesignedSentAndTakenBack(FxRobot robot) throws Exception {
        openLoop(robot, "controller/current loop/current controller", "0.4 s");
        assertThat(loop().session().shown()).as(loop().session().message()).isPresent();
        assertThat(robot.lookup("#loop-stable").queryAs(Label.class).getText()).isEqualTo("The closed loop is stable.");
        // By the slider: twice the gain, then so much that it oscillates.
        robot.interact(() -> robot.lookup("#loop-gain").queryAs(Slider.class).setValue(Math.log10(2)));
        await(() -> Math.abs(loop().session().shown().orElseThrow().at().gain() - 2) < 1e-6);
        robot.interact(() -> robot.lookup("#loop-gain").queryAs(Slider.class).setValue(2));
        await(() -> robot.lookup("#loop-stable").queryAs(Label.class).getText().contains("not stable"));
        // By dragging the magnitude down by 6 dB.
        robot.interact(() -> loop().session().gain(1));
        await(() -> loop().session().shown().orElseThrow().at().gain() == 1);
        var magnitude = robot.lookup("#loop-magnitude").queryAs(CurveView.class);
        var from = magnitude.localToScreen(magnitude.placeOf(100, 20)[0], magnitude.placeOf(100, 20)[1]);
        var to = magnitude.localToScreen(magnitude.placeOf(100, 14)[0], magnitude.placeOf(100, 14)[1]);
        robot.drag(from.getX(), from.getY(), javafx.scene.input.MouseButton.PRIMARY).dropTo(to.getX(), to.getY());
        await(() -> loop().session().shown().orElseThrow().at().gain() < 0.6);
        assertThat(loop().session().shown().orElseThrow().at().gain()).isCloseTo(0.5, within(0.05));
        // By pulling at a pole in s.
        double dragged = loop().session().shown().orElseThrow().at().gain();
        robot.interact(() -> robot.lookup("#loop-plane").<ChoiceBox<?>>query().getSelectionModel().select(1));
        var poles = robot.lookup("#loop-poles").queryAs(CurveView.class);
        var far = poles.placeOf(100, 1500);
        robot.clickOn(poles.localToScreen(far[0], far[1]));
        await(() -> Math.abs(loop().session().shown().orElseThrow().at().gain() - dragged) > 1e-6);
        robot.interact(() -> loop().session().gain(1));
        await(() -> loop().session().shown().orElseThrow().at().gain() == 1);
        // A design keeps what was there for comparison.
        type(robot, "loop-crossover", "1000");
        type(robot, "loop-margin", "70 °");
        press(robot, "#loop-design");
        await(() -> !loop().session().isBusy());
        assertThat(message(robot)).isEmpty();
        assertThat(loop().session().kept()).hasSize(1);
        var phase = loop().session().shown().orElseThrow().at().margins().phase().orElseThrow();
        assertThat(phase.omega()).isCloseTo(1000, within(5.0));
        assertThat(Math.toDegrees(phase.value())).isCloseTo(70, within(0.5));
        String before = variable("Kp_i");
        press(robot, "#loop-send");
        robot.clickOn("#confirm-send");
        WaitForAsyncUtils.waitForFxEvents();
        assertThat(variable("Kp_i")).isNotEqualTo(before).endsWith("*(" + before + ")");
        robot.interact(() -> shell.workspace().undo());
        assertThat(variable("Kp_i")).isEqualTo(before);
    }

    @Test
    void aLoopIsOpenedAtTheSelectedWireAndPlacesWithoutOneAreExplained(FxRobot robot) throws Exception {
        robot.interact(() -> shell.navigator().open("controller/current loop"));
        WaitForAsyncUtils.waitForFxEvents();
        command(robot, "Open the loop at the selected wire");
        assertThat(status(robot)).startsWith("Select a wire");
        robot.interact(() -> canvas().select(canvas().shown().links().stream().map(l -> l.wire())
                .filter(w -> canvas().shown().nodes().stream()
                .anyMatch(n -> n.id().equals(w.from()) && n.title().equals("current controller"))).findFirst().orElseThrow()));
        command(robot, "Open the loop at the selected wire");
        await(() -> loop().session().shown().isPresent() && !loop().session().isBusy());
        assertThat(robot.lookup("#loop-place").<ComboBox<String>>query().getEditor().getText())
                .isEqualTo("controller/current loop/current controller.y");
        openLoop(robot, "panel/nothing", "0.4 s");
        assertThat(status(robot)).contains("There is no block 'panel/nothing'");
        // While the position loop does not move anything, the speed limit holds it.
        openLoop(robot, "controller/position loop/speed limit", "0.2 s");
        assertThat(message(robot)).contains("a limit or switch holds it");
    }

    @Test
    void gainsAreTriedOnTheRunningRig(FxRobot robot) throws Exception {
        openLoop(robot, "controller/position loop/speed controller", "0.4 s");
        press(robot, "#loop-try");
        assertThat(status(robot)).startsWith("Run the rig first");
        robot.interact(() -> shell.run("desk"));
        await(() -> shell.session().live().filter(r -> r.seconds() > 2.5).isPresent());
        robot.interact(() -> loop().session().gain(0.8));
        await(() -> loop().session().shown().orElseThrow().at().gain() == 0.8);
        press(robot, "#loop-try");
        String said = status(robot);
        assertThat(said).matches("Given to the running rig: .*kp = .*|The gains of 'speed controller' cannot change while running.*");
        robot.interact(() -> shell.session().stop());
        await(() -> !shell.session().isBusy());
        // What was recorded is laid over the curves; a tap that does not move is refused.
        press(robot, "#loop-measure");
        assertThat(status(robot)).startsWith("Choose the two taps");
        taps(robot, "controller.current_loop.current_demand", "drive.current");
        press(robot, "#loop-measure");
        await(() -> !loop().session().isBusy());
        assertThat(loop().session().measured()).as(message(robot)).isPresent();
        taps(robot, "controller.tripped", "drive.current");
        press(robot, "#loop-measure");
        await(() -> !loop().session().isBusy());
        assertThat(message(robot)).contains("The input does not change");
    }

    private static void taps(FxRobot robot, String in, String out) {
        robot.interact(() -> {
            robot.lookup("#loop-in").<ComboBox<String>>query().setValue(in);
            robot.lookup("#loop-out").<ComboBox<String>>query().setValue(out);
        });
    }
}
