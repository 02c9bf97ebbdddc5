package boldanvil.core.diagram;

import java.util.LinkedHashMap;
import java.util.Map;

/**
 * Where each part runs.
 *
 * @param name short name, used on the command line
 * @param title what it is for
 * @param terminals whether terminals of parts that run here pass values as they are or as the board's peripherals would
 * @param places where each part runs, by part id; a part not named runs as a model
 * @param bodies the sheet a subsystem stands for in this rig, by the subsystem's path; one not named keeps its own
 */
public record Rig(String name, String title, Terminals terminals, Map<String, Place> places, Map<String, String> bodies) {
    /** How a part runs. */
    public enum Mode {
        /** Simulated in this process. */
        MODEL,
        /** Its generated C, compiled and run in the bench process. */
        CODE,
        /** On a device or its stand-in. */
        DEVICE,
        /** Its generated C, compiled for another processor and run on an emulator of that. */
        EMULATED
    }

    /** What happens at terminals of parts that do not run on a device. */
    public enum Terminals { IDEAL, BOARD }

    /**
     * The place of one part.
     *
     * @param device board name for {@link Mode#DEVICE} and {@link Mode#EMULATED}, else empty
     */
    public record Place(Mode mode, String device) {
        public static final Place MODEL = new Place(Mode.MODEL, "");
    }

    public Rig {
        places = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(places));
        bodies = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(bodies));
    }

    public Rig(String name, String title, Terminals terminals, Map<String, Place> places) {
        this(name, title, terminals, places, Map.of());
    }

    public Place place(String partId) {
        return places.getOrDefault(partId, Place.MODEL);
    }

    public Rig with(String partId, Place place) {
        var next = new LinkedHashMap<>(places);
        next.put(partId, place);
        return new Rig(name, title, terminals, next, bodies);
    }

    /** Whether anything runs outside this process. */
    public boolean needsBench() {
        return places.values().stream().anyMatch(p -> p.mode() != Mode.MODEL);
    }
}
