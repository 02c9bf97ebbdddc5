package boldanvil.core.edit;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Stock;
import java.util.List;
import org.junit.jupiter.api.Test;

class BlockFinderTest {
    private static final BlockFinder SAMPLED = new BlockFinder(false, List.of());
    private static final BlockFinder CONTINUOUS = new BlockFinder(true, List.of());

    private static List<String> ids(BlockFinder f, String text) {
        return f.find(text).stream().map(BlockType::id).toList();
    }

    @Test
    void wordsAreFoundInNamesAndHelp() {
        assertThat(ids(SAMPLED, "pid")).startsWith("pid");
        assertThat(ids(SAMPLED, "GAIN")).startsWith("gain");
        assertThat(ids(SAMPLED, "anti-windup")).contains("pid");
        assertThat(ids(SAMPLED, "no such thing at all")).isEmpty();
        assertThat(ids(SAMPLED, "")).hasSameSizeAs(Stock.all());
    }

    @Test
    void whatFitsThePlaceComesFirst() {
        assertThat(ids(CONTINUOUS, "transfer")).startsWith("transfer");
        assertThat(ids(SAMPLED, "transfer")).startsWith("transfer in z");
        assertThat(ids(CONTINUOUS, "integrator")).startsWith("integrator");
        assertThat(ids(SAMPLED, "integrator")).startsWith("accumulator");
    }

    @Test
    void namesComeBeforeHelpTexts() {
        var all = SAMPLED.find("sum");
        assertThat(all.getFirst().id()).isEqualTo("sum");
        int lastName = -1;
        int firstHelp = Integer.MAX_VALUE;
        for (int i = 0; i < all.size(); i++) {
            boolean name = (all.get(i).title() + all.get(i).id() + all.get(i).family().title()).toLowerCase(java.util.Locale.ROOT)
                    .contains("sum");
            lastName = name ? i : lastName;
            firstHelp = name ? firstHelp : Math.min(firstHelp, i);
        }
        assertThat(lastName).isLessThan(firstHelp);
    }

    @Test
    void whatWasUsedLatelyComesFirstAmongEquals() {
        assertThat(ids(new BlockFinder(false, List.of("tof", "gain")), "")).startsWith("tof", "gain");
        assertThat(ids(new BlockFinder(false, List.of("two-degree pid")), "controller p")).isNotEmpty();
    }
}
