package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.Demo;
import boldanvil.app.sheet.SheetPage;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.files.ProjectWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import javafx.geometry.Point2D;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.input.KeyCode;
import javafx.scene.input.MouseButton;
import javafx.stage.Stage;
import org.fxmisc.richtext.CodeArea;
import org.junit.jupiter.api.Test;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;
import org.testfx.util.WaitForAsyncUtils;

/** The sheet by pointer and keys: draw, wire, move, copy, undo, fold, and the texts of blocks. */
class SheetWindowTest extends WindowFixture {
    @Start
    void start(Stage stage) throws Exception {
        begin(stage);
    }

    private static final SheetRef LOOP = new SheetRef("controller", "current-loop");

    @Test
    void aPartIsOpenedByDoubleClickAndLeftByItsCrumb(FxRobot robot) throws Exception {
        assertThat(shell.page(SheetPage.class).canvas().shown().nodes()).hasSize(4);
        robot.doubleClickOn(middle("Paddle controller"));
        await(() -> shell.navigator().path().equals("controller"));
        robot.doubleClickOn(middle("current loop"));
        await(() -> shell.navigator().path().equals("controller/current loop"));
        robot.clickOn("Larkmere Lock");
        await(() -> shell.navigator().path().isEmpty());
    }

    @Test
    void aBlockIsAddedWiredGivesAFindingAndIsMended(FxRobot robot) throws Exception {
        open(robot, "controller/current loop");
        // Type to find, Enter to take.
        robot.clickOn("#stock-search").write("gain").push(KeyCode.ENTER);
        await(() -> shell.workspace().findings().stream().anyMatch(f -> f.place().text().equals("controller/current loop/Gain · u")));
        assertThat(robot.lookup("#findings-button").queryLabeled().getText()).isEqualTo("1 finding, 1 error");
        assertThat(robot.lookup("#run").queryButton().isDisabled()).isTrue();
        drag(robot, output("demand", 0), input("Gain", "u"));
        await(() -> shell.workspace().findings().stream().noneMatch(f -> f.isError()));
        assertThat(shell.workspace().project().sheet(LOOP).orElseThrow().wires()).anyMatch(w -> w.toPort().equals("u")
                && w.to().equals(node("Gain").id()));
        // A parameter that names nothing, and its cure.
        robot.clickOn(middle("Gain"));
        enter(robot, "field-k", "Kp_nowhere * 2");
        await(() -> shell.workspace().findings().stream().anyMatch(f -> f.cause().contains("Kp_nowhere")));
        enter(robot, "field-k", "2 * Kp_i");
        await(() -> shell.workspace().findings().stream().noneMatch(f -> f.isError()));
        assertThat(shell.workspace().isDirty()).isTrue();
    }

    /** Ids made of addresses have dots, which a selector would read as style classes. */
    @Test
    void blocksAreMovedCopiedDeletedUndoneAndRedone(FxRobot robot) throws Exception {
        open(robot, "controller/current loop");
        double x = node("off").x();
        Point2D at = middle("off");
        drag(robot, at, at.add(0, 60));
        assertThat(shell.workspace().undoName()).hasValue("move block");
        assertThat(node("off").x()).isEqualTo(x);
        keys(robot, KeyCode.SHORTCUT, KeyCode.C);
        keys(robot, KeyCode.SHORTCUT, KeyCode.V);
        await(() -> shell.page(SheetPage.class).canvas().shown().nodes().stream().anyMatch(n -> n.title().equals("off 2")));
        keys(robot, KeyCode.DELETE);
        await(() -> shell.page(SheetPage.class).canvas().shown().nodes().stream().noneMatch(n -> n.title().equals("off 2")));
        keys(robot, KeyCode.SHORTCUT, KeyCode.Z);
        await(() -> shell.page(SheetPage.class).canvas().shown().nodes().stream().anyMatch(n -> n.title().equals("off 2")));
        keys(robot, KeyCode.SHORTCUT, KeyCode.Z);
        keys(robot, KeyCode.SHORTCUT, KeyCode.Z);
        await(() -> !shell.workspace().isDirty());
        keys(robot, KeyCode.SHORTCUT, KeyCode.SHIFT, KeyCode.Z);
        assertThat(shell.workspace().undoName()).hasValue("move block");
    }

    @Test
    void aWireIsDeletedAndDrawnAgain(FxRobot robot) throws Exception {
        open(robot, "controller/bridge");
        Point2D half = output("voltage", 0).add(input("to duty", "u")).multiply(0.5);
        robot.clickOn(half);
        keys(robot, KeyCode.DELETE);
        await(() -> !shell.workspace().findings().stream().noneMatch(f -> f.isError()));
        assertThat(shell.workspace().undoName()).hasValue("delete wire");
        // From the input backwards this time.
        drag(robot, input("to duty", "u"), output("voltage", 0));
        await(() -> shell.workspace().findings().stream().noneMatch(f -> f.isError()));
    }

    @Test
    void aBlockIsDraggedFromTheStockToItsPlace(FxRobot robot) throws Exception {
        open(robot, "controller/bridge");
        var canvas = shell.page(SheetPage.class).canvas();
        Point2D target = canvas.localToScreen(canvas.getWidth() / 2, canvas.getHeight() - 60);
        Node cell = robot.lookup("Sine").query();
        var from = cell.localToScreen(cell.getBoundsInLocal());
        // In one leap: the headless platform would hand a pressed pointer's way across the divider to the divider.
        var pointer = new javafx.scene.robot.Robot[1];
        robot.interact(() -> {
            pointer[0] = new javafx.scene.robot.Robot();
            pointer[0].mouseMove(from.getCenterX(), from.getCenterY());
        });
        robot.interact(() -> pointer[0].mousePress(MouseButton.PRIMARY));
        robot.interact(() -> pointer[0].mouseMove(target));
        robot.interact(() -> pointer[0].mouseRelease(MouseButton.PRIMARY));
        WaitForAsyncUtils.waitForFxEvents();
        await(() -> canvas.shown().nodes().stream().anyMatch(n -> n.title().equals("Sine")));
        Point2D put = canvas.onScreen(node("Sine").x() + 60, node("Sine").y() + 25);
        assertThat(put.distance(target)).isLessThan(15);
    }

    @Test
    void theSystemSheetOffersPartsAndThePanelsFold(FxRobot robot) throws Exception {
        robot.clickOn("#stock-search").write("plant").push(KeyCode.ENTER);
        await(() -> shell.workspace().project().part("plant").isPresent());
        assertThat(shell.page(SheetPage.class).canvas().selection()).containsExactly("plant");
        double before = shell.page(SheetPage.class).canvas().getWidth();
        keys(robot, KeyCode.ALT, KeyCode.S);
        await(() -> !shows(robot, "stock-search"));
        await(() -> shell.page(SheetPage.class).canvas().getWidth() > before);
        keys(robot, KeyCode.ALT, KeyCode.S);
        await(() -> robot.lookup("#stock-search").tryQuery().isPresent());
    }

    @Test
    void doubleClickOnPaperOffersBlocks(FxRobot robot) throws Exception {
        open(robot, "controller/bridge");
        robot.doubleClickOn(shell.page(SheetPage.class).canvas().localToScreen(60, 60));
        await(() -> robot.lookup("#quick-add").tryQuery().isPresent());
        robot.write("tap").push(KeyCode.ENTER);
        await(() -> shell.page(SheetPage.class).canvas().shown().nodes().stream().anyMatch(n -> n.title().equals("Tap")));
    }

    @Test
    void everyBlockOfTheStockExplainsItselfInTheDetails(FxRobot robot) throws Exception {
        // A project with nothing else, since each change has all of it reviewed.
        Path folder = temporary.resolve("stock");
        var part = new Part("stage", "Stage", Part.Kind.PLANT, "continuous", "10 us", "rk4", "float64", 0, 0, List.of(Sheet.empty("main")));
        ProjectWriter.write(Project.empty("Stock").withParts(List.of(part)), folder);
        robot.interact(() -> shell.open(folder));
        open(robot, "stage");
        for (var type : boldanvil.core.stock.Stock.all()) {
            robot.interact(() -> {
                String id = new boldanvil.app.model.SheetEdits(shell.workspace()).add(new SheetRef("stage", "main"), type, 700, 300);
                shell.page(SheetPage.class).canvas().select(Set.of(id));
            });
            // A review that comes in in the meantime has the details shown again, so they are looked at where that happens.
            List<String> texts = new ArrayList<>();
            robot.interact(() -> {
                robot.lookup("#details .label").queryAllAs(Label.class).forEach(l -> texts.add(l.getText()));
                shell.workspace().undo();
            });
            assertThat(texts).as(type.id()).contains(type.help());
        }
    }

    @Test
    void theTextOfABlockIsWrittenOverTheSheet(FxRobot robot) throws Exception {
        Path boat = Demo.copyTo(temporary.resolve("boat" + count++), "workboat");
        robot.interact(() -> shell.open(boat));
        open(robot, "helm");
        robot.interact(() -> shell.page(SheetPage.class).canvas().select(Set.of(node("allocation").id())));
        robot.clickOn("#edit-text");
        CodeArea area = robot.lookup("#text-area").query();
        assertThat(area.isVisible()).isTrue();
        assertThat(area.getText()).contains("VAR_INPUT");
        robot.interact(() -> area.replaceText(area.getText().replace("t1 := thrust[1] * scale;", "t1 := thrust[9] * scale;")));
        robot.clickOn("#text-check");
        await(() -> shell.workspace().findings().stream().anyMatch(f -> f.place().text().equals("helm/allocation")
                && f.cause().contains("The index 9 is outside")));
        // The finding is underlined where it is.
        int wrong = area.getText().indexOf("t1 := thrust[9]");
        await(() -> area.getStyleSpans(wrong, wrong + 15).stream().anyMatch(s -> s.getStyle().contains("wrong")));
        assertThat(area.getStyleAtPosition(area.getText().indexOf("VAR_INPUT") + 1)).containsExactly("keyword");
        // A name is proposed while it is written, and taken by Enter; its declaration is found.
        robot.interact(() -> {
            area.requestFocus();
            area.moveTo(area.getText().indexOf("t1 := thrust[9]"));
        });
        robot.write("thr");
        await(() -> robot.lookup("#proposals").tryQuery().isPresent());
        robot.push(KeyCode.ENTER);
        assertThat(area.getText()).contains("thrustt1 := thrust[9]");
        robot.interact(() -> area.moveTo(area.getCaretPosition() - 3));
        keys(robot, KeyCode.SHORTCUT, KeyCode.SHIFT, KeyCode.D);
        robot.interact(() -> area.undo());
        robot.interact(() -> shell.workspace().undo());
        await(() -> shell.workspace().findings().stream().noneMatch(f -> f.isError()));
        Path file = Files.writeString(temporary.resolve("block.st"), area.getText().replace("FOR k := 1 TO N DO", "FOR k := 1 TO DO"));
        robot.interact(() -> shell.page(SheetPage.class).loadText(file));
        await(() -> shell.workspace().findings().stream().anyMatch(f -> f.place().text().equals("helm/allocation")
                && f.cause().startsWith("Line ")));
        Path binary = Files.write(temporary.resolve("block.bin"), new byte[] {(byte) 0xC3, 0x28});
        robot.interact(() -> shell.page(SheetPage.class).loadText(binary));
        assertThat(robot.lookup("#text-said").queryLabeled().getText()).contains("not a text in UTF-8");
        robot.interact(() -> shell.workspace().undo());
        await(() -> shell.workspace().findings().stream().noneMatch(f -> f.isError()));
        // A list of proposals that comes late would take a click of the pointer.
        press(robot, "#text-close");
        await(() -> !robot.lookup("#text-pane").query().isVisible());
    }
}
