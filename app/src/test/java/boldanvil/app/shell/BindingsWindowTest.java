package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.Demo;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.TagBindings.SignalRow;
import boldanvil.app.model.TagBindings.TagRow;
import boldanvil.app.model.WatchedProgram;
import boldanvil.app.pages.TagsPage;
import boldanvil.core.diagram.TagTable;
import boldanvil.core.finding.Place;
import boldanvil.core.tags.TagFile;
import java.nio.file.Files;
import java.util.Map;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListView;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.input.KeyCode;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;
import org.testfx.util.WaitForAsyncUtils;

/** From a wiring list to a running cabinet: tags imported and bound in bulk, watched, the program seen at work. */
class BindingsWindowTest extends WindowFixture {
    @Start
    void start(Stage stage) throws Exception {
        folder = Demo.copyTo(temporary.resolve("cabinet" + count++), "lock-sequence");
        show(stage);
        shell.open(folder);
        shell.show("Sheet");
    }

    private static TableView<SignalRow> signals(FxRobot robot) {
        return robot.lookup("#bind-signals").query();
    }

    private static TableView<TagRow> tags(FxRobot robot) {
        return robot.lookup("#bind-tags").query();
    }

    private static String told(FxRobot robot) {
        return robot.lookup("#tags-told").queryAs(Label.class).getText();
    }

    private TagTable table() {
        return shell.workspace().project().tagTable("sequence");
    }

    private static TagsPage page(FxRobot robot) {
        return robot.lookup("#tags").query();
    }

    @Test
    void aWiringListIsImportedAndBoundInBulk(FxRobot robot) throws Exception {
        choose(robot, "cabinet");
        page(robot, "tags");
        press(robot, "#tags-view-bindings");
        var before = table();
        robot.interact(() -> shell.workspace().edit("empty", p -> p.withTags("sequence", new TagTable(java.util.List.of(), Map.of(),
                before.program()))));
        await(() -> tags(robot).getItems().isEmpty());
        var list = temporary.resolve("wiring.csv");
        Files.writeString(list, TagFile.write(before.withBindings(Map.of())) + "odd,COLOUR,,,,,,,,\n");
        robot.interact(() -> page(robot).importFrom(list));
        await(() -> table().lines().size() == before.lines().size());
        await(() -> told(robot).contains("'COLOUR' is not a type"));
        await(() -> tags(robot).getItems().size() == before.lines().size());
        press(robot, "#bind-suggest");
        WaitForAsyncUtils.waitForFxEvents();
        press(robot, "#confirm-bind");
        await(() -> table().bindings().size() > 15);
        robot.interact(() -> shell.workspace().undo());
        await(() -> table().bindings().isEmpty());
        press(robot, "#bind-rule");
        WaitForAsyncUtils.waitForFxEvents();
        type(robot, "ask", "Y5_{port}");
        press(robot, "#ask-ok");
        await(() -> "Y5_Fill".equals(table().bindings().get("fill")));
        await(() -> signals(robot).getItems().stream().anyMatch(r -> r.tag().equals("Y5_Fill")));
        robot.interact(() -> {
            signals(robot).getSelectionModel().clearSelection();
            signals(robot).getItems().stream().filter(r -> r.signal().name().equals("level"))
                    .forEach(r -> signals(robot).getSelectionModel()
                    .select(r));
            tags(robot).getItems().stream().filter(r -> r.line().name().equals("LT1_Level")).forEach(r -> {
                tags(robot).getSelectionModel().clearSelection();
                tags(robot).getSelectionModel().select(r);
            });
        });
        press(robot, "#bind-one");
        await(() -> "LT1_Level".equals(table().bindings().get("level")));
        await(() -> signals(robot).getItems().stream().anyMatch(r -> r.conversion().equals("steps of 1 mm, −32768 … 32767 mm")));
        press(robot, "#bind-none");
        await(() -> !table().bindings().containsKey("level"));
        assertThat(robot.lookup("#bind-summary").queryAs(Label.class).getText()).startsWith("1 of 24 ports");
    }

    @Test
    void aCellIsEditedAndWhatDoesNotFitIsRefused(FxRobot robot) throws Exception {
        choose(robot, "cabinet");
        page(robot, "tags");
        robot.interact(() -> page(robot).show(Place.tags("sequence", "LT1_Level")));
        await(() -> tags(robot).getSelectionModel().getSelectedItem() != null);
        assertThat(tags(robot).getSelectionModel().getSelectedItem().line().name()).isEqualTo("LT1_Level");
        commit(robot, 4, "zero");
        await(() -> told(robot).contains("'zero' is not a number"));
        commit(robot, 3, "V");
        await(() -> table().byName().get("LT1_Level").unit().equals("V"));
        await(() -> shell.workspace().findings().stream().anyMatch(f -> f.cause().contains("The signal is in m, the tag in V.")));
        robot.interact(() -> shell.workspace().undo());
        await(() -> shell.workspace().findings().isEmpty());
        press(robot, "#tags-view-bytes");
        WaitForAsyncUtils.waitForFxEvents();
        ListView<?> rows = robot.lookup("#bytes-rows").query();
        assertThat(rows.getItems()).hasSize(3);
    }

    private void commit(FxRobot robot, int column, String text) {
        robot.interact(() -> {
            @SuppressWarnings("unchecked")
            var c = (TableColumn<TagRow, String>) tags(robot).getColumns().get(column);
            int row = tags(robot).getSelectionModel().getSelectedIndex();
            c.getOnEditCommit().handle(new TableColumn.CellEditEvent<>(tags(robot),
                    new javafx.scene.control.TablePosition<>(tags(robot), row, c),
                    TableColumn.editCommitEvent(), text));
        });
        WaitForAsyncUtils.waitForFxEvents();
    }

    @Test
    void theCabinetRunsAndItsProgramIsWatched(FxRobot robot) throws Exception {
        robot.interact(() -> shell.run("cabinet"));
        await(() -> shell.session().live().filter(r -> r.seconds() > 0.5).isPresent());
        page(robot, "tags");
        press(robot, "#tags-view-bindings");
        press(robot, "#bind-watch");
        await(() -> told(robot).startsWith("Watching 27 tags"));
        await(() -> value(robot, "upper closed").equals("TRUE"));
        press(robot, "#tags-view-program");
        ComboBox<WatchedProgram.Instance> instance = robot.lookup("#program-instance").query();
        await(() -> instance.getItems().size() == 3);
        robot.interact(() -> instance.setValue(instance.getItems().stream().filter(i -> i.label().startsWith("Lock.steps")).findFirst()
                .orElseThrow()));
        ListView<WatchedProgram.Line> lines = robot.lookup("#program-lines").query();
        await(() -> robot.lookup(".watched").queryAllAs(Label.class).stream().anyMatch(l -> l.getText().equals("upper_closed = TRUE")));
        robot.interact(() -> lines.getSelectionModel().select(lines.getItems().stream()
                .filter(l -> l.text().contains("lower_closed : BOOL"))
                .findFirst().orElseThrow()));
        await(() -> robot.lookup("#program-uses").queryAs(javafx.scene.layout.VBox.class).getChildren().size() > 4);
        robot.interact(() -> shell.session().pause(true));
        awaitPhase(RigSession.Phase.PAUSED);
        double at = shell.session().live().orElseThrow().seconds();
        await(() -> !robot.lookup("#step").queryButton().isDisabled());
        press(robot, "#step");
        await(() -> shell.session().live().orElseThrow().seconds() > at);
        keys(robot, KeyCode.F12);
        awaitPhase(RigSession.Phase.ENDED);
    }

    private static String value(FxRobot robot, String signal) {
        var row = signals(robot).getItems().stream().filter(r -> r.signal().name().equals(signal)).findFirst().orElseThrow();
        return (String) signals(robot).getColumns().get(6).getCellObservableValue(row).getValue();
    }
}
