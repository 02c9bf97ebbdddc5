package boldanvil.core.identify;

import boldanvil.core.linear.StateSpace;
import boldanvil.core.linear.TimeResponse;
import java.util.Arrays;
import java.util.Optional;

/** Kinds of models of one input and one output of which nothing is known beforehand. */
public enum BlackBox {
    FIRST("First order with delay", new int[0], "") {
        @Override
        Found find(Record r, int[] numbers) {
            return process(r, 1);
        }
    },
    SECOND("Second order with delay", new int[0], "") {
        @Override
        Found find(Record r, int[] numbers) {
            return process(r, 2);
        }
    },
    OUTPUT_ERROR("Output error", new int[] {2, 2, 1}, "poles, coefficients of the input, delay in samples") {
        @Override
        Found find(Record r, int[] numbers) {
            return difference(DifferenceModel.outputError(r, numbers[0], numbers[1], numbers[2]), r);
        }
    },
    EQUATION_ERROR("ARX", new int[] {2, 2, 1}, "coefficients of the output and of the input, delay in samples") {
        @Override
        Found find(Record r, int[] numbers) {
            return difference(DifferenceModel.equationError(r, numbers[0], numbers[1], numbers[2]), r);
        }
    },
    STATES("State space", new int[] {2}, "order; 0 chooses it") {
        @Override
        Found find(Record r, int[] numbers) {
            var s = Subspace.of(r, numbers[0], Math.max(10, 2 * numbers[0] + 2));
            double[] predicted = Arrays.copyOf(s.predicted(), r.size());
            double[] rest = TimeResponse.of(s.system(), r.input());
            System.arraycopy(rest, s.predicted().length, predicted, s.predicted().length, rest.length - s.predicted().length);
            return new Found(Optional.empty(), s.system(), 0, r, predicted, s.fit(), s.singular());
        }
    };

    private final String label;
    private final int[] defaults;
    private final String meaning;

    BlackBox(String label, int[] defaults, String meaning) {
        this.label = label;
        this.defaults = defaults;
        this.meaning = meaning;
    }

    public String label() {
        return label;
    }

    /** The numbers of its order, as proposed. */
    public int[] defaults() {
        return defaults.clone();
    }

    /** What the numbers are; empty where there are none. */
    public String meaning() {
        return meaning;
    }

    abstract Found find(Record r, int[] numbers);

    /**
     * A model that was found.
     *
     * @param estimate of its values; empty where they have no meaning by themselves
     * @param system without the delay; continuous, or sampled as the record
     * @param delay seconds that are not in the system
     * @param predicted the output as it follows from the input alone
     * @param singular how much each state matters; empty but for state space
     */
    public record Found(Optional<Estimate> estimate, StateSpace system, double delay, Record record, double[] predicted, double fit,
            double[] singular) {
        /** How much of the movement of another record's output it has; of the same sample time where it is sampled. */
        public double fit(Record other) {
            if (system.isSampled()) {
                return Estimate.fit(other.output(), TimeResponse.of(system, other.input()));
            }
            double[] v = estimate.orElseThrow().values().stream().mapToDouble(Estimate.Value::value).toArray();
            var model = new ProcessModel(v[0], Arrays.copyOfRange(v, 1, v.length - 1), v[v.length - 1], null);
            return Estimate.fit(other.output(), model.simulated(other));
        }
    }

    /**
     * Finds the model of this kind.
     *
     * @param numbers of its order, as many as {@link #defaults}
     * @throws boldanvil.core.linear.NoSolutionException when the record does not determine it
     */
    public Found of(Record r, int... numbers) {
        if (numbers.length != defaults.length) {
            throw new IllegalArgumentException(numbers.length + " numbers for " + this);
        }
        return find(r, numbers);
    }

    private static Found process(Record r, int order) {
        var p = ProcessModel.fit(r, order);
        return new Found(Optional.of(p.estimate()), p.rational(), p.delay(), r, p.simulated(r), p.estimate().fit(), new double[0]);
    }

    private static Found difference(DifferenceModel m, Record r) {
        return new Found(Optional.of(m.estimate()), m.system(), 0, r, m.simulated(r.input()), m.estimate().fit(), new double[0]);
    }
}
