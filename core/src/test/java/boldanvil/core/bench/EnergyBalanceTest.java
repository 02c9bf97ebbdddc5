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
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Where energy goes: closed forms, and the balance of the demos. */
class EnergyBalanceTest {
    private static final Rig DESK = new Rig("desk", "", Rig.Terminals.IDEAL, Map.of());

    private static EnergyBalance of(PartBuilder b, double from, double to) throws InterruptedException {
        return EnergyBalance.of(Project.empty("p").withParts(List.of(b.part())).withRigs(List.of(DESK)), DESK, from, to, List.of());
    }

    private static Map<String, Double> joules(EnergyBalance b) {
        return b.rows().stream().collect(Collectors.toMap(r -> r.path().substring(r.path().lastIndexOf('/') + 1),
                EnergyBalance.Row::joules));
    }

    private static Map<String, Double> watts(EnergyBalance b) {
        return b.rows().stream().collect(Collectors.toMap(r -> r.path().substring(r.path().lastIndexOf('/') + 1),
                EnergyBalance.Row::watts));
    }

    /** Half of what charges a capacitor is lost in the resistor, whatever the resistor. */
    @Test
    void halfOfTheChargeIsLost() throws InterruptedException {
        var b = of(new PartBuilder("p").plant("10 us", "rk4").block("V", "voltage source", "V=10").block("gnd", "ground")
                .block("R", "resistor", "R=10").block("C", "capacitor", "C=100 µF").net("V.a", "R.a").net("R.b", "C.a")
                .net("V.b", "C.b", "gnd.a"), 0, 0.02);
        Map<String, Double> j = joules(b);
        double stored = 0.5 * 1e-4 * 100;
        assertThat(j.get("C")).isCloseTo(stored, within(1e-4 * stored));
        assertThat(j.get("R")).isCloseTo(stored, within(1e-4 * stored));
        assertThat(b.supplied()).isCloseTo(2 * stored, within(1e-4 * stored));
        assertThat(b.share(b.rows().getFirst())).isCloseTo(0.5, within(1e-4));
    }

    /** A machine that turns a damper: electric power in, heat of the damper and of the winding out. */
    @Test
    void aMachinesLossIsThatOfItsWinding() throws InterruptedException {
        var b = of(new PartBuilder("p").plant("100 us", "rk4").block("V", "voltage source", "V=24").block("gnd", "ground")
                .block("M", "dc machine", "R=0.5", "L=1 mH", "k=0.1").block("J", "inertia", "J=1e-4")
                .block("D", "rotational damper", "d=1e-2")
                .block("rest", "frame").net("V.a", "M.a").net("V.b", "M.b", "gnd.a").net("M.shaft", "J.a", "D.a")
                .net("D.b", "rest.a"),
                1, 2);
        double speed = 24 * 0.1 / 0.5 / (0.1 * 0.1 / 0.5 + 0.01);
        double current = (24 - 0.1 * speed) / 0.5;
        Map<String, Double> watts = watts(b);
        assertThat(watts.get("M")).isCloseTo(0.5 * current * current, within(1e-3));
        assertThat(watts.get("D")).isCloseTo(0.01 * speed * speed, within(1e-3));
        assertThat(watts.get("J")).isCloseTo(0, within(1e-3));
    }

    /** Heat is a power by itself: what a source gives, a capacity keeps. */
    @Test
    void heatCountsAsItFlows() throws InterruptedException {
        var b = of(new PartBuilder("p").plant("10 ms", "rk4").block("P", "heat source", "P=5").block("C", "heat capacity", "C=100")
                .net("P.a", "C.a"), 0, 10);
        assertThat(watts(b).get("C")).isCloseTo(5, within(1e-9));
        assertThat(b.error()).isLessThan(1e-9);
    }

    @ParameterizedTest
    @CsvSource({"lamp-charger, desk, 0.15, 0.2", "lamp-charger, averaged, 0.15, 0.2", "gate-network, desk, 0, 0.05",
            "gate-network, detailed, 0, 0.05",
        "lift-platform, desk, 0, 1", "shore-plants, desk, 0, 0.3", "paddle-network, switching, 0, 1"})
    void theDemosKeepTheirEnergy(String demo, String rig, double from, double to) throws InterruptedException {
        Project p = ProjectReader.read(Path.of("../demo", demo));
        var b = EnergyBalance.of(p, p.rig(rig).orElseThrow(), from, to, List.of());
        assertThat(b.supplied()).isPositive();
        assertThat(b.error()).as("error of the balance").isLessThan(1e-3);
    }

    @Test
    void aProjectWithoutNetworksIsReported() {
        assertThatThrownBy(() -> of(new PartBuilder("p").block("one", "constant", "value=1").block("v", "tap").wire("one.y", "v.u"), 0, 1))
                .isInstanceOf(FindingException.class).hasMessageContaining("no physical network");
    }
}
