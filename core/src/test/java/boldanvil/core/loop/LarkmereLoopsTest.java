package boldanvil.core.loop;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.linear.Margins;
import boldanvil.core.loop.Linearisation.OperatingPoint;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.lower.Names;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.Conductor;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.hipparchus.complex.Complex;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The loops of Larkmere: the paddle's gains come out of their design again, the charger's voltage loop is shaped and measured. */
class LarkmereLoopsTest {
    /** Where the phase of the charger's voltage loop is turned, rad/s. */
    private static final double LEAD = 60;

    /** Asked for the crossover and margin it has, the design gives the gains of the sheet, for the loops with two of them. */
    @ParameterizedTest
    @CsvSource({"controller/current loop/current controller, 1500, 90", "controller/position loop/speed controller, 120, 60"})
    void thePaddlesGainsAreThoseOfTheirDesign(String at, double about, double degrees) {
        Project p = ProjectReader.read(Path.of("../demo/larkmere-lock"));
        var cut = Cut.at(p, at);
        var loop = Linearisation.open(p, p.rigs().getFirst(), cut, new OperatingPoint(0.4, List.of(new Change(
                "controller.position_loop.target", 0.3, 100_000_000L))));
        var phase = Margins.of(loop.response(), Tolerances.frequencies(loop)).phase().orElseThrow();
        assertThat(phase.omega()).isCloseTo(about, within(0.15 * about));
        assertThat(Math.toDegrees(phase.value())).isCloseTo(degrees, within(15.0));
        var c = Controller.of(p, cut).orElseThrow();
        var gains = new PidDesign(c, loop).byMargin(phase.omega(), phase.value(), false);
        assertThat(gains.get("kp")).isCloseTo(c.gains().get("kp"), within(1e-4 * c.gains().get("kp")));
        assertThat(gains.get("ki")).isCloseTo(c.gains().get("ki"), within(1e-3 * c.gains().get("ki")));
    }

    /**
     * The charger holds the battery's voltage: a lead in the wire of its voltage loop turns the phase as it was designed to, and the
     * response measured by sines on the averaged stage lies over the prediction.
     */
    @Test
    void theChargersVoltageLoopIsShapedByALeadAndMeasured() {
        Project p = ProjectReader.read(Path.of("../demo/lamp-charger"));
        Rig rig = p.rig("averaged").orElseThrow();
        var point = new OperatingPoint(3, List.of(new Change("controller.V_end", 12.55, 50_000_000L)));
        Cut cut = Cut.at(p, "controller/voltage loop");
        OpenLoop before = Linearisation.open(p, rig, cut, point);
        var lead = Compensator.lead(LEAD, Math.toRadians(25));
        Project shaped = lead.insert(p, cut, before.samplePeriod());
        Cut behind = Cut.at(shaped, "controller/lead");
        OpenLoop after = Linearisation.open(shaped, rig, behind, point);
        double turned = after.response().apply(LEAD).divide(before.response().apply(LEAD)).getArgument();
        assertThat(Math.toDegrees(turned)).isCloseTo(25, within(0.5));
        for (double share : new double[] {4, 16}) {
            int n = (int) Math.round(2 * Math.PI / (share * LEAD) / after.samplePeriod());
            double omega = 2 * Math.PI / (n * after.samplePeriod());
            Complex measured = measured(shaped.as(rig), behind, point, omega, n, after.samplePeriod());
            Complex expected = after.response().apply(omega);
            assertThat(20 * Math.log10(measured.norm() / expected.norm())).as("dB at " + omega).isCloseTo(0, within(0.2));
            assertThat(Math.toDegrees(measured.divide(expected).getArgument())).as("° at " + omega).isCloseTo(0, within(1.0));
        }
    }

    /** By a sine that is added to the wire, in some periods at the end. */
    private static Complex measured(Project p, Cut cut, OperatingPoint point, double omega, int n, double period) {
        var system = LoweredSystem.of(Linearisation.summed(p, cut)).orThrow();
        Map<String, Instance> parts = new HashMap<>();
        system.parts().keySet().forEach(id -> parts.put(id, JvmCompiler.compile(system.program(id).orElseThrow()).instantiate()));
        var conductor = new Conductor(system, parts);
        conductor.schedule(point.changes());
        Program program = system.program(cut.part()).orElseThrow();
        Slot added = program.tunable(Names.addressInPart(cut.path() + "/" + Linearisation.ADDED)).orElseThrow().slot();
        Slot back = program.tap(Names.addressInPart(cut.path() + "/" + Linearisation.BACK)).orElseThrow().slot();
        Instance part = parts.get(cut.part());
        int ticks = (int) Math.round(period * 1e9 / system.tickNanos());
        int settle = (int) Math.round(point.seconds() / period);
        // Four periods at the end; what the battery and the slow mode do meanwhile is a straight line.
        int before = settle + (int) Math.ceil(0.2 / (n * period)) * n;
        double[] added4 = new double[4 * n];
        double[] back4 = new double[4 * n];
        for (int i = 0; i < before + 4 * n; i++) {
            double a = i < settle ? 0 : 0.005 * Math.sin(omega * period * i);
            part.set(added, a);
            for (int t = 0; t < ticks; t++) {
                conductor.tick();
            }
            if (i >= before) {
                added4[i - before] = a;
                back4[i - before] = part.get(back);
            }
        }
        double slope = (mean(back4, 3 * n, n) - mean(back4, 0, n)) / (3 * n);
        Complex in = Complex.ZERO;
        Complex out = Complex.ZERO;
        for (int i = 0; i < 4 * n; i++) {
            Complex turn = new Complex(0, -omega * period * i).exp();
            out = out.add(turn.multiply(back4[i] - slope * i));
            in = in.add(turn.multiply(back4[i] - slope * i + added4[i]));
        }
        return out.divide(in).negate();
    }

    private static double mean(double[] all, int from, int count) {
        return java.util.Arrays.stream(all, from, from + count).average().orElseThrow();
    }
}
