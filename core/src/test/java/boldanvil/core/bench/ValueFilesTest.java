package boldanvil.core.bench;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.diagram.BenchLayout.Limit;
import boldanvil.core.diagram.BenchLayout.ValueSet;
import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class ValueFilesTest {
    @TempDir
    Path folder;

    @ParameterizedTest
    @ValueSource(strings = {"A.json", "A.csv"})
    void aSetComesBack(String name) {
        var set = new ValueSet("A", Map.of("c.kp", 0.1, "c.ki", 1e-17, "p.on", 1.0));
        ValueFiles.write(set, folder.resolve(name));
        assertThat(ValueFiles.read(folder.resolve(name))).isEqualTo(set);
    }

    @Test
    void whatIsNoSetIsAFinding() throws IOException {
        assertRefused("a.json", "{\"format\": 1", "not JSON");
        assertRefused("a.json", "{\"format\": 2, \"values\": {}}", "format 1");
        assertRefused("a.json", "{\"format\": 1, \"values\": {\"c.kp\": \"x\"}}", "not a number");
        assertRefused("a.csv", "name,value\nx,1\n", "not 'tunable' and 'value'");
        assertRefused("a.csv", "tunable,value\nc.kp,x\n", "'x' is not a number");
        assertRefused("a.csv", "tunable,value\nc.kp\n", "cut off");
        assertThatThrownBy(() -> ValueFiles.read(folder.resolve("none.csv"))).isInstanceOf(FindingException.class);
        assertThatThrownBy(() -> ValueFiles.write(new ValueSet("x", Map.of()), folder.resolve("none/x.json")))
                .isInstanceOf(FindingException.class);
    }

    private void assertRefused(String name, String text, String why) throws IOException {
        Path f = Files.writeString(folder.resolve(name), text);
        assertThatThrownBy(() -> ValueFiles.read(f)).isInstanceOf(FindingException.class).hasMessageContaining(why);
    }

    @Test
    void limitsAreWatchedInSi() {
        var g = RigStarter.guards(List.of(new Limit("c.i", "mA", -5, Double.NaN, 10, 0.5))).getFirst();
        assertThat(g.least()).isEqualTo(-0.005);
        assertThat(g.most()).isEqualTo(Double.POSITIVE_INFINITY);
        assertThat(g.rate()).isEqualTo(0.01);
        assertThatThrownBy(() -> RigStarter.guards(List.of(new Limit("c.i", "mA", 5, 1, Double.NaN, 0))))
                .hasMessageContaining("allow no value");
        assertThatThrownBy(() -> RigStarter.guards(List.of(new Limit("c.i", "furlongs per", 0, 1, Double.NaN, 0))))
                .hasMessageContaining("not a unit");
    }
}
