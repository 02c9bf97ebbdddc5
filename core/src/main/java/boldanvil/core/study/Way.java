package boldanvil.core.study;

import java.util.Arrays;

/** How the points of a study are chosen. */
public enum Way {
    GRID("Every combination"), RANDOM("Random points"), LATIN_HYPERCUBE("Latin hypercube"), SOBOL("Sobol sequence"),
    SENSITIVITY("Sensitivity"), WORST_CASE("Worst case");

    private final String label;

    Way(String label) {
        this.label = label;
    }

    /** Its name for people. */
    public String label() {
        return label;
    }

    @Override
    public String toString() {
        return label;
    }

    /** Whether the points are spread as the values are, so that the share of some of them is that of all values. */
    public boolean isDrawn() {
        return this == RANDOM || this == LATIN_HYPERCUBE || this == SOBOL;
    }

    /** The way that is drawn by a sampling. */
    public static Way of(Sampling sampling) {
        return switch (sampling) {
            case RANDOM -> RANDOM;
            case LATIN_HYPERCUBE -> LATIN_HYPERCUBE;
            case SOBOL -> SOBOL;
        };
    }

    /** The way with the name of a constant, as files have it; of another text, one of which nothing follows. */
    public static Way named(String name) {
        return Arrays.stream(values()).filter(w -> w.name().equals(name)).findFirst().orElse(GRID);
    }
}
