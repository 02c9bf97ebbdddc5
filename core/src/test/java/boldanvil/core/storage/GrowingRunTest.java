package boldanvil.core.storage;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.samples.Column;
import boldanvil.core.samples.Series;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A run is looked at while it is still being written. */
class GrowingRunTest {
    @TempDir
    Path folder;

    @Test
    void whoOpenedItEarlyKeepsSeeingWhatWasThereThen() throws IOException {
        Path file = folder.resolve("run.h5");
        try (var w = new RunWriter(file, List.of(new Column("p.x", ""), new Column("p.y", "")), List.of(new int[] {0, 1}),
                new double[] {1e-3}, Long.MAX_VALUE)) {
            int written = 0;
            RunFile early = null;
            for (int k = 0; k < 30; k++) {
                double[] t = new double[500];
                double[] v = new double[1_000];
                for (int i = 0; i < 500; i++, written++) {
                    t[i] = written * 1e-3;
                    v[2 * i] = written;
                    v[2 * i + 1] = -written;
                }
                w.append(0, t, v, 0, 500);
                w.commit();
                if (k == 5) {
                    early = RunFile.open(file);
                }
            }
            // The metadata it was opened by has been written over long since.
            Series s = early.series(1);
            assertThat(s.size()).isEqualTo(3_000);
            for (int i = 0; i < s.size(); i++) {
                assertThat(s.values()[i]).isEqualTo(-i);
            }
            assertThat(early.envelope(0, 0, 3, 10)[1][9]).isEqualTo(2_999);
            early.close();
            try (var late = RunFile.open(file)) {
                assertThat(late.series(0).size()).isEqualTo(15_000);
            }
        }
    }
}
