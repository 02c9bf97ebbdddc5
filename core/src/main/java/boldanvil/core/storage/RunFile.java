package boldanvil.core.storage;

import boldanvil.core.finding.FindingException;
import boldanvil.core.hdf5.NumberType;
import boldanvil.core.samples.Archive;
import boldanvil.core.samples.Column;
import boldanvil.core.samples.Rows;
import io.jhdf.HdfFile;
import io.jhdf.api.Dataset;
import io.jhdf.api.Group;
import io.jhdf.api.Node;
import io.jhdf.api.dataset.ChunkedDataset;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicReferenceArray;

/** A recorded run, read from its file where it is looked at. */
public final class RunFile extends Archive implements AutoCloseable {
    /** The attribute that names the unit values are shown in, where it is not that of the numbers. */
    static final String SHOWN_IN = "shown in";

    private final HdfFile file;

    private RunFile(HdfFile file, List<Column> columns, List<Track> tracks, List<int[]> trackOf) {
        super(columns, tracks, trackOf);
        this.file = file;
    }

    /**
     * Opens a run.
     *
     * @throws FindingException when the file is missing, damaged or no run
     */
    public static RunFile open(Path path) {
        if (!Files.isRegularFile(path)) {
            throw FindingException.of(path.toString(), "There is no such file.", "Check the path.");
        }
        HdfFile file = null;
        try {
            file = HdfFiles.open(path);
            return read(file, path);
        } catch (RuntimeException | StackOverflowError | OutOfMemoryError | InternalError e) {
            if (file != null) {
                file.close();
            }
            if (e instanceof FindingException f) {
                throw f;
            }
            throw damaged(path, e.getMessage() == null ? e.getClass().getSimpleName() : e.getMessage());
        }
    }

    private static FindingException damaged(Path path, String why) {
        return FindingException.of(path.toString(), "The file is damaged or not an HDF5 file: " + why.replaceAll("\\s+", " ") + ".",
                "Use an intact copy, or record the run again.");
    }

    private static RunFile read(HdfFile file, Path path) {
        var format = file.getAttribute("format");
        if (format == null || !RunWriter.FORMAT.equals(format.getData())) {
            throw FindingException.of(path.toString(), "The file does not contain a run of this program" + (format == null ? ""
                    : ", or one of a newer version")
                    + ".", "Import it on the Runs page, where its columns can be chosen.");
        }
        List<Column> columns = new ArrayList<>();
        List<int[]> places = new ArrayList<>();
        List<Track> tracks = new ArrayList<>();
        for (int t = 0; file.getChild("t" + t) instanceof Group g; t++) {
            Rows times = rows(g.getByPath("time"), 1, path);
            List<String> names = new ArrayList<>();
            List<Rows> taps = new ArrayList<>();
            for (Node n : (Group) g.getChild("signals")) {
                int column = Integer.parseInt(text(n, "column"));
                if (column < 0 || column > 1_000_000) {
                    throw damaged(path, n.getPath() + " is column " + column);
                }
                while (columns.size() <= column) {
                    columns.add(null);
                    places.add(null);
                }
                var rows = rows(n, 1, path);
                columns.set(column, new Column(text(n, "name"), text(n, n.getAttribute(SHOWN_IN) == null ? "unit" : SHOWN_IN), rows.type));
                places.set(column, new int[] {t, taps.size()});
                names.add(n.getName());
                taps.add(rows);
                if (rows.size() < times.size()) {
                    throw damaged(path, n.getPath() + " has fewer rows than there are instants");
                }
            }
            List<Overview> overviews = new ArrayList<>();
            for (Node n : (Group) g.getChild("overview")) {
                var o = (Group) n;
                List<Rows> extremes = names.stream().map(s -> (Rows) rows(((Group) o.getChild("signals")).getChild(s), 2, path)).toList();
                overviews.add(new Overview(Math.max(1, Integer.parseInt(n.getName())), rows(o.getChild("time"), 1, path), extremes));
            }
            overviews.sort(java.util.Comparator.comparingInt(Overview::rowsPer));
            tracks.add(new Track(times, taps, overviews));
        }
        if (columns.contains(null)) {
            throw damaged(path, "a column is missing");
        }
        return new RunFile(file, columns, tracks, places);
    }

    private static String text(Node n, String attribute) {
        return String.valueOf(n.getAttribute(attribute).getData());
    }

    private static ChunkRows rows(Node node, int width, Path path) {
        if (!(node instanceof Dataset d)) {
            throw damaged(path, "a dataset is missing");
        }
        int[] dims = d.getDimensions();
        boolean fits = width == 1 ? dims.length == 1 : dims.length == 2 && dims[1] == width;
        NumberType type = switch (d.getDataType().getDataClass()) {
            case 0 -> d.getDataType().getSize() == 1 ? NumberType.UINT8 : NumberType.INT32;
            default -> d.getDataType().getSize() == 4 ? NumberType.FLOAT32 : NumberType.FLOAT64;
        };
        if (!fits || !(d instanceof ChunkedDataset c) || type.bytes() != d.getDataType().getSize() || !d.getFilters().isEmpty()) {
            throw damaged(path, d.getPath() + " does not have the expected form");
        }
        return new ChunkRows(c, type, width, path);
    }

    /** Rows of a dataset in chunks as they lie in the file. */
    private static final class ChunkRows implements Rows {
        private final Path path;
        private final ChunkedDataset data;
        private final NumberType type;
        private final int width;
        private final long rows;
        private final int chunkRows;
        private final AtomicReferenceArray<ByteBuffer> chunks;

        /** Reads the index of chunks at once: of a run that is still being written, it does not stay where it is. */
        ChunkRows(ChunkedDataset data, NumberType type, int width, Path path) {
            this.path = path;
            this.data = data;
            this.type = type;
            this.width = width;
            rows = data.getDimensionsAsLong()[0];
            chunkRows = Math.max(1, data.getChunkDimensions()[0]);
            chunks = new AtomicReferenceArray<>(Math.toIntExact((rows + chunkRows - 1) / chunkRows));
            if (rows > 0) {
                chunk(0);
            }
        }

        @Override
        public long size() {
            return rows;
        }

        private ByteBuffer chunk(int index) {
            ByteBuffer b = chunks.get(index);
            if (b == null) {
                int[] at = width == 1 ? new int[] {index * chunkRows} : new int[] {index * chunkRows, 0};
                try {
                    b = data.getRawChunkBuffer(at).order(ByteOrder.LITTLE_ENDIAN);
                    b.get(b.limit() - 1);
                } catch (RuntimeException e) {
                    throw damaged(path, "a part of " + data.getPath() + " is missing");
                }
                chunks.set(index, b);
            }
            return b;
        }

        @Override
        public double at(long row) {
            return type.get(chunk((int) (row / chunkRows)), (int) (row % chunkRows) * width * type.bytes());
        }

        @Override
        public void read(long from, int count, double[] into) {
            int done = 0;
            while (done < count) {
                int first = (int) ((from + done) % chunkRows);
                int n = Math.min(count - done, chunkRows - first);
                ByteBuffer b = chunk((int) ((from + done) / chunkRows));
                int bytes = type.bytes();
                for (int i = 0; i < n * width; i++) {
                    into[done * width + i] = type.get(b, (first * width + i) * bytes);
                }
                done += n;
            }
        }
    }

    @Override
    public void close() {
        file.close();
    }
}
