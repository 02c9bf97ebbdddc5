package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.Demo;
import boldanvil.app.model.PlcSession.Row;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.WatchedProgram.Instance;
import boldanvil.app.model.WatchedProgram.Line;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListView;
import javafx.scene.control.TableView;
import javafx.scene.control.TextArea;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;
import org.testfx.util.WaitForAsyncUtils;

/** Virtual commissioning in the window: tags live, a value forced, the running program changed and taken back. */
class TagsWindowTest extends WindowFixture {
    @Start
    void start(Stage stage) throws Exception {
        folder = Demo.copyTo(temporary.resolve("sequence" + count++), "lock-sequence");
        show(stage);
        shell.open(folder);
        shell.show("Sheet");
    }

    private static TableView<Row> table(FxRobot robot) {
        return robot.lookup("#tags-table").query();
    }

    private static String cell(FxRobot robot, String tag, int column) {
        var row = table(robot).getItems().stream().filter(r -> r.name().equals(tag)).findFirst().orElseThrow();
        return (String) table(robot).getColumns().get(column).getCellObservableValue(row).getValue();
    }

    private static String told(FxRobot robot) {
        return robot.lookup("#tags-told").queryAs(Label.class).getText();
    }

    @Test
    void aRigWithoutAPlcSaysWhatToDo(FxRobot robot) {
        choose(robot, "desk");
        page(robot, "tags");
        assertThat(robot.lookup("#tags-table").tryQuery()).as("bindings are shown").isEmpty();
        press(robot, "#tags-view-live");
        WaitForAsyncUtils.waitForFxEvents();
        assertThat(table(robot).getItems()).isEmpty();
        choose(robot, "plc");
        WaitForAsyncUtils.waitForFxEvents();
        assertThat(table(robot).getItems()).hasSizeGreaterThan(25);
        type(robot, "tags-filter", "light barrier");
        assertThat(table(robot).getItems()).hasSize(2);
        assertThat(robot.lookup("#tags-force").queryAs(Button.class).isDisabled()).isTrue();
    }

    @Test
    void valuesAreForcedAndTheProgramIsChangedWhileItRuns(FxRobot robot) throws Exception {
        robot.interact(() -> shell.run("plc"));
        await(() -> shell.session().live().filter(r -> r.seconds() > 0.5).isPresent());
        page(robot, "tags");
        await(() -> cell(robot, "lower closed", 3).equals("TRUE"));
        var row = table(robot).getItems().stream().filter(r -> r.name().equals("emergency stop ok")).findFirst().orElseThrow();
        robot.interact(() -> table(robot).getSelectionModel().select(row));
        press(robot, "#tags-force");
        WaitForAsyncUtils.waitForFxEvents();
        type(robot, "ask", "FALSE");
        press(robot, "#ask-ok");
        await(() -> cell(robot, "emergency stop ok", 5).equals("FALSE"));
        assertThat(robot.lookup("#tags-state").queryAs(Label.class).getText()).contains("The PLC runs.");
        await(() -> robot.lookup("#tags-forces").queryAs(javafx.scene.layout.FlowPane.class).getChildren().size() == 1);
        press(robot, "#tags-release");
        await(() -> cell(robot, "emergency stop ok", 5).isEmpty());
        press(robot, "#tags-view-program");
        WaitForAsyncUtils.waitForFxEvents();
        ComboBox<Instance> units = robot.lookup("#program-instance").query();
        await(() -> units.getItems().stream().anyMatch(i -> i.label().startsWith("sequence.part.interlocks ")));
        robot.interact(() -> units.setValue(units.getItems().stream().filter(i -> i.label().startsWith("sequence.part.interlocks "))
                .findFirst().orElseThrow()));
        ListView<Line> lines = robot.lookup("#program-lines").query();
        robot.interact(() -> lines.getSelectionModel().select(lines.getItems().stream().filter(l -> l.text().contains("fill :="))
                .findFirst().orElseThrow()));
        press(robot, "#interlock-watch");
        ListView<String> events = robot.lookup("#interlock-events").query();
        await(() -> !events.getItems().isEmpty());
        assertThat(events.getItems().getLast()).contains("blocked by");
        assertThat(shell.session().live().orElseThrow().health().parts()).filteredOn(p -> p.name().equals("sequence")).singleElement()
                .satisfies(p -> assertThat(p.link().orElseThrow().usual()).isPositive());
        press(robot, "#program-edit");
        WaitForAsyncUtils.waitForFxEvents();
        var text = robot.lookup("#tags-program").queryAs(TextArea.class);
        String before = text.getText();
        robot.interact(() -> text.setText(before.replace("fault : DWORD;", "fault : DWORD;\n        extra : DINT;")));
        press(robot, "#tags-check");
        await(() -> told(robot).startsWith("This would change the program."));
        assertThat(told(robot)).contains("sequence.part.extra");
        press(robot, "#tags-change");
        await(() -> told(robot).startsWith("Changed."));
        press(robot, "#tags-take-back");
        await(() -> told(robot).startsWith("Taken back."));
        await(() -> text.getText().equals(before));
        robot.interact(() -> text.setText("PROGRAM x y := 1; END_PROGRAM"));
        press(robot, "#tags-change");
        await(() -> told(robot).contains("There is no variable 'y'"));
        robot.interact(() -> shell.session().stop());
        awaitPhase(RigSession.Phase.ENDED);
    }
}
