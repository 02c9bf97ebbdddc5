package boldanvil.core.trial;

import boldanvil.core.measure.Measurement;
import boldanvil.core.measure.StepMetrics;
import boldanvil.core.samples.Series;
import java.util.Arrays;
import java.util.Optional;
import java.util.function.ToDoubleFunction;

/** What can be expected of a signal over a time. */
public enum Figure {
    MEAN("mean", null, Measurement::mean, null),
    RMS("rms", null, Measurement::rms, null),
    MINIMUM("minimum", null, Measurement::least, null),
    MAXIMUM("maximum", null, Measurement::greatest, null),
    PEAK_TO_PEAK("peak to peak", null, Measurement::peakToPeak, null),
    RIPPLE("ripple", null, Measurement::rippleRms, null),
    FREQUENCY("frequency", "Hz", Measurement::frequency, null),
    OVERSHOOT("overshoot", null, null, StepMetrics::overshoot),
    RISE_TIME("rise time", "s", null, StepMetrics::riseTime),
    SETTLING_TIME("settling time", "s", null, StepMetrics::settlingTime),
    FINAL_ERROR("final error", null, null, StepMetrics::finalError);

    private final String label;
    private final String unit;
    private final ToDoubleFunction<Measurement> ofSpan;
    private final ToDoubleFunction<StepMetrics> ofStep;

    Figure(String label, String unit, ToDoubleFunction<Measurement> ofSpan, ToDoubleFunction<StepMetrics> ofStep) {
        this.label = label;
        this.unit = unit;
        this.ofSpan = ofSpan;
        this.ofStep = ofStep;
    }

    /** Its name in a trial. */
    public String label() {
        return label;
    }

    /** Its unit; empty for that of the signal. */
    Optional<String> unit() {
        return Optional.ofNullable(unit);
    }

    /** Whether it is about a step from one level to another. */
    boolean isOfStep() {
        return ofStep != null;
    }

    static Optional<Figure> labelled(String label) {
        return Arrays.stream(values()).filter(f -> f.label.equals(label)).findFirst();
    }

    /**
     * Its value, SI.
     *
     * @param from level before the step
     * @param to level after the step
     */
    double of(Series s, double from, double to) {
        return isOfStep() ? ofStep.applyAsDouble(StepMetrics.of(s, s.times()[0], from, to, StepMetrics.BAND * Math.abs(to - from)))
                : ofSpan.applyAsDouble(Measurement.of(s));
    }
}
