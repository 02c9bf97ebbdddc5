package boldanvil.core.storage;

import boldanvil.core.quantity.Unit;
import boldanvil.core.quantity.Units;
import io.jhdf.HdfFile;
import io.jhdf.api.Group;
import io.jhdf.api.Node;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.lang.foreign.Arena;
import java.nio.channels.FileChannel.MapMode;
import java.nio.channels.FileChannel;
import java.nio.file.Path;

/** What files of HDF5 have in common: names and units in them, and opening those that may be damaged. */
public final class HdfFiles {
    private static final int DEPTH = 16;
    private static final int MOST_NODES = 20_000;

    private HdfFiles() {}

    /** A name as it may stand in a path of HDF5. */
    public static String linkName(String name) {
        String safe = name.replace('/', '\u2215');
        return safe.isEmpty() || safe.equals(".") ? "_" + safe : safe;
    }

    /** The unit of numbers that are written in SI and shown in another unit. */
    public static String siUnit(String shownIn) {
        Unit shown = Units.orOne(shownIn);
        return shown.factor() == 1 && shown.isPlain() ? shownIn : shown.dimension().unit();
    }

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
