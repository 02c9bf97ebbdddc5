package boldanvil.core.simulate;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** The lock sequence with its lock, as models. */
class LockSequenceTest {
    private static final Project LOCK = ProjectReader.read(Path.of("../demo/lock-sequence"));

    private final LoweredSystem system = LoweredSystem.of(LOCK).orThrow();
    private final Map<String, Instance> instances = new HashMap<>();
    private final Conductor conductor;

    LockSequenceTest() {
        system.parts().keySet().forEach(p -> instances.put(p, JvmCompiler.compile(system.program(p).orElseThrow()).instantiate()));
        conductor = new Conductor(system, instances);
    }

    private double tap(String address) {
        int dot = address.indexOf('.');
        String part = address.substring(0, dot);
        return instances.get(part).get(system.program(part).orElseThrow().tap(address.substring(dot + 1)).orElseThrow().slot());
    }

    private double out(String port) {
        return instances.get("sequence").get(system.program("sequence").orElseThrow().port(port).orElseThrow().slot());
    }

    private void run(double seconds, Runnable check) {
        long end = conductor.nowNanos() + Math.round(seconds * 1e9);
        while (conductor.nowNanos() < end) {
            conductor.tick();
            check.run();
        }
    }

    private void set(String tunable, double value) {
        conductor.set(Map.of(tunable, value));
    }

    @Test
    void boatsPassAndTheGatesAreNeverOpenTogether() {
        List<String> wrong = new ArrayList<>();
        run(1_500, () -> {
            if (tap("lock.lower_opening") > 0.01 && tap("lock.upper_opening") > 0.01) {
                wrong.add("both gates open at " + conductor.nowNanos());
            }
            if (tap("lock.lower_opening") > 0.01 && tap("lock.chamber_level") > 0.15
                    || tap("lock.upper_opening") > 0.01 && tap("lock.chamber_level") < 1.85) {
                wrong.add("a gate is open against water at " + conductor.nowNanos());
            }
        });
        assertThat(wrong).isEmpty();
        assertThat(tap("lock.boats_passed")).isGreaterThanOrEqualTo(6);
        assertThat(tap("lock.collision")).isZero();
    }

    @Test
    void theEmergencyStopTakesAllDrivesOffWithinOneScanAndNothingStartsAtOnceAfterwards() {
        run(110, () -> { });
        assertThat(out("fill")).isEqualTo(1);
        set("panel.emergency_stop", 1);
        conductor.tick();
        conductor.tick();
        run(5, () -> {
            for (String o : List.of("lower opens", "lower closes", "upper opens", "upper closes", "fill", "drain")) {
                assertThat(out(o)).as(o).isZero();
            }
        });
        assertThat(tap("sequence.first_out")).isEqualTo(1);
        set("panel.emergency_stop", 0);
        run(1.9, () -> assertThat(out("fill")).isZero());
        run(1, () -> { });
        assertThat(out("fill")).isEqualTo(1);
    }

    @Test
    void byHandTheSameInterlocksDecide() {
        set("lock.traffic.boats_come", 0);
        run(4, () -> { });
        set("panel.by_hand", 1);
        set("panel.upper_gate", 1);
        run(10, () -> { });
        assertThat(tap("lock.upper_opening")).isZero();
        assertThat(tap("sequence.first_out")).isEqualTo(3);
        set("panel.fill", 1);
        run(120, () -> { });
        assertThat(tap("lock.chamber_level")).isGreaterThan(1.9);
        assertThat(tap("lock.upper_opening")).isGreaterThan(0.97);
        set("panel.lower_gate", 1);
        run(10, () -> { });
        assertThat(tap("lock.lower_opening")).isZero();
        assertThat(tap("sequence.first_out")).isEqualTo(2);
    }

    @Test
    void aBrokenSensorStopsTheSequenceInPlaceAndNothingOpens() {
        run(60, () -> { });
        set("panel.lower_sensor_broken", 1);
        run(200, () -> { });
        assertThat(tap("lock.upper_opening")).isZero();
        assertThat(tap("lock.boats_passed")).isZero();
        set("panel.lower_sensor_broken", 0);
        run(200, () -> { });
        assertThat(tap("lock.boats_passed")).isEqualTo(1);
    }
}
