package boldanvil.app.cli;

import boldanvil.core.bench.Sweep;
import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.study.PointSource;
import boldanvil.core.study.Sampling;
import boldanvil.core.study.Sampling.Correlation;
import boldanvil.core.study.Sensitivity;
import boldanvil.core.study.Spread;
import boldanvil.core.study.Way;
import boldanvil.core.study.WorstCase;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import picocli.CommandLine.Option;

/** Options by which the values of many runs are chosen. */
final class PointOptions {
    private static final Pattern CORRELATION = Pattern.compile("([^,=]+),([^,=]+)=(.+)");

    @Option(names = "--vary", paramLabel = "NAME=VALUES",
            description = "A project variable or part.tunable, and its values: a list [1, 2, 5], or "
            + "from, to and number as 1:5:9. May be repeated.")
    private List<String> vary = new ArrayList<>();

    @Option(names = "--sample", paramLabel = "N", description = "N random points in the ranges, instead of the grid.")
    private int sample;

    @Option(names = "--seed", defaultValue = "1", description = "Seed of the sample; the same gives the same points.")
    private long seed;

    @Option(names = "--method", paramLabel = "WAY", description = "How the points of --sample lie: random, latin hypercube or sobol. With "
            + "this option a value may be spread as normal(MEAN, DEVIATION), too.")
    private String method;

    @Option(names = "--correlate", paramLabel = "A,B=R",
            description = "With --method: two values go together, with this correlation. May be repeated.")
    private List<String> correlate = new ArrayList<>();

    /** Whether nothing is to vary. */
    boolean isEmpty() {
        return vary.isEmpty();
    }

    /**
     * SI values by name for each run.
     *
     * @param variables what expressions may use
     * @throws FindingException when the options state no points
     */
    List<Map<String, Double>> points(Map<String, Quantity> variables) {
        if (vary.isEmpty()) {
            throw nothing();
        }
        if (method == null) {
            List<Sweep.Axis> axes = vary.stream().map(v -> axis(v, variables)).toList();
            return sample > 0 ? Sweep.sample(axes, sample, seed) : Sweep.grid(axes);
        }
        return Sampling.labelled("--method", method).points(spreads(variables), correlate.stream().map(PointOptions::correlation).toList(),
                sample, seed);
    }

    /** How {@link #points} are chosen. */
    Way way() {
        return method != null ? Way.of(Sampling.labelled("--method", method)) : sample > 0 ? Way.RANDOM : Way.GRID;
    }

    /** How each value is spread, by name. */
    private Map<String, Spread> spreads(Map<String, Quantity> variables) {
        Map<String, Spread> spreads = new LinkedHashMap<>();
        for (String v : vary) {
            int equals = equals(v);
            String name = v.substring(0, equals).strip();
            spreads.put(name, Spread.of(name, v.substring(equals + 1), variables));
        }
        return spreads;
    }

    /** The points from which indices of sensitivity follow. */
    PointSource sensitivity(Map<String, Quantity> variables) {
        refuseOthers("--sensitivity");
        return PointSource.of(Sensitivity.points(spreads(variables), sample, seed));
    }

    /** A search for the greatest or the least result. */
    PointSource worstCase(Map<String, Quantity> variables, boolean greatest) {
        refuseOthers("--worst");
        return new WorstCase(spreads(variables), greatest, sample, seed);
    }

    private void refuseOthers(String option) {
        if (vary.isEmpty()) {
            throw nothing();
        }
        if (method != null || !correlate.isEmpty()) {
            throw FindingException.of(option, "It chooses its points itself.", "Leave --method and --correlate out.");
        }
    }

    private static FindingException nothing() {
        return FindingException.of("--vary", "Nothing varies.", "Write --vary NAME=[1, 2, 5] or NAME=1:5:9.");
    }

    private static Correlation correlation(String text) {
        var m = CORRELATION.matcher(text);
        try {
            if (m.matches()) {
                return new Correlation(m.group(1).strip(), m.group(2).strip(), Double.parseDouble(m.group(3)));
            }
        } catch (IllegalArgumentException e) {
            // Said below.
        }
        throw FindingException.of("--correlate", "'" + text + "' is not a correlation.",
                "Write two names and a number from -1 to 1: A,B=0.8.");
    }

    private static int equals(String text) {
        int equals = text.indexOf('=');
        if (equals < 1) {
            throw FindingException.of("--vary", "'" + text + "' has no values.", "Write NAME=[1, 2, 5] or NAME=1:5:9.");
        }
        return equals;
    }

    private static Sweep.Axis axis(String text, Map<String, Quantity> variables) {
        int equals = equals(text);
        return Sweep.Axis.of(text.substring(0, equals).strip(), text.substring(equals + 1), variables);
    }

    /** What the options state, for a hash of the plan. */
    @Override
    public String toString() {
        return String.join("\n", vary.toString(), Integer.toString(sample), Long.toString(seed), String.valueOf(method),
                correlate.toString());
    }
}
