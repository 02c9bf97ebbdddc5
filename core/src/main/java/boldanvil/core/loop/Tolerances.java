package boldanvil.core.loop;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.edit.VariableValues;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.linear.Frequencies;
import boldanvil.core.linear.Margins;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.quantity.Rescaled;
import boldanvil.core.quantity.Variables;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.IntStream;

/** What a loop is like when variables are not what they should be: every combination of their limits, and random values between them. */
public final class Tolerances {
    /** Variables whose corners are all tried. */
    private static final int MOST = 8;
    private static final int POINTS = 1200;

    private Tolerances() {}

    /** A variable with its limits, SI. */
    public record Tolerance(String variable, double low, double high) {}

    /**
     * A loop with some values.
     *
     * @param values of the variables, SI; empty for the project as it stands
     */
    public record Case(Map<String, Double> values, OpenLoop loop, Margins margins, boolean isStable) {}

    /** The frequencies at which margins of a loop are looked for, rad/s. */
    public static double[] frequencies(OpenLoop loop) {
        return Frequencies.between(loop.nyquist() * 1e-6, loop.nyquist(), POINTS);
    }

    /**
     * All cases: the project as it stands, the corners, then random ones. A variable that follows from others follows; gains that are
     * formulas of a variable follow too, as they would when it is set.
     *
     * @param random how many cases with random values, evenly spread between the limits
     * @param seed of these
     * @throws FindingException when there is no such variable, there are too many, or a loop cannot be opened
     */
    public static List<Case> of(Project project, Rig rig, Cut cut, Linearisation.OperatingPoint point, List<Tolerance> all, int random,
            long seed) {
        var known = Variables.resolve(project.variableTexts()).values();
        all.stream().filter(t -> !known.containsKey(t.variable())).findFirst().ifPresent(t -> {
            throw FindingException.of(new Place.Variable(t.variable()), "There is no variable '" + t.variable() + "'.",
                    "Name variables of the project.");
        });
        if (all.size() > MOST) {
            throw FindingException.of(new Place.Variable(all.get(MOST).variable()), "There are " + all.size()
                    + " variables with limits, which have "
                    + (1L << all.size()) + " corners.", "Name " + MOST + " at most.");
        }
        List<Map<String, Double>> sets = new ArrayList<>(List.of(Map.of()));
        for (int corner = 0; corner < 1 << all.size() && !all.isEmpty(); corner++) {
            int bits = corner;
            sets.add(values(all, i -> (bits >> i & 1) == 0 ? 0 : 1));
        }
        var r = new Random(seed);
        for (int i = 0; i < random && !all.isEmpty(); i++) {
            sets.add(values(all, _ -> r.nextDouble()));
        }
        return IntStream.range(0, sets.size()).parallel().mapToObj(i -> opened(project, rig, cut, point, sets.get(i))).toList();
    }

    private static Map<String, Double> values(List<Tolerance> all, java.util.function.IntToDoubleFunction share) {
        Map<String, Double> values = new LinkedHashMap<>();
        for (int i = 0; i < all.size(); i++) {
            Tolerance t = all.get(i);
            values.put(t.variable(), t.low() + share.applyAsDouble(i) * (t.high() - t.low()));
        }
        return values;
    }

    private static Case opened(Project project, Rig rig, Cut cut, Linearisation.OperatingPoint point, Map<String, Double> values) {
        OpenLoop loop = Linearisation.open(VariableValues.with(project, values, Rescaled.EXACT), rig, cut, point);
        boolean stable;
        try {
            stable = loop.closed(1).isStable();
        } catch (NoSolutionException e) {
            stable = false;
        }
        return new Case(values, loop, Margins.of(loop.response(), frequencies(loop)), stable);
    }
}
