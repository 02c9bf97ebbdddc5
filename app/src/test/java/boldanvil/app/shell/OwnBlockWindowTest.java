package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Side;
import boldanvil.core.edit.OwnUses;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.files.UserBlocks;
import boldanvil.core.sheet.SheetScene;
import java.nio.file.Path;
import java.util.Set;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;

/** Own blocks in the window: kept, used, changed for all uses, detached and kept for other projects. */
class OwnBlockWindowTest extends WindowFixture {
    private static final SheetRef MAIN = new SheetRef("controller", "main");

    @Start
    void start(Stage stage) {
        show(stage);
        Path project = temporary.resolve("own" + count++);
        ProjectWriter.write(ProjectReader.read(Path.of("../demo/motor-position")), project);
        shell.open(project);
    }

    private Project project() {
        return shell.workspace().project();
    }

    private Block block(SheetRef ref, String name) {
        return project().sheet(ref).orElseThrow().blocks().stream().filter(b -> b.name().equals(name)).findFirst().orElseThrow();
    }

    /** A PID controller with its difference, kept as an own block. */
    private void keep(FxRobot robot) throws Exception {
        open(robot, "controller");
        robot.interact(() -> canvas().select(Set.of(block(MAIN, "error").id(), block(MAIN, "position").id())));
        command(robot, "Make a subsystem of the selection");
        robot.write("loop").push(KeyCode.ENTER);
        await(() -> canvas().shown().nodes().stream().anyMatch(n -> n.title().equals("loop")));
        robot.interact(() -> canvas().select(Set.of(block(MAIN, "loop").id())));
        command(robot, "Keep as an own block …");
        robot.interact(() -> {
            robot.lookup("#own-title").queryAs(TextField.class).setText("Servo loop");
            robot.lookup("#own-caption").queryAs(TextField.class).setText("Kp {Kp}");
        });
        press(robot, "#own-ok");
        assertThat(project().library().blocks()).containsOnlyKeys("servo_loop");
        await(() -> !shell.workspace().isReviewing());
        assertThat(shell.workspace().findings()).noneMatch(f -> f.isError());
    }

    @Test
    void aSubsystemIsKeptUsedAgainAndChangedForBothUses(FxRobot robot) throws Exception {
        keep(robot);
        // The parameters stand in the details of a use; its plate reads its own text.
        robot.interact(() -> canvas().select(Set.of(block(MAIN, "loop").id())));
        assertThat(robot.lookup("#field-Kp").queryAs(TextField.class).getText()).isEqualTo("Kp");
        assertThat(canvas().shown().nodes()).anyMatch(n -> n.title().equals("loop") && n.plate().summary().equals("Kp Kp"));
        enter(robot, "field-Kp", "3");
        // The stock offers it; a second use is put beside the first.
        robot.interact(() -> canvas().select(Set.of()));
        robot.clickOn("#stock-search");
        robot.write("servo").push(KeyCode.ENTER);
        await(() -> OwnUses.of(project(), "servo_loop").size() == 2);
        // Its sheet is closed to changes until all uses are named.
        robot.interact(() -> shell.navigator().open("controller/loop"));
        assertThat(robot.lookup("#own-uses").queryAs(Label.class).getText()).contains("Servo loop", "controller/loop",
                "controller/Servo loop");
        var inside = new SheetRef("controller", "@servo_loop");
        String pid = block(inside, "position").id();
        robot.interact(() -> shell.edits().set(inside, pid, "tf", "5 ms"));
        assertThat(block(inside, "position").settings()).containsEntry("tf", "2 ms");
        press(robot, "#own-edit");
        robot.interact(() -> shell.edits().set(inside, pid, "tf", "5 ms"));
        assertThat(block(inside, "position").settings()).containsEntry("tf", "5 ms");
        // Undo is one change, as everywhere.
        robot.interact(() -> shell.workspace().undo());
        assertThat(block(inside, "position").settings()).containsEntry("tf", "2 ms");
    }

    @Test
    void aUseIsDetachedAndTheBlockKeptForOtherProjects(FxRobot robot) throws Exception {
        keep(robot);
        robot.interact(() -> canvas().select(Set.of(block(MAIN, "loop").id())));
        command(robot, "Save the own block to your folder");
        await(() -> UserBlocks.read(_ -> { }).blocks().containsKey("servo_loop"));
        robot.interact(() -> shell.navigator().open("controller/loop"));
        press(robot, "#own-detach");
        assertThat(OwnUses.of(project(), "servo_loop")).isEmpty();
        assertThat(robot.lookup("#own-bar").query().isVisible()).isFalse();
        assertThat(shell.navigator().path()).isEqualTo("controller/loop");
        // Its sheet may be changed at once.
        var own = shell.navigator().sheet().orElseThrow();
        robot.interact(() -> shell.edits().set(own, block(own, "position").id(), "tf", "5 ms"));
        assertThat(block(own, "position").settings()).containsEntry("tf", "5 ms");
        // Without uses the project can do without it, and the stock still offers that of the folder.
        robot.interact(() -> shell.edits().removeOwn("servo_loop"));
        robot.interact(() -> shell.navigator().open("controller"));
        robot.interact(() -> canvas().select(Set.of()));
        robot.clickOn("#stock-search");
        robot.write("servo").push(KeyCode.ENTER);
        await(() -> OwnUses.of(project(), "servo_loop").size() == 1);
        assertThat(project().library().blocks()).containsOnlyKeys("servo_loop");
    }

    @Test
    void aPortIsDraggedToAnotherSide(FxRobot robot) throws Exception {
        keep(robot);
        var n = node("loop");
        var port = n.ports(SheetScene.PortKind.OUTPUT).getFirst();
        drag(robot, onScreen(n, port), canvas().onScreen(n.x() + n.width() / 2, n.y() + 2));
        assertThat(node("loop").ports(SheetScene.PortKind.OUTPUT).getFirst().side()).isEqualTo(Side.TOP);
        assertThat(shell.workspace().undoName()).contains("move a port");
        command(robot, "Show or hide names on wires");
        assertThat(shell.workspace().findings()).noneMatch(f -> f.isError());
    }

    @Test
    void severalBlocksGetAValueTogether(FxRobot robot) throws Exception {
        robot.interact(() -> shell.navigator().open("motor"));
        var ref = new SheetRef("motor", "main");
        Set<String> gains = Set.of(block(ref, "resistance").id(), block(ref, "torque").id());
        robot.interact(() -> canvas().select(gains));
        var k = robot.lookup("#field-k").queryAs(TextField.class);
        assertThat(k.getText()).isEmpty();
        assertThat(k.getPromptText()).isEqualTo("different values");
        enter(robot, "field-k", "0.5");
        assertThat(block(ref, "resistance").settings()).containsEntry("k", "0.5");
        assertThat(block(ref, "torque").settings()).containsEntry("k", "0.5");
        assertThat(shell.workspace().undoName()).contains("set k of 2 blocks");
        assertThat(robot.lookup("#field-k").queryAs(TextField.class).getText()).isEqualTo("0.5");
    }
}
