package boldanvil.core.target;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.board.Boards;
import boldanvil.core.diagram.Mapping;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.Finding;
import boldanvil.core.lower.LoweredSystem;
import java.nio.file.Path;
import java.util.List;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Channels of the parts on a target: what is found wrong, and how they are assigned. */
class MappingTest {
    private static final Project DRIVE = ProjectReader.read(Path.of("../demo/gate-network"));
    private static final Project LOCK = ProjectReader.read(Path.of("../demo/larkmere-lock"));

    private static List<Finding> check(Project p, String rig) {
        Rig r = p.rig(rig).orElseThrow();
        return MappingCheck.check(p, LoweredSystem.of(p.as(r)).orThrow(), r);
    }

    private static Project changed(Project p, String part, String port, UnaryOperator<Mapping.Row> how) {
        var mapping = p.mappings().get(part);
        return p.withMapping(part, mapping.with(how.apply(mapping.row(port).orElseThrow())));
    }

    private static Project placed(Project p, String rig, String part, Rig.Place place) {
        return p.withRigs(p.rigs().stream().map(r -> r.name().equals(rig) ? r.with(part, place) : r).toList());
    }

    @Test
    void theDemosHaveNothingWrong() {
        assertThat(check(DRIVE, "hearth")).isEmpty();
        assertThat(check(DRIVE, "prototype")).isEmpty();
        assertThat(check(LOCK, "hearth")).isEmpty();
        assertThat(check(LOCK, "swage")).isEmpty();
    }

    @Test
    void wrongRowsAreFoundWithPlaceAndCure() {
        assertThat(check(changed(DRIVE, "servo", "leg A", r -> r.on("")), "hearth")).singleElement().satisfies(f -> {
            assertThat(f.place().text()).isEqualTo("mapping · servo · leg A");
            assertThat(f.isError()).isTrue();
            assertThat(f.cure()).contains("PWM in");
        });
        assertThat(check(changed(DRIVE, "servo", "leg A", r -> r.on("PI9")), "hearth")).singleElement()
                .satisfies(f -> assertThat(f.cause()).isEqualTo("Hearth RT8 has no channel 'PI9'."));
        assertThat(check(changed(DRIVE, "servo", "leg A", r -> r.on("AI1")), "hearth")).singleElement()
                .satisfies(f -> assertThat(f.cause()).contains("needs 'PWM in'"));
        assertThat(check(changed(DRIVE, "servo", "leg A", r -> r.on("PI2")), "hearth")).singleElement()
                .satisfies(f -> assertThat(f.cause()).contains("is used by 'servo.leg A' as well"));
        assertThat(check(changed(DRIVE, "servo", "shunt A", r -> r.scaled(0, 0)), "hearth")).singleElement()
                .satisfies(f -> assertThat(f.cause()).contains("not 0"));
        assertThat(check(changed(DRIVE, "servo", "shunt A", r -> r.within(5, 2)), "hearth")).singleElement()
                .satisfies(f -> assertThat(f.cause()).contains("minimum"));
        assertThat(check(changed(DRIVE, "servo", "shunt A", r -> r.within(11, 20)), "hearth")).singleElement()
                .satisfies(f -> assertThat(f.cause()).contains("reaches -10 V to 10 V"));
        assertThat(check(changed(DRIVE, "servo", "shaft", r -> r.withLines(0)), "hearth")).singleElement()
                .satisfies(f -> assertThat(f.isError()).isTrue());
        assertThat(check(changed(DRIVE, "servo", "shaft", r -> r.withLines(500)), "hearth")).singleElement()
                .satisfies(f -> assertThat(f.cause()).contains("500 lines here and 1024 at the terminal 'shaft'"));
    }

    @Test
    void wrongPlacesAreFound() {
        assertThat(check(placed(DRIVE, "hearth", "servo", new Rig.Place("hearth-rt8", new Rig.Seat("bench", 5, Rig.Overrun.STOP,
                "25 us"))), "hearth")).singleElement().satisfies(f -> assertThat(f.cause()).isEqualTo("Hearth RT8 has no core 5."));
        assertThat(check(placed(DRIVE, "hearth", "servo", new Rig.Place("swage32", new Rig.Seat("bench", 1, Rig.Overrun.STOP,
                "25 us"))), "hearth")).singleElement().satisfies(f -> assertThat(f.cure()).contains("hearth-rt8"));
        assertThat(check(placed(DRIVE, "hearth", "servo", new Rig.Place("hearth-rt8", new Rig.Seat("bench", 1, Rig.Overrun.STOP, ""))),
                "hearth")).anySatisfy(f -> assertThat(f.cause()).contains("a step of 1 µs, the shortest of Hearth RT8 is 20 µs"));
        assertThat(check(DRIVE.withMapping("servo", DRIVE.mappings().get("servo").withBudget(30e-6)), "hearth")).singleElement()
                .satisfies(f -> assertThat(f.cause()).contains("the budget is 30 µs"));
    }

    @Test
    void signalsBetweenPartsOfOneTargetNeedNoChannel() {
        Rig rig = LOCK.rig("hearth").orElseThrow();
        var system = LoweredSystem.of(LOCK.as(rig)).orThrow();
        assertThat(Crossing.of(system, rig, "chamber")).isEmpty();
        assertThat(Crossing.of(system, rig, "drive")).extracting(c -> c.port().name()).containsExactly("leg A", "leg B", "shunt A",
                "shunt B", "shaft");
    }

    @Test
    void channelsAreAssignedByKind() {
        Rig rig = DRIVE.rig("prototype").orElseThrow();
        var system = LoweredSystem.of(DRIVE.as(rig)).orThrow();
        var board = Boards.shipped().find("hearth-rt8").orElseThrow();
        Project bare = DRIVE.withMapping("servo", new Mapping("hearth-rt8", List.of(Mapping.Row.plain("shunt B", "AO1"))))
                .withMapping("controller", new Mapping("other", List.of()));
        var servo = MappingPlan.assigned(bare, system, rig, "servo", board);
        assertThat(servo.rows()).extracting(r -> r.port() + " " + r.channel()).containsExactly("shunt B AO1", "leg A PI1", "leg B PI2",
                "leg C PI3", "shunt A AO2", "shaft EO1");
        assertThat(servo.row("shaft").orElseThrow().lines()).isEqualTo(1024);
        var controller = MappingPlan.assigned(bare, system, rig, "controller", board);
        assertThat(controller.rows()).extracting(r -> r.port() + " " + r.channel()).containsExactlyInAnyOrder("leg A PO1", "leg B PO2",
                "leg C PO3", "shunt A AI1", "shunt B AI2", "shaft EI1");
        assertThat(check(bare.withMapping("servo", servo).withMapping("controller", controller), "prototype")).isEmpty();
    }

    @Test
    void aMappingIsReadAsItWasWritten(@TempDir Path folder) throws Exception {
        Mapping.Row odd = new Mapping.Row("x \"1\"", "AO2", -0.25, 1.5, -3, 4, 2e3, 360, Mapping.Mean.PERIOD, "to the panel");
        Project p = DRIVE.withMapping("servo", DRIVE.mappings().get("servo").with(odd).withBudget(12e-6));
        ProjectWriter.write(p, folder);
        Project again = ProjectReader.read(folder);
        assertThat(again.mappings()).isEqualTo(p.mappings());
        assertThat(again.rigs()).isEqualTo(p.rigs());
    }
}
