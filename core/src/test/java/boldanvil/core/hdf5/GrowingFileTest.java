package boldanvil.core.hdf5;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import io.jhdf.HdfFile;
import boldanvil.core.build.Toolchain;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;

/** What is written is read back by two libraries that know nothing of the writer. */
class GrowingFileTest {
    @TempDir
    Path folder;

    @Test
    void checksumsAreThoseOfTheirAuthor() {
        // Test values from the comments of lookup3.c: initial value 0.
        byte[] text = "Four score and seven years ago".getBytes(StandardCharsets.US_ASCII);
        assertThat(Lookup3.of(text, text.length)).isEqualTo(0x17770551);
        assertThat(Lookup3.of(new byte[0], 0)).isEqualTo(0xdeadbeef);
    }

    @ParameterizedTest
    @EnumSource(NumberType.class)
    void anyLibraryReadsBackWhatWasAppendedInPieces(NumberType type) throws IOException {
        double[] values = new Random(4).doubles(1_000).map(v -> type == NumberType.FLOAT64 ? v * 1e3 : type == NumberType.FLOAT32
                ? (float) v : Math.floor(v * 200)).toArray();
        Path path = folder.resolve("a.h5");
        try (var file = new GrowingFile(path, Map.of())) {
            var d = file.dataset("/group/inner/values", type, 1, 64, Map.of("unit", "m/s"));
            for (int at = 0; at < values.length; at += 37) {
                d.append(values, at, 1, Math.min(37, values.length - at));
                if (at % 5 == 0) {
                    file.commit();
                }
            }
        }
        try (var file = new HdfFile(path)) {
            var d = file.getDatasetByPath("/group/inner/values");
            assertThat(doubles(d.getData())).isEqualTo(values);
            assertThat(d.getAttribute("unit").getData()).isEqualTo("m/s");
            assertThat(d.getMaxSize()).containsExactly(-1);
        }
    }

    static double[] doubles(Object data) {
        int n = java.lang.reflect.Array.getLength(data);
        double[] d = new double[n];
        for (int i = 0; i < n; i++) {
            d[i] = java.lang.reflect.Array.getDouble(data, i);
        }
        return d;
    }

    @ParameterizedTest
    @CsvSource({"0", "1", "4", "64", "256", "257", "16500"})
    void indicesOfOneAndOfSeveralLevelsAreRead(int rows) throws IOException {
        Path path = folder.resolve("b.h5");
        try (var file = new GrowingFile(path, Map.of())) {
            var d = file.dataset("/pairs", NumberType.INT32, 2, 4, Map.of());
            for (int i = 0; i < rows; i++) {
                d.append(new double[] {i, -i}, 0, 1, 2);
            }
        }
        try (var file = new HdfFile(path)) {
            var d = file.getDatasetByPath("/pairs");
            assertThat(d.getDimensions()).containsExactly(rows, 2);
            if (rows > 0) {
                int[][] data = (int[][]) d.getData();
                for (int i = 0; i < rows; i++) {
                    assertThat(data[i]).containsExactly(i, -i);
                }
            }
        }
    }

    @Test
    void everyCommitLeavesAWholeFile() throws IOException {
        Path path = folder.resolve("c.h5");
        try (var file = new GrowingFile(path, Map.of())) {
            var d = file.dataset("/v", NumberType.FLOAT64, 1, 16, Map.of());
            file.commit();
            for (int n = 1; n < 200; n++) {
                d.append(new double[] {n}, 0, 1, 1);
                if (n % 7 == 0) {
                    file.commit();
                }
                // As a crash would leave it.
                Path crashed = Files.write(folder.resolve("crashed.h5"), Files.readAllBytes(path));
                try (var read = new HdfFile(crashed)) {
                    int[] dims = read.getDatasetByPath("/v").getDimensions();
                    assertThat(dims[0]).isEqualTo(n / 7 * 7);
                    double[] got = dims[0] == 0 ? new double[0] : (double[]) read.getDatasetByPath("/v").getData();
                    for (int i = 0; i < got.length; i++) {
                        assertThat(got[i]).isEqualTo(i + 1);
                    }
                }
            }
        }
    }

    @Test
    void metadataTakesAboutAsMuchRoomAfterManyCommitsAsAfterFew() throws IOException {
        Path path = folder.resolve("d.h5");
        try (var file = new GrowingFile(path, Map.of())) {
            var d = file.dataset("/v", NumberType.FLOAT64, 1, 1024, Map.of());
            for (int i = 0; i < 5_000; i++) {
                d.append(new double[] {i}, 0, 1, 1);
                file.commit();
            }
        }
        assertThat(Files.size(path)).isLessThan(5 * 1024 * 8 + 60_000);
    }

    @Test
    void rowsCanBeReadWhileTheFileGrows() throws IOException {
        try (var file = new GrowingFile(folder.resolve("e.h5"), Map.of())) {
            var d = file.dataset("/v", NumberType.FLOAT64, 1, 8, Map.of());
            for (int i = 0; i < 100; i++) {
                d.append(new double[] {i}, 0, 1, 1);
                double[] got = new double[i + 1];
                d.read(0, i + 1, got);
                assertThat(got[i]).isEqualTo(i);
                assertThat(got[0]).isZero();
            }
        }
    }

    @Test
    void aFileThatMustNotGrowKeepsWhatWasCommitted() throws IOException {
        Path path = folder.resolve("f.h5");
        var file = new GrowingFile(path, Map.of(), 40_000);
        var d = file.dataset("/v", NumberType.FLOAT64, 1, 256, Map.of());
        int committed = 0;
        IOException refused = null;
        for (int i = 0; refused == null; i++) {
            try {
                d.append(new double[] {i}, 0, 1, 1);
                file.commit();
                committed = i + 1;
            } catch (IOException e) {
                refused = e;
            }
        }
        file.abandon();
        assertThat(refused).hasMessageContaining("40000 bytes");
        assertThat(committed).isGreaterThan(1_000);
        try (var read = new HdfFile(path)) {
            assertThat(read.getDatasetByPath("/v").getDimensions()[0]).isEqualTo(committed);
        }
    }

    @Test
    void aNameIsTakenOnce() throws IOException {
        try (var file = new GrowingFile(folder.resolve("g.h5"), Map.of())) {
            file.dataset("/a/b", NumberType.UINT8, 1, 8, Map.of());
            assertThatThrownBy(() -> file.dataset("/a/b", NumberType.UINT8, 1, 8, Map.of())).hasMessageContaining("/a/b");
        }
    }

    /** The library of the format's own authors reads it too. */
    @Test
    void theReferenceImplementationReadsTheSameNumbers() throws Exception {
        assumeTrue(Toolchain.find("h5dump").isPresent(), "h5dump is not installed");
        Path path = folder.resolve("h.h5");
        try (var file = new GrowingFile(path, Map.of("format", "a test"))) {
            var d = file.dataset("/t0/signals/controller.iq", NumberType.FLOAT32, 1, 4, Map.of("unit", "A"));
            var o = file.dataset("/t0/overview/64/controller.iq", NumberType.FLOAT64, 2, 4, Map.of());
            file.dataset("/t0/nothing", NumberType.UINT8, 1, 4, Map.of());
            for (int i = 0; i < 3_000; i++) {
                d.append(new double[] {i * 0.5}, 0, 1, 1);
                o.append(new double[] {i, 2.0 * i}, 0, 1, 2);
                if (i % 500 == 0) {
                    file.commit();
                }
            }
        }
        assertThat(dump(path, "-d", "/t0/signals/controller.iq", "-s", "2999", "-c", "1")).contains("H5T_IEEE_F32LE")
                .contains("( 3000 ) / ( H5S_UNLIMITED )")
                .contains("(2999): 1499.5").contains("\"A\"");
        assertThat(dump(path, "-d", "/t0/overview/64/controller.iq", "-s", "2999,0", "-c", "1,2")).contains("( 3000, 2 )")
                .contains("(2999,0): 2999, 5998");
        assertThat(dump(path, "-d", "/t0/nothing")).contains("( 0 )");
    }

    private static String dump(Path path, String... options) throws Exception {
        var command = new java.util.ArrayList<>(java.util.List.of("h5dump", "-w", "200"));
        command.addAll(java.util.List.of(options));
        command.add(path.toString());
        var p = new ProcessBuilder(command).redirectErrorStream(true).start();
        String out = new String(p.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(p.waitFor()).as(out).isZero();
        return out;
    }
}
