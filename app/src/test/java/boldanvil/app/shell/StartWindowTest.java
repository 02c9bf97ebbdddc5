package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.Demo;
import boldanvil.core.control.DeviceRegistry;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.user.RecentProjects;
import java.nio.file.Files;
import java.nio.file.Path;
import javafx.scene.control.Label;
import javafx.scene.control.Menu;
import javafx.scene.control.MenuBar;
import javafx.scene.control.MenuItem;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;

/** The window without a project: start page, examples, new project, menu; and how a project is closed. */
class StartWindowTest extends WindowFixture {
    @Start
    void start(Stage stage) throws Exception {
        System.setProperty(DeviceRegistry.FOLDER, temporary.resolve("devices").toString());
        folder = Demo.copyTo(temporary.resolve("start" + count++), "motor-position");
        show(stage);
    }

    private boolean isStart(FxRobot robot) {
        return robot.lookup("#start").tryQuery().isPresent();
    }

    private void edit(FxRobot robot) {
        robot.interact(() -> shell.workspace().edit("clear", p -> p.withVariables(java.util.List.of())));
    }

    @Test
    void anExampleIsOpenedAsACopy(FxRobot robot) {
        assertThat(isStart(robot)).isTrue();
        press(robot, "#example-motor-position");
        robot.interact(() -> {
            robot.lookup("#new-place").queryAs(TextField.class).setText(temporary.toString());
            robot.lookup("#new-name").queryAs(TextField.class).setText("My motor " + count);
        });
        press(robot, "#new-create");
        assertThat(isStart(robot)).isFalse();
        assertThat(shell.workspace().project().name()).isEqualTo("My motor " + count);
        Path copy = temporary.resolve("my-motor-" + count);
        assertThat(shell.workspace().folder()).hasValue(copy);
        assertThat(RecentProjects.ofUser().list()).first().isEqualTo(copy);
    }

    @Test
    void aFormThatCannotBeUsedSaysWhy(FxRobot robot) throws Exception {
        keys(robot, KeyCode.SHORTCUT, KeyCode.N);
        robot.interact(() -> robot.lookup("#new-place").queryAs(TextField.class).setText(folder.getParent().toString()));
        robot.interact(() -> robot.lookup("#new-name").queryAs(TextField.class).setText(folder.getFileName().toString()));
        press(robot, "#new-create");
        assertThat(robot.lookup(".bad").queryAllAs(Label.class)).anyMatch(l -> l.getText().contains("not empty"));
        robot.interact(() -> robot.lookup("#new-name").queryAs(TextField.class).setText("!!"));
        press(robot, "#new-create");
        assertThat(robot.lookup(".bad").queryAllAs(Label.class)).anyMatch(l -> l.getText().contains("letters or digits"));
        assertThat(shell.workspace().folder()).isEmpty();
    }

    @Test
    void editsThatAreNotSavedAreAskedAbout(FxRobot robot) {
        robot.interact(() -> shell.open(folder));
        assertThat(isStart(robot)).isFalse();
        edit(robot);
        keys(robot, KeyCode.SHORTCUT, KeyCode.W);
        press(robot, "#confirm-cancel");
        assertThat(shell.workspace().folder()).hasValue(folder);
        keys(robot, KeyCode.SHORTCUT, KeyCode.W);
        press(robot, "#confirm-discard");
        assertThat(isStart(robot)).isTrue();
        assertThat(ProjectReader.read(folder).variables()).isNotEmpty();
        robot.interact(() -> shell.open(folder));
        assertThat(shell.workspace().findings()).as("what was discarded is not offered again")
                .noneMatch(f -> f.place().text().equals("journal"));
        edit(robot);
        keys(robot, KeyCode.SHORTCUT, KeyCode.W);
        press(robot, "#confirm-save");
        assertThat(isStart(robot)).isTrue();
        assertThat(ProjectReader.read(folder).variables()).isEmpty();
        robot.interact(() -> shell.open(folder));
        keys(robot, KeyCode.SHORTCUT, KeyCode.W);
        assertThat(isStart(robot)).as("nothing to ask").isTrue();
    }

    @Test
    void aProjectIsSavedIntoAnotherFolder(FxRobot robot) throws Exception {
        robot.interact(() -> shell.open(folder));
        edit(robot);
        Path other = temporary.resolve("other" + count);
        robot.interact(() -> shell.desk().saveAs(other));
        assertThat(shell.workspace().folder()).hasValue(other);
        assertThat(shell.workspace().isDirty()).isFalse();
        assertThat(ProjectReader.read(other).variables()).isEmpty();
        assertThat(ProjectReader.read(folder).variables()).as("the former folder is as it was").isNotEmpty();
        robot.interact(() -> shell.desk().saveAs(folder));
        assertThat(robot.lookup("#message").queryAs(Label.class).getText()).contains("There is a project in this folder");
        assertThat(Files.exists(folder.resolve(".journal"))).isFalse();
    }

    @Test
    void theMenuHasEveryCommandWithItsKeyAndTheRecentProjects(FxRobot robot) {
        robot.interact(() -> shell.open(folder));
        var menus = robot.lookup("#main-menu").queryAs(MenuBar.class).getMenus();
        assertThat(menus).extracting(Menu::getText).containsExactly("Project", "Edit", "View", "Sheet", "Build", "Rig", "Bench", "Trials",
                "Help");
        var items = menus.stream().flatMap(m -> m.getItems().stream()).toList();
        assertThat(items).extracting(MenuItem::getText).contains("Save as …", "Undo", "Go to Runs", "Fit the sheet to the window",
                "Stop all", "First walk");
        assertThat(items.stream().filter(i -> i.getText().equals("Save")).findFirst().orElseThrow().getAccelerator()).isNotNull();
        var project = menus.getFirst();
        robot.interact(project::show);
        var recent = project.getItems().stream().filter(i -> "open-recent".equals(i.getId())).map(Menu.class::cast).findFirst()
                .orElseThrow();
        assertThat(recent.getItems()).first().extracting(MenuItem::getText).asString().startsWith(folder.getFileName().toString());
        robot.interact(project::hide);
    }

    @Test
    void theFirstWalkGoesOverThePagesAndCanBeLeft(FxRobot robot) throws Exception {
        robot.interact(() -> shell.open(folder));
        robot.interact(() -> shell.desk().walk());
        int steps = 0;
        var seen = new java.util.HashSet<String>();
        while (robot.lookup("#walk-text").tryQuery().isPresent() && steps++ < 20) {
            seen.add(robot.lookup("#walk-text").queryAs(Label.class).getText());
            press(robot, "#walk-next");
        }
        assertThat(seen).hasSize(8);
        robot.interact(() -> shell.desk().walk());
        press(robot, "#walk-leave");
        assertThat(robot.lookup("#walk-text").tryQuery()).isEmpty();
    }
}
