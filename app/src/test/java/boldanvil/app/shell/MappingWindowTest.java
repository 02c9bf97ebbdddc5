package boldanvil.app.shell;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.model.TargetMapping.Seat;
import boldanvil.app.model.TargetMapping.Signal;
import boldanvil.core.diagram.Mapping;
import boldanvil.core.finding.Place;
import java.util.List;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.Start;

class MappingWindowTest extends WindowFixture {
    @Start
    void start(Stage stage) throws Exception {
        begin(stage);
    }

    private static <T> void commit(FxRobot robot, TableView<T> table, int row, int column, String text) {
        @SuppressWarnings("unchecked")
        var c = (TableColumn<T, String>) table.getColumns().get(column);
        robot.interact(() -> c.getOnEditCommit().handle(new TableColumn.CellEditEvent<>(table,
                new javafx.scene.control.TablePosition<>(table, row, c), TableColumn.editCommitEvent(), text)));
    }

    private Mapping mapping() {
        return shell.workspace().project().mappings().get("drive");
    }

    @Test
    void channelsAndCoresAreShownEditedAndAssigned(FxRobot robot) throws Exception {
        robot.clickOn("#page-mapping");
        TableView<Signal> signals = robot.lookup("#mapping-signals").queryTableView();
        TableView<Seat> seats = robot.lookup("#mapping-seats").queryTableView();
        await(() -> signals.getItems().size() == 5);
        assertThat(robot.lookup("#mapping-rig").<ComboBox<String>>query().getValue()).isEqualTo("hearth");
        assertThat(signals.getItems()).extracting(Signal::name).containsExactly("leg A", "leg B", "shunt A", "shunt B", "shaft");
        assertThat(seats.getItems()).extracting(s -> s.part().name() + " " + s.part().seat().core()).containsExactly("drive 1",
                "chamber 2");
        var message = robot.lookup("#mapping-message").queryAs(Label.class);

        commit(robot, signals, 2, 5, "2.5");
        await(() -> mapping().row("shunt A").orElseThrow().scale() == 2.5);
        await(() -> signals.getItems().get(2).row().scale() == 2.5);
        commit(robot, signals, 2, 5, "much");
        assertThat(message.getText()).contains("'much' is not a number");

        commit(robot, signals, 0, 4, "AI3");
        await(() -> signals.getItems().get(0).problem().contains("needs 'PWM in'"));
        commit(robot, signals, 0, 4, "");
        await(() -> mapping().row("leg A").orElseThrow().channel().isEmpty());
        await(() -> shell.workspace().findings().stream().anyMatch(f -> f.place().equals(Place.mapping("drive", "leg A"))));
        robot.clickOn("#mapping-assign");
        await(() -> mapping().row("leg A").orElseThrow().channel().equals("PI1"));

        await(() -> signals.getItems().get(0).row().channel().equals("PI1"));
        commit(robot, seats, 0, 4, "50 us");
        await(() -> shell.workspace().project().rig("hearth").orElseThrow().place("drive").seat().step().equals("50 us"));
        await(() -> seats.getItems().get(0).part().program().tickNanos() == 50_000);
        commit(robot, seats, 0, 8, "hold");
        await(() -> shell.workspace().project().rig("hearth").orElseThrow().place("drive").seat().overrun().label().equals("hold"));
        commit(robot, seats, 0, 4, "-3 s");
        assertThat(message.getText()).contains("longer than 0");
    }

    @Test
    void aProjectWithoutATargetSaysWhatToDo(FxRobot robot) throws Exception {
        robot.interact(() -> shell.workspace().edit("no targets", p -> p.withRigs(p.rigs().stream()
                .filter(r -> r.onTargets().isEmpty()).toList())));
        robot.clickOn("#page-mapping");
        assertThat(robot.lookup("#mapping-empty").queryAs(Label.class).getText()).contains("select a core of a target");
        assertThat(List.of(shell.workspace().project().rigs())).isNotEmpty();
    }
}
