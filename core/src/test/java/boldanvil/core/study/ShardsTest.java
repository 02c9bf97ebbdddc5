package boldanvil.core.study;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.finding.FindingException;
import boldanvil.core.study.Shards.Shard;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

class ShardsTest {
    private static List<String> file(int number, int of, int all) {
        var runs = new Shard(number, of).runs(all);
        List<String> lines = new ArrayList<>(List.of("x,y"));
        runs.forEach(r -> lines.add(r * 10 + "," + r * r));
        List<String> written = new ArrayList<>(Shards.heads("abc", all, lines.getFirst()));
        for (int i = 0; i < runs.size(); i++) {
            written.add(Shards.line(runs.get(i), lines.get(i + 1)));
        }
        return written;
    }

    @Test
    void allShardsTogetherHaveEachRunOnce() {
        Map<String, List<String>> files = new LinkedHashMap<>();
        for (int k : new int[] {3, 1, 4, 2}) {
            files.put("shard" + k, file(k, 4, 10));
        }
        var merged = Shards.merged(files);
        assertThat(merged).hasSize(11).startsWith("run,x,y", "1,10,1", "2,20,4").endsWith("10,100,100");
    }

    @Test
    void aShardThatRanTwiceCountsOnce() {
        assertThat(Shards.merged(Map.of("a", file(1, 1, 3), "b", file(1, 1, 3)))).hasSize(4);
    }

    @Test
    void whatIsMissingForeignOrContradictsIsFound() {
        assertThatThrownBy(() -> Shards.merged(Map.of("a", file(1, 2, 10)))).isInstanceOf(FindingException.class)
                .hasMessageContaining("5 of 10 runs").hasMessageContaining("missing one is 2");
        Map<String, List<String>> foreign = new LinkedHashMap<>(Map.of("a", file(1, 2, 10)));
        var other = new ArrayList<>(file(2, 2, 10));
        other.set(0, other.getFirst().replace("abc", "xyz"));
        foreign.put("b", other);
        assertThatThrownBy(() -> Shards.merged(foreign)).hasMessageContaining("another study");
        var changed = new ArrayList<>(file(1, 1, 3));
        changed.set(3, "2,20,5");
        assertThatThrownBy(() -> Shards.merged(new LinkedHashMap<>(Map.of("a", file(1, 1, 3), "b", changed))))
                .hasMessageContaining("Run 2 is there twice");
        assertThatThrownBy(() -> Shards.merged(Map.of("a", List.of("x,y", "1,2")))).hasMessageContaining("not a file of a shard");
        assertThatThrownBy(() -> Shard.of("--shard", "5/4")).isInstanceOf(FindingException.class).hasMessageContaining("5/4");
    }
}
