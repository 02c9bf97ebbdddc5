package boldanvil.core.transfer;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.finding.FindingException;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Series;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Scanner;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class RunVcdTest {
    @TempDir
    private Path folder;

    private String written(RunData run) throws IOException {
        RunVcd.write(run, folder.resolve("run.vcd"));
        return Files.readString(folder.resolve("run.vcd"));
    }

    @Test
    void onlyChangesAreWrittenAtTheirInstants() throws IOException {
        var run = new RunData(List.of(new Series("lamps.a", "", new double[] {0, 0.5, 1, 1.5}, new double[] {1, 1, 0, 0}),
                new Series("lamps.loop.level", "m", new double[] {0, 1e-3}, new double[] {0.25, -3})));
        assertThat(written(run)).isEqualTo("""
                $timescale 1 ns $end
                $comment lamps_loop_level in m $end
                $scope module lamps $end
                $var wire 1 ! a $end
                $scope module loop $end
                $var real 64 " level $end
                $upscope $end
                $upscope $end
                $enddefinitions $end
                #0
                1!
                r0.25 "
                #1000000
                r-3.0 "
                #1000000000
                0!
                #1500000000
                """);
    }

    /** Reads a dump as the standard's grammar has it, word by word. */
    private static Map<String, List<double[]>> read(String text) {
        Map<String, String> names = new HashMap<>();
        Map<String, List<double[]>> changes = new HashMap<>();
        var scopes = new ArrayDeque<String>();
        double now = 0;
        try (var words = new Scanner(text)) {
            while (words.hasNext()) {
                String w = words.next();
                if (w.equals("$scope")) {
                    words.next();
                    scopes.addLast(words.next());
                } else if (w.equals("$upscope")) {
                    scopes.removeLast();
                } else if (w.equals("$var")) {
                    words.next();
                    words.next();
                    String code = words.next();
                    var path = new ArrayList<>(scopes);
                    path.add(words.next());
                    names.put(code, String.join(".", path));
                } else if (w.startsWith("#")) {
                    now = Long.parseLong(w.substring(1)) * 1e-9;
                } else if (w.startsWith("r") && !w.startsWith("$")) {
                    changes.computeIfAbsent(names.get(words.next()), _ -> new ArrayList<>())
                            .add(new double[] {now, Double.parseDouble(w.substring(1))});
                } else if (w.matches("[01].+")) {
                    changes.computeIfAbsent(names.get(w.substring(1)), _ -> new ArrayList<>()).add(new double[] {now, w.charAt(0) - '0'});
                }
            }
        }
        return changes;
    }

    @Test
    void manySignalsReadBackAsTheyWere() throws IOException {
        var random = new Random(4);
        List<Series> all = new ArrayList<>();
        for (int i = 0; i < 300; i++) {
            double[] t = new double[20];
            double[] v = new double[20];
            for (int k = 0; k < t.length; k++) {
                t[k] = k * 1e-4 * (1 + i % 3);
                v[k] = i % 2 == 0 ? random.nextInt(2) : random.nextGaussian();
            }
            all.add(new Series("part" + i / 50 + ".sub.s" + i, "", t, v));
        }
        var back = read(written(new RunData(all)));
        assertThat(back).hasSize(300);
        for (Series s : all) {
            var changes = back.get(s.name());
            int at = 0;
            for (int k = 0; k < s.size(); k++) {
                if (k == 0 || s.values()[k] != s.values()[k - 1]) {
                    assertThat(changes.get(at)[1]).isEqualTo(s.values()[k]);
                    assertThat(Math.abs(changes.get(at)[0] - s.times()[k])).isLessThan(1e-9);
                    at++;
                }
            }
            assertThat(changes).hasSize(at);
        }
    }

    @Test
    void aFolderThatIsNotThereIsAFinding() {
        assertThatThrownBy(() -> RunExport.write(SampleStore.of(new RunData(List.of())), folder.resolve("no such/run.vcd")))
                .isInstanceOf(FindingException.class);
    }
}
