package boldanvil.core.quantity;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.LinkedHashMap;
import java.util.Map;
import org.junit.jupiter.api.Test;

class VariablesTest {
    @Test
    void theOrderOfDefinitionDoesNotMatter() {
        Map<String, String> texts = new LinkedHashMap<>();
        texts.put("ratio", "gear/pinion");
        texts.put("pinion", "25 mm");
        texts.put("gear", "60");
        var r = Variables.resolve(texts);
        assertThat(r.errors()).isEmpty();
        assertThat(r.values().get("ratio").value()).isEqualTo(60 / 0.025);
        assertThat(r.values().get("ratio").dimension()).isEqualTo(Dimension.of("1/m").orElseThrow());
    }

    @Test
    void aCircleIsNamed() {
        var r = Variables.resolve(Map.of("a", "b + 1", "b", "a + 1"));
        assertThat(r.values()).isEmpty();
        assertThat(r.errors().values()).anyMatch(e -> e.contains("in terms of itself"));
    }

    @Test
    void anErrorInOneLeavesTheOthersAlone() {
        var r = Variables.resolve(Map.of("good", "2", "bad", "2 +", "user", "good * 3"));
        assertThat(r.values()).containsEntry("good", Quantity.bare(2)).containsEntry("user", Quantity.bare(6)).doesNotContainKey("bad");
        assertThat(r.errors()).containsKey("bad");
    }

    @Test
    void whoUsesABrokenVariableIsBrokenToo() {
        var r = Variables.resolve(Map.of("bad", "nothing", "user", "bad * 3"));
        assertThat(r.errors()).containsOnlyKeys("bad", "user");
    }
}
