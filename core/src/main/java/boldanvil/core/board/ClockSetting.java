package boldanvil.core.board;

import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * A clock tree with all its dividers chosen.
 *
 * @param source the source in use
 * @param divide divider before the phase-locked loop; 0 where the loop is not used
 * @param multiply its factor
 * @param post divider behind it
 * @param domains by name, in the order of the board
 */
public record ClockSetting(ClockTree.Source source, int divide, int multiply, int post, Map<String, Reached> domains) {
    /**
     * A domain's clock.
     *
     * @param asked hertz
     * @param hertz reached
     */
    public record Reached(double asked, int divider, double hertz) {
        /** How far it is off what was asked, in millionths. */
        public double ppm() {
            return (hertz / asked - 1) * 1e6;
        }
    }

    public ClockSetting {
        domains = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(domains));
    }

    public boolean usesLoop() {
        return divide > 0;
    }

    /** A domain's frequency in hertz. */
    public double hertz(String domain) {
        var d = domains.get(domain);
        if (d == null) {
            throw new IllegalArgumentException("no clock domain '" + domain + "'");
        }
        return d.hertz();
    }

    /** The frequency all domains are divided from. */
    public double systemHertz() {
        return usesLoop() ? source.hertz() / divide * multiply / post : source.hertz();
    }

    /** The whole way in words. */
    public String words() {
        return source.name() + " " + source.hertz() / 1e6 + " MHz" + (usesLoop() ? " / " + divide + " × " + multiply + " / " + post : "");
    }

    /**
     * Finds the dividers with which the first domain, the processor's, comes nearest to what is asked, then each other domain. Of
     * equally near settings the first is taken that is found: without the loop before with it, of the source that is the more exact. All
     * combinations are tried: there are some ten thousand.
     *
     * @param sourceName the source to use, or empty for whichever serves best
     * @param asked hertz by domain; domains not named aim at what the board says
     */
    public static ClockSetting solve(ClockTree tree, String sourceName, Map<String, Double> asked) {
        var first = tree.domains().getFirst();
        double wanted = asked.getOrDefault(first.name(), first.wantedHertz());
        var search = new Search(tree.pll(), first, wanted);
        var sources = tree.sources().stream().filter(s -> sourceName.isEmpty() || s.name().equals(sourceName))
                .sorted(Comparator.comparingDouble(ClockTree.Source::ppm)).toList();
        sources.forEach(search::source);
        var root = search.best == null ? new ClockSetting(tree.sources().getFirst(), 0, 0, 0, Map.of()) : search.best;
        Map<String, Reached> domains = new LinkedHashMap<>();
        for (var d : tree.domains()) {
            double from = d.from().isEmpty() ? root.systemHertz() : domains.get(d.from()).hertz();
            double goal = asked.getOrDefault(d.name(), d.wantedHertz());
            int divider = nearest(d, from, goal);
            int held = divider == 0 ? d.dividers().getLast() : divider;
            domains.put(d.name(), new Reached(goal, held, from / held));
        }
        return new ClockSetting(root.source(), root.divide(), root.multiply(), root.post(), domains);
    }

    /** Tries the ways to make a system clock and keeps the best. */
    private static final class Search {
        private final ClockTree.Pll pll;
        private final ClockTree.Domain domain;
        private final double wanted;
        private ClockSetting best;
        private double bestError = Double.POSITIVE_INFINITY;

        Search(ClockTree.Pll pll, ClockTree.Domain domain, double wanted) {
            this.pll = pll;
            this.domain = domain;
            this.wanted = wanted;
        }

        void source(ClockTree.Source s) {
            attempt(s, s.hertz(), 0, 0, 0);
            if (pll == null) {
                return;
            }
            for (int divide = pll.divide().getFirst(); divide <= pll.divide().getLast(); divide++) {
                double in = s.hertz() / divide;
                if (in < pll.inHertz().getFirst() || in > pll.inHertz().getLast()) {
                    continue;
                }
                for (int multiply = pll.multiply().getFirst(); multiply <= pll.multiply().getLast(); multiply++) {
                    double oscillator = in * multiply;
                    if (oscillator >= pll.voltageControlledHertz().getFirst() && oscillator <= pll.voltageControlledHertz().getLast()) {
                        for (int post : pll.post()) {
                            attempt(s, oscillator / post, divide, multiply, post);
                        }
                    }
                }
            }
        }

        private void attempt(ClockTree.Source s, double hertz, int divide, int multiply, int post) {
            int divider = nearest(domain, hertz, wanted);
            double error = divider == 0 ? Double.POSITIVE_INFINITY : Math.abs(hertz / divider - wanted);
            if (error < bestError - 1e-9 * wanted) {
                best = new ClockSetting(s, divide, multiply, post, Map.of());
                bestError = error;
            }
        }
    }

    /** The divider that comes nearest without going over the domain's limit; 0 when all do. */
    private static int nearest(ClockTree.Domain d, double from, double wanted) {
        int best = 0;
        for (int divider : d.dividers()) {
            double hertz = from / divider;
            if (hertz <= d.maxHertz() * (1 + 1e-9) && (best == 0 || Math.abs(hertz - wanted) < Math.abs(from / best - wanted))) {
                best = divider;
            }
        }
        return best;
    }
}
