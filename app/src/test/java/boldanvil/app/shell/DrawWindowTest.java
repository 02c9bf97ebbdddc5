package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.bench.BenchPage;
import boldanvil.app.model.RigSession;
import boldanvil.app.sheet.SheetPage;
import boldanvil.core.compare.Change;
import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import java.nio.file.Path;
import java.util.Set;
import javafx.scene.control.ButtonBase;
import javafx.scene.control.ListView;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;

/** A controller drawn from an empty sheet by pointer and keys, run, looked at in the past, and compared. */
class DrawWindowTest extends WindowFixture {
    private static final SheetRef MAIN = new SheetRef("controller", "main");
    private Path projects;

    @Start
    void start(Stage stage) {
        projects = temporary.resolve("draw" + count++);
        show(stage);
    }

    private Block block(String name) {
        return shell.workspace().project().sheet(MAIN).orElseThrow().blocks().stream().filter(b -> b.name().equals(name)).findFirst()
                .orElseThrow();
    }

    private boolean wired(String from, String to, String port) {
        return shell.workspace().project().sheet(MAIN).orElseThrow().wires().stream()
                .anyMatch(w -> w.from().equals(block(from).id()) && w.drives(block(to).id(), port));
    }

    /** Puts a block behind the selected one, by the stock. */
    private void behind(FxRobot robot, String words) {
        robot.clickOn("#stock-search");
        keys(robot, KeyCode.SHORTCUT, KeyCode.A);
        robot.write(words).push(KeyCode.ENTER);
        robot.interact(() -> { });
    }

    private void emptyProject(FxRobot robot) {
        press(robot, "#start-new");
        robot.interact(() -> {
            robot.lookup("#new-name").queryAs(TextField.class).setText("Paddle loop");
            robot.lookup("#new-place").queryAs(TextField.class).setText(projects.toString());
            robot.lookup("#template-").queryAs(ButtonBase.class).fire();
            robot.lookup("#new-create").queryAs(ButtonBase.class).fire();
        });
        shell.show("Sheet");
        open(robot, "controller");
    }

    @Test
    void thePositionLoopFromAnEmptySheetToTheComparison(FxRobot robot) throws Exception {
        emptyProject(robot);
        assertThat(canvas().shown().nodes()).isEmpty();
        // A letter asks for a block; the next ones come behind it, wired.
        robot.interact(() -> canvas().requestFocus());
        robot.write("tunable").push(KeyCode.ENTER);
        await(() -> canvas().shown().nodes().size() == 1);
        behind(robot, "sum");
        behind(robot, "gain");
        behind(robot, "saturation");
        behind(robot, "discrete integrator");
        behind(robot, "tap");
        await(() -> canvas().shown().nodes().size() == 6);
        assertThat(wired("Tunable", "Sum", "u1")).isTrue();
        assertThat(wired("Saturation", "Discrete integrator", "u")).isTrue();
        assertThat(wired("Discrete integrator", "Tap", "u")).isTrue();
        // The feedback is drawn from port to port.
        robot.interact(() -> {
            canvas().fit();
            canvas().paint();
        });
        drag(robot, output("Discrete integrator", 0), input("Sum", "u2"));
        assertThat(wired("Discrete integrator", "Sum", "u2")).isTrue();
        robot.clickOn(middle("Sum"));
        enter(robot, "field-signs", "+-");
        // Values and names are edited where they stand.
        var gain = node("Gain");
        robot.doubleClickOn(canvas().onScreen(gain.x() + 40, gain.y() + 36));
        keys(robot, KeyCode.SHORTCUT, KeyCode.A);
        robot.write("12").push(KeyCode.ENTER);
        await(() -> "12".equals(block("Gain").settings().get("k")));
        robot.doubleClickOn(middle("Tap"));
        keys(robot, KeyCode.SHORTCUT, KeyCode.A);
        robot.write("position").push(KeyCode.ENTER);
        await(() -> canvas().shown().nodes().stream().anyMatch(n -> n.title().equals("position")));
        robot.interact(() -> shell.workspace().edit("target", p -> p.change(MAIN,
                s -> s.change(block("Tunable").id(), b -> b.with("value", "0.4")))));
        await(() -> shell.workspace().findings().stream().noneMatch(f -> f.isError()));
        // A subsystem of gain and saturation.
        robot.interact(() -> canvas().select(Set.of(block("Gain").id(), block("Saturation").id())));
        command(robot, "Make a subsystem of the selection");
        robot.write("controller core").push(KeyCode.ENTER);
        await(() -> canvas().shown().nodes().stream().anyMatch(n -> n.title().equals("controller core")));
        assertThat(canvas().shown().nodes()).hasSize(5);
        await(() -> shell.workspace().findings().stream().noneMatch(f -> f.isError()) && !shell.workspace().isReviewing());
        command(robot, "Save");
        Path folder = shell.workspace().folder().orElseThrow();
        // Run, and go back in time.
        robot.interact(() -> shell.run("desk"));
        awaitPhase(RigSession.Phase.RUNNING);
        await(() -> shell.session().run().orElseThrow().seconds() > 0.4);
        robot.interact(() -> shell.session().stop());
        await(() -> !shell.session().isBusy());
        robot.interact(() -> {
            shell.show("Sheet");
            shell.navigator().open("controller");
        });
        var travel = shell.page(SheetPage.class).timeTravel();
        command(robot, "Show the values at a past instant");
        await(() -> travel.progress() >= 1);
        assertThat(travel.message()).isEqualTo("Agrees with the record bit for bit.");
        var run = shell.session().run().orElseThrow();
        robot.interact(() -> travel.goTo(0.1));
        await(() -> travel.value(block("Discrete integrator").id(), "y").isPresent());
        double then = travel.value(block("Discrete integrator").id(), "y").orElseThrow().value();
        assertThat(then).isEqualTo(run.store().valueAt(run.store().indexOf("controller.position"), 0.1)).isBetween(0.09, 0.2);
        assertThat(travel.value(block("Sum").id(), "y").orElseThrow().value()).isEqualTo(0.4 - then);
        press(robot, "#instant-end");
        assertThat(travel.isOn()).isFalse();
        robot.interact(() -> shell.page(BenchPage.class).traces().setCursors(0.2, 0.3));
        command(robot, "Show the values at the cursor of the traces");
        assertThat(travel.instant()).isEqualTo(0.2);
        press(robot, "#instant-end");
        // What is changed now shows against the saved version.
        robot.interact(() -> shell.workspace().edit("x", p -> p.change(MAIN,
                s -> s.change(block("Tunable").id(), b -> b.with("value", "0.5")))));
        command(robot, "Compare with the saved version");
        var list = robot.lookup("#compare-list").<ListView<Change>>query();
        assertThat(list.getItems()).extracting(Change::text).containsExactly("value: 0.4 → 0.5");
        press(robot, "#compare-end");
        assertThat(robot.lookup("#compare-list").tryQuery()).isEmpty();
        // What was saved is what was drawn.
        assertThat(ProjectReader.read(folder).sheet(MAIN).orElseThrow().blocks()).hasSize(5);
    }

    @Test
    void wiresAreLaidBranchedRehungAndDroppedOnPaper(FxRobot robot) throws Exception {
        emptyProject(robot);
        robot.interact(() -> {
            var e = shell.edits();
            e.add(MAIN, boldanvil.core.stock.Stock.find("constant").orElseThrow(), 0, 0);
            e.add(MAIN, boldanvil.core.stock.Stock.find("sum").orElseThrow(), 260, 160);
            e.add(MAIN, boldanvil.core.stock.Stock.find("abs").orElseThrow(), 260, 0);
            canvas().fit();
            canvas().paint();
        });
        drag(robot, output("Constant", 0), input("Sum", "u1"));
        assertThat(wired("Constant", "Sum", "u1")).isTrue();
        await(() -> canvas().shown().links().size() == 1);
        robot.sleep(300);
        // The upright segment goes where it is dragged, and stays there when a block moves.
        var n = node("Constant");
        double x = n.x() + n.width();
        var before = shell.workspace().project();
        robot.interact(() -> shell.edits().lay(MAIN, canvas().shown().links().getFirst().wire(), canvas().shown().links().getFirst().wire()
                .laid(java.util.List.of(new boldanvil.core.diagram.Lane(true, x + 20)))));
        drag(robot, canvas().onScreen(x + 20, n.y() + 120), canvas().onScreen(x + 80, n.y() + 120));
        assertThat(canvas().shown().links().getFirst().wire().lanes()).containsExactly(new boldanvil.core.diagram.Lane(true, x + 80));
        robot.interact(() -> shell.edits().move(MAIN, Set.of(block("Constant").id()), 0, 30));
        assertThat(canvas().shown().links().getFirst().wire().lanes()).containsExactly(new boldanvil.core.diagram.Lane(true, x + 80));
        // A branch: from a free input to the wire.
        drag(robot, input("Absolute value", "u"), canvas().onScreen(x + 80, n.y() + 150));
        assertThat(wired("Constant", "Absolute value", "u")).isTrue();
        // The end of a wire is hung on another port.
        drag(robot, input("Absolute value", "u"), input("Sum", "u2"));
        assertThat(wired("Constant", "Sum", "u2")).isTrue();
        assertThat(wired("Constant", "Absolute value", "u")).isFalse();
        // On empty paper a block is asked for that fits.
        drag(robot, output("Sum", 0), canvas().onScreen(480, 40));
        robot.write("gain").push(KeyCode.ENTER);
        await(() -> canvas().shown().nodes().size() == 4);
        assertThat(wired("Sum", "Gain", "u")).isTrue();
        // Everything can be undone.
        robot.interact(() -> {
            while (!shell.workspace().project().equals(before)) {
                shell.workspace().undo();
            }
        });
        assertThat(ProjectWriter.files(shell.workspace().project())).isEqualTo(ProjectWriter.files(before));
    }

    @Test
    void aBlockDroppedOnAWireIsInsertedAndHealedAgain(FxRobot robot) throws Exception {
        emptyProject(robot);
        robot.interact(() -> {
            var e = shell.edits();
            String a = e.add(MAIN, boldanvil.core.stock.Stock.find("constant").orElseThrow(), 0, 0);
            e.add(MAIN, boldanvil.core.stock.Stock.find("tap").orElseThrow(), 480, 0);
            e.connectBlocks(MAIN, a, block("Tap").id());
            e.add(MAIN, boldanvil.core.stock.Stock.find("gain").orElseThrow(), 200, 200);
            canvas().fit();
            canvas().paint();
        });
        robot.sleep(300);
        var from = middle("Gain");
        drag(robot, from, canvas().onScreen(node("Gain").x() + node("Gain").width() / 2 + 30, 12));
        assertThat(wired("Constant", "Gain", "u")).isTrue();
        assertThat(wired("Gain", "Tap", "u")).isTrue();
        robot.interact(() -> canvas().select(Set.of(block("Gain").id())));
        command(robot, "Delete and join the wires");
        assertThat(wired("Constant", "Tap", "u")).isTrue();
        // However far it is panned, a part of the sheet stays in view.
        for (int i = 0; i < 40; i++) {
            robot.interact(() -> canvas().fireEvent(new javafx.scene.input.ScrollEvent(javafx.scene.input.ScrollEvent.SCROLL, 100, 100, 0,
                    0,
                    false, false, false, false, false, false, 0, -400, 0, -400,
                    javafx.scene.input.ScrollEvent.HorizontalTextScrollUnits.NONE, 0,
                    javafx.scene.input.ScrollEvent.VerticalTextScrollUnits.NONE, 0, 0, null)));
        }
        assertThat(canvas().toSheet(0, 0).getY()).isLessThan(50);
    }
}
