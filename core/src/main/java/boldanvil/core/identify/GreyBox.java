package boldanvil.core.identify;

import boldanvil.core.diagram.Project;
import boldanvil.core.edit.VariableValues;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Slot;
import boldanvil.core.quantity.Rescaled;
import boldanvil.core.quantity.Variables;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import boldanvil.core.simulate.Addresses;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.simulate.Intervention;
import boldanvil.core.simulate.Recorder;
import boldanvil.core.simulate.TapList;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * The sheet's own plant with variables left free: they get the values for which a run of the project, driven by what was recorded, comes
 * nearest to the record (output error). The project is compiled for each set of values, so nothing of it is approximated. A run begins
 * where the record does, in the state of the sheet.
 */
public final class GreyBox {
    /** Samples of an output that are compared at most; others are skipped evenly. */
    private static final int MOST = 20_000;

    /** A variable that is free within limits, in its own unit's SI. */
    public record Free(String variable, double low, double high) {}

    /**
     * What was recorded.
     *
     * @param inputs taps whose records drive what their outputs drove; none where changes alone move the rig
     * @param outputs taps that are predicted
     * @param from first instant that is compared; everything before runs as well
     * @param changes what took effect on tunables
     */
    public record Recorded(Samples samples, List<String> inputs, List<String> outputs, double from, double to,
            List<Intervention> changes) {}

    private final Project project;
    private final FedTaps fed;
    private final List<Free> free;
    private final Map<String, Double> now = new LinkedHashMap<>();
    private final List<Series> inputs = new ArrayList<>();
    /** How much of the next value of an input acts until then already. */
    private final List<Double> ahead = new ArrayList<>();
    private final List<Series> outputs = new ArrayList<>();
    private final double[] ranges;
    private final Recorded recorded;

    private GreyBox(Project project, List<Free> free, Recorded recorded) {
        this.project = project;
        this.free = List.copyOf(free);
        this.recorded = recorded;
        fed = FedTaps.of(project, recorded.inputs());
        LoweredSystem.of(fed.project()).orThrow();
        var values = Variables.resolve(project.variableTexts()).values();
        for (Free f : free) {
            if (!values.containsKey(f.variable())) {
                throw FindingException.of(new Place.Variable(f.variable()), "There is no variable '" + f.variable() + "'.",
                        "Name variables of the project.");
            }
            now.put(f.variable(), values.get(f.variable()).value());
        }
        var system = LoweredSystem.of(project).orThrow();
        for (String tap : recorded.inputs()) {
            inputs.add(series(tap, Double.NEGATIVE_INFINITY));
            ahead.add(ahead(system, tap));
        }
        for (String o : recorded.outputs()) {
            outputs.add(thinned(series(o, recorded.from())));
        }
        ranges = outputs.stream().mapToDouble(s -> {
            double range = Arrays.stream(s.values()).max().orElse(0) - Arrays.stream(s.values()).min().orElse(0);
            if (s.size() < 20 || range == 0) {
                throw new NoSolutionException("The output '" + s.name() + "' has " + s.size() + " samples in the span and moves by "
                        + range + ".",
                        "Choose a longer span in which it moves.");
            }
            return range;
        }).toArray();
    }

    /**
     * A continuous part is sampled before new inputs act. What is held from tick to tick is seen at the end of the time in which it acted;
     * what moves smoothly acts as the mean of both ends. In discrete parts a value acts from its own instant on.
     */
    private double ahead(LoweredSystem system, String tap) {
        return TapList.of(system).entries().stream().filter(e -> e.address().equals(tap) && e.tap().continuous()).findFirst()
                .map(_ -> fed.held().contains(tap) ? 1.0 : 0.5).orElse(0.0);
    }

    private Series series(String tap, double from) {
        return Record.series(recorded.samples(), tap, from, recorded.to());
    }

    private static Series thinned(Series s) {
        int every = (s.size() + MOST - 1) / MOST;
        if (every <= 1) {
            return s;
        }
        int n = s.size() / every;
        double[] t = new double[n];
        double[] v = new double[n];
        for (int i = 0; i < n; i++) {
            t[i] = s.times()[i * every];
            v[i] = s.values()[i * every];
        }
        return new Series(s.name(), s.unit(), t, v);
    }

    /**
     * Finds the values.
     *
     * @param project with the values of the rig
     * @throws FindingException when a tap or variable is missing, or the project has errors
     * @throws NoSolutionException when the record says nothing about a value, or the search fails
     */
    public static Estimate fit(Project project, List<Free> free, Recorded recorded) {
        var box = new GreyBox(project, free, recorded);
        double[] measured = new double[box.outputs.stream().mapToInt(Series::size).sum()];
        int at = 0;
        for (int o = 0; o < box.outputs.size(); o++) {
            for (double v : box.outputs.get(o).values()) {
                measured[at++] = v / box.ranges[o];
            }
        }
        List<LeastSquares.Parameter> parameters = free.stream().map(f -> new LeastSquares.Parameter(f.variable(),
                Math.clamp(box.now.get(f.variable()), f.low(), f.high()), f.low(), f.high())).toList();
        return LeastSquares.fit(box::predicted, measured, parameters);
    }

    /**
     * An output as it was recorded and as the project has it.
     *
     * @param t seconds
     */
    public record Prediction(String tap, String unit, double[] t, double[] measured, double[] predicted) {
        /** What is not explained, at each instant. */
        public double[] residuals() {
            double[] left = new double[measured.length];
            for (int i = 0; i < left.length; i++) {
                left[i] = measured[i] - predicted[i];
            }
            return left;
        }

        /** How much of its movement the project has. */
        public double fit() {
            return Estimate.fit(measured, predicted);
        }
    }

    /** The outputs of the project as it stands, held against a record; also a second one. */
    public static List<Prediction> predictions(Project project, Recorded recorded) {
        var box = new GreyBox(project, List.of(), recorded);
        double[] y = box.predicted(new double[0]);
        List<Prediction> all = new ArrayList<>();
        int at = 0;
        for (int o = 0; o < box.outputs.size(); o++) {
            Series s = box.outputs.get(o);
            double range = box.ranges[o];
            double[] mine = Arrays.stream(Arrays.copyOfRange(y, at, at + s.size())).map(v -> v * range).toArray();
            all.add(new Prediction(recorded.outputs().get(o), s.unit(), s.times(), s.values(), mine));
            at += s.size();
        }
        return all;
    }

    /** What the outputs are for some values, as shares of their ranges. */
    private double[] predicted(double[] values) {
        if (Thread.currentThread().isInterrupted()) {
            throw new NoSolutionException("The search was cancelled.", "Start it again when wanted.");
        }
        Map<String, Double> set = new LinkedHashMap<>();
        for (int i = 0; i < values.length; i++) {
            set.put(free.get(i).variable(), values[i]);
        }
        var system = LoweredSystem.of(VariableValues.with(fed.project(), set, Rescaled.EXACT)).orThrow();
        Map<String, Instance> parts = new LinkedHashMap<>();
        system.parts().keySet().forEach(id -> parts.put(id, JvmCompiler.compile(system.program(id).orElseThrow()).instantiate()));
        var conductor = new Conductor(system, parts);
        conductor.repeat(recorded.changes());
        long ticks = (long) Math.ceil(recorded.to() * 1e9 / system.tickNanos()) + 1;
        var recorder = new Recorder(system, parts, (int) Math.min(4_000_000, ticks + 16));
        recorder.record(conductor);
        List<Feed> feeds = new ArrayList<>();
        for (int i = 0; i < inputs.size(); i++) {
            var to = Addresses.tunable(system, fed.tunables().get(recorded.inputs().get(i)));
            feeds.add(new Feed(parts.get(to.part()), to.tunable().slot(), inputs.get(i), ahead.get(i)));
        }
        for (long t = 0; t < ticks; t++) {
            for (Feed f : feeds) {
                f.set(conductor.nowNanos() / 1e9);
            }
            conductor.tick();
        }
        return read(recorder.store());
    }

    private double[] read(SampleStore store) {
        double[] y = new double[outputs.stream().mapToInt(Series::size).sum()];
        int at = 0;
        for (int o = 0; o < outputs.size(); o++) {
            Series s = outputs.get(o);
            int column = store.indexOf(recorded.outputs().get(o));
            if (column < 0) {
                throw FindingException.of(s.name(), "The project has no tap '" + s.name() + "'.", "Name a tap of the project as output.");
            }
            Series mine = store.series(column);
            int k = 0;
            for (double t : s.times()) {
                while (k + 1 < mine.size() && mine.times()[k + 1] <= t + 5e-10) {
                    k++;
                }
                y[at++] = mine.values()[k] / ranges[o];
            }
        }
        return y;
    }

    /** Gives a tunable its recorded values, each from its instant on. */
    private static final class Feed {
        private final Instance instance;
        private final Slot slot;
        private final Series series;
        private final double ahead;
        private int next;

        /** @param ahead share of the next value */
        Feed(Instance instance, Slot slot, Series series, double ahead) {
            this.instance = instance;
            this.slot = slot;
            this.series = series;
            this.ahead = ahead;
        }

        void set(double seconds) {
            boolean moved = next == 0;
            while (next < series.size() && series.times()[next] <= seconds + 5e-10) {
                next++;
                moved = true;
            }
            if (moved && series.size() > 0) {
                double now = series.values()[Math.max(0, next - 1)];
                double then = series.values()[Math.min(next, series.size() - 1)];
                instance.set(slot, now + ahead * (then - now));
            }
        }
    }
}
