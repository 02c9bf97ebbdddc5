package boldanvil.core.runs;

import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.json.JsonMapper;

/**
 * The runs of a project: a folder for each, with {@code run.json} (what made it), {@code samples.csv} and {@code project/},
 * the project as it was.
 */
public final class RunShelf {
    private static final JsonMapper MAPPER = JsonMapper.builder().enable(SerializationFeature.INDENT_OUTPUT).build();
    private static final DateTimeFormatter NAME = DateTimeFormatter.ofPattern("yyyyMMdd-HHmmss-SSS").withZone(ZoneOffset.UTC);

    /**
     * What made a run.
     *
     * @param started when, ISO 8601
     * @param seconds how long it is, virtual time
     * @param images SHA-256 of each image by part
     * @param changes live and planned changes, as text
     */
    public record Note(String rig, String started, double seconds, Map<String, String> images, List<String> changes) {
        public Note {
            images = Map.copyOf(images);
            changes = List.copyOf(changes);
        }
    }

    /** A run on the shelf. */
    public record Entry(String name, Path folder, Note note) {
        /** Reads its samples. */
        public RunData samples() {
            return RunCsv.read(folder.resolve("samples.csv"));
        }
    }

    private final Path folder;

    /** @param folder the project's folder of runs; made when first written */
    public RunShelf(Path folder) {
        this.folder = folder;
    }

    /** Puts a run on the shelf. */
    public Entry save(Note note, RunData data, Map<String, String> projectFiles) {
        String name = NAME.format(Instant.parse(note.started())) + "-" + note.rig();
        Path place = folder.resolve(name);
        try {
            Files.createDirectories(place);
            for (var f : projectFiles.entrySet()) {
                Path file = place.resolve("project").resolve(f.getKey());
                Files.createDirectories(file.getParent());
                Files.writeString(file, f.getValue());
            }
            RunCsv.write(data, place.resolve("samples.csv"));
            var json = new LinkedHashMap<String, Object>();
            json.put("format", 1);
            json.put("rig", note.rig());
            json.put("started", note.started());
            json.put("seconds", note.seconds());
            json.put("images", note.images());
            json.put("changes", note.changes());
            // A run is there for others once it has this file, so the file comes last and whole.
            Path written = Files.writeString(place.resolve("run.json.part"), MAPPER.writeValueAsString(json) + "\n");
            Files.move(written, place.resolve("run.json"), StandardCopyOption.ATOMIC_MOVE);
        } catch (IOException e) {
            throw FindingException.of(place.toString(), "The run cannot be saved: " + e.getMessage() + ".",
                    "Check the disk and the folder's permissions.");
        }
        return new Entry(name, place, note);
    }

    /** Every readable run, newest first. */
    public List<Entry> list() {
        List<Entry> entries = new ArrayList<>();
        if (!Files.isDirectory(folder)) {
            return entries;
        }
        try (var folders = Files.list(folder)) {
            folders.filter(f -> Files.exists(f.resolve("run.json"))).sorted(Comparator.reverseOrder()).forEach(f -> {
                try {
                    entries.add(new Entry(f.getFileName().toString(), f, note(MAPPER.readTree(f.resolve("run.json").toFile()))));
                } catch (JacksonException e) {
                    // A run that cannot be read is not offered; its files stay.
                }
            });
        } catch (IOException e) {
            throw FindingException.of(folder.toString(), "The runs cannot be listed: " + e.getMessage() + ".",
                    "Check the folder's permissions.");
        }
        return entries;
    }

    private static Note note(JsonNode n) {
        Map<String, String> images = new LinkedHashMap<>();
        n.path("images").properties().forEach(e -> images.put(e.getKey(), e.getValue().asString("")));
        List<String> changes = new ArrayList<>();
        n.path("changes").forEach(c -> changes.add(c.asString("")));
        return new Note(n.path("rig").asString(""), n.path("started").asString(""), n.path("seconds").asDouble(0), images, changes);
    }
}
