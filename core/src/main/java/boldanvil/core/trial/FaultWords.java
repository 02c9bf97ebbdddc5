package boldanvil.core.trial;

import boldanvil.core.simulate.WireFault;
import boldanvil.core.simulate.WireFault.Kind;
import java.util.Arrays;
import java.util.List;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Faults as a trial names them, by the place they are found at: the words each needs, and what they do to a wire or a part. */
public enum FaultWords {
    OFFSET("offset", Place.SENSOR, List.of("of"), "of 0.2 V", v -> WireFault.of(Kind.OFFSET, v.value("of"))),
    GAIN("gain", Place.SENSOR, List.of("of"), "of 80 %", v -> WireFault.of(Kind.GAIN, v.share("of"))),
    /** Change in a second. */
    DRIFT("drift", Place.SENSOR, List.of("of"), "of 0.1 V", v -> WireFault.of(Kind.DRIFT, v.value("of"))),
    STUCK("stuck", Place.SENSOR, List.of(), "", v -> WireFault.of(Kind.STUCK, 0)),
    LEVEL("fixed", Place.SENSOR, List.of("at"), "at 1.5 V", v -> WireFault.of(Kind.LEVEL, v.value("at"))),
    NOISE("noise", Place.SENSOR, List.of("of"), "of 50 mV", v -> WireFault.of(Kind.NOISE, v.value("of"))),
    DROPOUT("dropout", Place.SENSOR, List.of(), "", v -> WireFault.of(Kind.LEVEL, 0)),
    OPEN("open", Place.WIRE, List.of(), "", v -> WireFault.of(Kind.LEVEL, v.value("at"))),
    GROUND("short to ground", Place.WIRE, List.of(), "", v -> WireFault.of(Kind.LEVEL, 0)),
    SUPPLY("short to supply", Place.WIRE, List.of("at"), "at 3.3 V", v -> WireFault.of(Kind.LEVEL, v.value("at"))),
    SWAP("swap", Place.WIRE, List.of("with"), "with drive.shunt B", v -> WireFault.swapped(v.text("with"))),
    WEAK("weak", Place.ACTUATOR, List.of("by"), "by 40 %", v -> WireFault.of(Kind.GAIN, 1 - v.share("by"))),
    BLOCKED("blocked", Place.ACTUATOR, List.of(), "", v -> WireFault.of(Kind.STUCK, 0)),
    DELAY("delay", Place.NETWORK, List.of("of"), "of 1 ms", v -> WireFault.late(v.seconds("of"))),
    LOSS("loss", Place.NETWORK, List.of("of"), "of 10 %", v -> WireFault.random(Kind.LOST, v.share("of"), 0)),
    REPETITION("repetition", Place.NETWORK, List.of("of", "by"), "of 10 % by 5 ms", v ->
            WireFault.random(Kind.REPEATED, v.share("of"), v.seconds("by"))),
    DAMAGE("damage", Place.NETWORK, List.of("of"), "of 1 %", v -> WireFault.random(Kind.DAMAGED, v.share("of"), 0)),
    OVERRUN("overrun", Place.PROCESSOR, List.of("of"), "of 5 ms", v -> WireFault.ofPart(Kind.HALT, v.seconds("of"))),
    RESET("reset", Place.PROCESSOR, List.of(), "", v -> WireFault.ofPart(Kind.RESET, v.seconds("of")));

    /** Where on a signal's way a fault is found. */
    public enum Place { SENSOR, WIRE, ACTUATOR, NETWORK, PROCESSOR }

    /** Values of the words, resolved. */
    interface Values {
        /** In the unit of the wire; 0 where the word is not there. */
        double value(String word);

        /** A pure number, such as 20 %. */
        double share(String word);

        double seconds(String word);

        String text(String word);
    }

    /** Words that divide the text of a fault. */
    static final List<String> CLAUSES = List.of("of", "by", "with", "at", "on", "for", "every", "lasting");

    private final String label;
    private final Place place;
    private final List<String> required;
    private final String example;
    private final Function<Values, WireFault> made;

    FaultWords(String label, Place place, List<String> required, String example, Function<Values, WireFault> made) {
        this.label = label;
        this.place = place;
        this.required = required;
        this.example = example;
        this.made = made;
    }

    /** Its name in a trial. */
    public String label() {
        return label;
    }

    public Place place() {
        return place;
    }

    /** Values of it, for example; empty where it needs none. */
    public String example() {
        return example;
    }

    List<String> required() {
        return required;
    }

    WireFault made(Values v) {
        return made.apply(v);
    }

    /** @throws IllegalArgumentException when there is no such fault */
    static FaultWords labelled(String label) {
        return Arrays.stream(values()).filter(f -> f.label.equals(label)).findFirst().orElseThrow(() -> new IllegalArgumentException(
                "There is no fault '" + label + "'. Faults are " + Arrays.stream(values()).map(FaultWords::label)
                        .collect(Collectors.joining(", ")) + "."));
    }
}
