package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.model.RigSession;
import boldanvil.core.simulate.WireFault;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;

class FaultsWindowTest extends WindowFixture {
    @Start
    void start(Stage stage) throws Exception {
        begin(stage);
    }

    private static void pick(FxRobot robot, String id, String value) {
        robot.interact(() -> robot.lookup("#" + id).<ComboBox<String>>query().setValue(value));
    }

    @Test
    void aRigWithoutATargetSaysSoUnderLog(FxRobot robot) {
        robot.clickOn("#page-bench");
        robot.clickOn("#bench-log");
        assertThat(robot.lookup("#log-state").queryAs(Label.class).getText()).isEqualTo("No part of this rig runs on a target.");
        assertThat(robot.lookup("#log-start").query().isDisabled()).isTrue();
    }

    @Test
    void aFaultIsInsertedShownAndClearedOnTheBench(FxRobot robot) throws Exception {
        robot.clickOn("#page-bench");
        robot.clickOn("#bench-faults");
        var message = robot.lookup("#fault-message").queryAs(Label.class);
        robot.clickOn("#fault-insert");
        assertThat(message.getText()).contains("No fault or no wire is chosen");
        pick(robot, "fault-kind", "offset");
        pick(robot, "fault-place", "drive.shunt A");
        robot.clickOn("#fault-insert");
        assertThat(message.getText()).contains("No rig is running");
        robot.interact(() -> shell.run("desk"));
        await(() -> shell.session().phase() == RigSession.Phase.RUNNING);
        robot.clickOn("#fault-insert");
        assertThat(message.getText()).contains("needs 'of'");
        enter(robot, "fault-values", "of 0.1 V");
        await(() -> shell.session().live().orElseThrow().faults().get("drive.shunt A") != null);
        assertThat(shell.session().live().orElseThrow().faults()).containsEntry("drive.shunt A", WireFault.of(WireFault.Kind.OFFSET, 0.1));
        await(() -> robot.lookup(".card .strong").queryAll().stream()
                .anyMatch(n -> n instanceof Label l && l.getText().equals("offset of 0.1 V")));
        robot.clickOn("#fault-clear");
        await(() -> shell.session().live().orElseThrow().faults().isEmpty());
        robot.interact(() -> shell.session().stop());
    }
}
