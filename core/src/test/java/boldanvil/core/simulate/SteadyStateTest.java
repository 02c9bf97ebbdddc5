package boldanvil.core.simulate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.Project;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.testing.PartBuilder;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The state that repeats after a period, against closed forms and against waiting for it. */
class SteadyStateTest {
    private static final Place RIG = Place.rig("desk");

    /** A rig whose parts run as models. */
    private static final class Desk {
        private final LoweredSystem system;
        private final Map<String, Instance> instances = new LinkedHashMap<>();

        Desk(Project p) {
            system = LoweredSystem.of(p).orThrow();
            system.parts().keySet().forEach(id -> instances.put(id, JvmCompiler.compile(system.program(id).orElseThrow()).instantiate()));
        }

        SteadyState.Found reach(double period) {
            return SteadyState.reach(system, instances, period, RIG);
        }

        /** The values of some taps, at the beginning of each of some periods. */
        List<double[]> course(int periods, int ticks, String... taps) {
            var conductor = new Conductor(system, instances);
            List<double[]> all = new ArrayList<>();
            for (int k = 0; k < periods * ticks; k++) {
                conductor.tick();
                if (k % ticks == 0) {
                    double[] row = new double[taps.length];
                    for (int i = 0; i < row.length; i++) {
                        int dot = taps[i].indexOf('.');
                        var program = system.program(taps[i].substring(0, dot)).orElseThrow();
                        row[i] = instances.get(taps[i].substring(0, dot)).get(program.tap(taps[i].substring(dot + 1)).orElseThrow().slot());
                    }
                    all.add(row);
                }
            }
            return all;
        }
    }

    private static Desk of(PartBuilder b) {
        return new Desk(Project.empty("p").withParts(List.of(b.part())));
    }

    private static PartBuilder charged(String capacitance) {
        return new PartBuilder("p").plant("10 us", "rk4").block("supply", "voltage source", "V=0").block("gnd", "ground")
                .block("wave", "pulse", "amplitude=10", "share=0.4", "period=1 ms").wire("wave.y", "supply.u")
                .block("R", "resistor", "R=100")
                .block("C", "capacitor", "C=" + capacitance).block("m", "voltmeter").block("v", "tap").net("supply.a", "R.a")
                .net("R.b", "C.a", "m.a").net("supply.b", "C.b", "m.b", "gnd.a").wire("m.v", "v.u");
    }

    @ParameterizedTest
    @ValueSource(doubles = {1e-6, 1e-4, 1e-2})
    void aCapacitorRepeatsItsRipple(double c) {
        var desk = of(charged(c + ""));
        var found = desk.reach(1e-3);
        double tau = 100 * c;
        double expected = 10 * (Math.exp(-0.6e-3 / tau) - Math.exp(-1e-3 / tau)) / -Math.expm1(-1e-3 / tau);
        assertThat(found.held()).isEmpty();
        desk.course(3, 100, "p.v").forEach(row -> assertThat(row[0]).isCloseTo(expected, within(1e-5)));
    }

    /** So slow that the search would see noise: it stays where it was, and is named. */
    @Test
    void whatHardlyChangesIsHeld() {
        var desk = of(charged("1000").block("n", "constant", "value=1").block("slow", "integrator").block("s", "tap").wire("n.y", "slow.u")
                .wire("slow.y", "s.u"));
        assertThat(desk.reach(1e-3).held()).anyMatch(n -> n.contains("slow"));
    }

    /** A converter whose coil falls dry, with its regulator: as after a long wait, in each fidelity of the charger. */
    @Test
    void theChargerStartsWhereItWouldArrive() {
        Project charger = ProjectReader.read(Path.of("../demo/lamp-charger"));
        String[] taps = {"stage.panel_volts", "stage.coil_amps", "stage.duty_used"};
        var waited = new Desk(charger);
        List<double[]> late = waited.course(40_000, 50, taps);
        var sought = new Desk(charger);
        sought.reach(50e-6);
        List<double[]> first = sought.course(20, 50, taps);
        for (int i = 0; i < taps.length; i++) {
            assertThat(first.get(10)[i]).as(taps[i]).isCloseTo(late.getLast()[i], within(2e-3 * Math.abs(late.getLast()[i])));
            assertThat(first.get(19)[i]).as(taps[i]).isCloseTo(first.get(1)[i], within(1e-5 * Math.abs(first.get(1)[i])));
        }
    }

    /** With the longest sample time as period it is the operating point of a controlled plant. */
    @Test
    void anOperatingPointIsAPeriodOfOneSample() {
        var desk = of(new PartBuilder("p").plant("1 ms", "rk4").block("set", "constant", "value=3").block("e", "sum", "signs=+-")
                .block("i", "integrator").block("k", "gain", "k=0.2").block("lag", "transfer", "num=[2]",
                        "den=[0.5, 1]")
                .block("y", "tap").block("x", "tap").wire("set.y", "e.u1").wire("lag.y", "e.u2").wire("e.y", "k.u").wire("k.y", "i.u")
                .wire("i.y", "lag.u").wire("lag.y", "y.u").wire("i.y", "x.u"));
        desk.reach(1e-3);
        double[] at = desk.course(1, 1, "p.y", "p.x").getFirst();
        assertThat(at[0]).isCloseTo(3, within(1e-5));
        assertThat(at[1]).isCloseTo(1.5, within(1e-5));
    }

    @Test
    void periodsThatDoNotFitAreReported() {
        assertThatThrownBy(() -> of(charged("1e-6")).reach(1.5e-5)).isInstanceOf(FindingException.class)
                .hasMessageContaining("not a whole number of steps");
        assertThatThrownBy(() -> of(charged("1e-6")).reach(1e4)).hasMessageContaining("more than");
        Project charger = ProjectReader.read(Path.of("../demo/lamp-charger"));
        assertThatThrownBy(() -> new Desk(charger).reach(30e-6)).hasMessageContaining("sample time");
        assertThatThrownBy(() -> SteadyState.start(new Desk(charger).system, Map.of(), "5 kg", Map.of(), List.of(), RIG))
                .hasMessageContaining("cannot be read");
    }
}
