package boldanvil.core.runs;

import boldanvil.core.files.SafeFile;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Samples;
import boldanvil.core.storage.RunFile;
import boldanvil.core.storage.RunWriter;
import boldanvil.core.transfer.RunCsv;
import boldanvil.core.user.Log;
import boldanvil.core.user.WholeFile;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.json.JsonMapper;

/**
 * The runs of a project: a folder for each, with {@code run.json} (what made it), {@code samples.h5}, {@code marks.jsonl} and
 * {@code project/}, the project as it was. What is deleted lies in {@code .deleted} until it is taken back or pushed out by later ones.
 */
public final class RunShelf {
    static final JsonMapper MAPPER = JsonMapper.builder().enable(SerializationFeature.INDENT_OUTPUT)
            .disable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES).disable(DeserializationFeature.FAIL_ON_NULL_FOR_PRIMITIVES).build();
    private static final DateTimeFormatter NAME = DateTimeFormatter.ofPattern("yyyyMMdd-HHmmss-SSS").withZone(ZoneOffset.UTC);
    private static final String DELETED = ".deleted";
    private static final int DELETED_KEPT = 20;
    private static final long MAX_NOTE_BYTES = 16 << 20;
    private static final int MAX_MARKS = 100_000;
    private static final long MAX_MARKS_BYTES = 64L << 20;

    /** A run on the shelf. */
    public record Entry(String id, Path folder, RunNote note) {
        /**
         * Opens its samples; whoever does closes them.
         *
         * @throws FindingException when they cannot be read
         */
        public Samples open() {
            Path file = SafeFile.checked(folder, folder.resolve("samples.h5"));
            return Files.exists(file) ? RunFile.open(file) : SampleStore.of(
                    RunCsv.read(SafeFile.checked(folder, folder.resolve("samples.csv"))));
        }

        /** What happened in the meantime, in order. */
        public List<Mark> marks() {
            List<Mark> marks = new ArrayList<>();
            Path file = folder.resolve("marks.jsonl");
            if (Files.exists(file)) {
                SafeFile.text(folder, file, MAX_MARKS_BYTES).lines().limit(MAX_MARKS).forEach(line -> {
                    try {
                        marks.add(MAPPER.readValue(line, Mark.class));
                    } catch (JacksonException e) {
                        Log.ignored(RunShelf.class, e, "A mark of a run cannot be read; the run was interrupted.");
                    }
                });
            }
            marks.removeIf(m -> m.kind() == null || m.text() == null);
            marks.sort(Comparator.comparingDouble(Mark::seconds));
            return marks;
        }
    }

    private final Path folder;

    /** @param folder the project's folder of runs; made when first written */
    public RunShelf(Path folder) {
        this.folder = folder;
    }

    /**
     * Begins a run; what comes into the store from now on is written as it comes.
     *
     * @param note what is known of it
     * @param projectFiles the project as it is, by name of file
     */
    public Recording begin(RunNote note, SampleStore store, Map<String, String> projectFiles) {
        return begin(note, store, projectFiles, Long.MAX_VALUE);
    }

    /** @param limit most bytes of samples */
    public Recording begin(RunNote note, SampleStore store, Map<String, String> projectFiles, long limit) {
        Path place = place(note);
        try {
            prepare(place, projectFiles);
            write(place, note);
            return new Recording(new Entry(place.getFileName().toString(), place, note), store, limit);
        } catch (IOException e) {
            throw unsaved(place, e);
        }
    }

    private Path place(RunNote note) {
        return folder.resolve(NAME.format(Instant.parse(note.started())) + "-" + note.rig());
    }

    private static void prepare(Path place, Map<String, String> projectFiles) throws IOException {
        Files.createDirectories(place);
        for (var f : projectFiles.entrySet()) {
            Path file = place.resolve("project").resolve(f.getKey());
            Files.createDirectories(file.getParent());
            Files.writeString(file, f.getValue());
        }
    }

    private static FindingException unsaved(Path place, IOException e) {
        return FindingException.of(place.toString(), "The run cannot be saved: " + e.getMessage() + ".",
                "Check the disk and the folder's permissions.");
    }

    /** Puts samples that are there already on the shelf. */
    public Entry save(RunNote note, Samples samples, Map<String, String> projectFiles) {
        Path place = place(note);
        try {
            prepare(place, projectFiles);
            RunWriter.write(samples, place.resolve("samples.h5"));
            write(place, note);
        } catch (IOException e) {
            throw unsaved(place, e);
        }
        return new Entry(place.getFileName().toString(), place, note);
    }

    /** A run is there for others once it has this file, so it comes whole. */
    static void write(Path place, RunNote note) throws IOException {
        WholeFile.write(place.resolve("run.json"), beside -> Files.writeString(beside, MAPPER.writeValueAsString(note) + "\n"));
    }

    /** Keeps what someone says of a run. */
    public Entry note(Entry entry, RunNote note) {
        try {
            write(entry.folder(), note);
        } catch (IOException e) {
            throw unsaved(entry.folder(), e);
        }
        return new Entry(entry.id(), entry.folder(), note);
    }

    /** Every readable run, newest first. */
    public List<Entry> list() {
        return list(new ArrayList<>());
    }

    /** @param problems gets a finding for each run that cannot be read; its files stay */
    public List<Entry> list(List<Finding> problems) {
        List<Entry> entries = new ArrayList<>();
        if (!Files.isDirectory(folder)) {
            return entries;
        }
        try (var folders = Files.list(folder)) {
            for (Path f : folders.filter(f -> Files.exists(f.resolve("run.json"))).sorted(Comparator.reverseOrder()).toList()) {
                try {
                    entries.add(read(f));
                } catch (FindingException e) {
                    problems.add(Finding.warning(f.resolve("run.json").toString(),
                            "The run cannot be read: " + e.findings().getFirst().cause(), "Correct the file, or delete the folder."));
                } catch (JacksonException | IOException e) {
                    problems.add(Finding.warning(f.resolve("run.json").toString(), "The run cannot be read: "
                            + String.valueOf(e.getMessage()).lines().findFirst().orElse("") + ".",
                            "Correct the file, or delete the folder."));
                }
            }
        } catch (IOException e) {
            throw FindingException.of(folder.toString(), "The runs cannot be listed: " + e.getMessage() + ".",
                    "Check the folder's permissions.");
        }
        return entries;
    }

    private static Entry read(Path f) throws IOException {
        RunNote note = MAPPER.readValue(SafeFile.text(f, f.resolve("run.json"), MAX_NOTE_BYTES), RunNote.class);
        // Runs of older versions were written at their end.
        boolean old = Files.exists(f.resolve("samples.csv"));
        if (old) {
            note = note.ended(note.seconds(), note.changes(), note.findings());
        } else if (!note.whole()) {
            try (var samples = RunFile.open(SafeFile.checked(f, f.resolve("samples.h5")))) {
                note = note.lasting(samples.end());
            } catch (FindingException e) {
                throw new IOException(e.findings().getFirst().cause());
            }
        }
        return new Entry(f.getFileName().toString(), f, note);
    }

    /** Takes a run off the shelf; {@link #restore} puts it back. */
    public void delete(Entry entry) {
        try {
            Path bin = Files.createDirectories(folder.resolve(DELETED));
            Files.move(entry.folder(), bin.resolve(entry.id()));
            Files.setLastModifiedTime(bin.resolve(entry.id()), java.nio.file.attribute.FileTime.from(Instant.now()));
            try (var all = Files.list(bin)) {
                var oldest = all.sorted(Comparator.comparing(RunShelf::modified).reversed()).skip(DELETED_KEPT).toList();
                for (Path p : oldest) {
                    remove(p);
                }
            }
        } catch (IOException e) {
            throw FindingException.of(entry.folder().toString(), "The run cannot be deleted: " + e.getMessage() + ".",
                    "Check the folder's permissions.");
        }
    }

    private static Instant modified(Path p) {
        try {
            return Files.getLastModifiedTime(p).toInstant();
        } catch (IOException e) {
            return Instant.EPOCH;
        }
    }

    private static void remove(Path tree) throws IOException {
        try (var all = Files.walk(tree)) {
            for (Path p : all.sorted(Comparator.reverseOrder()).toList()) {
                Files.delete(p);
            }
        }
    }

    /** Puts a deleted run back; empty when it was removed permanently. */
    public Optional<Entry> restore(String id) {
        Path from = folder.resolve(DELETED).resolve(id).normalize();
        if (!from.getParent().equals(folder.resolve(DELETED)) || !Files.isDirectory(from)) {
            return Optional.empty();
        }
        try {
            Files.move(from, folder.resolve(id));
            return Optional.of(read(folder.resolve(id)));
        } catch (IOException | JacksonException e) {
            throw FindingException.of(from.toString(), "The run cannot be restored: " + e.getMessage() + ".", "Move the folder by hand.");
        }
    }
}
