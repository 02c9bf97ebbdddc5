package boldanvil.core.files;

import boldanvil.core.diagram.BenchLayout;
import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Lane;
import boldanvil.core.diagram.Library;
import boldanvil.core.diagram.Look;
import boldanvil.core.diagram.Mapping;
import boldanvil.core.diagram.Mark;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Patch;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.Side;
import boldanvil.core.diagram.TagTable;
import boldanvil.core.diagram.Variable;
import boldanvil.core.diagram.Wire;
import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.BiFunction;
import java.util.function.Function;
import tools.jackson.databind.JsonNode;

/** Reads a project folder. */
public final class ProjectReader {
    /** Folders that hold files of a project, beside the project file itself. */
    static final List<String> FOLDERS = List.of("parts", "blocks", "boards", "bench", "tags", "trials");
    /** Longest board file, in bytes. */
    private static final long MAX_BOARD = 4L << 20;
    /** Longest text of a PLC's program, in bytes. */
    private static final long MAX_PROGRAM = 4L << 20;

    /** Longest trial or recorded course, in bytes. */
    private static final long MAX_TRIAL = 16L << 20;

    private ProjectReader() {}

    /**
     * Reads a project.
     *
     * @param folder the folder that holds project.json
     * @throws FindingException when a file is missing, broken, hostile or of a newer format; nothing on disk is touched
     */
    public static Project read(Path folder) {
        return read(folder, JsonFile::read);
    }

    /**
     * As {@link #read}, of a folder this program has just written itself, without holding it against the schemas; in a fresh process that
     * takes half a second.
     */
    public static Project readOwn(Path folder) {
        return read(folder, (file, _) -> JsonFile.readOwn(file));
    }

    private static Project read(Path folder, BiFunction<Path, String, JsonNode> json) {
        completeSave(folder);
        Path file = folder.resolve("project.json");
        if (!Files.isRegularFile(file)) {
            throw FindingException.of(folder.toString(), "There is no project.json in this folder.",
                    "Name the folder of a project, such as demo/larkmere-lock.");
        }
        JsonNode root = json.apply(SafeFile.checked(folder, file), "project");
        List<Part> parts = new ArrayList<>();
        for (JsonNode p : root.path("parts")) {
            parts.add(part(folder, p, json));
        }
        return new Project(root.path("name").asString(), list(root.path("variables"), ProjectReader::variable), parts,
                list(root.path("wires"), ProjectReader::wire), list(root.path("rigs"), ProjectReader::rig), patches(folder, json),
                bench(folder, json), boards(folder), library(folder, json), tags(folder, parts, json), trials(folder),
                mappings(folder, json));
    }

    /** Whether a file with this path in the folder of a project is one of those a project is read from. */
    public static boolean reads(String path) {
        int slash = path.indexOf('/');
        return path.equals("project.json") || slash > 0 && FOLDERS.contains(path.substring(0, slash)) && path.indexOf('/', slash + 1) < 0
                && isOfProject(path.substring(slash + 1));
    }

    /** Whether a file with this name, in one of the folders, belongs to a project. */
    static boolean isOfProject(String name) {
        return List.of(".json", ".st", ".trial", ".csv").stream().anyMatch(e -> name.endsWith(e) && name.length() > e.length());
    }

    /** Texts of trials and the courses they compare with; an empty one counts as deleted. */
    private static Map<String, String> trials(Path folder) {
        Map<String, String> trials = new LinkedHashMap<>();
        for (Path file : SafeFile.files(folder.resolve("trials"), List.of(".trial", ".csv"))) {
            String text = SafeFile.text(folder, file, MAX_TRIAL);
            if (!text.isBlank()) {
                trials.put(file.getFileName().toString(), text);
            }
        }
        return trials;
    }

    private static Map<String, TagTable> tags(Path folder, List<Part> parts, BiFunction<Path, String, JsonNode> json) {
        Map<String, TagTable> tables = new LinkedHashMap<>();
        for (Part p : parts) {
            Path file = SafeFile.within(folder, "tags/" + p.id() + ".json");
            Path program = SafeFile.within(folder, "tags/" + p.id() + ".st");
            if (Files.exists(file, LinkOption.NOFOLLOW_LINKS)) {
                tables.put(p.id(), TagTableFile.read(json.apply(SafeFile.checked(folder, file), "tags"),
                        Files.exists(program, LinkOption.NOFOLLOW_LINKS) ? SafeFile.text(folder, program, MAX_PROGRAM) : ""));
            }
        }
        return tables;
    }

    private static Library library(Path folder, BiFunction<Path, String, JsonNode> json) {
        Path place = folder.resolve("blocks");
        Library library = Library.EMPTY;
        for (Path file : SafeFile.jsonFiles(place)) {
            library = library.with(OwnBlockFile.read(json.apply(SafeFile.checked(folder, file), "part"), file));
        }
        return library;
    }

    /** A save that was interrupted is completed or discarded first; one that is just putting its files in place is waited for. */
    private static void completeSave(Path folder) {
        for (int i = 0; i < 40 && SavedFiles.isLeft(folder); i++) {
            try (var lock = ProjectLock.tryTake(folder, "a reader").orElse(null)) {
                if (lock != null) {
                    SavedFiles.complete(folder);
                    return;
                }
                if (!SavedFiles.isPending(folder)) {
                    return;
                }
                Thread.sleep(50);
            } catch (IOException e) {
                throw FindingException.of(folder.toString(), "The last save was interrupted and cannot be completed: " + e.getMessage()
                        + ".",
                        "Check the folder's permissions, then open the project again.");
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return;
            }
        }
    }

    private static <T> List<T> list(JsonNode array, Function<JsonNode, T> read) {
        List<T> all = new ArrayList<>();
        array.forEach(n -> all.add(read.apply(n)));
        return all;
    }

    private static String text(JsonNode n, String key, String otherwise) {
        return n.path(key).asString(otherwise);
    }

    private static Variable variable(JsonNode n) {
        return new Variable(text(n, "name", ""), text(n, "value", ""), text(n, "note", ""), text(n, "unit", ""), text(n, "group", ""));
    }

    private static Part part(Path folder, JsonNode placed, BiFunction<Path, String, JsonNode> json) {
        String id = text(placed, "part", "");
        Path file = SafeFile.within(folder, "parts/" + id + ".json");
        JsonNode n = json.apply(SafeFile.checked(folder, file), "part");
        if (!text(n, "part", "").equals(id)) {
            throw FindingException.of(file.toString(), "The file contains part '" + text(n, "part", "") + "'.",
                    "Name the file after its part, or correct \"part\".");
        }
        var kind = text(n, "kind", "").equals("plant") ? Part.Kind.PLANT : Part.Kind.CONTROLLER;
        JsonNode at = placed.path("at");
        return new Part(id, text(n, "title", id), kind,
                text(n, "sampleTime", kind == Part.Kind.PLANT ? "continuous" : "1 ms"), text(n, "step", "100 us"),
                text(n, "solver", "rk4"), text(n, "real", "float64"), at.path(0).asDouble(), at.path(1).asDouble(),
                sheets(n), look(placed));
    }

    /** The sheets of a part file. */
    static List<Sheet> sheets(JsonNode part) {
        return list(part.path("sheets"), ProjectReader::sheet);
    }

    private static Sheet sheet(JsonNode n) {
        return new Sheet(text(n, "id", ""), list(n.path("blocks"), ProjectReader::block),
                list(n.path("wires"), ProjectReader::wire), list(n.path("marks"), ProjectReader::mark));
    }

    private static Block block(JsonNode n) {
        Map<String, String> settings = new LinkedHashMap<>();
        n.path("set").properties().forEach(e -> settings.put(e.getKey(), e.getValue().asString()));
        var live = new LinkedHashSet<>(list(n.path("live"), JsonNode::asString));
        return new Block(text(n, "id", ""), text(n, "type", ""), text(n, "name", ""), n.path("at").path(0).asDouble(),
                n.path("at").path(1).asDouble(), settings, live, look(n));
    }

    private static Look look(JsonNode n) {
        return new Look(n.path("turn").asInt(0) / 90, n.path("mirrored").asBoolean(false), n.path("size").path(0).asDouble(0),
                n.path("size").path(1).asDouble(0), list(n.path("ports"), p -> {
                    String[] words = p.asString().split(" ", 2);
                    return new Look.PortSide(words[1], Side.valueOf(words[0].toUpperCase(Locale.ROOT)));
                }));
    }

    private static Mark mark(JsonNode n) {
        return new Mark(text(n, "id", ""), Mark.Kind.valueOf(text(n, "kind", "note").toUpperCase(Locale.ROOT)), text(n, "text", ""),
                n.path("at").path(0).asDouble(), n.path("at").path(1).asDouble(), n.path("size").path(0).asDouble(),
                n.path("size").path(1).asDouble(), text(n, "link", ""));
    }

    private static Wire wire(JsonNode n) {
        boolean net = n.has("net");
        String from = net ? n.path("net").path(0).asString() : text(n, "from", "");
        String to = net ? n.path("net").path(1).asString() : text(n, "to", "");
        int a = from.indexOf('.');
        int b = to.indexOf('.');
        return new Wire(from.substring(0, a), from.substring(a + 1), to.substring(0, b), to.substring(b + 1), net,
                list(n.path("lanes"), l -> Lane.of(l.asString())));
    }

    private static Rig rig(JsonNode n) {
        Map<String, Rig.Place> places = new LinkedHashMap<>();
        n.path("places").properties().forEach(e -> places.put(e.getKey(), place(e.getValue().asString())));
        return new Rig(text(n, "name", ""), text(n, "title", ""),
                text(n, "terminals", "ideal").equals("board") ? Rig.Terminals.BOARD : Rig.Terminals.IDEAL, places, texts(n.path("bodies")),
                texts(n.path("fidelity")), text(n, "settled", ""));
    }

    private static Map<String, String> texts(JsonNode n) {
        Map<String, String> all = new LinkedHashMap<>();
        n.properties().forEach(e -> all.put(e.getKey(), e.getValue().asString()));
        return all;
    }

    private static Rig.Place plc(String text) {
        String[] words = text.split(" ");
        return new Rig.Place(Rig.Mode.PLC, words[0], words[1], words.length > 2);
    }

    private static Rig.Place target(String text) {
        String[] words = text.split(" ", 7);
        return new Rig.Place(words[0], new Rig.Seat(words[1], Integer.parseInt(words[3]), Rig.Overrun.valueOf(words[4].toUpperCase(
                Locale.ROOT)), words.length > 6 ? words[6] : ""));
    }

    private static Rig.Place place(String text) {
        return switch (text) {
            case "model" -> Rig.Place.MODEL;
            case "code" -> new Rig.Place(Rig.Mode.CODE, "");
            default -> text.startsWith("target ") ? target(text.substring("target ".length())) : text.startsWith("plc ")
                    ? plc(text.substring("plc ".length())) : text.startsWith("emulated ")
                    ? new Rig.Place(Rig.Mode.EMULATED, text.substring("emulated ".length()))
                    : new Rig.Place(Rig.Mode.DEVICE, text.substring("device ".length()));
        };
    }

    private static Map<String, Mapping> mappings(Path folder, BiFunction<Path, String, JsonNode> json) {
        Path file = folder.resolve("boards").resolve(MappingFile.NAME);
        return Files.exists(file, LinkOption.NOFOLLOW_LINKS) ? MappingFile.read(json.apply(SafeFile.checked(folder, file), "mapping"))
                : Map.of();
    }

    private static Map<String, Patch> patches(Path folder, BiFunction<Path, String, JsonNode> json) {
        Path file = folder.resolve("boards").resolve("patch.json");
        Map<String, Patch> patches = new LinkedHashMap<>();
        if (Files.exists(file, LinkOption.NOFOLLOW_LINKS)) {
            for (JsonNode n : json.apply(SafeFile.checked(folder, file), "patch").path("patches")) {
                patches.put(text(n, "part", ""), patch(n, list(n.path("others"), o -> patch(o, List.of()))));
            }
        }
        return patches;
    }

    private static Patch patch(JsonNode n, List<Patch> others) {
        Map<String, String> clock = new LinkedHashMap<>();
        n.path("clock").properties().forEach(e -> clock.put(e.getKey(), e.getValue().asString()));
        return new Patch(text(n, "board", ""), clock, text(n, "linkLoss", "go on").equals("go safe"),
                list(n.path("rows"), r -> new Patch.Row(
                text(r, "terminal", ""), text(r, "peripheral", ""), text(r, "pin", ""), text(r, "wire", ""))), others);
    }

    /** Board files as they are; what is wrong with one is found when it is read as a board. */
    private static Map<String, String> boards(Path folder) {
        Map<String, String> boards = new LinkedHashMap<>();
        for (Path f : SafeFile.jsonFiles(folder.resolve("boards"))) {
            String name = f.getFileName().toString();
            if (!name.equals("patch.json") && !name.equals(MappingFile.NAME)) {
                boards.put(name.substring(0, name.length() - ".json".length()), SafeFile.text(folder, f, MAX_BOARD));
            }
        }
        return boards;
    }

    private static BenchLayout bench(Path folder, BiFunction<Path, String, JsonNode> json) {
        Path file = folder.resolve("bench").resolve("bench.json");
        if (!Files.exists(file, LinkOption.NOFOLLOW_LINKS)) {
            return BenchLayout.EMPTY;
        }
        JsonNode n = json.apply(SafeFile.checked(folder, file), "bench");
        return BenchFile.read(n);
    }
}
