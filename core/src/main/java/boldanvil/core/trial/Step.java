package boldanvil.core.trial;

import java.util.List;
import java.util.Map;

/** A step of a trial as it is written. Values, times and conditions are texts; they are resolved against a rig by {@link TrialPlan}. */
public sealed interface Step {
    /**
     * Where a step is written.
     *
     * @param number line, from 1
     * @param text without its indentation and requirements
     * @param requirements those it shows
     */
    record Line(int number, String text, List<String> requirements) {
        public Line {
            requirements = List.copyOf(requirements);
        }
    }

    Line at();

    /** Tunables get values, all at once. */
    record Set(Line at, Map<String, String> values) implements Step {}

    /** A tunable goes to a value in some time; the next step begins when it is there. */
    record Ramp(Line at, String address, String to, String time) implements Step {}

    /** A stimulus drives a tunable while the next steps go on. */
    record Apply(Line at, String address, String shape, Map<String, String> values) implements Step {}

    /** What drives a tunable ends. */
    record Release(Line at, String address) implements Step {}

    record Wait(Line at, String time) implements Step {}

    /** @param lasting how long the condition must hold without a break; empty for an instant */
    record WaitUntil(Line at, String condition, String lasting, String within) implements Step {}

    /**
     * A condition that must hold: now, or within a time, or for a time, or both.
     *
     * @param after a condition from whose coming true on the time counts; empty for from now on
     */
    record Expect(Line at, String condition, String lasting, String within, String after) implements Step {}

    /** A condition that must always or never hold from now on, while the next steps go on; {@code lasting} is empty for to the end. */
    record Watch(Line at, String condition, boolean never, String lasting) implements Step {}

    /** Conditions that must come true one after the other. */
    record Order(Line at, List<String> conditions, String within) implements Step {}

    /**
     * A figure of a signal over a time.
     *
     * @param from level before a step; empty for figures that need none
     * @param comparison relation and value, such as {@code < 5 mm}
     */
    record Measure(Line at, Figure figure, String signal, String from, String to, String comparison, String over) implements Step {}

    /** @param margin by how much it may go back meanwhile; empty for not at all */
    record Trend(Line at, String signal, boolean rising, String margin, String lasting) implements Step {}

    /** @param reference a recorded course: a CSV file beside the trial, without ending */
    record Like(Line at, String signal, String reference, String tolerance, String lasting) implements Step {}

    /** @param fault what is wrong, with its values by word; {@code lasting} is empty for until it is cleared */
    record Insert(Line at, String fault, Map<String, String> values, String address, String lasting) implements Step {}

    /** @param address empty for all faults */
    record Clear(Line at, String address) implements Step {}

    record Ask(Line at, String question) implements Step {}

    record Call(Line at, String trial) implements Step {}

    /** A step that has names of a repetition in braces; it is read once their values are known. */
    record Template(Line at) implements Step {}

    /** Steps for each row of values. */
    record Repeat(Line at, List<String> names, List<List<String>> rows, List<Step> steps) implements Step {}
}
