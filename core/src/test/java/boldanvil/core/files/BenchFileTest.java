package boldanvil.core.files;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.diagram.BenchLayout;
import boldanvil.core.diagram.BenchLayout.Binding;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout.Choice;
import boldanvil.core.diagram.BenchLayout.Control;
import boldanvil.core.diagram.Project;
import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class BenchFileTest {
    @TempDir
    Path folder;

    private static BenchLayout everything() {
        List<Control> controls = new ArrayList<>();
        for (var s : BenchLayout.Shape.values()) {
            controls.add(new Control(s, "a " + s, "p." + s, "mm", -2, 3, 0.5, 0.25, -1, 2, "group",
                    List.of(new Choice("low", 1), new Choice("high", 2.5))));
        }
        controls.add(new Control(BenchLayout.Shape.DIAL, "plain", "p.q", "", 0, 1, 0));
        List<Chart> charts = new ArrayList<>(List.of(new Chart("plain", "A", List.of("p.i"))));
        for (var k : BenchLayout.Kind.values()) {
            charts.add(new Chart("pane " + k, k, "V", List.of("p.u", "p.v"), "rad", List.of("p.phi"), BenchLayout.Style.STEP, 2.5, 1e-4,
                    BenchLayout.Decoder.UART, 115_200));
        }
        var readouts = List.of(new BenchLayout.Readout(BenchLayout.Display.TABLE, "all", List.of("p.a", "p.b"), "K", 1, 2));
        List<Binding> bindings = new ArrayList<>();
        for (var e : BenchLayout.Effect.values()) {
            bindings.add(new Binding("id", e, "p.x", -1, 4, "1", "2"));
        }
        return new BenchLayout(controls, 2, charts, readouts, List.of(new BenchLayout.Drawing("d", "bench/d.svg", bindings)),
                List.of(new BenchLayout.Limit("p.i", "A", -1, 2, 3, 0.1), new BenchLayout.Limit("p.u", "", Double.NaN, 2, Double.NaN, 0)),
                List.of(new BenchLayout.ValueSet("A", Map.of("p.k", 1.5, "p.on", 1.0))));
    }

    @Test
    void everythingOnTheBenchIsKept() throws IOException {
        var p = Project.empty("x").withBench(everything());
        ProjectWriter.write(p, folder);
        assertThat(ProjectReader.read(folder).bench()).isEqualTo(everything());
        String once = Files.readString(folder.resolve("bench/bench.json"));
        ProjectWriter.write(ProjectReader.read(folder), folder);
        assertThat(Files.readString(folder.resolve("bench/bench.json"))).isEqualTo(once);
    }

    @Test
    void whatIsUsualIsNotWritten() {
        String text = BenchFile.write(new BenchLayout(List.of(new Control(BenchLayout.Shape.DIAL, "plain", "p.q", "", 0, 1, 0)),
                List.of(new Chart("c", "", List.of()))));
        assertThat(text).doesNotContain("soft").doesNotContain("group").doesNotContain("kind").doesNotContain("readouts")
                .doesNotContain("columns");
    }

    @Test
    void aBenchThatIsWrittenWrongIsAFinding() throws IOException {
        ProjectWriter.write(Project.empty("x"), folder);
        for (String bad : List.of("\"controls\": [{\"shape\": \"lever\", \"title\": \"x\", \"tunable\": \"y\"}]",
                "\"charts\": [{\"title\": \"x\", \"taps\": [], \"kind\": \"cake\"}]",
                "\"limits\": [{\"least\": 1}]", "\"columns\": 9", "\"surprise\": 1",
                "\"sets\": [{\"name\": \"A\", \"values\": {\"x\": \"one\"}}]")) {
            Files.createDirectories(folder.resolve("bench"));
            Files.writeString(folder.resolve("bench/bench.json"), "{\"format\": 1, " + bad + "}");
            assertThatThrownBy(() -> ProjectReader.read(folder)).as(bad).isInstanceOf(FindingException.class)
                    .hasMessageContaining("bench.json");
        }
    }
}
