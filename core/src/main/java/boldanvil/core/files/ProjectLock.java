package boldanvil.core.files;

import boldanvil.core.finding.FindingException;
import boldanvil.core.user.Log;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.channels.OverlappingFileLockException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;

/**
 * The right to write a project, for one process at a time. It is kept by the operating system, so it ends with its process, in whatever way
 * that ends; the file beside it says who has it.
 */
public final class ProjectLock implements AutoCloseable {
    private static final String FILE = ".lock";
    /** Locks of this process, which may have several uses of one project. */
    private static final Map<Path, ProjectLock> HELD = new HashMap<>();

    static {
        Runtime.getRuntime().addShutdownHook(new Thread(ProjectLock::giveUpAll));
    }

    private final Path folder;
    private final FileChannel channel;
    private int uses = 1;

    private ProjectLock(Path folder, FileChannel channel) {
        this.folder = folder;
        this.channel = channel;
    }

    /**
     * Takes the right to write.
     *
     * @param who the name that others are shown, such as {@code the window}
     * @return nothing where another process has it, or the folder cannot be written
     */
    public static Optional<ProjectLock> tryTake(Path folder, String who) {
        synchronized (HELD) {
            try {
                Path real = folder.toRealPath();
                ProjectLock own = HELD.get(real);
                if (own != null) {
                    own.uses++;
                    return Optional.of(own);
                }
                FileChannel channel = locked(real.resolve(FILE), who + ", process " + ProcessHandle.current().pid());
                if (channel == null) {
                    return Optional.empty();
                }
                var fresh = new ProjectLock(real, channel);
                HELD.put(real, fresh);
                return Optional.of(fresh);
            } catch (IOException e) {
                return Optional.empty();
            }
        }
    }

    /** The file, locked and with its owner in it; null where another process has it. */
    private static FileChannel locked(Path file, String owner) throws IOException {
        for (int i = 0; i < 10; i++) {
            var channel = FileChannel.open(file, StandardOpenOption.CREATE, StandardOpenOption.READ, StandardOpenOption.WRITE,
                    LinkOption.NOFOLLOW_LINKS);
            Optional<Object> opened = identity(file);
            if (!lock(channel)) {
                channel.close();
                return null;
            }
            if (opened.isPresent() && opened.equals(identity(file))) {
                channel.truncate(0);
                channel.write(ByteBuffer.wrap(owner.getBytes(StandardCharsets.UTF_8)));
                return channel;
            }
            // Its owner deleted the file between opening and locking, and this is a lock on nothing.
            channel.close();
        }
        return null;
    }

    /**
     * Which file has the name now; empty for none. The file must not be opened a second time to find out, since the first time a process
     * closes a file it gives up all its locks on it (POSIX.1-2017, fcntl).
     */
    private static Optional<Object> identity(Path file) throws IOException {
        try {
            Object key = Files.readAttributes(file, BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS).fileKey();
            return Optional.of(key == null ? file : key);
        } catch (NoSuchFileException e) {
            return Optional.empty();
        }
    }

    private static boolean lock(FileChannel channel) throws IOException {
        try {
            // The last byte a file can have, so that others can read who it is.
            return channel.tryLock(Long.MAX_VALUE - 1, 1, false) != null;
        } catch (OverlappingFileLockException e) {
            return false;
        }
    }

    /** Why this process cannot have the right to write, as a sentence without its end. */
    public static String refusal(Path folder) {
        return Files.isWritable(folder) ? "Another program has the project open for writing (" + owner(folder) + ")"
                : "The project's folder is read-only";
    }

    /** What a save that is not allowed ends with. */
    public static FindingException refused(Path folder) {
        return FindingException.of(folder.toString(), refusal(folder) + "; nothing was saved.",
                "Close the other program, or make the folder writable, then save again.");
    }

    /** Who has the right to write, in words. */
    static String owner(Path folder) {
        try {
            Path file = folder.resolve(FILE);
            String text = Files.isRegularFile(file) && Files.size(file) < 1_000 ? Files.readString(file).lines().findFirst().orElse("")
                    : "";
            return text.isEmpty() ? "another program" : text;
        } catch (IOException e) {
            return "another program";
        }
    }

    @Override
    public void close() {
        synchronized (HELD) {
            if (--uses > 0) {
                return;
            }
            HELD.remove(folder);
            giveUp();
        }
    }

    private void giveUp() {
        try {
            Files.deleteIfExists(folder.resolve(FILE));
            channel.close();
        } catch (IOException e) {
            Log.ignored(ProjectLock.class, e, "The project lock cannot be removed.");
        }
    }

    /** A program that is asked to end leaves no file behind. */
    private static void giveUpAll() {
        synchronized (HELD) {
            HELD.values().forEach(ProjectLock::giveUp);
            HELD.clear();
        }
    }
}
