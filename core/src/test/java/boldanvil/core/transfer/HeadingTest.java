package boldanvil.core.transfer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.runs.RunNote;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.samples.Column;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.storage.RunFile;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@Timeout(20)
class HeadingTest {
    @TempDir
    private Path folder;

    @ParameterizedTest
    @CsvSource({"'speed [rpm]', speed, rpm", "'speed', speed, ''", "'a [b] c', 'a [b] c', ''", "' gap  [V/(rad/s)] ', gap, V/(rad/s)",
            "'[m]', '', m", "'x []', x, ''"})
    void aHeadingIsANameAndAUnit(String heading, String name, String unit) {
        Column c = Column.ofHeading(heading);
        assertThat(c.name()).isEqualTo(name);
        assertThat(c.unit()).isEqualTo(unit);
    }

    @Test
    void longHeadingsAreReadInOneGo() throws IOException {
        String blanks = " ".repeat(200_000);
        assertThat(Column.ofHeading("a" + blanks + "x").unit()).isEmpty();
        Path file = Files.writeString(folder.resolve("a.csv"), "time [s],a" + blanks + "x\n0,1\n");
        assertThat(RunCsv.read(file).series()).hasSize(1);
        Path other = Files.writeString(folder.resolve("b.csv"), "time".repeat(50_000) + " x,b\n" + "0,1\n");
        assertThat(RunImport.look(other).columns()).hasSize(2);
    }

    @Test
    void importedValuesAreConvertedAsTheirUnitWants() throws IOException {
        Path file = Files.writeString(folder.resolve("t.csv"), "t,a,b,c\n0,20,1500,20\n1,21,0,21\n");
        var run = RunImport.read(file, new RunImport.Plan("t", 1, 0, List.of(new RunImport.Mapping("a", "x.temperature", "°C", 1),
                new RunImport.Mapping("b", "x.speed", "rpm", Math.PI / 30),
                new RunImport.Mapping("c", "x.raw", "°C", 2))));
        assertThat(run.series(0).values()).containsExactly(new double[] {293.15, 294.15}, within(1e-9));
        assertThat(run.series(1).values()[0]).isCloseTo(50 * Math.PI, within(1e-9));
        assertThat(run.series(2).values()).as("another factor is used alone").containsExactly(40, 42);
    }

    @ParameterizedTest
    @CsvSource({"t, true", "T, true", "time, true", "'Time [s]', true", "'t [ms]', true", "'t(s)', true", "'run time', true",
            "'x;time', true", "lifetime, false", "torque, false", "'at', false"})
    void columnsWithInstantsAreFound(String name, boolean is) throws IOException {
        Path file = Files.writeString(folder.resolve("c.csv"), "value\t" + name + "\n1\t2\n");
        assertThat(RunImport.look(file).time()).isEqualTo(is ? 1 : -1);
    }

    @Test
    void aDamagedFileDoesNotTakeMemory() throws IOException {
        var store = new SampleStore(List.of(new Column("a", "")));
        store.add(0, 0, 1);
        Path file = folder.resolve("a.h5");
        RunExport.write(store, file);
        byte[] whole = Files.readAllBytes(file);
        for (int at = 0; at < whole.length - 4; at++) {
            if (whole[at] == 'O' && whole[at + 1] == 'H' && whole[at + 2] == 'D' && whole[at + 3] == 'R') {
                byte[] damaged = whole.clone();
                // Without its signature a header is read as one of the first version, whose length is then what happens to lie there.
                damaged[at] = 1;
                java.util.Arrays.fill(damaged, at + 4, at + 12, (byte) 0x7F);
                Files.write(file, damaged);
                assertThat(org.assertj.core.api.Assertions.catchThrowable(() -> RunFile.open(file).close())).as("header at %d", at)
                        .satisfiesAnyOf(e -> assertThat(e).isNull(), e -> assertThat(e)
                        .isInstanceOf(boldanvil.core.finding.FindingException.class));
            }
        }
    }

    @Test
    void pipesOnTheShelfAreFindings() throws Exception {
        var store = new SampleStore(List.of(new Column("a", "")));
        store.add(0, 0, 1);
        var shelf = new RunShelf(folder.resolve("runs"));
        var good = shelf.save(RunNote.beginning("desk", "2026-01-01T00:00:00Z", 1e-3, java.util.Map.of(), java.util.Map.of()), store,
                java.util.Map.of());
        Path bad = Files.createDirectories(folder.resolve("runs/2026-bad"));
        assertThat(new ProcessBuilder("mkfifo", bad.resolve("run.json").toString()).start().waitFor()).isZero();
        List<boldanvil.core.finding.Finding> problems = new java.util.ArrayList<>();
        assertThat(shelf.list(problems)).extracting(RunShelf.Entry::id).containsExactly(good.id());
        assertThat(problems).singleElement().satisfies(f -> assertThat(f.cause()).contains("not a regular file"));
        Files.delete(good.folder().resolve("samples.h5"));
        Files.createSymbolicLink(good.folder().resolve("samples.h5"), Path.of("/dev/zero"));
        assertThat(org.assertj.core.api.Assertions.catchThrowable(() -> good.open().close()))
                .isInstanceOf(boldanvil.core.finding.FindingException.class);
        Files.deleteIfExists(good.folder().resolve("marks.jsonl"));
        assertThat(new ProcessBuilder("mkfifo", good.folder().resolve("marks.jsonl").toString()).start().waitFor()).isZero();
        assertThat(org.assertj.core.api.Assertions.catchThrowable(good::marks)).isInstanceOf(boldanvil.core.finding.FindingException.class);
    }
}
