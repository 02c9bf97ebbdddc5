package boldanvil.app.model;

import boldanvil.core.runs.Comparison;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.runs.RunDifferences;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout.Kind;
import boldanvil.core.measure.Alignment;
import boldanvil.core.measure.StepMetrics;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import java.util.ArrayList;
import java.util.List;

/** What the Runs page makes of runs: shifts that align them, difference traces, steps. */
public final class RunViews {
    /** How runs are laid over each other. */
    public enum Align {
        TIME("by time"), STEP("by the first step"), FIT("by best fit");

        private final String label;

        Align(String label) {
            this.label = label;
        }

        public String label() {
            return label;
        }
    }

    /** A difference trace is named like its signal, with this before it. */
    public static final String DIFFERENCE = "Δ ";
    private static final int MOST = 2_000_000;

    /** A step that was found, and in which run. */
    public record Step(String run, String tap, StepMetrics metrics) {}

    private RunViews() {}

    /** Seconds by which the second run is to be shown later so that it lies over the first. */
    public static double shift(Samples first, Samples second, List<Chart> charts, Align how) {
        if (how == Align.TIME) {
            return 0;
        }
        for (Chart c : charts) {
            for (String tap : c.allTaps()) {
                int i = first.indexOf(tap);
                int j = second.indexOf(tap);
                if (i < 0 || j < 0 || first.count(i, -1e9, 1e9) > MOST || second.count(j, -1e9, 1e9) > MOST) {
                    continue;
                }
                Series a = first.series(i);
                Series b = second.series(j);
                if (how == Align.FIT) {
                    if (moves(a) && moves(b)) {
                        return Alignment.bestFit(a, b);
                    }
                } else {
                    var sa = StepMetrics.steps(a);
                    var sb = StepMetrics.steps(b);
                    if (!sa.isEmpty() && !sb.isEmpty()) {
                        return sa.getFirst().start() - sb.getFirst().start();
                    }
                }
            }
        }
        return 0;
    }

    private static boolean moves(Series s) {
        for (double v : s.values()) {
            if (v != s.values()[0]) {
                return true;
            }
        }
        return false;
    }

    /** The differences first − second of all signals of some charts, at the instants of the first. */
    public static Samples difference(Samples first, Samples second, List<Chart> charts, double shift) {
        List<Series> all = new ArrayList<>();
        for (String tap : charts.stream().flatMap(c -> c.allTaps().stream()).distinct().toList()) {
            int i = first.indexOf(tap);
            int j = second.indexOf(tap);
            if (i < 0 || j < 0 || first.count(i, -1e9, 1e9) > MOST) {
                continue;
            }
            Series a = first.series(i);
            Series b = second.series(j).shifted(shift);
            double[] d = new double[a.size()];
            for (int k = 0; k < d.length; k++) {
                double t = a.times()[k];
                double other = k < b.size() && b.times()[k] == t ? b.values()[k] : b.at(t);
                d[k] = a.values()[k] - other;
            }
            all.add(new Series(DIFFERENCE + tap, a.unit(), a.times(), d));
        }
        return SampleStore.of(new RunData(all));
    }

    /** Panes of differences; where there are few charts, below each of them, else in their place. */
    public static List<Chart> withDifferences(List<Chart> charts) {
        List<Chart> all = new ArrayList<>();
        boolean few = charts.size() <= 3;
        for (Chart c : charts) {
            if (few) {
                all.add(c);
            }
            if (c.kind() == Kind.TRACE) {
                all.add(new Chart(c.title() + ", difference", c.unit(), c.taps().stream().map(t -> DIFFERENCE + t).toList()));
            }
        }
        return all;
    }

    /** Every step of a demand and how the signals beside it follow: in each chart the first signal with steps is the demand. */
    public static List<Step> steps(String run, Samples samples, List<Chart> charts) {
        List<Step> all = new ArrayList<>();
        for (Chart c : charts) {
            for (String demand : c.taps()) {
                int i = samples.indexOf(demand);
                if (i < 0 || samples.count(i, -1e9, 1e9) > MOST || c.taps().size() < 2) {
                    continue;
                }
                Series d = samples.series(i);
                if (StepMetrics.steps(d).isEmpty()) {
                    continue;
                }
                for (String tap : c.taps()) {
                    int j = samples.indexOf(tap);
                    if (!tap.equals(demand) && j >= 0 && samples.count(j, -1e9, 1e9) <= MOST) {
                        StepMetrics.all(d, samples.series(j), StepMetrics.BAND).forEach(m -> all.add(new Step(run, tap, m)));
                    }
                }
                break;
            }
        }
        return all;
    }

    /** The newest run with the newest of each other rig that was made from the same project. */
    public static List<RunShelf.Entry> alike(List<RunShelf.Entry> all, int most) {
        var newest = all.getFirst();
        List<RunShelf.Entry> alike = new ArrayList<>(List.of(newest));
        for (var e : all) {
            boolean other = alike.stream().noneMatch(x -> x.note().rig().equals(e.note().rig()));
            if (other && alike.size() < most && RunDifferences.projects(newest, e).isEmpty()) {
                alike.add(e);
            }
        }
        return alike;
    }

    /**
     * A comparison in one sentence.
     *
     * @param titles of the runs
     * @param c null for a single run
     * @param shift seconds by which the second run is shown later
     */
    public static String verdict(List<String> titles, Comparison c, double shift) {
        if (c == null) {
            return "One run: " + titles.getFirst() + ". Select a second with Ctrl+click to compare.";
        }
        boolean none = c.rows().stream().allMatch(r -> r.largest() == 0);
        long beyond = c.rows().stream().filter(r -> !r.within()).count();
        long differing = c.rows().stream().filter(r -> r.largest() != 0).count();
        return titles.get(0) + " (solid) against " + titles.get(1) + " (dashed)" + (shift == 0 ? ""
                : ", shifted by " + Figures.seconds(shift)) + ": "
                + (none ? "no deviation in " + c.rows().size() + " taps." : differing + " of " + c.rows()
                .size() + " taps deviate, " + beyond + " beyond the tolerance.");
    }
}
