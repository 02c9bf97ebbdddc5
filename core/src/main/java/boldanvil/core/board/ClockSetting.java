package boldanvil.core.board;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
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
     * equally near settings the one with the slowest oscillator and the smallest dividers is taken. All combinations are tried: there are a
     * few ten thousand at most.
     *
     * @param sourceName the source to use, or empty for whichever serves best
     * @param asked hertz by domain; domains not named aim at what the board says
     */
    public static ClockSetting solve(ClockTree tree, String sourceName, Map<String, Double> asked) {
        var first = tree.domains().getFirst();
        double wanted = asked.getOrDefault(first.name(), first.wantedHertz());
        List<ClockTree.Source> sources = sourceName.isEmpty() ? tree.sources() : tree.sources().stream().filter(s -> s.name().equals(sourceName)).toList();
        ClockSetting best = null;
        double bestError = Double.POSITIVE_INFINITY;
        for (var s : sources) {
            for (ClockSetting c : roots(tree, s)) {
                int divider = nearest(first, c.systemHertz(), wanted);
                double error = divider == 0 ? Double.POSITIVE_INFINITY : Math.abs(c.systemHertz() / divider - wanted);
                // A source's own tolerance decides between settings that reach the same.
                if (error < bestError * (1 - 1e-12) || error == bestError && best != null && s.ppm() < best.source().ppm()) {
                    best = c;
                    bestError = error;
                }
            }
        }
        if (best == null) {
            best = new ClockSetting(sources.isEmpty() ? tree.sources().getFirst() : sources.getFirst(), 0, 0, 0, Map.of());
        }
        Map<String, Reached> domains = new LinkedHashMap<>();
        for (var d : tree.domains()) {
            double from = d.from().isEmpty() ? best.systemHertz() : domains.get(d.from()).hertz();
            double goal = asked.getOrDefault(d.name(), d.wantedHertz());
            int divider = nearest(d, from, goal);
            int held = divider == 0 ? d.dividers().getLast() : divider;
            domains.put(d.name(), new Reached(goal, held, from / held));
        }
        return new ClockSetting(best.source(), best.divide(), best.multiply(), best.post(), domains);
    }

    /** Every way to make a system clock of a source. */
    private static List<ClockSetting> roots(ClockTree tree, ClockTree.Source s) {
        List<ClockSetting> all = new ArrayList<>();
        all.add(new ClockSetting(s, 0, 0, 0, Map.of()));
        var p = tree.pll();
        if (p == null) {
            return all;
        }
        for (int post : p.post()) {
            for (int divide = p.divide().getFirst(); divide <= p.divide().getLast(); divide++) {
                double in = s.hertz() / divide;
                if (in < p.inHertz().getFirst() || in > p.inHertz().getLast()) {
                    continue;
                }
                for (int multiply = p.multiply().getFirst(); multiply <= p.multiply().getLast(); multiply++) {
                    double oscillator = in * multiply;
                    if (oscillator >= p.voltageControlledHertz().getFirst() && oscillator <= p.voltageControlledHertz().getLast()) {
                        all.add(new ClockSetting(s, divide, multiply, post, Map.of()));
                    }
                }
            }
        }
        return all;
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
