package boldanvil.core.finding;

import java.io.Serializable;
import java.util.List;
import java.util.Optional;

/**
 * Where a finding is. The kind decides which page shows it; the text is for people and for logs, and nothing is read from it.
 */
public sealed interface Place extends Serializable {
    /** The place as people read it. */
    String text();

    /** The path of the block, sheet or part this place is at; empty for a place on no sheet. */
    default Optional<String> sheetPath() {
        return Optional.empty();
    }

    /** Whether this place is at a path of a sheet, or within it. */
    default boolean isWithin(String path) {
        return sheetPath().filter(p -> p.equals(path) || p.startsWith(path + "/")).isPresent();
    }

    /** What {@link #parse} makes this place from; for findings that cross a process border. */
    List<String> parts();

    /**
     * A block, a port or a part on a sheet.
     *
     * @param path part, subsystems and block, such as {@code controller/current loop/gain}; empty for the system sheet
     * @param item port, parameter or wire there; empty for the block as a whole
     */
    record Sheet(String path, String item) implements Place {
        @Override
        public String text() {
            return joined(path.isEmpty() ? "system" : path, item);
        }

        @Override
        public List<String> parts() {
            return List.of("sheet", path, item);
        }

        @Override
        public Optional<String> sheetPath() {
            return Optional.of(path);
        }
    }

    /**
     * A line in the text of a block.
     *
     * @param path part, subsystems and block
     * @param line from 1
     * @param column from 1
     */
    record Line(String path, int line, int column) implements Place {
        @Override
        public String text() {
            return path;
        }

        @Override
        public List<String> parts() {
            return List.of("line", path, Integer.toString(line), Integer.toString(column));
        }

        @Override
        public Optional<String> sheetPath() {
            return Optional.of(path);
        }
    }

    /** A variable of the project. */
    record Variable(String name) implements Place {
        @Override
        public String text() {
            return joined("variables", name);
        }

        @Override
        public List<String> parts() {
            return List.of("variable", name);
        }
    }

    /**
     * The patch of a part.
     *
     * @param terminal name of a terminal or pin; empty for the patch as a whole
     * @param item a setting there; empty for none
     */
    record Patch(String part, String terminal, String item) implements Place {
        @Override
        public String text() {
            return joined("patch · " + part + (terminal.isEmpty() ? "" : "/" + terminal), item);
        }

        @Override
        public List<String> parts() {
            return List.of("patch", part, terminal, item);
        }
    }

    /**
     * The tags of a part that is bound to a PLC.
     *
     * @param tag name of a tag or of a port; empty for the table as a whole
     */
    record Tags(String part, String tag) implements Place {
        @Override
        public String text() {
            return joined("tags · " + part, tag);
        }

        @Override
        public List<String> parts() {
            return List.of("tags", part, tag);
        }
    }

    /**
     * The channels a part has on a real-time target.
     *
     * @param port name of a port; empty for the mapping as a whole
     */
    record Mapping(String part, String port) implements Place {
        @Override
        public String text() {
            return joined("mapping · " + part, port);
        }

        @Override
        public List<String> parts() {
            return List.of("mapping", part, port);
        }
    }

    /**
     * The layout of the bench.
     *
     * @param item the control, chart, limit or set
     */
    record Bench(String item) implements Place {
        @Override
        public String text() {
            return joined("bench", item);
        }

        @Override
        public List<String> parts() {
            return List.of("bench", item);
        }
    }

    /**
     * A rig.
     *
     * @param item a part of it, or what of that part; empty for the rig as a whole
     */
    record Rig(String name, String item) implements Place {
        @Override
        public String text() {
            return joined("rig " + name, item);
        }

        @Override
        public List<String> parts() {
            return List.of("rig", name, item);
        }
    }

    /**
     * A line of a trial.
     *
     * @param name of its file, without ending
     * @param line from 1; 0 for the trial as a whole
     */
    record Trial(String name, int line) implements Place {
        @Override
        public String text() {
            return joined("trial " + name, line > 0 ? "line " + line : "");
        }

        @Override
        public List<String> parts() {
            return List.of("trial", name, Integer.toString(line));
        }
    }

    /**
     * The build.
     *
     * @param item the folder or file; empty for the build as a whole
     */
    record Build(String item) implements Place {
        @Override
        public String text() {
            return joined("build", item);
        }

        @Override
        public List<String> parts() {
            return List.of("build", item);
        }
    }

    /** Anything that no page shows: a file, an option of a command, a device. */
    record Named(String text) implements Place {
        @Override
        public List<String> parts() {
            return List.of("named", text);
        }
    }

    static Place sheet(String path) {
        return new Sheet(path, "");
    }

    static Place sheet(String path, String item) {
        return new Sheet(path, item);
    }

    static Place patch(String part) {
        return new Patch(part, "", "");
    }

    static Place patch(String part, String terminal) {
        return new Patch(part, terminal, "");
    }

    static Place tags(String part, String tag) {
        return new Tags(part, tag);
    }

    static Place mapping(String part, String port) {
        return new Mapping(part, port);
    }

    static Place bench(String item) {
        return new Bench(item);
    }

    static Place rig(String name) {
        return new Rig(name, "");
    }

    static Place rig(String name, String item) {
        return new Rig(name, item);
    }

    static Place trial(String name, int line) {
        return new Trial(name, line);
    }

    static Place build(String item) {
        return new Build(item);
    }

    static Place named(String text) {
        return new Named(text);
    }

    /** @param parts as {@link #parts} gives them; a list of another form is a place without a page */
    static Place parse(List<String> parts) {
        String kind = parts.isEmpty() ? "" : parts.getFirst();
        return switch (kind + parts.size()) {
            case "sheet3" -> new Sheet(parts.get(1), parts.get(2));
            case "line4" -> new Line(parts.get(1), Integer.parseInt(parts.get(2)), Integer.parseInt(parts.get(3)));
            case "variable2" -> new Variable(parts.get(1));
            case "patch4" -> new Patch(parts.get(1), parts.get(2), parts.get(3));
            case "tags3" -> new Tags(parts.get(1), parts.get(2));
            case "mapping3" -> new Mapping(parts.get(1), parts.get(2));
            case "bench2" -> new Bench(parts.get(1));
            case "rig3" -> new Rig(parts.get(1), parts.get(2));
            case "trial3" -> new Trial(parts.get(1), Integer.parseInt(parts.get(2)));
            case "build2" -> new Build(parts.get(1));
            default -> new Named(parts.size() < 2 ? kind : parts.get(1));
        };
    }

    private static String joined(String place, String item) {
        return item.isEmpty() ? place : place + " · " + item;
    }
}
