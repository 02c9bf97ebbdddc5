package boldanvil.core.diagram;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * What the bench page shows and knows: controls, charts, readouts, drawings, limits that end a run, and sets of values.
 *
 * @param controls in their order on the bench
 * @param columns how many controls stand side by side
 */
public record BenchLayout(List<Control> controls, int columns, List<Chart> charts, List<Readout> readouts, List<Drawing> drawings,
        List<Limit> limits,
        List<ValueSet> sets) {
    public static final BenchLayout EMPTY = new BenchLayout(List.of(), List.of());

    /** The shapes a control can have. */
    public enum Shape {
        DIAL, SLIDER, SWITCH,
        /** On while it is held. */
        BUTTON,
        /** Changes over each time it is pressed. */
        LATCH,
        /** Goes up and down by its step. */
        STEPPER,
        NUMBER,
        /** One of some named values. */
        CHOICE
    }

    /** A named value. */
    public record Choice(String label, double value) {}

    /**
     * A live control. Values and limits are in its unit.
     *
     * @param tunable full address, such as {@code controller.target}
     * @param unit unit in which it is shown
     * @param minimum least value
     * @param maximum greatest value
     * @param rate fastest change in unit/s; 0 for no limit
     * @param step of keys, wheel and stepper; 0 for a hundredth of the range
     * @param softMinimum below it one continues purpose only
     * @param softMaximum above it one continues purpose only
     * @param group controls of a group stand together; empty for none
     * @param choices of a {@link Shape#CHOICE}
     */
    public record Control(Shape shape, String title, String tunable, String unit, double minimum, double maximum, double rate, double step,
            double softMinimum, double softMaximum, String group, List<Choice> choices) {
        public Control {
            choices = List.copyOf(choices);
        }

        /** A control without soft limits and group. */
        public Control(Shape shape, String title, String tunable, String unit, double minimum, double maximum, double rate) {
            this(shape, title, tunable, unit, minimum, maximum, rate, 0, minimum, maximum, "", List.of());
        }

        /** By how much keys and wheel move it. */
        public double stride() {
            return step > 0 ? step : (maximum - minimum) / 100;
        }

        public Control grouped(String name) {
            return new Control(shape, title, tunable, unit, minimum, maximum, rate, step, softMinimum, softMaximum, name, choices);
        }
    }

    /** What a pane of the chart is. */
    public enum Kind {
        /** Signals over time. */
        TRACE,
        /** Logic lines over time, one strip for each. */
        LOGIC,
        /** The second and further signals over the first. */
        XY, SPECTRUM, HISTOGRAM
    }

    /** How samples are joined. */
    public enum Style { LINE, STEP, DOTS }

    /** How the lines of a {@link Kind#LOGIC} pane are read. */
    public enum Decoder { NONE, ENCODER, PWM, UART }

    /**
     * A chart pane.
     *
     * @param unit unit of the left axis, in which its taps are shown; empty for SI as is
     * @param taps full addresses
     * @param rightUnit unit of the right axis
     * @param rightTaps full addresses of what is shown against the right axis
     * @param base what is one on the left axis, in its unit; 0 for the unit itself
     * @param period in seconds over which the mean is shown in place of the signals; 0 for the signals
     * @param baud of a serial line
     */
    public record Chart(String title, Kind kind, String unit, List<String> taps, String rightUnit, List<String> rightTaps, Style style,
            double base,
            double period, Decoder decoder, double baud) {
        public Chart {
            taps = List.copyOf(taps);
            rightTaps = List.copyOf(rightTaps);
        }

        /** Traces against one axis. */
        public Chart(String title, String unit, List<String> taps) {
            this(title, Kind.TRACE, unit, taps, "", List.of(), Style.LINE, 0, 0, Decoder.NONE, 9_600);
        }

        public Chart with(Style how) {
            return new Chart(title, kind, unit, taps, rightUnit, rightTaps, how, base, period, decoder, baud);
        }

        public Chart based(double one) {
            return new Chart(title, kind, unit, taps, rightUnit, rightTaps, style, one, period, decoder, baud);
        }

        /** Its values as means over a period in seconds; 0 for the values themselves. */
        public Chart averaged(double seconds) {
            return new Chart(title, kind, unit, taps, rightUnit, rightTaps, style, base, seconds, decoder, baud);
        }

        public Chart decoded(Decoder how) {
            return new Chart(title, kind, unit, taps, rightUnit, rightTaps, style, base, period, how, baud);
        }

        public Chart titled(String next) {
            return new Chart(next, kind, unit, taps, rightUnit, rightTaps, style, base, period, decoder, baud);
        }

        /** All its signals against one axis in their own values, as a chart of another kind. */
        public Chart another(String name, Kind what) {
            return new Chart(name, what, unit, allTaps(), "", List.of(), style, 0, 0, decoder, baud);
        }

        /** @param tapUnit unit of a right axis that had no signal so far */
        public Chart plus(String tap, boolean onRight, String tapUnit) {
            return new Chart(title, kind, unit, onRight ? taps : with(taps, tap), rightTaps.isEmpty() && onRight ? tapUnit : rightUnit,
                    onRight ? with(rightTaps, tap) : rightTaps, style, base, period, decoder, baud);
        }

        public Chart without(String tap) {
            return new Chart(title, kind, unit, taps.stream().filter(t -> !t.equals(tap)).toList(), rightUnit,
                    rightTaps.stream().filter(t -> !t.equals(tap)).toList(), style, base, period, decoder, baud);
        }

        private static List<String> with(List<String> list, String one) {
            return java.util.stream.Stream.concat(list.stream(), java.util.stream.Stream.of(one)).toList();
        }

        public Chart as(Kind what) {
            return new Chart(title, what, unit, taps, rightUnit, rightTaps, style, base, period, decoder, baud);
        }

        /** Those of the left axis, then those of the right. */
        public List<String> allTaps() {
            return java.util.stream.Stream.concat(taps.stream(), rightTaps.stream()).toList();
        }
    }

    /** The shapes of readouts. */
    public enum Display { NUMBER, LAMP, BAR, TABLE }

    /**
     * Something that shows the newest value of one tap, or a table of several.
     *
     * @param minimum of a bar, in the unit
     * @param maximum of a bar, in the unit; a lamp is lit above the middle between both
     */
    public record Readout(Display display, String title, List<String> taps, String unit, double minimum, double maximum) {
        public Readout {
            taps = List.copyOf(taps);
        }
    }

    /** What a signal does to an element of a drawing. */
    public enum Effect { MOVE_X, MOVE_Y, TURN, LEVEL, COLOUR, VISIBLE, TEXT }

    /**
     * An element of a drawing that follows a signal: from {@code from} to {@code to} where the tap goes from {@code low} to {@code high}.
     *
     * @param element its id in the drawing
     * @param tap full address
     * @param low value of the tap, SI
     * @param high value of the tap, SI
     * @param from position in the drawing's units, angle in degrees, level from 0 to 1, or colour
     * @param to the same, for {@code high}
     */
    public record Binding(String element, Effect effect, String tap, double low, double high, String from, String to) {}

    /**
     * An SVG drawing that is moved by signals.
     *
     * @param file path in the project's folder, such as {@code bench/lock.svg}
     */
    public record Drawing(String title, String file, List<Binding> bindings) {
        public Drawing {
            bindings = List.copyOf(bindings);
        }
    }

    /**
     * A limit that ends a run.
     *
     * @param unit unit of the limits
     * @param least NaN for none
     * @param most NaN for none
     * @param rate fastest change in unit/s; NaN for none
     * @param seconds how long it must be exceeded
     */
    public record Limit(String tap, String unit, double least, double most, double rate, double seconds) {}

    /** Values of tunables by full address, SI, under a name. */
    public record ValueSet(String name, Map<String, Double> values) {
        public ValueSet {
            values = java.util.Collections.unmodifiableMap(new TreeMap<>(values));
        }
    }

    public BenchLayout {
        controls = List.copyOf(controls);
        charts = List.copyOf(charts);
        readouts = List.copyOf(readouts);
        drawings = List.copyOf(drawings);
        limits = List.copyOf(limits);
        sets = List.copyOf(sets);
    }

    /** Controls and charts alone. */
    public BenchLayout(List<Control> controls, List<Chart> charts) {
        this(controls, 1, charts, List.of(), List.of(), List.of(), List.of());
    }

    public BenchLayout withControls(List<Control> next) {
        return new BenchLayout(next, columns, charts, readouts, drawings, limits, sets);
    }

    public BenchLayout withColumns(int next) {
        return new BenchLayout(controls, next, charts, readouts, drawings, limits, sets);
    }

    public BenchLayout withCharts(List<Chart> next) {
        return new BenchLayout(controls, columns, next, readouts, drawings, limits, sets);
    }

    public BenchLayout withReadouts(List<Readout> next) {
        return new BenchLayout(controls, columns, charts, next, drawings, limits, sets);
    }

    public BenchLayout withLimits(List<Limit> next) {
        return new BenchLayout(controls, columns, charts, readouts, drawings, next, sets);
    }

    public BenchLayout withSets(List<ValueSet> next) {
        return new BenchLayout(controls, columns, charts, readouts, drawings, limits, next);
    }
}
