package boldanvil.core.tags;

import boldanvil.core.diagram.TagTable;
import boldanvil.core.diagram.TagTable.Direction;
import boldanvil.core.diagram.TagTable.Line;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

/**
 * Binds many signals of a part at once. Those that are bound already stay as they are, and none gets a tag into which it cannot be
 * converted.
 */
public final class Binder {
    /** What a rule replaces by the id of the part. */
    public static final String PART = "{part}";
    /** What a rule replaces by the name of the port, tunable or signal. */
    public static final String PORT = "{port}";
    private static final double LEAST_LIKENESS = 0.5;

    /**
     * A tag that could be meant.
     *
     * @param likeness of the names, 0 to 1
     */
    public record Suggestion(String port, String tag, double likeness) {}

    private final List<Signal> signals;
    private final TagTable table;
    private final Map<String, String> bound;

    /** @param signals of the part */
    public Binder(List<Signal> signals, TagTable table) {
        this.signals = List.copyOf(signals);
        this.table = table;
        bound = new LinkedHashMap<>(table.bindings());
    }

    /** The bindings with each free signal on the tag of its own name; signs between words and capitals do not count. */
    public Map<String, String> sameNames() {
        return byRule("", PORT);
    }

    /**
     * The bindings with each free signal on the tag whose name a rule makes.
     *
     * @param rule such as {@code Lock_{port}}; {@code {part}} and {@code {port}} are replaced
     */
    public Map<String, String> byRule(String part, String rule) {
        Map<String, Line> names = new HashMap<>();
        Map<String, Line> leaves = new HashMap<>();
        for (Line l : table.lines()) {
            names.putIfAbsent(plain(l.name()), l);
            leaves.merge(plain(leaf(l.name())), l, (a, b) -> a.name().length() <= b.name().length() ? a : b);
        }
        for (Signal p : signals) {
            String wanted = plain(rule.replace(PART, part).replace(PORT, leaf(p.name())));
            Line l = names.getOrDefault(wanted, leaves.get(wanted));
            if (l != null && !bound.containsKey(p.name()) && fits(p, l)) {
                bound.put(p.name(), l.name());
            }
        }
        return bound;
    }

    /** For each free signal the free tag whose name is most like its own, the most alike first. */
    public List<Suggestion> suggest() {
        Set<String> taken = new HashSet<>(bound.values());
        Map<String, Set<String>> words = new HashMap<>();
        Map<String, List<Line>> byWord = new HashMap<>();
        for (Line l : table.lines()) {
            if (!taken.contains(l.name())) {
                Set<String> some = words(l.name());
                words.put(l.name(), some);
                some.forEach(w -> byWord.computeIfAbsent(beginning(w), _ -> new ArrayList<>()).add(l));
            }
        }
        List<Suggestion> all = new ArrayList<>();
        for (Signal p : signals) {
            if (bound.containsKey(p.name())) {
                continue;
            }
            Set<String> mine = words(p.name());
            Set<Line> near = new HashSet<>();
            mine.forEach(w -> near.addAll(byWord.getOrDefault(beginning(w), List.of())));
            for (Line l : near) {
                double likeness = likeness(mine, words.get(l.name()));
                if (likeness >= LEAST_LIKENESS && fits(p, l)) {
                    all.add(new Suggestion(p.name(), l.name(), likeness));
                }
            }
        }
        all.sort(Comparator.comparingDouble(Suggestion::likeness).reversed().thenComparing(Suggestion::port)
                .thenComparing(Suggestion::tag));
        Set<String> ends = new HashSet<>();
        return all.stream().filter(s -> !ends.contains("p" + s.port()) && !ends.contains("t" + s.tag()))
                .filter(s -> ends.add("p" + s.port()) && ends.add("t" + s.tag())).toList();
    }

    /** Whether values can go between them, in that direction. */
    private static boolean fits(Signal p, Line l) {
        return Conversion.of(p, l).isPossible() && l.direction() != (p.isWritten() ? Direction.OUT : Direction.IN);
    }

    /** Words that mean the same for people: how many of both they have in common. */
    private static double likeness(Set<String> a, Set<String> b) {
        double common = 0;
        for (String w : a) {
            common += b.contains(w) ? 1 : b.stream().anyMatch(x -> isShort(w, x) || isShort(x, w)) ? 0.7 : 0;
        }
        return 2 * common / (a.size() + b.size());
    }

    /** Whether a word is a short form of another, such as op of open. */
    private static boolean isShort(String word, String of) {
        return word.length() >= 2 && word.length() < of.length() && of.startsWith(word);
    }

    private static String beginning(String word) {
        return word.substring(0, Math.min(2, word.length()));
    }

    /** The words of a name, at signs and at capitals. */
    private static Set<String> words(String name) {
        return new HashSet<>(Arrays.stream(leaf(name).replaceAll("([a-z0-9])([A-Z])", "$1 $2").replaceAll("([A-Za-z])([0-9])", "$1 $2")
                .toLowerCase(Locale.ROOT).split("[^a-z0-9]+")).filter(w -> !w.isEmpty()).toList());
    }

    private static String leaf(String name) {
        return name.substring(name.lastIndexOf('.') + 1);
    }

    private static String plain(String name) {
        return name.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9.]+", "_").replaceAll("^_+|_+$", "");
    }
}
