package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.Demo;
import boldanvil.app.model.RigSession;
import boldanvil.app.sheet.SheetCanvas;
import boldanvil.app.sheet.SheetPage;
import boldanvil.app.widget.Theme;
import boldanvil.core.control.DeviceRegistry;
import boldanvil.core.sheet.SheetScene;
import boldanvil.core.sheet.SheetScene.PortKind;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import java.util.concurrent.TimeUnit;
import javafx.geometry.Point2D;
import javafx.scene.Node;
import javafx.scene.Scene;
import javafx.scene.control.ButtonBase;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.scene.input.MouseButton;
import javafx.stage.Stage;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.extension.ExtendWith;
import org.junit.jupiter.api.io.TempDir;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.ApplicationExtension;
import org.testfx.util.WaitForAsyncUtils;

/** A window on a copy of the demo, driven by pointer and keys through the real toolkit, without a display. */
@ExtendWith(ApplicationExtension.class)
@Timeout(120)
abstract class WindowFixture {
    @TempDir
    static Path temporary;

    static int count;

    Path folder;
    Shell shell;

    /** Opens the window; TestFX looks for its start in the test class itself, which calls this. */
    void begin(Stage stage) throws Exception {
        folder = Demo.copyTo(temporary.resolve("lock" + count++));
        show(stage);
        shell.open(folder);
        shell.show("Sheet");
    }

    @AfterEach
    void close() {
        WaitForAsyncUtils.asyncFx(shell::close);
        WaitForAsyncUtils.waitForFxEvents();
    }

    static void await(Callable<Boolean> condition) throws Exception {
        WaitForAsyncUtils.waitFor(40, TimeUnit.SECONDS, () -> WaitForAsyncUtils.waitForAsyncFx(10_000, condition));
        WaitForAsyncUtils.waitForFxEvents();
    }

    void page(FxRobot robot, String name) {
        robot.clickOn("#page-" + name);
        WaitForAsyncUtils.waitForFxEvents();
    }

    void choose(FxRobot robot, String rig) {
        robot.interact(() -> robot.lookup("#rig").<ChoiceBox<String>>query().setValue(rig));
    }

    static void keys(FxRobot robot, KeyCode... codes) {
        robot.push(codes);
        WaitForAsyncUtils.waitForFxEvents();
    }

    void awaitPhase(RigSession.Phase phase) throws Exception {
        await(() -> shell.session().phase() == phase);
    }

    SheetCanvas canvas() {
        return shell.page(SheetPage.class).canvas();
    }

    /** Opens a window without a project. */
    void show(Stage stage) {
        System.setProperty(DeviceRegistry.FOLDER, temporary.resolve("devices").toString());
        Theme.loadFonts();
        shell = new Shell();
        stage.setScene(new Scene(shell, 1280, 800));
        stage.show();
    }

    static void type(FxRobot robot, String id, String text) {
        robot.interact(() -> ((TextField) byId(robot, id)).setText(text));
    }

    /** What the status line says. */
    static String status(FxRobot robot) {
        return robot.lookup("#message").queryAs(Label.class).getText();
    }

    /** Opens a list and chooses from it. */
    static void choose(FxRobot robot, String box, String value) {
        robot.interact(() -> {
            var b = robot.lookup("#" + box).<ComboBox<String>>query();
            b.getOnShowing().handle(null);
            assertThat(b.getItems()).contains(value);
            b.setValue(value);
        });
        WaitForAsyncUtils.waitForFxEvents();
    }

    static void press(FxRobot robot, String id) {
        robot.interact(() -> robot.lookup(id).queryAs(ButtonBase.class).fire());
    }

    void command(FxRobot robot, String name) {
        robot.interact(() -> shell.commandList().stream().filter(c -> c.name().equals(name)).findFirst().orElseThrow().action().run());
    }

    static boolean shows(FxRobot robot, String id) {
        return robot.lookup((Node n) -> id.equals(n.getId())).tryQuery().isPresent();
    }

    static Node byId(FxRobot robot, String id) {
        return robot.lookup((Node n) -> id.equals(n.getId())).query();
    }

    void enter(FxRobot robot, String field, String text) {
        robot.clickOn(byId(robot, field));
        keys(robot, KeyCode.SHORTCUT, KeyCode.A);
        robot.write(text).push(KeyCode.ENTER);
        WaitForAsyncUtils.waitForFxEvents();
    }

    void open(FxRobot robot, String path) {
        robot.interact(() -> shell.navigator().open(path));
        WaitForAsyncUtils.waitForFxEvents();
    }

    SheetScene.Node node(String title) {
        return canvas().shown().nodes().stream().filter(n -> n.title().equals(title)).findFirst().orElseThrow();
    }

    Point2D middle(String title) {
        var n = node(title);
        return canvas().onScreen(n.x() + n.width() / 2, n.y() + 12);
    }

    Point2D output(String title, int port) {
        var n = node(title);
        return onScreen(n, n.ports(PortKind.OUTPUT).get(port));
    }

    Point2D input(String title, String port) {
        var n = node(title);
        return onScreen(n, n.port(PortKind.INPUT, port).orElseThrow());
    }

    Point2D onScreen(SheetScene.Node n, SheetScene.Port port) {
        return canvas().onScreen(n.at(port).x(), n.at(port).y());
    }

    void drag(FxRobot robot, Point2D from, Point2D to) {
        robot.moveTo(from).press(MouseButton.PRIMARY).moveTo(from.add(to).multiply(0.5)).moveTo(to).release(MouseButton.PRIMARY);
        WaitForAsyncUtils.waitForFxEvents();
    }
}
