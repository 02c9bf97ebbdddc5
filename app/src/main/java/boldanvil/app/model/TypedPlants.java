package boldanvil.app.model;

import boldanvil.core.identify.FrequencyFit;
import boldanvil.core.identify.FrequencyPoints;
import boldanvil.core.linear.Bode;
import boldanvil.core.linear.Frequencies;
import boldanvil.core.linear.Margins;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.Response;
import boldanvil.core.linear.Sampling;
import boldanvil.core.linear.StateSpace;
import boldanvil.core.loop.Controller;
import boldanvil.core.loop.OpenLoop;
import boldanvil.core.loop.TypedLoop;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.Quantity;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.DoubleFunction;
import org.hipparchus.complex.Complex;

/** Plants as they are typed on the Loop page. */
public final class TypedPlants {
    private static final String DELAY = "Delay";
    private static final int POINTS = 400;

    /** How a plant is typed, with a proposal for each field. */
    public enum Form {
        TRANSFER("Transfer function in s", "Numerator", "1", "Denominator", "1, 1.2, 0.2", DELAY, "0 s"),
        TRANSFER_Z("Transfer function in z", "Numerator", "0.1", "Denominator", "1, -0.9"),
        ZEROS("Zeros, poles and gain in s", "Zeros", "", "Poles", "-1, -2+3j, -2-3j", "Gain", "5", DELAY, "0 s"),
        FIRST("First order with delay", "Gain", "2", "Time constant", "1 s", DELAY, "0.1 s"),
        POINTS("Frequency points from a file", "File", "", "Number of zeros", "0", "Number of poles", "2", DELAY, "0 s"),
        STATES("State space in s", "A", "-1, 1; 0, -5", "B", "0; 1", "C", "1, 0", "D", "0");

        private final String label;
        private final Map<String, String> fields = new LinkedHashMap<>();

        Form(String label, String... fields) {
            this.label = label;
            for (int i = 0; i < fields.length; i += 2) {
                this.fields.put(fields[i], fields[i + 1]);
            }
        }

        /** Names of the fields with what they propose. */
        public Map<String, String> fields() {
            return java.util.Collections.unmodifiableMap(fields);
        }

        @Override
        public String toString() {
            return label;
        }
    }

    /**
     * What was typed.
     *
     * @param folder in which names of files are looked up
     */
    public record Typed(Form form, Map<String, String> texts, String period, Map<String, String> gains, Map<String, Quantity> variables,
            Path folder) {
        private double number(String text) {
            return Formula.quantity(text.strip().replace('−', '-'), variables).value();
        }

        private double[] list(String field) {
            String text = texts.get(field);
            return text.isBlank() ? new double[0] : Arrays.stream(text.replaceAll("[\\[\\]]", "").split(",")).mapToDouble(this::number)
                    .toArray();
        }

        /** Numbers such as 3, −2+3j, 4j. */
        private Complex[] roots(String field) {
            String text = texts.get(field);
            return text.isBlank() ? new Complex[0] : Arrays.stream(text.split(",")).map(this::root).toArray(Complex[]::new);
        }

        private Complex root(String whole) {
            String text = whole.replace("−", "-").replaceAll("\\s", "");
            if (!text.endsWith("j")) {
                return new Complex(number(text));
            }
            String body = text.substring(0, text.length() - 1);
            int split = Math.max(body.lastIndexOf('+'), body.lastIndexOf('-'));
            if (split <= 0) {
                return new Complex(0, number(body.isEmpty() || body.equals("-") || body.equals("+") ? body + "1" : body));
            }
            String imaginary = body.substring(split);
            return new Complex(number(body.substring(0, split)), number(imaginary.length() == 1 ? imaginary + "1" : imaginary));
        }

        private double[][] matrix(String field) {
            return Arrays.stream(texts.get(field).split(";")).map(row -> Arrays.stream(row.split(",")).mapToDouble(this::number).toArray())
                    .toArray(double[][]::new);
        }
    }

    /**
     * The loop in one way of sampling.
     *
     * @param cause why there is none in this way; empty where there is one
     */
    public record Row(String name, Bode bode, Margins margins, boolean isStable, boolean isContinuous, String cause) {}

    private TypedPlants() {}

    /**
     * The plant, with the controller's sample time.
     *
     * @throws boldanvil.core.quantity.FormulaException when a number cannot be computed
     * @throws NoSolutionException when it is not a plant
     */
    public static TypedLoop loop(Typed t, Sampling way) {
        double period = t.number(t.period());
        if (!(period > 0)) {
            throw new NoSolutionException("The sample time is not above 0.", "Enter one such as 10 ms.");
        }
        double delay = t.texts().containsKey(DELAY) ? t.number(t.texts().get(DELAY)) : 0;
        return new TypedLoop(plant(t, period), delay, period, delay > 0 ? Sampling.ZERO_ORDER_HOLD : way);
    }

    private static StateSpace plant(Typed t, double period) {
        return switch (t.form()) {
            case TRANSFER -> StateSpace.transfer(t.list("Numerator"), t.list("Denominator"), 0);
            case TRANSFER_Z -> StateSpace.transfer(t.list("Numerator"), t.list("Denominator"), period);
            case ZEROS -> StateSpace.zerosPolesGain(t.roots("Zeros"), t.roots("Poles"), t.number(t.texts().get("Gain")), 0);
            case FIRST -> StateSpace.transfer(new double[] {t.number(t.texts().get("Gain"))},
                    new double[] {t.number(t.texts().get("Time constant")), 1}, 0);
            case POINTS -> {
                String file = t.texts().get("File").strip();
                if (file.isEmpty()) {
                    throw new NoSolutionException("No file is named.",
                            "Enter the path of a CSV file with the columns rad/s, dB and degrees.");
                }
                yield FrequencyFit.of(FrequencyPoints.read(t.folder().resolve(file)), (int) t.number(t.texts().get("Number of zeros")),
                        (int) t.number(t.texts().get("Number of poles")), t.number(t.texts().get(DELAY))).system();
            }
            case STATES -> {
                double[][] a = t.matrix("A");
                double[] b = Arrays.stream(t.matrix("B")).mapToDouble(r -> r[0]).toArray();
                double[] c = t.matrix("C")[0];
                if (b.length != a.length || c.length != a.length || Arrays.stream(a).anyMatch(r -> r.length != a.length)) {
                    throw new NoSolutionException("A has " + a.length + " rows, B " + b.length + " and C " + c.length + " columns.",
                            "Write A with as many columns as rows, B with a row and C with a column for each state; rows are separated by "
                            + "semicolons.");
                }
                yield StateSpace.single(a, b, c, t.number(t.texts().get("D")), 0);
            }
        };
    }

    /** The controller. */
    public static Controller controller(Typed t) {
        Map<String, Double> gains = new LinkedHashMap<>();
        List.of("kp", "ki", "kd").forEach(name -> gains.put(name, t.number(t.gains().get(name))));
        double filter = t.number(t.gains().get("tf"));
        if (gains.get("kd") != 0 && !(filter >= t.number(t.period()))) {
            throw new NoSolutionException("The filter of the derivative is shorter than the sample time.", "Choose a longer one.");
        }
        return Controller.free(gains, filter);
    }

    /** The loop in every way of sampling; before them, where the plant is continuous, with a controller that is continuous too. */
    public static List<Row> rows(TypedLoop plant, Controller controller) {
        double nyquist = Math.PI / plant.period();
        double[] omega = Frequencies.between(nyquist * 1e-5, nyquist, POINTS);
        List<Row> all = new ArrayList<>();
        if (!plant.plant().isSampled()) {
            var response = new Response(plant.plant());
            DoubleFunction<Complex> whole = w -> response.at(w).multiply(new Complex(0, -w * plant.delay()).exp())
                    .multiply(continuous(controller, w));
            all.add(new Row("continuous", Bode.of(whole, omega), Margins.of(whole, omega), stable(plant, controller, whole, omega), true,
                    ""));
        }
        for (Sampling s : plant.plant().isSampled() || plant.delay() > 0 ? new Sampling[] {Sampling.ZERO_ORDER_HOLD} : Sampling.values()) {
            try {
                OpenLoop loop = plant.by(s).with(controller, controller.gains());
                all.add(new Row(plant.plant().isSampled() ? "as typed" : s.label(), Bode.of(loop.response(), omega),
                        Margins.of(loop.response(), omega), loop.closed(1).isStable(), false, ""));
            } catch (NoSolutionException e) {
                all.add(new Row(s.label(), null, null, false, false, e.getMessage()));
            }
        }
        return all;
    }

    /** kp + ki / s + kd s / (tf s + 1). */
    private static Complex continuous(Controller c, double w) {
        Complex s = new Complex(0, w);
        var g = c.gains();
        return new Complex(g.get("kp")).add(s.reciprocal().multiply(g.get("ki"))).add(s.multiply(g.get("kd"))
                .divide(s.multiply(c.filter()).add(1)));
    }

    /** By the poles; with a delay by the margins, which say so for plants that are stable by themselves. */
    private static boolean stable(TypedLoop plant, Controller c, DoubleFunction<Complex> loop, double[] omega) {
        if (plant.delay() == 0) {
            var g = c.gains();
            StateSpace controller = StateSpace.gain(g.get("kp"), 0);
            if (g.get("ki") != 0) {
                controller = controller.plus(StateSpace.transfer(new double[] {g.get("ki")}, new double[] {1, 0}, 0));
            }
            if (g.get("kd") != 0) {
                controller = controller.plus(StateSpace.transfer(new double[] {g.get("kd"), 0}, new double[] {c.filter(), 1}, 0));
            }
            return plant.plant().after(controller).closed().isStable();
        }
        Margins m = Margins.of(loop, omega);
        return m.phase().map(crossing -> crossing.value() > 0).orElse(true);
    }
}
