package boldanvil.core.transfer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.finding.FindingException;
import boldanvil.core.runs.RunNote;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Series;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.Size;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class RunFilesTest {
    @TempDir
    private Path folder;

    private static RunData twoRates() {
        return new RunData(List.of(new Series("a.fast", "m/s", new double[] {0, 0.001, 0.002}, new double[] {1, 0.1, -3e-7}),
                new Series("a.slow", "", new double[] {0, 0.002}, new double[] {5, 6})));
    }

    @Test
    void whatIsWrittenIsReadBack() throws IOException {
        Path file = folder.resolve("run.csv");
        RunCsv.write(twoRates(), file);
        assertThat(RunCsv.read(file)).isEqualTo(twoRates());
        assertThat(Files.readAllLines(file)).containsExactly("time [s],a.fast [m/s],a.slow", "0,1,5", "0.001,0.1,", "0.002,-3.0E-7,6");
        assertThat(Files.list(folder)).hasSize(1);
    }

    @Property(tries = 40)
    void everyBitSurvives(@ForAll @Size(min = 1, max = 20) double[] values) throws IOException {
        double[] times = new double[values.length];
        for (int i = 0; i < times.length; i++) {
            times[i] = i * 1e-4;
        }
        var run = new RunData(List.of(new Series("x", "V", times, values)));
        Path file = Files.createTempFile("bits", ".csv");
        try {
            RunCsv.write(run, file);
            assertThat(RunCsv.read(file)).isEqualTo(run);
        } finally {
            Files.delete(file);
        }
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            ''                                    | empty
            'x,y\n1,2\n'                          | not the time
            'time [s],x\n0,1\n1\n'                | 1 cells, the header 2
            'time [s],x\n0,1\n0,2\n'              | does not increase
            'time [s],x\n0,apple\n'               | 'apple' is not a number
            'time [s],x\nsoon,1\n'                | 'soon' is not a number
            """)
    void brokenTablesAreFindingsWithTheirLine(String text, String words) throws IOException {
        Path file = folder.resolve("bad.csv");
        Files.writeString(file, text.replace("\\n", "\n"));
        assertThatThrownBy(() -> RunCsv.read(file)).isInstanceOf(FindingException.class).hasMessageContaining(words)
                .hasMessageContaining("bad.csv");
    }

    @Test
    void aMissingOrBinaryFileIsAFinding() throws IOException {
        assertThatThrownBy(() -> RunCsv.read(folder.resolve("none.csv"))).isInstanceOf(FindingException.class)
                .hasMessageContaining("no such file");
        Path binary = folder.resolve("binary.csv");
        Files.write(binary, new byte[] {'t', 'i', 'm', 'e', ',', (byte) 0xC3, (byte) 0x28, '\n'});
        assertThatThrownBy(() -> RunCsv.read(binary)).isInstanceOf(FindingException.class);
    }

    @Test
    void theShelfKeepsARunWithWhatMadeIt() throws IOException {
        var shelf = new RunShelf(folder.resolve("runs"));
        var note = RunNote.beginning("desk", "2026-05-04T10:20:30.123Z", 50e-6, Map.of(), Map.of("controller", "abc"))
                .ended(1.5, List.of("a.t = 2 at 1 s"), List.of());
        var entry = shelf.save(note, SampleStore.of(twoRates()), Map.of("project.json", "{}", "parts/a.json", "[]"));
        assertThat(entry.id()).isEqualTo("20260504-102030-123-desk");
        assertThat(Files.readString(entry.folder().resolve("project/parts/a.json"))).isEqualTo("[]");
        var listed = shelf.list();
        assertThat(listed).hasSize(1);
        assertThat(listed.getFirst().note()).isEqualTo(note);
        assertThat(listed.getFirst().open().snapshot()).isEqualTo(twoRates());
    }

    @Test
    void theNewestRunComesFirstAndABrokenOneIsPassedOver() throws IOException {
        var shelf = new RunShelf(folder.resolve("runs"));
        shelf.save(RunNote.beginning("desk", "2026-05-04T10:20:30Z", 0, Map.of(), Map.of()).ended(1, List.of(), List.of()),
                SampleStore.of(twoRates()), Map.of());
        shelf.save(RunNote.beginning("code", "2026-05-05T10:20:30Z", 0, Map.of(), Map.of()).ended(1, List.of(), List.of()),
                SampleStore.of(twoRates()), Map.of());
        Path broken = Files.createDirectories(folder.resolve("runs/20270101-broken"));
        Files.write(broken.resolve("run.json"), "{".getBytes(StandardCharsets.UTF_8));
        assertThat(shelf.list()).extracting(e -> e.note().rig()).containsExactly("code", "desk");
    }

    @Test
    void aShelfThatIsNotThereIsEmpty() {
        assertThat(new RunShelf(folder.resolve("nowhere")).list()).isEmpty();
    }
}
