package boldanvil.core.diagram;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;

/**
 * Where each part runs.
 *
 * @param name short name, used on the command line
 * @param title what it is for
 * @param terminals whether terminals of parts that run here pass values as they are or as the board's peripherals would
 * @param places where each part runs, by part id; a part not named runs as a model
 * @param bodies the sheet a subsystem stands for in this rig, by the subsystem's path; one not named keeps its own
 * @param fidelity how exactly a power stage is computed in this rig, by its path; one not named keeps its own
 * @param settled period, as a formula, of the periodic steady state in which it starts; empty for a start from the initial values
 */
public record Rig(String name, String title, Terminals terminals, Map<String, Place> places, Map<String, String> bodies,
        Map<String, String> fidelity, String settled) {
    /** The parameter of a block that says how exactly it is computed. */
    public static final String FIDELITY = "fidelity";

    /** How a part runs. */
    public enum Mode {
        /** Simulated in this process. */
        MODEL,
        /** Its generated C, compiled and run in the bench process. */
        CODE,
        /** On a device or its stand-in. */
        DEVICE,
        /** Its generated C, compiled for another processor and run on an emulator of that. */
        EMULATED,
        /** As a program on a PLC or its stand-in, reached by tags. */
        PLC,
        /** On a core of a real-time target, which meets other devices by its channels. */
        TARGET
    }

    /** What a target does when a step is due before the one before it has ended. */
    public enum Overrun {
        /** Outputs go to their safe state and the run ends. */
        STOP,
        /** The step that is due is left out; the part falls behind the time. */
        SKIP,
        /** The outputs hold, and the step is computed late; none is left out. */
        HOLD;

        /** As project files and people name it. */
        public String label() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * Where on a target a part runs.
     *
     * @param target name of the target in this rig, so that a rig can have several of one kind
     * @param core number of the core, from 1
     * @param step the step of a continuous part there, as a formula; empty for its own
     */
    public record Seat(String target, int core, Overrun overrun, String step) {
        /** The seat of a part that runs elsewhere. */
        public static final Seat NONE = new Seat("", 0, Overrun.STOP, "");

        /** The core as people read it; parts with the same text here share one. */
        public String coreText() {
            return "core " + core + " of '" + target + "'";
        }
    }

    /** What happens at terminals of parts that do not run on a device. */
    public enum Terminals { IDEAL, BOARD }

    /**
     * The place of one part.
     *
     * @param device board name for {@link Mode#DEVICE}, {@link Mode#EMULATED}, {@link Mode#PLC} and {@link Mode#TARGET}, else empty
     * @param link how a PLC is reached: {@code opcua} or {@code modbus} for its stand-in, or the address of a real one such as
     *     {@code opcua://192.168.0.20:4840}; else empty
     * @param own whether the stand-in of a PLC runs the program in the part's tag table; else it runs the text made from the part
     * @param seat {@link Seat#NONE} but for a part on a target
     */
    public record Place(Mode mode, String device, String link, boolean own, Seat seat) {
        public static final Place MODEL = new Place(Mode.MODEL, "");

        public Place(Mode mode, String device, String link, boolean own) {
            this(mode, device, link, own, Seat.NONE);
        }

        /** A part on a target. */
        public Place(String device, Seat seat) {
            this(Mode.TARGET, device, "", false, seat);
        }

        public Place(Mode mode, String device, String link) {
            this(mode, device, link, false);
        }

        public Place(Mode mode, String device) {
            this(mode, device, "");
        }

        /** Whether a stand-in takes the place of the device. */
        public boolean isStandIn() {
            return !link.contains("://");
        }

        /** The protocol of the link to a PLC. */
        public String protocol() {
            return isStandIn() ? link : link.substring(0, link.indexOf(':'));
        }
    }

    public Rig {
        places = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(places));
        bodies = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(bodies));
        fidelity = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(fidelity));
    }

    public Rig(String name, String title, Terminals terminals, Map<String, Place> places, Map<String, String> bodies) {
        this(name, title, terminals, places, bodies, Map.of(), "");
    }

    public Rig(String name, String title, Terminals terminals, Map<String, Place> places) {
        this(name, title, terminals, places, Map.of());
    }

    public Place place(String partId) {
        return places.getOrDefault(partId, Place.MODEL);
    }

    /** Parts that run on targets, in the order of the file. */
    public List<String> onTargets() {
        return places.entrySet().stream().filter(e -> e.getValue().mode() == Mode.TARGET).map(Map.Entry::getKey).toList();
    }

    public Rig with(String partId, Place place) {
        var next = new LinkedHashMap<>(places);
        next.put(partId, place);
        return withPlaces(next);
    }

    /** The same rig with its parts in other places. */
    public Rig withPlaces(Map<String, Place> others) {
        return new Rig(name, title, terminals, others, bodies, fidelity, settled);
    }

    /** The same rig with other terminals. */
    public Rig withTerminals(Terminals others) {
        return new Rig(name, title, others, places, bodies, fidelity, settled);
    }

    /** The same rig that starts in the periodic steady state of a period, or from the initial values where that is empty. */
    public Rig settled(String period) {
        return new Rig(name, title, terminals, places, bodies, fidelity, period);
    }

    /** The same rig in which a power stage is computed so exactly; empty for as it is drawn. */
    public Rig withFidelity(String path, String choice) {
        var next = new LinkedHashMap<>(fidelity);
        next.remove(path);
        if (!choice.isEmpty()) {
            next.put(path, choice);
        }
        return new Rig(name, title, terminals, places, bodies, next, settled);
    }

    /** The same rig with other paths of what it chooses for blocks. */
    public Rig withPaths(UnaryOperator<String> path) {
        return new Rig(name, title, terminals, places, moved(bodies, path), moved(fidelity, path), settled);
    }

    private static Map<String, String> moved(Map<String, String> all, UnaryOperator<String> path) {
        Map<String, String> next = new LinkedHashMap<>();
        all.forEach((at, choice) -> next.put(path.apply(at), choice));
        return next;
    }

    /** Paths of the blocks it chooses something for. */
    public List<String> paths() {
        return Stream.concat(bodies.keySet().stream(), fidelity.keySet().stream()).toList();
    }

    /** Whether anything runs outside this process. */
    public boolean needsBench() {
        return places.values().stream().anyMatch(p -> p.mode() != Mode.MODEL);
    }
}
