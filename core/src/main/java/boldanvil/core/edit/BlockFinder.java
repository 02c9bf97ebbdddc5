package boldanvil.core.edit;

import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Stock;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;

/**
 * Finds block types by a text: names before help texts, what fits the place before what does not, then how well the name fits, then what
 * was used lately.
 *
 * @param continuous whether blocks here are continuous by themselves
 * @param recent ids of the types that were used last, newest first
 */
public record BlockFinder(boolean continuous, List<String> recent) {
    private static final int HELP_ONLY = 5;

    public BlockFinder {
        recent = List.copyOf(recent);
    }

    private record Hit(BlockType type, int quality, boolean stranger, int age) {}

    /** Types that have every word of the text in name, id, family or help, best first. */
    public List<BlockType> find(String text) {
        String wanted = text.toLowerCase(Locale.ROOT).strip();
        String[] words = wanted.split("\\s+");
        List<Hit> hits = new ArrayList<>();
        for (BlockType t : Stock.all()) {
            int quality = quality(t, wanted, words);
            if (quality >= 0) {
                int age = recent.indexOf(t.id());
                hits.add(new Hit(t, quality, continuous ? t.discreteOnly() : t.continuousOnly(), age < 0 ? Integer.MAX_VALUE : age));
            }
        }
        hits.sort(Comparator.<Hit, Boolean>comparing(h -> h.quality() == HELP_ONLY).thenComparing(Hit::stranger)
                .thenComparing(wanted.isEmpty() ? Hit::age : Hit::quality).thenComparing(Hit::age));
        return hits.stream().map(Hit::type).toList();
    }

    /** How well a type fits, 0 best; −1 where a word is missing. */
    private static int quality(BlockType t, String wanted, String[] words) {
        String title = t.title().toLowerCase(Locale.ROOT);
        if (title.equals(wanted) || t.id().equals(wanted)) {
            return 0;
        }
        if (title.startsWith(wanted)) {
            return 1;
        }
        boolean begins = true;
        boolean inTitle = true;
        boolean inName = true;
        boolean anywhere = true;
        String name = title + " " + t.id() + " " + t.family().title().toLowerCase(Locale.ROOT);
        String all = name + " " + t.help().toLowerCase(Locale.ROOT);
        for (String w : words) {
            begins &= (" " + title).contains(" " + w);
            inTitle &= title.contains(w);
            inName &= name.contains(w);
            anywhere &= all.contains(w);
        }
        return begins ? 2 : inTitle ? 3 : inName ? 4 : anywhere ? HELP_ONLY : -1;
    }
}
