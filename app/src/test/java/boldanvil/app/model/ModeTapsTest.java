package boldanvil.app.model;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.Demo;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.runs.Mark;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Series;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class ModeTapsTest {
    @Test
    void theActiveStepOfAChartIsFoundWithTheNamesOfItsSteps(@TempDir Path folder) throws Exception {
        var modes = ModeTaps.of(ProjectReader.read(Demo.copyTo(folder.resolve("p"), "paddle-modes")));
        assertThat(modes).singleElement().isEqualTo(new ModeTaps.Mode("modes.mode", "modes/sequence",
                List.of("idle", "calibrate", "control", "blocked")));
        assertThat(modes.getFirst().step(3)).isEqualTo("control");
        assertThat(modes.getFirst().step(0)).isEqualTo("none");
        var samples = SampleStore.of(new RunData(List.of(new Series("modes.mode", "", new double[] {0, 1, 2, 3, 4},
                new double[] {1, 1, 2, 2, 3}))));
        assertThat(ModeTaps.changes(modes, samples, 0)).containsExactly(new Mark(2, Mark.Kind.MODE, "sequence: idle to calibrate"),
                new Mark(4, Mark.Kind.MODE, "sequence: calibrate to control"));
        assertThat(ModeTaps.changes(modes, samples, 2)).hasSize(1);
    }
}
