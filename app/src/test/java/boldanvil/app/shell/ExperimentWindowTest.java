package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.model.ExperimentSession;
import boldanvil.app.pages.LoopPage;
import boldanvil.core.identify.Excitation;
import java.util.Arrays;
import javafx.scene.control.ChoiceBox;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;
import org.testfx.util.WaitForAsyncUtils;

/** Experiments on a running rig: a value is moved, the response measured, limits stop the rig. */
class ExperimentWindowTest extends WindowFixture {
    @Start
    void start(Stage stage) throws Exception {
        begin(stage);
    }

    private ExperimentSession session() {
        return shell.page(LoopPage.class).experiment();
    }

    @Test
    void aRunningRigIsExcitedAndItsResponseMeasured(FxRobot robot) throws Exception {
        robot.interact(() -> shell.show("Loop"));
        WaitForAsyncUtils.waitForFxEvents();
        press(robot, "#loop-view-experiment");
        WaitForAsyncUtils.waitForFxEvents();
        press(robot, "#experiment-start");
        assertThat(status(robot)).startsWith("Run the rig");
        robot.interact(() -> shell.run("desk"));
        await(() -> shell.session().live().filter(r -> r.seconds() > 4.5).isPresent());
        robot.interact(() -> {
            shell.show("Loop");
            robot.lookup("#experiment-kind").<ChoiceBox<Excitation.Kind>>query().setValue(Excitation.Kind.MULTISINE);
        });
        choose(robot, "experiment-tunable", "controller.position_loop.target");
        choose(robot, "experiment-in", "controller.position_loop.setpoint");
        choose(robot, "experiment-out", "drive.position");
        type(robot, "experiment-amplitude", "5");
        press(robot, "#experiment-start");
        await(() -> !session().isBusy());
        assertThat(session().message()).contains("would leave its limits").contains("smaller amplitude");
        type(robot, "experiment-amplitude", "0.01");
        type(robot, "experiment-low", "1 Hz");
        type(robot, "experiment-high", "8 Hz");
        type(robot, "experiment-time", "3 s");
        press(robot, "#experiment-start");
        await(() -> session().isActive());
        await(() -> !session().isBusy());
        assertThat(session().result()).as(session().message()).isPresent();
        var response = session().result().orElseThrow().response().orElseThrow();
        assertThat(Arrays.stream(response.coherence()).filter(c -> c > 0.8).count()).isGreaterThan(5);
        press(robot, "#experiment-overlay");
        assertThat(shell.page(LoopPage.class).session().measured()).isPresent();
        press(robot, "#loop-view-experiment");
        WaitForAsyncUtils.waitForFxEvents();
        press(robot, "#experiment-identify");
        assertThat(robot.lookup("#identify-start").tryQuery()).isPresent();
        // A limit of the output stops the rig, and says so.
        press(robot, "#loop-view-experiment");
        WaitForAsyncUtils.waitForFxEvents();
        type(robot, "experiment-most", "0.1");
        type(robot, "experiment-time", "20 s");
        press(robot, "#experiment-start");
        await(() -> session().message().startsWith("The rig has stopped"));
        assertThat(session().message()).contains("above its limit");
    }
}
