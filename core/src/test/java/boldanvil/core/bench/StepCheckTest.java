package boldanvil.core.bench;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.testing.PartBuilder;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** What half the step shows of a step. */
class StepCheckTest {
    private static final Rig DESK = new Rig("desk", "", Rig.Terminals.IDEAL, Map.of());

    private static StepCheck check(PartBuilder b, double seconds) throws InterruptedException {
        return StepCheck.of(Project.empty("p").withParts(List.of(b.part())).withRigs(List.of(DESK)), DESK, seconds, List.of());
    }

    /** A part by Euler's method: half the step halves the error, so the deviation is half the error. */
    @Test
    void theDeviationIsTheErrorOfTheStep() throws InterruptedException {
        var c = check(new PartBuilder("p").plant("10 ms", "euler").block("x", "integrator", "initial=1").block("k", "gain", "k=-1")
                .block("v", "tap").wire("x.y", "k.u").wire("k.y", "x.u").wire("x.y", "v.u"), 1);
        double expected = Math.pow(1 - 0.005, 200) - Math.pow(1 - 0.01, 100);
        assertThat(c.worst().tap()).isEqualTo("p.v");
        assertThat(c.worst().largest()).isCloseTo(expected, within(1e-4 * expected));
        assertThat(c.worst().seconds()).isCloseTo(1, within(0.02));
        assertThat(c.worst().share()).isBetween(0.5 * expected, expected / (1 - Math.exp(-1)));
    }

    /** A linear network is exact, whatever the step. */
    @Test
    void aLinearNetworkDoesNotDeviate() throws InterruptedException {
        var c = check(new PartBuilder("p").plant("100 us", "rk4").block("V", "voltage source").block("gnd", "ground").block("R", "resistor")
                .block("C", "capacitor").block("m", "voltmeter").block("v", "tap").net("V.a", "R.a").net("R.b", "C.a", "m.a")
                .net("V.b", "C.b", "m.b", "gnd.a").wire("m.v", "v.u"), 0.01);
        assertThat(c.worst().share()).isLessThan(1e-13);
        var cost = c.costs().get("p");
        assertThat(cost.counted().stepSeconds()).isEqualTo(1e-4);
        // One state: its factor and that of the source, whose signal is added; and the time.
        assertThat(cost.counted().operations()).isBetween(4.0, 20.0);
        assertThat(cost.counted().stateBytes()).isGreaterThan(8);
        assertThat(cost.shortest()).isGreaterThan(0);
    }

    @Test
    void theChargersStepCostsItsTables() throws InterruptedException {
        Project charger = ProjectReader.read(Path.of("../demo/lamp-charger"));
        var c = StepCheck.of(charger, charger.rig("code").orElseThrow(), 0.02, List.of());
        assertThat(c.costs()).containsOnlyKeys("stage");
        assertThat(c.costs().get("stage").counted().tableBytes()).isGreaterThan(1000);
        assertThat(c.taps().stream().filter(t -> t.tap().equals("stage.battery_volts")).findFirst().orElseThrow().largest())
                .isBetween(1e-9, 0.02);
    }

    @Test
    void aRigWithoutContinuousPartsIsReported() {
        var b = new PartBuilder("p").block("one", "constant", "value=1").block("v", "tap").wire("one.y", "v.u");
        assertThatThrownBy(() -> check(b, 0.01)).isInstanceOf(FindingException.class).hasMessageContaining("No part is continuous");
    }
}
