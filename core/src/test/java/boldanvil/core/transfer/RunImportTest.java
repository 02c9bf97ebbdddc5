package boldanvil.core.transfer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.finding.FindingException;
import boldanvil.core.runs.RunDifferences;
import boldanvil.core.runs.RunNote;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import io.jhdf.HdfFile;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Recordings of other tools, and files for other tools. */
class RunImportTest {
    @TempDir
    Path folder;

    private Path file(String name, String text) throws IOException {
        return Files.writeString(folder.resolve(name), text);
    }

    private static RunImport.Plan plan(String time, double factor, RunImport.Mapping... m) {
        return new RunImport.Plan(time, factor, 0, List.of(m));
    }

    private static RunImport.Mapping map(String column, String tap) {
        return new RunImport.Mapping(column, tap, "", 1);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '!', value = {"'time,speed [rpm],on\\n0,1.5,0\\n1,2.5,1\\n'", "'time;speed [rpm];on\\n0;1,5;0\\n1;2,5;1\\n'",
        "'# made by a recorder\\ntime\\tspeed [rpm]\\ton\\n\\n0\\t1.5\\t0\\n1\\t2.5\\t1\\n'",
                "'\\uFEFFtime|speed [rpm]|on\\n0|1.5|0\\n1|2.5|1\\n'"})
    void anySeparatorIsRead(String text) throws IOException {
        Path f = file("a.csv", text.replace("\\n", "\n").replace("\\t", "\t").replace("\\uFEFF", "\uFEFF"));
        var contents = RunImport.look(f);
        assertThat(contents.columns()).containsExactly("time", "speed [rpm]", "on");
        assertThat(contents.time()).isZero();
        var s = RunImport.read(f, plan("time", 1e-3, new RunImport.Mapping("speed [rpm]", "x.speed", "rad/s", Math.PI / 30),
                map("on", "x.on")));
        assertThat(s.series(0).times()).containsExactly(0, 1e-3);
        assertThat(s.series(0).values()).containsExactly(1.5 * Math.PI / 30, 2.5 * Math.PI / 30);
        assertThat(s.columns().get(0).unit()).isEqualTo("rad/s");
        assertThat(s.series(1).values()).containsExactly(0, 1);
    }

    @Test
    void withoutATimeColumnRowsLieEquallyApart() throws IOException {
        Path f = file("a.txt", "1\n4\n9\n");
        assertThat(RunImport.look(f).columns()).containsExactly("column 1");
        var s = RunImport.read(f, new RunImport.Plan("", 1, 0.5, List.of(map("column 1", "a.b"))));
        assertThat(s.series(0).times()).containsExactly(0, 0.5, 1);
        assertThatThrownBy(() -> RunImport.read(f, new RunImport.Plan("", 1, 0, List.of()))).hasMessageContaining("sample time");
    }

    @Test
    void emptyCellsAreNoSamples() throws IOException {
        Path f = file("a.csv", "t,a,b\n0,1,\n1,,5\n2,3,6\n");
        var s = RunImport.read(f, plan("t", 1, map("a", "p.a"), map("b", "p.b")));
        assertThat(s.series(0).times()).containsExactly(0, 2);
        assertThat(s.series(1).values()).containsExactly(5, 6);
    }

    @Test
    void whatIsWrongIsToldWithItsPlace() throws IOException {
        Path f = file("a.csv", "t,a\n0,1\n1,x\n");
        assertThatThrownBy(() -> RunImport.read(f, plan("t", 1, map("a", "p.a")))).isInstanceOf(FindingException.class)
                .hasMessageContaining("a.csv:3").hasMessageContaining("'x' in column 'a'");
        assertThatThrownBy(() -> RunImport.read(f, plan("t", 1, map("c", "p.a")))).hasMessageContaining("no column 'c'")
                .hasMessageContaining("t, a");
        Path back = file("b.csv", "t,a\n1,1\n0,2\n");
        assertThatThrownBy(() -> RunImport.read(back, plan("t", 1, map("a", "p.a")))).hasMessageContaining("does not increase");
        Path cut = file("c.csv", "t,a,b\n0,1,2\n1,2\n");
        assertThatThrownBy(() -> RunImport.read(cut, plan("t", 1, map("b", "p.b")))).hasMessageContaining("c.csv:3")
                .hasMessageContaining("cut off");
        assertThatThrownBy(() -> RunImport.look(file("d.csv", ""))).hasMessageContaining("empty");
        assertThatThrownBy(() -> RunImport.look(folder.resolve("none.csv"))).hasMessageContaining("no such file");
        Path binary = Files.write(folder.resolve("e.csv"), new byte[] {(byte) 0xC3, 0x28, 1, 2, 3});
        assertThatThrownBy(() -> RunImport.look(binary)).isInstanceOf(FindingException.class);
        Path nonsense = Files.write(folder.resolve("f.h5"), new byte[5_000]);
        assertThatThrownBy(() -> RunImport.look(nonsense)).isInstanceOf(FindingException.class).hasMessageContaining("not an HDF5");
    }

    @Test
    void columnsOfAnHdf5FileAreReadFromWhereverTheyLie() throws IOException {
        Path f = folder.resolve("b.h5");
        try (var h = HdfFile.write(f)) {
            h.putDataset("time", new double[] {0, 1, 2});
            h.putDataset("short", new double[] {1});
            var g = h.putGroup("signals");
            g.putDataset("count", new int[] {3, 4, 5});
            g.putDataset("temperature", new float[] {20, 21, 22});
        }
        var contents = RunImport.look(f);
        assertThat(contents.columns()).contains("/time", "/signals/count", "/signals/temperature");
        assertThat(contents.columns().get(contents.time())).isEqualTo("/time");
        var s = RunImport.read(f, plan("/time", 0.1, map("/signals/count", "x.count"),
                new RunImport.Mapping("/signals/temperature", "x.t", "K", 2)));
        assertThat(s.series(0).times()).containsExactly(0, 0.1, 0.2);
        assertThat(s.series(0).values()).containsExactly(3, 4, 5);
        assertThat(s.series(1).values()).containsExactly(40, 42, 44);
        assertThatThrownBy(() -> RunImport.read(f, plan("/time", 1, map("/short", "x.s")))).hasMessageContaining("1 values")
                .hasMessageContaining("3");
        assertThatThrownBy(() -> RunImport.read(f, plan("/nothing", 1, map("/short", "x.s")))).hasMessageContaining("no column");
    }

    private static Samples run() {
        return SampleStore.of(new RunData(List.of(new Series("p.a", "V", new double[] {0, 0.5, 1}, new double[] {0, 1, 0}),
                new Series("p.b", "", new double[] {0, 1}, new double[] {0.25, -7}))));
    }

    @ParameterizedTest
    @CsvSource({"x.csv", "x.h5", "x.hdf5"})
    void whatIsExportedCanBeOpenedAgain(String name) {
        RunExport.write(run(), folder.resolve(name));
        try (var again = RunImport.open(folder.resolve(name))) {
            assertThat(again.snapshot()).isEqualTo(run().snapshot());
        }
    }

    @Test
    void aPartIsCutOutOfARun() {
        var part = RunExport.part(run(), List.of("p.a", "p.none"), 0.4, 2);
        assertThat(part.columns()).hasSize(1);
        assertThat(part.series(0).times()).containsExactly(0.5, 1);
    }

    @Test
    void aFolderThatIsNotThereIsAFinding() {
        for (String name : List.of("x.csv", "x.h5", "x.vcd")) {
            assertThatThrownBy(() -> RunExport.write(run(), folder.resolve("none").resolve(name))).isInstanceOf(FindingException.class)
                    .hasMessageContaining("cannot be written");
        }
    }

    /** Written by this program, read by a reader of value change dumps that was written from the standard alone. */
    @Test
    void aValueChangeDumpSaysTheSame() throws IOException {
        Path f = folder.resolve("x.vcd");
        RunExport.write(run(), f);
        var names = new java.util.HashMap<String, String>();
        var seen = new java.util.TreeMap<String, String>();
        long now = 0;
        for (String line : Files.readAllLines(f)) {
            String[] w = line.split(" ");
            if (line.startsWith("$var")) {
                names.put(w[3], w[4]);
            } else if (line.startsWith("#")) {
                now = Long.parseLong(line.substring(1));
            } else if (line.startsWith("r")) {
                seen.put(names.get(w[1]) + "@" + now, w[0].substring(1));
            } else if (line.startsWith("0") || line.startsWith("1")) {
                seen.put(names.get(line.substring(1)) + "@" + now, line.substring(0, 1));
            }
        }
        assertThat(seen).containsEntry("a@0", "0").containsEntry("a@500000000", "1").containsEntry("a@1000000000", "0")
                .containsEntry("b@0", "0.25").containsEntry("b@1000000000", "-7.0");
    }

    @Test
    void whatDiffersInWhatMadeTwoRunsIsNamed() {
        var shelf = new RunShelf(folder.resolve("runs"));
        String part = "{\"sheets\": [{\"id\": \"main\", \"blocks\": [{\"id\": \"b1\", \"name\": \"gain\", \"at\": [%d, 0], \"set\": "
                + "{\"k\": \"%d\"}}]}]}";
        var a = shelf.save(RunNote.beginning("desk", "2026-05-04T10:20:30Z", 1e-3, java.util.Map.of("c", "model"), java.util.Map.of())
                .ended(1, List.of(), List.of()), run(),
                java.util.Map.of("parts/c.json", part.formatted(0, 9), "bench/bench.json", "{\"a\": 1}"));
        var b = shelf.save(RunNote.beginning("code", "2026-05-04T10:20:31Z", 1e-3, java.util.Map.of("c", "code"),
                java.util.Map.of("c", "0123456789abcdef")).ended(1, List.of("x = 1"), List.of()), run(),
                java.util.Map.of("parts/c.json", part.formatted(50, 12), "bench/bench.json", "{\"a\": 2}"));
        var rows = RunDifferences.of(a, b);
        assertThat(rows).contains(new RunDifferences.Row("rig", "desk", "code"), new RunDifferences.Row("c runs on", "model", "code"),
                new RunDifferences.Row("image of c", "", "0123456789ab…"), new RunDifferences.Row("changes during the run", "", "x = 1"));
        assertThat(RunDifferences.projects(a, b)).singleElement().satisfies(r -> {
            assertThat(r.what()).contains("gain").endsWith("k");
            assertThat(r.first()).isEqualTo("9");
            assertThat(r.second()).isEqualTo("12");
        });
        assertThat(RunDifferences.projects(a, a)).isEmpty();
    }
}
