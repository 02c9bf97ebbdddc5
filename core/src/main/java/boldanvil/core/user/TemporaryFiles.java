package boldanvil.core.user;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Temporary files and folders that carry the number of their process in their name, so that what a killed process left behind is
 * removed by the next one.
 */
public final class TemporaryFiles {
    private static final String PREFIX = "bold-anvil-";
    private static final Pattern OURS = Pattern.compile(PREFIX + "([0-9]{1,18})-.*");

    private TemporaryFiles() {}

    private static Path place() throws IOException {
        Path folder = Path.of(System.getProperty("java.io.tmpdir"));
        Files.createDirectories(folder);
        return folder;
    }

    private static String prefix(String what) {
        return PREFIX + ProcessHandle.current().pid() + "-" + what;
    }

    /** A new file that only this user can read. */
    public static Path file(String what, String ending) throws IOException {
        return Files.createTempFile(place(), prefix(what), ending);
    }

    /** A new folder that only this user can read. */
    public static Path folder(String what) throws IOException {
        return Files.createTempDirectory(place(), prefix(what));
    }

    /** Removes what processes left behind that are gone. */
    public static void sweep() {
        try (var all = Files.list(place())) {
            all.filter(TemporaryFiles::isOrphan).forEach(TemporaryFiles::remove);
        } catch (IOException e) {
            Log.ignored(TemporaryFiles.class, e, "Temporary files cannot be listed; the next start tries again.");
        }
    }

    private static boolean isOrphan(Path p) {
        Matcher m = OURS.matcher(p.getFileName().toString());
        return m.matches() && !Files.isSymbolicLink(p) && ProcessHandle.of(Long.parseLong(m.group(1))).map(h -> !h.isAlive()).orElse(true);
    }

    private static void remove(Path p) {
        try (var all = Files.walk(p)) {
            for (Path each : all.sorted(Comparator.reverseOrder()).toList()) {
                Files.deleteIfExists(each);
            }
        } catch (IOException e) {
            Log.ignored(TemporaryFiles.class, e, "A temporary file cannot be removed.");
        }
    }
}
