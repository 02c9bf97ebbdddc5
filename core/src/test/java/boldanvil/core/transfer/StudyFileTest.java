package boldanvil.core.transfer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.finding.FindingException;
import boldanvil.core.study.RunTable;
import boldanvil.core.study.RunTable.Column;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class StudyFileTest {
    private static final Map<String, String> ABOUT = Map.of("project", "lock", "rig", "desk");

    @TempDir
    private Path folder;

    private static RunTable table(int runs) {
        var t = new RunTable(List.of(new Column("seal", "", "", true), new Column("drive/x", "maximum", "mm", false),
                new Column("drive/x", "RMS", "mm", false)));
        var random = new Random(1);
        for (int i = 0; i < runs; i++) {
            t.add(new double[] {random.nextGaussian(), i % 50 == 3 ? Double.NaN : random.nextDouble(), 1.0 / 3}, i % 50 == 3
                    ? "drive: the run ended early" : "");
        }
        return t;
    }

    @Test
    void aTableComesBackBitForBit() throws Exception {
        Path file = folder.resolve("runs.h5");
        var t = table(9_000);
        StudyFile.write(t, ABOUT, file);
        var read = StudyFile.read(file);
        assertThat(read.about()).isEqualTo(ABOUT);
        assertThat(read.table().columns()).isEqualTo(t.columns());
        for (int c = 0; c < 3; c++) {
            assertThat(read.table().values(c)).containsExactly(t.values(c));
        }
        assertThat(read.table().note(3)).isEqualTo("drive: the run ended early");
        assertThat(read.table().notes()).isEqualTo(t.notes());
    }

    @Test
    void otherToolsReadIt() throws Exception {
        Path file = folder.resolve("runs.h5");
        StudyFile.write(table(20), ABOUT, file);
        Process p = new ProcessBuilder("h5dump", "-d", "/varied/0 seal", file.toString()).redirectErrorStream(true).start();
        String text = new String(p.getInputStream().readAllBytes());
        assertThat(p.waitFor()).as(text).isZero();
        assertThat(text).contains("H5T_IEEE_F64LE", "SIMPLE { ( 20 )");
    }

    @Test
    void csvHasALineForEachRun() throws Exception {
        Path file = folder.resolve("runs.csv");
        StudyFile.write(table(5), ABOUT, file);
        assertThat(Files.readAllLines(file)).hasSize(6).first().isEqualTo("seal,drive/x maximum [mm],drive/x RMS [mm],note");
        assertThat(Files.readAllLines(file).get(4)).endsWith(",drive: the run ended early");
    }

    @Test
    void whatIsNoStudyIsAFinding() throws Exception {
        Path text = Files.writeString(folder.resolve("text.h5"), "not HDF5");
        Path run = folder.resolve("run.h5");
        try (var g = new boldanvil.core.hdf5.GrowingFile(run, Map.of("format", "other"))) {
            g.commit();
        }
        for (Path p : List.of(text, run, folder.resolve("none.h5"))) {
            assertThatThrownBy(() -> StudyFile.read(p)).as(p.toString()).isInstanceOf(FindingException.class);
        }
    }

    @Test
    void aDamagedFileIsAFindingOrReadWhole() throws Exception {
        Path file = folder.resolve("runs.h5");
        StudyFile.write(table(60), ABOUT, file);
        byte[] good = Files.readAllBytes(file);
        var random = new Random(7);
        for (int i = 0; i < 200; i++) {
            byte[] bad = good.clone();
            for (int k = 0; k < 4; k++) {
                bad[random.nextInt(bad.length)] = (byte) random.nextInt();
            }
            read(Files.write(folder.resolve("bad.h5"), i % 3 == 0 ? java.util.Arrays.copyOf(bad, random.nextInt(bad.length)) : bad));
        }
    }

    private static void read(Path file) throws IOException {
        try {
            StudyFile.read(file);
        } catch (FindingException e) {
            assertThat(e.findings().getFirst().cure()).isNotEmpty();
        }
    }
}
