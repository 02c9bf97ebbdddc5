package boldanvil.core.build;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.user.Log;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;

/** Keeps a folder for one build at a time, across processes; it is free again when its process ends, in whatever way. */
final class FolderLock implements AutoCloseable {
    private static final long LOOK_MILLIS = 50;
    private static final String NAME = ".lock";

    private final FileChannel channel;

    private FolderLock(FileChannel channel) {
        this.channel = channel;
    }

    /** Waits until the folder is free. */
    static FolderLock wait(Path folder, Consumer<String> log, BooleanSupplier cancelled) {
        FileChannel channel = null;
        try {
            Files.createDirectories(folder);
            channel = FileChannel.open(folder.resolve(NAME), StandardOpenOption.CREATE, StandardOpenOption.WRITE,
                    LinkOption.NOFOLLOW_LINKS);
            boolean waits = false;
            while (taken(channel) == null) {
                if (!waits) {
                    waits = true;
                    log.accept("Another build uses " + folder + "; waiting until it ends.");
                }
                if (cancelled.getAsBoolean()) {
                    channel.close();
                    throw FindingException.of(Place.build(folder.getFileName().toString()),
                            "The build was cancelled while it waited for another one.", "Start again.");
                }
                Thread.sleep(LOOK_MILLIS);
            }
            return new FolderLock(channel);
        } catch (IOException e) {
            throw FindingException.of(folder.toString(), "Files of the build cannot be written: " + e.getMessage() + ".",
                    "Check the disk and the folder's permissions.");
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw FindingException.of(Place.build(folder.getFileName().toString()),
                    "The build was cancelled while it waited for another one.", "Start again.");
        }
    }

    private static FileLock taken(FileChannel channel) throws IOException {
        try {
            return channel.tryLock();
        } catch (OverlappingFileLockException e) {
            // Another build of this very process.
            return null;
        }
    }

    @Override
    public void close() {
        try {
            channel.close();
        } catch (IOException e) {
            Log.ignored(FolderLock.class, e, "The lock file cannot be closed.");
        }
    }
}
