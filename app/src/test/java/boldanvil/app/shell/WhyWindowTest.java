package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.model.RigSession;
import boldanvil.app.pages.RunsPage;
import boldanvil.app.sheet.SheetPage;
import boldanvil.core.diagram.BenchLayout;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.replay.Why;
import boldanvil.core.simulate.Stimulus;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import javafx.scene.control.ButtonBase;
import javafx.scene.control.ListView;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;

/** Why a value was what it was: asked at a wire, followed to earlier instants, and asked at a limit that stopped the rig. */
class WhyWindowTest extends WindowFixture {
    @Start
    void start(Stage stage) {
        show(stage);
    }

    private void open(Project p) {
        Path folder = temporary.resolve("why" + count++);
        ProjectWriter.write(p, folder);
        shell.open(folder);
    }

    private static Project motor() {
        return ProjectReader.read(Path.of("../demo/motor-position"));
    }

    private List<Why.Step> steps(FxRobot robot) {
        return robot.lookup("#why-list").<ListView<Why.Step>>query().getItems();
    }

    @Test
    void aWireIsExplainedAndItsStateFollowedBack(FxRobot robot) throws Exception {
        robot.interact(() -> open(motor()));
        robot.interact(() -> shell.run("desk"));
        awaitPhase(RigSession.Phase.RUNNING);
        await(() -> shell.session().run().orElseThrow().seconds() > 0.3);
        robot.interact(() -> shell.session().stop());
        await(() -> !shell.session().isBusy());
        robot.interact(() -> {
            shell.show("Sheet");
            shell.navigator().open("controller");
        });
        var wire = canvas().shown().links().stream().map(l -> l.wire()).filter(w -> w.from().equals("b5")).findFirst().orElseThrow();
        robot.interact(() -> canvas().select(wire));
        command(robot, "Why this value");
        var travel = shell.page(SheetPage.class).timeTravel();
        await(() -> travel.why().isPresent());
        robot.interact(() -> travel.goTo(0.01));
        await(() -> travel.why().map(Why::seconds).orElse(0.0) == 0.01);
        assertThat(steps(robot)).extracting(Why.Step::path).contains("controller/position", "controller/error", "controller/set-point");
        assertThat(travel.why().orElseThrow().value()).isEqualTo(travel.value("b5", "y").orElseThrow().value());
        var kept = steps(robot).stream().filter(Why.Step::isKept).findFirst().orElseThrow();
        robot.interact(() -> travel.back(kept.path(), () -> { }));
        await(() -> travel.instant() < 0.01 && travel.canGoForward());
        double earlier = travel.instant();
        assertThat(travel.why().orElseThrow().seconds()).isEqualTo(earlier);
        robot.interact(() -> robot.lookup("#why-later").queryAs(ButtonBase.class).fire());
        assertThat(travel.instant()).isEqualTo(0.01);
        robot.interact(() -> robot.lookup("#why-end").queryAs(ButtonBase.class).fire());
        assertThat(travel.why()).isEmpty();
        assertThat(robot.lookup("#details").tryQuery()).isPresent();
    }

    @Test
    void aLimitThatStoppedTheRigIsExplained(FxRobot robot) throws Exception {
        Project p = motor();
        List<BenchLayout.Limit> limits = new ArrayList<>(p.bench().limits());
        limits.add(new BenchLayout.Limit("motor.shaft_speed", "rad/s", Double.NaN, 5, Double.NaN, 0));
        robot.interact(() -> open(p.withBench(p.bench().withLimits(limits))));
        robot.interact(() -> shell.run("desk"));
        await(() -> shell.session().findings().stream().anyMatch(f -> f.hasInstant()));
        await(() -> !shell.session().isBusy());
        robot.interact(() -> shell.showFindings(true));
        await(() -> robot.lookup("#finding-why").tryQuery().isPresent());
        robot.interact(() -> robot.lookup("#finding-why").queryAs(ButtonBase.class).fire());
        var travel = shell.page(SheetPage.class).timeTravel();
        await(() -> travel.why().isPresent());
        assertThat(shell.navigator().path()).isEqualTo("motor");
        assertThat(travel.why().orElseThrow().value()).isGreaterThan(5);
        assertThat(steps(robot)).extracting(Why.Step::path).contains("motor/speed");
        // The bench offers the same.
        robot.interact(() -> shell.show("Bench"));
        await(() -> robot.lookup("#notice-why").tryQuery().isPresent());
        robot.interact(() -> robot.lookup("#notice-why").queryAs(ButtonBase.class).fire());
        await(() -> travel.why().isPresent());
    }

    @Test
    void aRunFromTheShelfShowsItsValuesOnTheSheets(FxRobot robot) throws Exception {
        robot.interact(() -> open(motor()));
        robot.interact(() -> shell.run("desk"));
        awaitPhase(RigSession.Phase.RUNNING);
        await(() -> shell.session().run().orElseThrow().seconds() > 0.2);
        robot.interact(() -> shell.session().run().orElseThrow().drive("controller.target", Stimulus.sine(0.2, 0.1, 2, 5)));
        await(() -> shell.session().run().orElseThrow().seconds() > 0.6);
        robot.interact(() -> shell.session().stop());
        await(() -> !shell.session().isBusy());
        // What is open now is another project in one value.
        robot.interact(() -> shell.workspace().edit("Change", p -> p.withVariables(p.variables().stream()
                .map(v -> v.name().equals("Kp") ? v.valued("1") : v).toList())));
        robot.interact(() -> shell.show("Runs"));
        var runs = shell.page(RunsPage.class);
        await(() -> !runs.list().getItems().isEmpty());
        robot.interact(() -> runs.list().getSelectionModel().select(0));
        robot.interact(() -> robot.lookup("#run-values").queryAs(ButtonBase.class).fire());
        robot.interact(() -> shell.navigator().open("controller"));
        var travel = shell.page(SheetPage.class).timeTravel();
        await(() -> travel.message().contains("bit for bit"));
        assertThat(travel.message()).startsWith("desk 20").contains("edited since");
        assertThat(travel.last()).isGreaterThan(0.5);
        await(() -> travel.value("b5", "y").isPresent());
    }
}
