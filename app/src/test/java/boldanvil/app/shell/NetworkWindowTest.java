package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.app.model.RigSession;
import boldanvil.app.sheet.SheetPage;
import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Look;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.sheet.SheetScene.Node;
import boldanvil.core.sheet.SheetScene.PortKind;
import boldanvil.core.stock.Stock;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import javafx.geometry.Point2D;
import javafx.scene.control.Label;
import javafx.scene.control.MenuButton;
import javafx.scene.control.TextField;
import javafx.scene.input.KeyCode;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;

/** A circuit drawn by pointer and keys, and run. */
class NetworkWindowTest extends WindowFixture {
    private static final SheetRef MAIN = new SheetRef("stage", "main");

    @Start
    void start(Stage stage) {
        show(stage);
        folder = temporary.resolve("network" + count++);
        var part = new Part("stage", "Stage", Part.Kind.PLANT, "continuous", "10 us", "rk4", "float64", 0, 0, List.of(Sheet.empty("main")));
        ProjectWriter.write(Project.empty("Circuit").withParts(List.of(part)).withRigs(List.of(new Rig("desk", "", Rig.Terminals.IDEAL,
                Map.of()))), Path.of(folder.toString()));
        shell.open(folder);
        shell.show("Sheet");
        shell.navigator().open("stage");
    }

    private Sheet sheet() {
        return shell.workspace().project().sheet(MAIN).orElseThrow();
    }

    private String add(String type, double x, double y) {
        return shell.edits().add(MAIN, Stock.find(type).orElseThrow(), x, y);
    }

    private Point2D contact(String block, String name) {
        Node n = canvas().shown().nodes().stream().filter(x -> x.id().equals(block)).findFirst().orElseThrow();
        var at = n.at(n.port(PortKind.CONTACT, name).orElseThrow());
        return canvas().onScreen(at.x(), at.y());
    }

    private boolean joined(String a, String contactA, String b, String contactB) {
        return sheet().wires().stream().anyMatch(w -> w.isNet() && (w.from().equals(a) && w.fromPort().equals(contactA) && w.to().equals(b)
                && w.toPort().equals(contactB) || w.from().equals(b) && w.fromPort().equals(contactB) && w.to().equals(a)
                && w.toPort().equals(contactA)));
    }

    @Test
    void aCircuitIsDrawnByHandAndCharges(FxRobot robot) throws Exception {
        String[] id = new String[5];
        robot.interact(() -> {
            id[0] = add("voltage source", 0, 100);
            id[1] = add("resistor", 140, 40);
            id[2] = add("capacitor", 280, 120);
            id[3] = add("ground", 140, 240);
            shell.edits().look(MAIN, Set.of(id[2]), "turn", Look::turnedOnce);
            canvas().fit();
            canvas().paint();
        });
        drag(robot, contact(id[0], "a"), contact(id[1], "a"));
        drag(robot, contact(id[1], "b"), contact(id[2], "a"));
        drag(robot, contact(id[2], "b"), contact(id[3], "a"));
        drag(robot, contact(id[0], "b"), contact(id[3], "a"));
        assertThat(joined(id[0], "a", id[1], "a")).isTrue();
        assertThat(joined(id[1], "b", id[2], "a")).isTrue();
        assertThat(sheet().wires()).hasSize(4).allMatch(w -> w.isNet());
        // On empty paper an element of the same domain is asked for.
        drag(robot, contact(id[2], "a"), canvas().onScreen(420, 60));
        robot.write("voltm").push(KeyCode.ENTER);
        await(() -> sheet().blocks().stream().anyMatch(b -> b.type().equals("voltmeter")));
        String meter = sheet().blocks().stream().filter(b -> b.type().equals("voltmeter")).map(Block::id).findFirst().orElseThrow();
        assertThat(joined(id[2], "a", meter, "a")).isTrue();
        drag(robot, contact(meter, "b"), contact(id[3], "a"));
        robot.interact(() -> {
            id[4] = add("tap", 560, 100);
            shell.edits().connectBlocks(MAIN, meter, id[4]);
        });
        await(() -> shell.workspace().findings().isEmpty());
        robot.interact(() -> shell.run("desk"));
        awaitPhase(RigSession.Phase.RUNNING);
        await(() -> shell.session().run().orElseThrow().seconds() > 0.05);
        // Pointed at while it runs: the capacitor is full.
        pointAt(robot, id[2]);
        var hover = robot.lookup("#element-hover").queryAs(Label.class);
        await(() -> hover.isVisible() && hover.getText().contains("12 V"));
        robot.interact(() -> shell.session().stop());
        var store = shell.session().run().orElseThrow().store();
        // 12 V through 10 Ω into 100 µF.
        assertThat(store.valueAt(0, 1e-3)).isCloseTo(12 * (1 - Math.exp(-1)), within(1e-6));
        // Pointed at in the past, the resistor shows both contacts: 12 V, what is left on it, and the current.
        var travel = shell.page(SheetPage.class).timeTravel();
        await(() -> !shell.session().isBusy());
        command(robot, "Show the values at a past instant");
        await(() -> travel.isOn() && travel.progress() >= 1);
        robot.interact(() -> travel.goTo(1e-3));
        await(() -> travel.value(id[1], "a current").isPresent());
        assertThat(travel.value(id[1], "a current").orElseThrow().value()).isCloseTo(1.2 * Math.exp(-1), within(1e-6));
        pointAt(robot, id[1]);
        await(() -> hover.isVisible() && hover.getText().contains("into it"));
        assertThat(hover.getText()).contains("12 V").contains("0.44146 A into it").contains("a − b").contains("4.4146 V");
    }

    private void pointAt(FxRobot robot, String id) {
        Node n = canvas().shown().nodes().stream().filter(x -> x.id().equals(id)).findFirst().orElseThrow();
        robot.moveTo(canvas().onScreen(n.x() + n.width() / 2, n.y() + n.height() / 2));
    }

    /** Figures of a plant that was drawn: energy by element, and the step against half of it. */
    @Test
    void figuresOfAPlantAreShown(FxRobot robot) throws Exception {
        robot.interact(() -> {
            String v = add("voltage source", 0, 0);
            String r = add("resistor", 200, 0);
            String c = add("capacitor", 400, 0);
            String g = add("ground", 100, 200);
            shell.workspace().edit("nets", p -> p.change(MAIN, s -> s.add(Wire.net(v, "a", r, "a"))
                    .add(Wire.net(r, "b", c, "a")).add(Wire.net(c, "b", g, "a")).add(Wire.net(v, "b", g, "a"))));
            shell.show("Runs");
        });
        await(() -> shell.workspace().findings().isEmpty());
        var menu = robot.lookup("#run-figures").queryAs(MenuButton.class);
        for (String[] item : new String[][] {{"run-energy", "supply 0.0144"}, {"run-step", "this machine keeps a step"}}) {
            robot.interact(() -> menu.getItems().stream().filter(i -> item[0].equals(i.getId())).findFirst().orElseThrow().fire());
            await(() -> robot.lookup("#figures-text").queryAllAs(Label.class).stream().anyMatch(l -> l.getText().contains(item[1])));
            robot.push(KeyCode.ESCAPE);
        }
    }

    /** The steady state is asked for where the parts of a rig are placed. */
    @Test
    void aRigStartsInTheSteadyState(FxRobot robot) {
        robot.clickOn("#rig-grid");
        robot.clickOn("#rig-settled");
        assertThat(shell.workspace().project().rig("desk").orElseThrow().settled()).isEqualTo("50 us");
        robot.interact(() -> robot.lookup("#rig-period").queryAs(TextField.class).setText("20 us"));
        robot.clickOn("#rig-period").push(KeyCode.ENTER);
        assertThat(shell.workspace().project().rig("desk").orElseThrow().settled()).isEqualTo("20 us");
        robot.clickOn("#rig-settled");
        assertThat(shell.workspace().project().rig("desk").orElseThrow().settled()).isEmpty();
    }

    @Test
    void aWrongDomainIsRefused(FxRobot robot) {
        String[] id = new String[2];
        robot.interact(() -> {
            id[0] = add("resistor", 0, 0);
            id[1] = add("inertia", 200, 0);
            canvas().fit();
            canvas().paint();
        });
        drag(robot, contact(id[0], "b"), contact(id[1], "a"));
        assertThat(sheet().wires()).isEmpty();
        assertThat(robot.lookup("#message").queryAs(Label.class).getText()).contains("electrical").contains("rotational");
    }
}
