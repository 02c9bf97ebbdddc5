package boldanvil.core.control;

import boldanvil.core.finding.FindingException;
import boldanvil.core.user.Log;
import boldanvil.core.user.WholeFile;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The bench processes of this user on this machine: each leaves a small file with its port and token that only this user can read, and
 * removes it when it ends. What a process that died left behind is removed by whoever looks next.
 */
public final class DeviceRegistry {
    /** System property that names the folder; for tests, and for machines shared in unusual ways. */
    public static final String FOLDER = "boldanvil.devices";
    private static final JsonMapper MAPPER = new JsonMapper();
    private static final int ASK_MILLIS = 1_500;

    /** A bench process. */
    public record Entry(long pid, int port, String token) {
        /** Connects to it. */
        public ControlClient connect(int timeoutMillis) {
            return new ControlClient(port, token, timeoutMillis);
        }
    }

    /**
     * A device that was found.
     *
     * @param process the process it stands in
     * @param project title of the project it runs a part of
     * @param part the part
     * @param board name of its board
     * @param build hash of the sources of its image; empty for none
     * @param running whether it computes
     * @param connected whether someone drives it now
     */
    public record Found(Entry process, String project, String rig, String part, String board, String title, String serial, String firmware,
            String build,
            boolean running, boolean connected, double seconds) {}

    private DeviceRegistry() {}

    private static Path folder() {
        String named = System.getProperty(FOLDER);
        if (named != null) {
            return Path.of(named);
        }
        String runtime = System.getenv("XDG_RUNTIME_DIR");
        return runtime != null && !runtime.isBlank() && Files.isDirectory(Path.of(runtime)) ? Path.of(runtime, "bold-anvil")
                : Path.of(System.getProperty("user.home"), ".cache", "bold-anvil", "devices");
    }

    /** Enters a process; the file is removed when this process ends in an orderly way. */
    public static void enter(Entry e) throws IOException {
        Path folder = folder();
        Files.createDirectories(folder);
        entries();
        Path file = folder.resolve(e.pid() + ".json");
        WholeFile.write(file, fresh -> {
            Files.deleteIfExists(fresh);
            if (Files.getFileStore(folder).supportsFileAttributeView("posix")) {
                Files.createFile(fresh, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
            } else {
                Files.createFile(fresh);
            }
            Files.writeString(fresh, MAPPER.writeValueAsString(Map.of("pid", e.pid(), "port", e.port(), "token", e.token())));
        });
        Runtime.getRuntime().addShutdownHook(new Thread(() -> remove(file)));
    }

    private static void remove(Path file) {
        try {
            Files.deleteIfExists(file);
        } catch (IOException e) {
            Log.ignored(DeviceRegistry.class, e, "The registry entry cannot be removed; the next process removes it.");
        }
    }

    /** The processes that live. */
    public static List<Entry> entries() {
        List<Entry> all = new ArrayList<>();
        if (!Files.isDirectory(folder())) {
            return all;
        }
        try (var files = Files.list(folder())) {
            for (Path f : files.sorted().toList()) {
                if (f.toString().endsWith(".json")) {
                    read(f).ifPresent(all::add);
                } else if (f.toString().endsWith(".tmp") && !isOfLivingProcess(f)) {
                    remove(f);
                }
            }
        } catch (IOException e) {
            throw FindingException.of(folder().toString(), "The folder cannot be read: " + e.getMessage() + ".", "Check its permissions.");
        }
        return all;
    }

    private static boolean isAlive(long pid) {
        return ProcessHandle.of(pid).map(ProcessHandle::isAlive).orElse(false);
    }

    /** Whether an entry is just being written. */
    private static boolean isOfLivingProcess(Path file) {
        String name = file.getFileName().toString();
        try {
            return isAlive(Long.parseLong(name.substring(0, name.length() - ".tmp".length())));
        } catch (NumberFormatException e) {
            return false;
        }
    }

    private static Optional<Entry> read(Path file) {
        try {
            JsonNode n = MAPPER.readTree(Files.readString(file));
            var e = new Entry(n.path("pid").asLong(0), n.path("port").asInt(0), n.path("token").asString(""));
            if (isAlive(e.pid())) {
                return Optional.of(e);
            }
        } catch (IOException | JacksonException e) {
            Log.ignored(DeviceRegistry.class, e, "The registry entry cannot be read and is removed.");
        }
        remove(file);
        return Optional.empty();
    }

    /** Every device of every process that answers. */
    public static List<Found> devices() {
        List<Found> all = new ArrayList<>();
        for (Entry e : entries()) {
            try (var control = e.connect(ASK_MILLIS)) {
                JsonNode who = control.ask("who", Map.of());
                for (JsonNode d : who.path("devices")) {
                    all.add(new Found(e, who.path("project").asString(""), who.path("rig").asString(""), d.path("part").asString(""),
                            d.path("board").asString(""),
                            d.path("title").asString(""), d.path("serial").asString(""), d.path("firmware").asString(""),
                            d.path("build").asString(""),
                            d.path("running").asBoolean(false), who.path("connected").asBoolean(false), who.path("seconds").asDouble(0)));
                }
            } catch (FindingException x) {
                Log.ignored(DeviceRegistry.class, x, "A registered process does not answer.");
            }
        }
        return all;
    }

    /** Ends a process with all of its devices; one that is gone already stays gone. */
    public static void end(Entry process) {
        try (var control = process.connect(ASK_MILLIS)) {
            control.ask("end", Map.of());
        } catch (FindingException e) {
            Log.ignored(DeviceRegistry.class, e, "The process had already ended.");
        }
    }
}
