package boldanvil.core.coverage;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * How much of a part ran. A decision is covered when both of its outcomes were seen; a condition, when both of its values were; it showed
 * its effect when it was seen true and seen false where a change of it alone would have changed the outcome (modified condition and
 * decision coverage with masking, RTCA DO-178C and DO-248C); a table, as far as its entries were read.
 */
public final class Coverage {
    /** A share of things that are there. */
    public record Share(int seen, int of) {
        static final Share NONE = new Share(0, 0);

        Share plus(Share other) {
            return new Share(seen + other.seen, of + other.of);
        }

        /** 0 to 100; 100 where there is nothing. */
        public double percent() {
            return of == 0 ? 100 : 100.0 * seen / of;
        }
    }

    /**
     * How much of a block ran.
     *
     * @param path part, subsystems and block, joined by {@code /}
     * @param outcomes of its decisions
     * @param values of its conditions
     * @param effects of its conditions
     * @param entries of its tables
     * @param missing what was not seen, in words
     */
    public record OfBlock(String path, Share outcomes, Share values, Share effects, Share entries, List<String> missing) {
        public OfBlock {
            missing = List.copyOf(missing);
        }

        /** Everything together. */
        public Share all() {
            return outcomes.plus(values).plus(entries);
        }
    }

    private final List<Point> points;
    private final boolean[] hits;
    /** Worked out when they are asked for first. */
    private volatile List<OfBlock> blocks;

    Coverage(List<Point> points, boolean[] hits) {
        this.points = points;
        this.hits = hits;
    }

    /**
     * What this and another run covered together.
     *
     * @throws IllegalArgumentException when they are not of the same program
     */
    public Coverage with(Coverage other) {
        if (!isAlike(other)) {
            throw new IllegalArgumentException("coverage of another program");
        }
        boolean[] both = hits.clone();
        for (int i = 0; i < both.length; i++) {
            both[i] |= other.hits[i];
        }
        return new Coverage(points, both);
    }

    /** Whether both are of the same program, compiled at another time or not. */
    public boolean isAlike(Coverage other) {
        return hits.length == other.hits.length && texts().equals(other.texts());
    }

    private List<String> texts() {
        return points.stream().map(p -> p.path() + " " + p.size() + (p instanceof Point.Decision d ? d.text() : ""))
                .toList();
    }

    /** Every block that decides something or reads a table, in the order in which they are computed. */
    public List<OfBlock> blocks() {
        List<OfBlock> known = blocks;
        if (known == null) {
            Map<String, List<Point>> byPath = new LinkedHashMap<>();
            points.forEach(p -> byPath.computeIfAbsent(p.path(), _ -> new ArrayList<>()).add(p));
            known = byPath.entrySet().stream().map(e -> block(e.getKey(), e.getValue())).toList();
            blocks = known;
        }
        return known;
    }

    /** The whole part. */
    public OfBlock total() {
        OfBlock sum = new OfBlock("", Share.NONE, Share.NONE, Share.NONE, Share.NONE, List.of());
        for (OfBlock b : blocks()) {
            sum = new OfBlock("", sum.outcomes().plus(b.outcomes()), sum.values().plus(b.values()), sum.effects().plus(b.effects()),
                    sum.entries().plus(b.entries()), List.of());
        }
        return sum;
    }

    private OfBlock block(String path, List<Point> mine) {
        Share outcomes = Share.NONE;
        Share values = Share.NONE;
        Share effects = Share.NONE;
        Share entries = Share.NONE;
        List<String> missing = new ArrayList<>();
        for (Point p : mine) {
            switch (p) {
                case Point.Decision d -> {
                    outcomes = outcomes.plus(outcomes(d, missing));
                    if (d.conditions().size() > 1) {
                        values = values.plus(values(d, missing));
                        effects = effects.plus(effects(d, missing));
                    }
                }
                case Point.Area a -> entries = entries.plus(entries(a, missing));
            }
        }
        return new OfBlock(path, outcomes, values, effects, entries, missing);
    }

    private boolean isHit(Point p, int i) {
        return hits[p.from() + i];
    }

    private Share outcomes(Point.Decision d, List<String> missing) {
        boolean yes = false;
        boolean no = false;
        for (int bits = 0; bits < d.size(); bits++) {
            if (isHit(d, bits)) {
                boolean outcome = d.outcome(bits);
                yes |= outcome;
                no |= !outcome;
            }
        }
        String text = d.text();
        if (!yes) {
            missing.add((no ? "never true: " : "never reached: ") + text);
        } else if (!no) {
            missing.add("never false: " + text);
        }
        return new Share((yes ? 1 : 0) + (no ? 1 : 0), 2);
    }

    private Share values(Point.Decision d, List<String> missing) {
        int seen = 0;
        for (int c = 0; c < d.conditions().size(); c++) {
            boolean yes = false;
            boolean no = false;
            for (int bits = 0; bits < d.size(); bits++) {
                yes |= isHit(d, bits) && (bits >> c & 1) != 0;
                no |= isHit(d, bits) && (bits >> c & 1) == 0;
            }
            seen += (yes ? 1 : 0) + (no ? 1 : 0);
            if (yes != no) {
                missing.add("condition never " + (yes ? "false: " : "true: ") + d.texts().get(c));
            }
        }
        return new Share(seen, 2 * d.conditions().size());
    }

    private Share effects(Point.Decision d, List<String> missing) {
        int seen = 0;
        for (int c = 0; c < d.conditions().size(); c++) {
            boolean yes = false;
            boolean no = false;
            for (int bits = 0; bits < d.size(); bits++) {
                if (isHit(d, bits) && d.outcome(bits) != d.outcome(bits ^ 1 << c)) {
                    yes |= (bits >> c & 1) != 0;
                    no |= (bits >> c & 1) == 0;
                }
            }
            boolean shown = yes && no;
            seen += shown ? 1 : 0;
            if (!shown) {
                missing.add("effect not shown: " + d.texts().get(c));
            }
        }
        return new Share(seen, d.conditions().size());
    }

    private Share entries(Point.Area a, List<String> missing) {
        int seen = 0;
        int first = -1;
        int last = -1;
        for (int i = 0; i < a.size(); i++) {
            if (isHit(a, i)) {
                seen++;
                first = first < 0 ? i : first;
                last = i;
            }
        }
        if (seen < a.size()) {
            missing.add(seen == 0 ? "table never read: " + a.table() : seen + " of " + a.size() + " entries of " + a.table()
                    + " read, from entry " + (first + 1) + " to " + (last + 1));
        }
        return new Share(seen, a.size());
    }
}
