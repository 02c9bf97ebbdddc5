package boldanvil.app.model;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.URISyntaxException;
import java.nio.file.FileSystem;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The projects that ship with the application, to look at and to begin with. Opening one makes a copy that is the user's own. */
public final class Examples {
    private static final String PLACE = "/boldanvil/app/examples/";

    /**
     * A project.
     *
     * @param id its folder among the examples; empty for a project without blocks
     * @param title what people call it
     * @param lesson one line on what it shows
     * @param picture name of its picture; empty for none
     */
    public record Example(String id, String title, String lesson, String picture) {
        /** Its picture as PNG. */
        public Optional<InputStream> open() {
            return picture.isEmpty() ? Optional.empty() : Optional.ofNullable(
                    Examples.class.getResourceAsStream(PLACE + "pictures/" + picture));
        }
    }

    private static final Example MOTOR = new Example("motor-position", "Motor position",
            "A small DC motor under a PID position controller. Start here.", "motor-position.png");
    private static final Example GATE = new Example("gate-drive", "Gate drive",
            "Field-oriented control of a servo at two rates; Swage 32 and an emulated "
            + "Cortex-M4F.", "gate-drive.png");
    private static final Example BEACON =
            new Example("beacon", "Beacon", "Blink two lamps and read a line back on a small board, Clinker 16.",
            "beacon.png");
    private static final Example MODES = new Example("paddle-modes", "Paddle with modes",
            "Start, run and stop by a sequential function chart.", "paddle-modes.png");

    private Examples() {}

    /** Every example, in the order in which to look at them. */
    public static List<Example> all() {
        return List.of(MOTOR, new Example("larkmere-lock", "Larkmere Lock",
                "A three-loop paddle drive with its plant, patch, drawing and Swage 32 stand-in.", "larkmere-lock.png"), GATE, BEACON,
                new Example("lamp-charger", "Lamp charger", "A converter from a solar panel to a battery, drawn as a circuit.",
                        "lamp-charger.png"),
                new Example("gate-network", "Gate drive as a network", "Inverter, machine and gate as a network; three fidelities.",
                        "gate-network.png"),
                new Example("paddle-network", "Paddle drive as a network",
                "Bridge, machine, gear, rack and seal, beside the signal blocks.",
                        "paddle-network.png"),
                new Example("lift-platform", "Lift platform", "Pump, valve and cylinder under a position controller.",
                        "lift-platform.png"),
                new Example("shore-plants", "Shore plants", "A rectifier, a hoist and the lock chamber as networks.",
                        "shore-plants.png"),
                new Example("level-hold", "Level hold", "State feedback with an estimator holds the chamber against its leak; mode chart.",
                        "level-hold.png"),
                new Example("lock-sequence", "Lock sequence", "Boats, gates and water; the sequence as chart, as code and on a PLC.",
                        "lock-sequence.png"),
                new Example("workboat", "Workboat", "Thrust of four thrusters shared in Structured Text.", "workboat.png"),
                MODES);
    }

    /** What a new project can begin with. */
    public static List<Example> templates() {
        return List.of(new Example("", "Empty", "One controller without blocks.", ""),
                new Example(MOTOR.id(), "Position loop on a small motor", MOTOR.lesson(), MOTOR.picture()),
                new Example(GATE.id(), "Field-oriented drive", GATE.lesson(), GATE.picture()),
                new Example(BEACON.id(), "Blink and read back", BEACON.lesson(), BEACON.picture()),
                new Example(MODES.id(), "Sequence with modes", MODES.lesson(), MODES.picture()));
    }

    /**
     * Writes a new project.
     *
     * @param name of the project; empty keeps the name of the example
     * @param folder must not exist, or be empty
     * @throws FindingException when it cannot be written there
     */
    public static void create(Example example, String name, Path folder) {
        try {
            requireEmpty(folder);
            if (example.id().isEmpty()) {
                var desk = new Rig("desk", "Everything simulated here", Rig.Terminals.IDEAL, Map.of());
                var part = new boldanvil.core.diagram.Part("controller", "Controller", boldanvil.core.diagram.Part.Kind.CONTROLLER, "1 ms",
                        "1 ms", "rk4",
                        "float64", 0, 0, List.of(boldanvil.core.diagram.Sheet.empty("main")));
                ProjectWriter.write(Project.empty(name).withParts(List.of(part)).withRigs(List.of(desk)), folder);
                return;
            }
            copy(example, folder);
            if (!name.isEmpty()) {
                ProjectWriter.write(ProjectReader.read(folder).named(name), folder);
            }
        } catch (IOException e) {
            throw FindingException.of(folder.toString(), "The project cannot be written: " + e.getMessage() + ".",
                    "Choose a folder that you may write to.");
        }
    }

    private static void requireEmpty(Path folder) throws IOException {
        if (!Files.exists(folder)) {
            Files.createDirectories(folder);
            return;
        }
        try (var inside = Files.list(folder)) {
            if (inside.findAny().isPresent()) {
                throw FindingException.of(folder.toString(), "The folder is not empty.", "Choose another name or another place.");
            }
        }
    }

    private static void copy(Example example, Path folder) throws IOException {
        try {
            URI from = Examples.class.getResource(PLACE + example.id() + "/project.json").toURI();
            if (from.getScheme().equals("jar")) {
                try (FileSystem jar = FileSystems.newFileSystem(URI.create(from.toString().split("!")[0]), Map.of())) {
                    copy(jar.getPath(PLACE + example.id()), folder);
                }
            } else {
                copy(Path.of(from).getParent(), folder);
            }
        } catch (URISyntaxException e) {
            throw new IOException(e);
        }
    }

    private static void copy(Path from, Path to) throws IOException {
        try (var files = Files.walk(from)) {
            for (Path f : files.toList()) {
                Path target = to.resolve(from.relativize(f).toString());
                if (Files.isDirectory(f)) {
                    Files.createDirectories(target);
                } else {
                    Files.copy(f, target);
                }
            }
        }
    }
}
