package boldanvil.core.board;

import java.util.List;
import java.util.Optional;

/**
 * Where a board's clocks come from: a source, perhaps multiplied by a phase-locked loop, then divided for each domain.
 *
 * @param pll null for none
 * @param domains each after the one it comes from
 */
public record ClockTree(List<Source> sources, Pll pll, List<Domain> domains) {
    /** @param ppm how far the source may be off */
    public record Source(String name, double hertz, double ppm) {}

    /**
     * A phase-locked loop: out = source / divide · multiply / post.
     *
     * @param divide least and greatest
     * @param multiply least and greatest
     * @param post choices
     * @param inHertz what it takes behind the first divider, least and greatest
     * @param voltageControlledHertz what its oscillator makes, least and greatest
     */
    public record Pll(List<Integer> divide, List<Integer> multiply, List<Integer> post, List<Double> inHertz,
            List<Double> voltageControlledHertz) {
        public Pll {
            divide = List.copyOf(divide);
            multiply = List.copyOf(multiply);
            post = List.copyOf(post);
            inHertz = List.copyOf(inHertz);
            voltageControlledHertz = List.copyOf(voltageControlledHertz);
        }
    }

    /**
     * Clocks of one speed.
     *
     * @param from the domain it is divided from; empty for the source or the loop
     * @param wantedHertz what to aim at where a project does not ask for something else
     */
    public record Domain(String name, String from, List<Integer> dividers, double maxHertz, double wantedHertz) {
        public Domain {
            from = from == null ? "" : from;
            dividers = List.copyOf(dividers);
        }
    }

    public ClockTree {
        sources = List.copyOf(sources);
        domains = List.copyOf(domains);
    }

    public Optional<Source> source(String name) {
        return sources.stream().filter(s -> s.name().equals(name)).findFirst();
    }

    public Optional<Domain> domain(String name) {
        return domains.stream().filter(d -> d.name().equals(name)).findFirst();
    }
}
