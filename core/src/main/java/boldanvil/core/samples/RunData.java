package boldanvil.core.samples;

import java.util.List;
import java.util.Optional;

/** The samples of a run. */
public record RunData(List<Series> series) {
    public RunData {
        series = List.copyOf(series);
    }

    public Optional<Series> find(String name) {
        return series.stream().filter(s -> s.name().equals(name)).findFirst();
    }

    /** The last instant of any series, in seconds. */
    public double end() {
        return series.stream().filter(s -> s.size() > 0).mapToDouble(s -> s.times()[s.size() - 1]).max().orElse(0);
    }
}
