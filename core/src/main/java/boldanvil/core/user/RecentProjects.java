package boldanvil.core.user;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/**
 * The folders of projects this user opened, newest first: a line each in a file of the {@link UserFolder}. A damaged file counts as empty.
 */
public final class RecentProjects {
    private static final int MOST = 12;
    private static final long MAX_BYTES = 64 * 1024;

    private final Path file;

    /** The list of this user. */
    public static RecentProjects ofUser() {
        return new RecentProjects(UserFolder.find().map(f -> f.resolve("recent-projects")).orElse(null));
    }

    /** @param file where the list is kept; null for nowhere */
    public RecentProjects(Path file) {
        this.file = file;
    }

    /** The folders, newest first; some may be gone by now. */
    public List<Path> list() {
        List<Path> all = new ArrayList<>();
        if (file == null || !Files.isRegularFile(file)) {
            return all;
        }
        try {
            if (Files.size(file) <= MAX_BYTES) {
                new String(Files.readAllBytes(file), StandardCharsets.UTF_8).lines().limit(MOST).forEach(line -> add(line, all));
            }
        } catch (IOException e) {
            Log.ignored(RecentProjects.class, e, "The list of recent projects cannot be read.");
        }
        return all;
    }

    private static void add(String line, List<Path> all) {
        try {
            Path p = Path.of(line);
            if (p.isAbsolute() && !all.contains(p)) {
                all.add(p);
            }
        } catch (InvalidPathException e) {
            Log.ignored(RecentProjects.class, e, "A line of the list of recent projects is not a path.");
        }
    }

    /** Puts a folder at the head of the list. */
    public void opened(Path folder) {
        Path whole = folder.toAbsolutePath().normalize();
        List<Path> all = list();
        all.remove(whole);
        all.addFirst(whole);
        write(all.subList(0, Math.min(MOST, all.size())));
    }

    /** Takes a folder off the list. */
    public void forget(Path folder) {
        List<Path> all = list();
        all.remove(folder.toAbsolutePath().normalize());
        write(all);
    }

    private void write(List<Path> all) {
        if (file == null) {
            return;
        }
        try {
            WholeFile.write(file, beside -> Files.write(beside, all.stream().map(Path::toString).toList()));
        } catch (IOException e) {
            Log.ignored(RecentProjects.class, e, "The list of recent projects cannot be written.");
        }
    }
}
