package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.Demo;
import boldanvil.app.model.PlcSession.Row;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.WatchedProgram.Instance;
import boldanvil.core.diagram.TagTable;
import boldanvil.core.export.Exporter;
import java.util.Map;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListView;
import javafx.scene.control.TableView;
import javafx.scene.control.TextArea;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;
import org.testfx.util.WaitForAsyncUtils;

/** The whole walk of who brings the lock to life before its cabinet stands: from the drawn sequence to the PLC's own program. */
@Timeout(300)
class LockWalkTest extends WindowFixture {
    @Start
    void start(Stage stage) throws Exception {
        folder = Demo.copyTo(temporary.resolve("walk" + count++), "lock-sequence");
        show(stage);
        shell.open(folder);
        shell.show("Sheet");
    }

    private static String told(FxRobot robot) {
        return robot.lookup("#tags-told").queryAs(Label.class).getText();
    }

    private static String live(FxRobot robot, String tag) {
        TableView<Row> table = robot.lookup("#tags-table").query();
        var row = table.getItems().stream().filter(r -> r.name().equals(tag)).findFirst().orElseThrow();
        return (String) table.getColumns().get(3).getCellObservableValue(row).getValue();
    }

    private void export(FxRobot robot, String format, String... expected) throws Exception {
        ChoiceBox<Exporter> formats = robot.lookup("#format").query();
        robot.interact(() -> formats.setValue(formats.getItems().stream().filter(e -> e.id().equals(format)).findFirst().orElseThrow()));
        ListView<?> code = robot.lookup("#code").query();
        for (String words : expected) {
            await(() -> code.getItems().stream().anyMatch(l -> l.toString().contains(words)));
        }
    }

    @Test
    void theLockIsCommissionedBeforeItsCabinetStands(FxRobot robot) throws Exception {
        choose(robot, "plc");
        page(robot, "build");
        export(robot, "st", "INITIAL_STEP rest:", "FUNCTION_BLOCK interlocks_block", "TASK base(INTERVAL := T#10ms");
        export(robot, "plcopen", "initialStep=\"true\"", "typeName=\"sequence_chart\"", "<task name=\"base\"");

        choose(robot, "cabinet");
        page(robot, "tags");
        press(robot, "#tags-view-bindings");
        var own = shell.workspace().project().tagTable("sequence");
        robot.interact(() -> shell.workspace().edit("unbind", p -> p.withTags("sequence", own.withBindings(Map.of()))));
        press(robot, "#bind-suggest");
        WaitForAsyncUtils.waitForFxEvents();
        press(robot, "#confirm-bind");
        await(() -> table().bindings().size() > 15);
        robot.interact(() -> shell.workspace().undo());
        robot.interact(() -> shell.workspace().undo());
        await(() -> table().equals(own));

        robot.interact(() -> robot.lookup("#speed").<ChoiceBox<String>>query().setValue("× max"));
        robot.interact(() -> shell.run("cabinet"));
        await(() -> shell.session().live().filter(r -> r.seconds() > 0.5).isPresent());
        press(robot, "#tags-view-live");
        await(() -> live(robot, "lower closed").equals("TRUE"));
        robot.interact(() -> shell.session().set("panel.lower_sensor_broken", 1));
        await(() -> live(robot, "lower closed").equals("FALSE"));
        robot.interact(() -> shell.session().set("panel.lower_sensor_broken", 0));
        await(() -> live(robot, "lower closed").equals("TRUE"));

        press(robot, "#tags-view-program");
        ComboBox<Instance> units = robot.lookup("#program-instance").query();
        await(() -> units.getItems().size() == 3);
        robot.interact(() -> units.setValue(units.getItems().stream().filter(i -> i.label().startsWith("Lock.steps")).findFirst()
                .orElseThrow()));
        await(() -> shell.session().live().orElseThrow().seconds() > 40);
        press(robot, "#program-edit");
        WaitForAsyncUtils.waitForFxEvents();
        var text = robot.lookup("#tags-program").queryAs(TextArea.class);
        robot.interact(() -> text.setText(text.getText().replace("in_place(IN := inside, PT := T#4s)",
                "in_place(IN := inside, PT := T#2s)")));
        press(robot, "#tags-change");
        await(() -> told(robot).startsWith("Changed."));
        press(robot, "#program-watch");
        // The boat is in, the gate behind it closed, and the chamber fills.
        await(() -> robot.lookup(".watched").queryAllAs(Label.class).stream().anyMatch(l -> l.getText().equals("ask_fill = TRUE")));
        robot.interact(() -> shell.session().stop());
        awaitPhase(RigSession.Phase.ENDED);
        assertThat(shell.session().run().orElseThrow().seconds()).isGreaterThan(40);
    }

    private TagTable table() {
        return shell.workspace().project().tagTable("sequence");
    }
}
