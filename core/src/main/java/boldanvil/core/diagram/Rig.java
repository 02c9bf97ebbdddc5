package boldanvil.core.diagram;

import java.util.LinkedHashMap;
import java.util.List;
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
        PLC
    }

    /** What happens at terminals of parts that do not run on a device. */
    public enum Terminals { IDEAL, BOARD }

    /**
     * The place of one part.
     *
     * @param device board name for {@link Mode#DEVICE}, {@link Mode#EMULATED} and {@link Mode#PLC}, else empty
     * @param link how a PLC is reached: {@code opcua} or {@code modbus} for its stand-in, or the address of a real one such as
     *     {@code opcua://192.168.0.20:4840}; else empty
     * @param own whether the stand-in of a PLC runs the program in the part's tag table; else it runs the text made from the part
     */
    public record Place(Mode mode, String device, String link, boolean own) {
        public static final Place MODEL = new Place(Mode.MODEL, "");

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
