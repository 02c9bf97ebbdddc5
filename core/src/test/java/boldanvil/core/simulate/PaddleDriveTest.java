package boldanvil.core.simulate;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.files.ProjectReader;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.measure.StepMetrics;
import boldanvil.core.samples.RunData;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import org.junit.jupiter.api.Test;

class PaddleDriveTest {
    static RunData run(double seconds) {
        var system = LoweredSystem.of(ProjectReader.read(Path.of("../demo/larkmere-lock"))).orThrow();
        Map<String, Instance> instances = new LinkedHashMap<>();
        system.parts().keySet().forEach(id ->
                instances.put(id, JvmCompiler.compile(system.program(id).orElseThrow()).instantiate()));
        var conductor = new Conductor(system, instances);
        var recorder = new Recorder(system, instances, Integer.MAX_VALUE);
        recorder.record(conductor);
        var store = recorder.store();
        new RunLoop(conductor, (long) (seconds * 1e9), Double.POSITIVE_INFINITY, () -> { }).run();
        return store.snapshot();
    }

    @Test
    void aMoveOf400MillimetresAt600NewtonSettlesWithinAMillimetreAndOvershootsLessThanTwo() {
        var position = run(6).find("drive.position").orElseThrow();
        var step = StepMetrics.of(position, 0.2, 0, 0.4, 0.001);
        assertThat(step.settlingTime()).isLessThan(5.5);
        assertThat(step.overshoot()).isLessThan(0.002);
        assertThat(step.finalError()).isBetween(-0.001, 0.001);
    }

    @Test
    void theCurrentNeverExceedsItsLimitByMoreThanTheLoopsRipple() {
        var current = run(6).find("drive.current").orElseThrow();
        assertThat(java.util.Arrays.stream(current.values()).max().orElseThrow()).isLessThan(19.5);
    }
}
