package boldanvil.core.trial;

import boldanvil.core.simulate.Stimulus;
import java.util.Arrays;
import java.util.List;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Stimuli as a trial writes them: which words each needs, and what they mean. */
enum Waves {
    SINE("sine", List.of("of", "at", "to", "for"), List.of("around"),
            "apply sine of 5 mm at 2 Hz around 100 mm to controller.target for 3 s",
            v -> Stimulus.sine(v.value("around"), v.value("of"), v.hertz("at"), v.seconds("for"))),
    CHIRP("chirp", List.of("of", "from", "until", "to", "for"), List.of("around"),
            "apply chirp of 5 mm from 1 Hz until 50 Hz around 100 mm to controller.target for 3 s",
            v -> Stimulus.chirp(v.value("around"), v.value("of"), v.hertz("from"), v.hertz("until"), v.seconds("for"))),
    RAMP("ramp", List.of("from", "until", "to", "for"), List.of(), "apply ramp from 0 mm until 200 mm to controller.target for 3 s",
            v -> Stimulus.ramp(v.value("from"), v.value("until"), v.seconds("for"), false)),
    SAWTOOTH("sawtooth", List.of("from", "until", "to", "every"), List.of(),
            "apply sawtooth from 0 mm until 200 mm to controller.target every 3 s",
            v -> Stimulus.ramp(v.value("from"), v.value("until"), v.seconds("every"), true)),
    SQUARE("square", List.of("from", "until", "to", "every"), List.of(),
            "apply square from 0 mm until 200 mm to controller.target every 3 s",
            v -> Stimulus.step(v.value("from"), v.value("until"), v.seconds("every"), true)),
    STAIRCASE("staircase", List.of("from", "until", "in", "to", "for"), List.of(),
            "apply staircase from 0 mm until 200 mm in 4 to controller.target for 8 s",
            v -> Stimulus.staircase(v.value("from"), v.value("until"), v.count("in"), v.seconds("for"), false));

    /** Values of the words, resolved. */
    interface Values {
        /** In the unit of the tunable; 0 where the word is not there. */
        double value(String word);

        double hertz(String word);

        double seconds(String word);

        int count(String word);
    }

    private final String label;
    private final List<String> required;
    private final List<String> optional;
    private final String example;
    private final Function<Values, Stimulus> made;

    Waves(String label, List<String> required, List<String> optional, String example, Function<Values, Stimulus> made) {
        this.label = label;
        this.required = required;
        this.optional = optional;
        this.example = example;
        this.made = made;
    }

    String label() {
        return label;
    }

    List<String> required() {
        return required;
    }

    List<String> optional() {
        return optional;
    }

    String example() {
        return example;
    }

    Stimulus made(Values values) {
        return made.apply(values);
    }

    /** @throws IllegalArgumentException when there is no such stimulus */
    static Waves of(String label) {
        return Arrays.stream(values()).filter(w -> w.label.equals(label)).findFirst().orElseThrow(() -> new IllegalArgumentException(
                "There is no stimulus '" + label + "'. Stimuli are " + Arrays.stream(values()).map(Waves::label)
                        .collect(Collectors.joining(", ")) + "."));
    }
}
