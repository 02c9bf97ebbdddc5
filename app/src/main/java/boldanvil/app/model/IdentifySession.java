package boldanvil.app.model;

import boldanvil.core.diagram.Project;
import boldanvil.core.edit.VariableValues;
import boldanvil.core.finding.FindingException;
import boldanvil.core.identify.BlackBox;
import boldanvil.core.identify.Estimate;
import boldanvil.core.identify.GreyBox;
import boldanvil.core.identify.GreyBox.Prediction;
import boldanvil.core.identify.Record;
import boldanvil.core.identify.TakenOver;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.Polynomials;
import boldanvil.core.quantity.Rescaled;
import boldanvil.core.samples.Samples;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.concurrent.Executor;
import java.util.function.UnaryOperator;

/** Models and values from recorded runs, as the Loop page shows them. All methods are called on the window's thread. */
public final class IdentifySession {
    /** What is taken out of a record before a model is found. */
    public enum Remove {
        OFFSET("Offset", Record::withoutOffset), DRIFT("Offset and drift", Record::withoutDrift), NOTHING("Nothing", r -> r);

        private final String label;
        private final UnaryOperator<Record> how;

        Remove(String label, UnaryOperator<Record> how) {
            this.label = label;
            this.how = how;
        }

        @Override
        public String toString() {
            return label;
        }
    }

    /**
     * What is asked of a run.
     *
     * @param check a second run; null for none
     * @param every sample time of a model in seconds; empty for that of the input
     */
    public record Span(PastRun run, PastRun check, List<String> inputs, List<String> outputs, double from, double to,
            OptionalDouble every, Remove remove) {}

    /**
     * What was found.
     *
     * @param title the model, for people
     * @param estimate empty where values have no meaning by themselves
     * @param black the model of one input and output; empty where variables of the sheet were found
     * @param predictions outputs on the run
     * @param checked outputs on the second run; empty without one
     * @param checkedFit how much of the second run's movement a model has; NaN without one
     */
    public record Result(String title, String run, Optional<Estimate> estimate, Optional<BlackBox.Found> black,
            List<Prediction> predictions, List<Prediction> checked, double checkedFit) {
        /** The transfer function as texts of numerator and denominator in falling powers; empty for values of the sheet. */
        public Optional<List<String>> polynomials() {
            return black.map(b -> {
                double[][] parts = Polynomials.of(b.system());
                return List.of(text(parts[0]), text(parts[1]));
            });
        }

        private static String text(double[] all) {
            return String.join(", ", java.util.Arrays.stream(all).mapToObj(v -> Figures.text(v, 7)).toList());
        }
    }

    private final Latest<Result> latest;

    /** @param window runs what must happen on the window's thread */
    public IdentifySession(Executor window) {
        latest = new Latest<>("identification", window);
    }

    /** What was found last. */
    public Latest<Result> latest() {
        return latest;
    }

    /** Finds a model of one input and one output. */
    public void model(Span span, BlackBox kind, int... numbers) {
        latest.start("Identifying …", () -> {
            if (span.inputs().size() != 1 || span.outputs().size() != 1) {
                throw new NoSolutionException("A model has one input and one output.", "Choose one tap for each.");
            }
            return span.run().read(samples -> {
                Record r = record(span, samples, span.from(), span.to(), span.every());
                var found = kind.of(r, numbers);
                double second = span.check() == null ? Double.NaN : span.check().read(s -> found.fit(record(span, s,
                        s.begin(), s.end(), OptionalDouble.of(r.period()))));
                var column = samples.columns().get(samples.indexOf(span.outputs().getFirst()));
                double[] t = new double[r.size()];
                double first = Math.max(span.from(), samples.begin());
                for (int i = 0; i < t.length; i++) {
                    t[i] = first + i * r.period();
                }
                return new Result(kind.label(), span.run().name(), found.estimate(), Optional.of(found), List.of(new Prediction(
                        column.name(), column.unit(), t, r.output(), found.predicted())), List.of(), second);
            });
        });
    }

    /** Finds variables of the project for which it comes nearest to the run. */
    public void variables(Span span, Project project, List<GreyBox.Free> free) {
        latest.start("Running the sheet with many values …", () -> span.run().read(samples -> {
            var recorded = recorded(span, span.run(), samples, span.from(), span.to());
            Estimate e = GreyBox.fit(project, free, recorded);
            Project found = VariableValues.with(project, TakenOver.values(e), Rescaled.EXACT);
            List<Prediction> second = span.check() == null ? List.of() : span.check().read(s -> GreyBox.predictions(found,
                    recorded(span, span.check(), s, s.begin(), s.end())));
            return new Result("Variables of the sheet", span.run().name(), Optional.of(e), Optional.empty(),
                    GreyBox.predictions(found, recorded), second, Double.NaN);
        }));
    }

    private static Record record(Span span, Samples samples, double from, double to, OptionalDouble every) {
        String in = span.inputs().getFirst();
        String out = span.outputs().getFirst();
        Record r = every.isPresent() ? Record.of(samples, in, out, from, to, every.getAsDouble()) : Record.of(samples, in, out, from, to);
        return span.remove().how.apply(r);
    }

    private static GreyBox.Recorded recorded(Span span, PastRun run, Samples samples, double from, double to) {
        if (span.outputs().isEmpty()) {
            throw FindingException.of("outputs", "No output is chosen.", "Choose the taps that the sheet is to come near to.");
        }
        return new GreyBox.Recorded(samples, span.inputs(), span.outputs(), from, to, run.interventions());
    }
}
