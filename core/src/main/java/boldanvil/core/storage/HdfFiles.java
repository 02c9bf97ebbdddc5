package boldanvil.core.storage;

import io.jhdf.HdfFile;
import io.jhdf.api.Group;
import io.jhdf.api.Node;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.lang.foreign.Arena;
import java.nio.channels.FileChannel.MapMode;
import java.nio.channels.FileChannel;
import java.nio.file.Path;

/** Opens HDF5 files that may be damaged. */
public final class HdfFiles {
    private static final int DEPTH = 16;
    private static final int MOST_NODES = 20_000;

    private HdfFiles() {}

    /**
     * Opens a file.
     *
     * @throws RuntimeException when it is damaged, or no such file
     */
    public static HdfFile open(Path path) {
        requireWhole(path);
        return new HdfFile(path);
    }

    /**
     * Follows everything the file says about itself within a view of it. The library believes sizes in files and takes gigabytes of memory
     * for a damaged one; in a view that is as long as the file such a size is out of range at once.
     */
    private static void requireWhole(Path path) {
        try (var channel = FileChannel.open(path); var arena = Arena.ofConfined()) {
            if (channel.size() > Integer.MAX_VALUE) {
                return;
            }
            var view = channel.map(MapMode.READ_ONLY, 0, channel.size(), arena).asByteBuffer();
            try (var file = HdfFile.fromByteBuffer(view)) {
                follow(file, 0, new int[1]);
            }
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static void follow(Group group, int depth, int[] count) {
        group.getAttributes();
        for (Node n : group) {
            if (++count[0] > MOST_NODES) {
                return;
            }
            if (n instanceof Group g && depth < DEPTH) {
                follow(g, depth + 1, count);
            } else {
                n.getAttributes();
            }
        }
    }
}
