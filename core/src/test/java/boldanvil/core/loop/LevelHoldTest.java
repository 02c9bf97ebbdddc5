package boldanvil.core.loop;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.linear.Response;
import boldanvil.core.linear.StateSpace;
import boldanvil.core.loop.Linearisation.OperatingPoint;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Slot;
import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.Conductor;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** The level hold of Larkmere: calibration, holding against the leak, obstacle, time; its gains are those of the design. */
class LevelHoldTest {
    private static final Project HOLD = ProjectReader.read(Path.of("../demo/level-hold"));

    private final LoweredSystem system = LoweredSystem.of(HOLD).orThrow();
    private final Map<String, Instance> parts = new HashMap<>();
    private final Conductor conductor;

    LevelHoldTest() {
        system.parts().keySet().forEach(id -> parts.put(id, JvmCompiler.compile(system.program(id).orElseThrow()).instantiate()));
        conductor = new Conductor(system, parts);
    }

    private double at(double seconds, String part, String tap) {
        while (conductor.nowNanos() < seconds * 1e9) {
            conductor.tick();
        }
        Slot slot = system.program(part).orElseThrow().tap(tap).orElseThrow().slot();
        return parts.get(part).get(slot);
    }

    private void change(String address, double value, double seconds) {
        conductor.schedule(List.of(new Change(address, value, Math.round(seconds * 1e9))));
    }

    @Test
    void theSensorsZeroIsMeasuredForThreeSecondsThenTheLevelIsHeldAgainstTheLeak() {
        assertThat(at(2, "controller", "calibrating")).isEqualTo(1);
        assertThat(at(3.4, "controller", "calibrating")).isEqualTo(1);
        assertThat(at(3.8, "controller", "calibrating")).isZero();
        // The sensor gives 0.37 V without water, 0.33 V being expected: 30.3 mm.
        assertThat(at(3.8, "controller", "offset")).isCloseTo(0.04 / 1.32, within(1e-3));
        assertThat(at(50, "chamber", "level")).isCloseTo(1, within(5e-3));
        change("chamber.leak", 0.01, 50.1);
        double lowest = 1;
        for (double t = 50.2; t < 80; t += 0.2) {
            lowest = Math.min(lowest, at(t, "chamber", "level"));
        }
        assertThat(lowest).isBetween(0.95, 0.995);
        assertThat(at(90, "chamber", "level")).isCloseTo(1, within(5e-3));
    }

    @Test
    void anObstacleAndTheTimeCloseTheValve() {
        change("panel.something_in_the_way", 1, 30);
        assertThat(at(29, "controller", "mode")).isEqualTo(3);
        assertThat(at(31, "controller", "mode")).isEqualTo(4);
        assertThat(at(33, "controller", "opening_wanted")).isZero();
        change("panel.something_in_the_way", 0, 34);
        assertThat(at(36, "controller", "mode")).isEqualTo(3);
        // Held for two minutes, then it ends by itself.
        assertThat(at(154, "controller", "mode")).isEqualTo(3);
        assertThat(at(157, "controller", "mode")).isEqualTo(1);
        assertThat(at(160, "chamber", "valve_opening")).isLessThan(1e-2);
    }

    /** The blocks on the sheet are what the design gives for the plant as it stands, within the noise of the operating point. */
    @Test
    void theGainsOnTheSheetAreThoseOfTheDesign() {
        Cut cut = Cut.at(HOLD, "controller/hold");
        var point = new OperatingPoint(60, List.of());
        Plant plant = Linearisation.plant(HOLD, HOLD.rigs().getFirst(), cut, List.of(Cut.at(HOLD, "controller/level")), point);
        var f = StateFeedback.least(plant, new StateFeedback.Weights(new double[] {0.02}, 0.2, 0.1),
                new StateFeedback.Noise(0.05, new double[] {0.003}));
        OpenLoop designed = f.loop();
        OpenLoop drawn = Linearisation.open(HOLD, HOLD.rigs().getFirst(), cut, point);
        for (double w : new double[] {0.01, 0.1, 0.5, 2, 10}) {
            var a = designed.response().apply(w);
            var b = drawn.response().apply(w);
            assertThat(a.subtract(b).norm()).as("at %s rad/s", w).isLessThan(0.02 * b.norm());
        }
        assertThat(drawn.closed(1).isStable()).isTrue();
        StateSpace controller = f.controller();
        assertThat(new Response(controller).all(0.5)).hasDimensions(1, 2);
    }
}
