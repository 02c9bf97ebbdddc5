package boldanvil.core.transfer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.finding.FindingException;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.Series;
import boldanvil.core.testing.Killed;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

@Timeout(60)
class FileRecordingTest {
    private static final double RPM = Math.PI / 30;

    @TempDir
    private Path folder;

    @ParameterizedTest
    @ValueSource(strings = {"run.csv", "run.h5"})
    void whatIsRecordedIsReadBack(String name) {
        var s = Killed.store();
        Path file = folder.resolve(name);
        try (var recording = new FileRecording(s, file)) {
            Killed.fill(s, 0, 500);
            assertThat(recording.failure()).isEmpty();
        }
        RunData back = Killed.recorded(file);
        Series speed = back.find("drive.speed").orElseThrow();
        assertThat(speed.unit()).isEqualTo("rpm");
        assertThat(speed.size()).isEqualTo(500);
        for (int i = 0; i < 500; i++) {
            assertThat(speed.times()[i]).isEqualTo(i * 1e-3);
            assertThat(speed.values()[i]).isCloseTo(Killed.speed(i), within(1e-9));
        }
        assertThat(back.find("slow.level").orElseThrow().size()).isEqualTo(50);
    }

    @Test
    void numbersInTextAreOfTheirUnit() throws IOException {
        var s = Killed.store();
        Path file = folder.resolve("run.csv");
        try (var _ = new FileRecording(s, file)) {
            s.add(0, 0, 1_500 * RPM);
            s.add(1, 0, 2);
        }
        List<String> lines = Files.readAllLines(file);
        assertThat(lines.getFirst()).isEqualTo("time [s],drive.speed [rpm],slow.level [m]");
        String[] cells = lines.get(1).split(",");
        assertThat(Double.parseDouble(cells[1])).isCloseTo(1_500, within(1e-9));
        assertThat(cells[2]).isEqualTo("2");
    }

    @Test
    void aChangeDumpIsWrittenAtTheEnd() throws IOException {
        var s = Killed.store();
        Path file = folder.resolve("run.vcd");
        try (var _ = new FileRecording(s, file)) {
            Killed.fill(s, 0, 20);
        }
        assertThat(Files.readString(file)).contains("$enddefinitions");
        try (var left = Files.list(folder)) {
            assertThat(left).containsExactly(file);
        }
    }

    @Test
    void whatIsUnknownOrCannotBeWrittenIsRefusedAtOnce() {
        assertThatThrownBy(() -> new FileRecording(Killed.store(), folder.resolve("run.txt"))).isInstanceOf(FindingException.class)
                .hasMessageContaining(".csv, .h5, .vcd");
        assertThatThrownBy(() -> new FileRecording(Killed.store(), Path.of("/"))).isInstanceOf(FindingException.class);
        assertThatThrownBy(() -> new FileRecording(Killed.store(), folder.resolve("none/run.csv"))).isInstanceOf(FindingException.class)
                .hasMessageContaining("cannot be written");
        assertThatThrownBy(() -> RunExport.write(Killed.store(), folder.resolve("run.doc"))).isInstanceOf(FindingException.class);
        assertThat(folder).isEmptyDirectory();
    }

    @ParameterizedTest
    @ValueSource(strings = {"run.csv", "run.h5"})
    void aProcessThatIsKilledKeepsWhatItRecorded(String name) throws Exception {
        Path file = folder.resolve(name);
        var p = Killed.start(Killed.Recorder.class, file.toString());
        var out = p.inputReader();
        int reported = 0;
        while (reported < 10_000) {
            reported = Integer.parseInt(out.readLine());
        }
        p.destroyForcibly().onExit().join();
        RunData back = Killed.recorded(file);
        Series speed = back.find("drive.speed").orElseThrow();
        // It writes every 0.2 s, in which 20 times 100 rows come at most.
        assertThat(speed.size()).isGreaterThan(10_000 - 5_000);
        assertThat(speed.values()[speed.size() - 1]).isCloseTo(Killed.speed(speed.size() - 1), within(1e-6));
    }

    @Test
    void aLastLineThatWasCutOffIsLeftOut() throws IOException {
        Path file = folder.resolve("run.csv");
        Files.writeString(file, "time [s],a,b\n0,1,2\n0.1,3,4\n0.2,5");
        assertThat(RunCsv.read(file).find("a").orElseThrow().values()).containsExactly(1, 3);
        Files.writeString(file, "time [s],a,b\n0,1\n0.1,3,4\n");
        assertThatThrownBy(() -> RunCsv.read(file)).isInstanceOf(FindingException.class).hasMessageContaining("2 cells");
        Files.writeString(file, "time [s],,b\n0,1,2\n");
        assertThatThrownBy(() -> RunCsv.read(file)).isInstanceOf(FindingException.class).hasMessageContaining("Column 2 has no name");
    }
}
