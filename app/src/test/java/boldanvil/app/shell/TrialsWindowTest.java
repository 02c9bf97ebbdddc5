package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.model.TrialRow;
import boldanvil.app.pages.TrialsPage;
import boldanvil.core.finding.Place;
import boldanvil.core.trial.Trial;
import java.nio.file.Files;
import java.nio.file.Path;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TableView;
import javafx.scene.control.TextArea;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;

class TrialsWindowTest extends WindowFixture {
    @Start
    void start(Stage stage) throws Exception {
        begin(stage);
    }

    private static TableView<TrialRow> table(FxRobot robot) {
        return robot.lookup("#trial-table").query();
    }

    private static String message(FxRobot robot) {
        return robot.lookup("#trial-message").queryAs(Label.class).getText();
    }

    private void write(FxRobot robot, String name, String text) {
        robot.interact(() -> shell.workspace().edit("write", p -> p.withTrial(name + Trial.ENDING, text)));
    }

    @Test
    void aTrialIsWrittenRunReadAndReported(FxRobot robot) throws Exception {
        robot.clickOn("#page-trials");
        robot.clickOn("#trial-new");
        enter(robot, "ask", "holds-still");
        assertThat(robot.lookup("#trial-title").queryAs(Label.class).getText()).isEqualTo("holds still");
        robot.clickOn("#trial-as-text");
        var text = robot.lookup("#trial-text").queryAs(TextArea.class);
        robot.interact(() -> text.setText(text.getText().replace("wait 1 s", "wait 50 ms") + "expect drive.speed > 1 m/s   [PD-9]\n"
                + "expect drive.position between -5 mm and 5 mm\n"));
        robot.clickOn("#trial-as-text");
        await(() -> table(robot).getItems().size() == 3);
        robot.clickOn("#trial-run");
        await(() -> !shell.trials().isRunning() && shell.trials().records().size() == 1);
        await(() -> message(robot).startsWith("failed on desk: 1 of 2 expectations"));
        var failed = table(robot).getItems().get(1);
        assertThat(failed.result()).isEqualTo("✕ failed");
        assertThat(failed.requirements()).containsExactly("PD-9");
        assertThat(failed.seen()).startsWith("drive.speed = ");
        robot.interact(() -> table(robot).getSelectionModel().select(1));
        Path html = temporary.resolve("trials.html");
        robot.interact(() -> shell.page(TrialsPage.class).trials().saveReport(html));
        await(() -> Files.exists(html));
        assertThat(Files.readString(html)).contains("holds still", "expect drive.speed &gt; 1 m/s", "PD-9", "<svg");
    }

    @Test
    void coverageIsListedAndShownOnTheSheets(FxRobot robot) throws Exception {
        write(robot, "brief", "trial Brief\nrigs desk\n\nwait 20 ms\nexpect drive.position < 1 m\n");
        robot.clickOn("#page-trials");
        robot.interact(() -> {
            shell.page(TrialsPage.class).trials();
            shell.show(Place.trial("brief", 4));
        });
        robot.clickOn("#trial-coverage");
        robot.clickOn("#trial-run");
        await(() -> !shell.trials().isRunning() && !shell.trials().coverage().isEmpty());
        robot.clickOn("#trials-view-coverage");
        var covered = robot.lookup("#coverage-table").<TableView<boldanvil.core.coverage.Coverage.OfBlock>>query();
        await(() -> covered.getItems().stream().anyMatch(b -> b.path().equals("controller/overcurrent")));
        assertThat(robot.lookup("#coverage-summary").queryAs(Label.class).getText()).startsWith("controller: outcomes ");
        robot.interact(() -> covered.getSelectionModel().select(covered.getItems().stream().filter(b -> b.path().equals(
                "controller/overcurrent")).findFirst().orElseThrow()));
        assertThat(robot.lookup("#coverage-missing").queryAs(Label.class).getText()).contains("never true: ");
        robot.clickOn("#coverage-sheets");
        assertThat(robot.lookup("#sheet-legend").queryAs(Label.class).getText()).startsWith("Coverage by trials");
        robot.clickOn("#page-trials");
        robot.clickOn("#trials-view-trials");
        robot.clickOn("#trial-open-run");
        await(() -> shell.page(boldanvil.app.pages.RunsPage.class).list().getSelectionModel().getSelectedItems().stream()
                .anyMatch(e -> e.note().name().equals("trial brief")));
    }

    @Test
    void stepsAreInsertedMovedChangedAndDeletedAndUndoBringsThemBack(FxRobot robot) throws Exception {
        write(robot, "steps", "trial Steps\nrigs desk\n\nwait 1 ms\nexpect drive.position < 1 m   [R-1]\n");
        robot.clickOn("#page-trials");
        robot.interact(() -> shell.page(TrialsPage.class).trials());
        robot.interact(() -> shell.show(Place.trial("steps", 4)));
        await(() -> table(robot).getItems().size() == 2);
        robot.clickOn("#trial-insert");
        await(() -> table(robot).getItems().size() == 3);
        assertThat(table(robot).getSelectionModel().getSelectedItem().line()).isEqualTo(5);
        robot.clickOn("#trial-down");
        assertThat(table(robot).getItems()).extracting(TrialRow::text).containsExactly("wait 1 ms", "expect drive.position < 1 m",
                "wait 1 s");
        robot.clickOn("#trial-drop");
        await(() -> table(robot).getItems().size() == 2);
        robot.interact(() -> shell.workspace().undo());
        await(() -> table(robot).getItems().size() == 3);
    }

    @Test
    void aLineThatDoesNotFitTheRigSaysWhy(FxRobot robot) throws Exception {
        write(robot, "wrong", "rigs desk\nwait 1 ms\nexpect drive.nothing > 1\n");
        robot.clickOn("#page-trials");
        robot.interact(() -> shell.show(Place.trial("wrong", 3)));
        await(() -> table(robot).getItems().stream().anyMatch(r -> r.seen().contains("neither a signal that is recorded")));
        assertThat(table(robot).getItems().get(1).result()).isEqualTo("✕ wrong");
    }

    @Test
    void aQuestionIsAnsweredInTheWindow(FxRobot robot) throws Exception {
        write(robot, "asks", "rigs desk\nask \"Is the paddle free?\"\nexpect drive.position < 1 m\n");
        robot.clickOn("#page-trials");
        robot.interact(() -> shell.show(Place.trial("asks", 2)));
        await(() -> table(robot).getItems().size() == 2);
        robot.clickOn("#trial-run");
        await(() -> robot.lookup("#trial-question").queryAs(Label.class).getText().equals("Is the paddle free?"));
        await(() -> robot.lookup("#trial-yes").tryQueryAs(Button.class).filter(b -> b.getParent().isVisible()).isPresent());
        robot.clickOn("#trial-yes");
        await(() -> message(robot).startsWith("passed on desk: 2 of 2"));
    }

    @Test
    void aTrialThatLastsCanBeStopped(FxRobot robot) throws Exception {
        write(robot, "long", "rigs desk\nlimit 100000 s\nwait 90000 s\nexpect drive.position < 1 m\n");
        robot.clickOn("#page-trials");
        robot.interact(() -> shell.show(Place.trial("long", 3)));
        await(() -> table(robot).getItems().size() == 2);
        robot.clickOn("#trial-run");
        await(() -> shell.trials().seconds() > 0);
        robot.clickOn("#trial-stop");
        await(() -> !shell.trials().isRunning());
    }
}
