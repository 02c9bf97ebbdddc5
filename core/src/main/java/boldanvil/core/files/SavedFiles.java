package boldanvil.core.files;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * Writes several files as one: all of them are there afterwards, or none, whenever the program or the machine stops. New files are written
 * into a folder beside; once a list of them is there, too, the save counts as done, and whoever comes next completes it.
 */
final class SavedFiles {
    private static final String FOLDER = ".saving";
    private static final String LIST = "list";
    private static final int MOST = 20_000;
    private static final long MOST_OF_LIST = 4L << 20;

    private SavedFiles() {}

    /** @param files texts by path within the folder; those that are as wanted are left alone */
    static void write(Path folder, Map<String, String> files) throws IOException {
        Map<String, String> changed = new LinkedHashMap<>();
        for (var f : files.entrySet()) {
            Path file = SafeFile.within(folder, f.getKey());
            requireInside(folder, file);
            if (!Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS) || !Files.readString(file).equals(f.getValue())) {
                changed.put(f.getKey(), f.getValue());
            }
        }
        if (changed.isEmpty()) {
            return;
        }
        complete(folder);
        Path beside = folder.resolve(FOLDER);
        for (var f : changed.entrySet()) {
            Path file = beside.resolve(f.getKey());
            Files.createDirectories(file.getParent());
            force(file, f.getValue());
        }
        Path list = beside.resolve(LIST + ".part");
        force(list, String.join("\n", changed.keySet()) + "\n");
        Files.move(list, beside.resolve(LIST), StandardCopyOption.ATOMIC_MOVE);
        complete(folder);
    }

    /** A folder of the project that is a link to somewhere else must not lead a save there. */
    private static void requireInside(Path folder, Path file) throws IOException {
        for (Path p = file.getParent(); p != null && !p.equals(folder); p = p.getParent()) {
            if (Files.isSymbolicLink(p)) {
                throw new IOException("'" + p.getFileName() + "' is a link; replace it by a folder");
            }
        }
    }

    private static void force(Path file, String text) throws IOException {
        try (var channel = FileChannel.open(file, StandardOpenOption.CREATE, StandardOpenOption.TRUNCATE_EXISTING,
                StandardOpenOption.WRITE)) {
            var bytes = ByteBuffer.wrap(text.getBytes(StandardCharsets.UTF_8));
            while (bytes.hasRemaining()) {
                channel.write(bytes);
            }
            channel.force(true);
        }
    }

    /** Whether there is anything of a save that continues or was interrupted. */
    static boolean isLeft(Path folder) {
        return Files.exists(folder.resolve(FOLDER), LinkOption.NOFOLLOW_LINKS);
    }

    /** Whether a save was done but for moving its files to their places. */
    static boolean isPending(Path folder) {
        return Files.isRegularFile(folder.resolve(FOLDER).resolve(LIST), LinkOption.NOFOLLOW_LINKS);
    }

    /** Completes a save that counts as done, and forgets one that does not. */
    static void complete(Path folder) throws IOException {
        Path beside = folder.resolve(FOLDER);
        if (!isLeft(folder)) {
            return;
        }
        Path list = beside.resolve(LIST);
        if (Files.isSymbolicLink(beside)) {
            Files.delete(beside);
            return;
        }
        if (isPending(folder)) {
            List<String> names = SafeFile.text(folder, list, MOST_OF_LIST).lines().limit(MOST).toList();
            for (String name : names) {
                Path to = SafeFile.within(folder, name);
                requireInside(folder, to);
                Files.createDirectories(to.getParent());
                try {
                    Files.move(SafeFile.within(beside, name), to, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
                } catch (NoSuchFileException e) {
                    // It was moved before the save was interrupted.
                }
            }
            Files.deleteIfExists(list);
        }
        Folders.delete(beside);
    }
}
