package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.app.model.IdentifySession;
import boldanvil.app.model.Latest;
import boldanvil.app.pages.LoopPage;
import boldanvil.core.diagram.Variable;
import boldanvil.core.identify.Estimate;
import boldanvil.core.quantity.Rescaled;
import boldanvil.core.edit.VariableValues;
import java.util.Map;
import javafx.scene.control.ChoiceBox;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;
import org.testfx.util.WaitForAsyncUtils;

/** Values and models from a run of the demo: found, looked at, written into the variables. */
class IdentifyWindowTest extends WindowFixture {
    @Start
    void start(Stage stage) throws Exception {
        begin(stage);
    }

    private Latest<IdentifySession.Result> session() {
        return shell.page(LoopPage.class).identification();
    }

    private void record(FxRobot robot) throws Exception {
        robot.interact(() -> shell.run("desk"));
        await(() -> shell.session().live().filter(r -> r.seconds() > 1.2).isPresent());
        robot.interact(() -> shell.session().stop());
        await(() -> !shell.session().isBusy());
        robot.interact(() -> shell.show("Loop"));
        press(robot, "#loop-view-identify");
        WaitForAsyncUtils.waitForFxEvents();
    }

    private void model(FxRobot robot, String label) {
        robot.interact(() -> robot.lookup("#identify-model").<ChoiceBox<String>>query().setValue(label));
    }

    private String variable(String name) {
        return shell.workspace().project().variables().stream().filter(v -> v.name().equals(name)).map(Variable::value).findFirst()
                .orElseThrow();
    }

    @Test
    void aWrongResistanceIsFoundFromARunAndWrittenIntoItsVariable(FxRobot robot) throws Exception {
        robot.interact(() -> shell.show("Loop"));
        WaitForAsyncUtils.waitForFxEvents();
        press(robot, "#loop-view-identify");
        press(robot, "#identify-start");
        assertThat(status(robot)).startsWith("Choose a run");
        record(robot);
        String right = variable("R");
        robot.interact(() -> shell.workspace().edit("spoil", p -> VariableValues.with(p, Map.of("R", 0.9), Rescaled.SHORT)));
        model(robot, "Variables of the sheet");
        choose(robot, "identify-out", "drive.current");
        press(robot, "#identify-start");
        assertThat(status(robot)).startsWith("Add the variables");
        choose(robot, "identify-variable", "R");
        type(robot, "identify-to", "0.5 s");
        press(robot, "#identify-start");
        await(() -> !session().isBusy());
        assertThat(session().result()).as(session().message()).isPresent();
        Estimate found = session().result().orElseThrow().estimate().orElseThrow();
        assertThat(found.value("R").value()).isCloseTo(0.6, within(1e-3));
        assertThat(robot.lookup("#identify-values").tryQuery()).isPresent();
        press(robot, "#identify-write");
        robot.clickOn("#confirm-write");
        WaitForAsyncUtils.waitForFxEvents();
        assertThat(Double.parseDouble(variable("R").split(" ")[0])).isCloseTo(Double.parseDouble(right.split(" ")[0]), within(1e-3));
        assertThat(shell.workspace().project().variables()).anyMatch(v -> v.name().equals("R") && v.note().contains("identified from"));
        robot.interact(() -> shell.workspace().undo());
        assertThat(variable("R")).startsWith("0.9");
    }

    @Test
    void aModelOfTwoTapsIsFoundAndShown(FxRobot robot) throws Exception {
        record(robot);
        choose(robot, "identify-in", "drive.current");
        choose(robot, "identify-out", "drive.speed");
        type(robot, "identify-every", "1 ms");
        press(robot, "#identify-start");
        await(() -> !session().isBusy());
        assertThat(session().result()).as(session().message()).isPresent();
        assertThat(session().result().orElseThrow().black().orElseThrow().fit()).isGreaterThan(0.5);
        assertThat(session().result().orElseThrow().polynomials().orElseThrow()).hasSize(2);
        type(robot, "identify-numbers", "many");
        press(robot, "#identify-start");
        assertThat(status(robot)).startsWith("Write whole numbers");
        // A span in which nothing can be learnt is refused with cause and cure.
        type(robot, "identify-numbers", "2, 2, 1");
        type(robot, "identify-to", "5 ms");
        press(robot, "#identify-start");
        await(() -> !session().isBusy());
        assertThat(session().message()).contains("samples only").contains("longer span");
    }
}
