package boldanvil.core.transfer;

import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Units;
import boldanvil.core.samples.Column;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import boldanvil.core.storage.HdfFiles;
import boldanvil.core.storage.RunFile;
import io.jhdf.api.Dataset;
import io.jhdf.api.Group;
import io.jhdf.api.Node;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.lang.reflect.Array;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.DoubleUnaryOperator;
import java.util.regex.Pattern;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVRecord;

/**
 * Reads recordings of other tools: tables of text with any separator, and HDF5 files with columns in datasets. {@link #look} lists what
 * there is, the user assigns the columns, {@link #read} reads it.
 */
public final class RunImport {
    private static final long MAX_BYTES = 4L << 30;
    private static final int MAX_COLUMNS = 4_096;
    private static final int LOOKED_AT = 200;

    private static final Pattern COMMA = Pattern.compile("\\d,\\d");
    private static final Pattern POINT = Pattern.compile("\\d\\.\\d");
    /** What columns with instants are called. */
    private static final Pattern TIME = Pattern.compile("^t$|^t\\s*+[\\[(]|(?:^|\\W)time");

    private RunImport() {}

    /**
     * What a file holds.
     *
     * @param columns names as they are in the file
     * @param rows of a text that were looked at, or of each dataset
     * @param time the column that looks like the time; -1 for none
     */
    public record Contents(List<String> columns, List<Long> rows, int time) {}

    /**
     * What becomes of a column.
     *
     * @param column its name in the file
     * @param tap name it is to have
     * @param unit the unit it is to be shown in
     * @param factor by which its values are multiplied to be SI; where it is the unit's own, they are converted as the unit wants it, which
     * for
     *     temperatures is more than a factor
     */
    public record Mapping(String column, String tap, String unit, double factor) {
        double toSi(double v) {
            var own = Units.orOne(unit);
            return factor == own.factor() ? own.toSi(v) : v * factor;
        }
    }

    /**
     * How a file is read.
     *
     * @param time the column with the instants; empty for none
     * @param timeFactor seconds of one of its units
     * @param step seconds between two rows, where there is no such column
     */
    public record Plan(String time, double timeFactor, double step, List<Mapping> mappings) {
        public Plan {
            mappings = List.copyOf(mappings);
        }
    }

    /**
     * Opens a recording of this program, or a table of the form that {@code run --record} writes.
     *
     * @throws FindingException when it is neither
     */
    public static Samples open(Path file) {
        return isHdf(file) ? RunFile.open(file) : SampleStore.of(RunCsv.read(file));
    }

    private static boolean isHdf(Path file) {
        String name = String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT);
        return name.endsWith(".h5") || name.endsWith(".hdf5") || name.endsWith(".hdf");
    }

    /** Looks into a file. */
    public static Contents look(Path file) {
        check(file);
        return isHdf(file) ? lookHdf(file) : lookText(file);
    }

    private static void check(Path file) {
        try {
            if (!Files.isRegularFile(file)) {
                throw FindingException.of(file.toString(), "There is no such file.", "Check the path.");
            }
            if (!isHdf(file) && Files.size(file) > MAX_BYTES) {
                throw FindingException.of(file.toString(), "The file is larger than 4 GiB.", "Divide it into several files, or use HDF5.");
            }
        } catch (IOException e) {
            throw unreadable(file, e.getMessage());
        }
    }

    private static FindingException unreadable(Path file, String why) {
        return FindingException.of(file.toString(), "The file cannot be read: " + why + ".", "Export it again as CSV in UTF-8 or as HDF5.");
    }

    /** Reads a file as planned. */
    public static Samples read(Path file, Plan plan) {
        check(file);
        if (plan.time().isEmpty() && !(plan.step() > 0)) {
            throw FindingException.of(file.toString(), "Neither a time column nor a sample time is given.",
                    "Choose the time column, or type the sample time.");
        }
        return isHdf(file) ? readHdf(file, plan) : readText(file, plan);
    }

    // ---- text

    /** The separator that splits the first lines most evenly. */
    private static char separator(List<String> lines) {
        char best = ',';
        int most = 0;
        for (char c : new char[] {',', ';', '\t', '|'}) {
            int least = lines.stream().filter(l -> !l.isBlank()).mapToInt(l -> (int) l.chars().filter(x -> x == c).count()).min().orElse(0);
            if (least > most) {
                most = least;
                best = c;
            }
        }
        return best;
    }

    private record Head(CSVFormat format, List<String> names, int skip, boolean decimalComma) {}

    private static Head head(Path file) throws IOException {
        List<String> lines = new ArrayList<>();
        try (BufferedReader in = Files.newBufferedReader(file, StandardCharsets.UTF_8)) {
            for (String l = in.readLine(); l != null && lines.size() < 20; l = in.readLine()) {
                if (l.length() > 1 << 20) {
                    throw unreadable(file, "a line is longer than a million characters");
                }
                if (!l.isBlank() && !l.startsWith("#")) {
                    lines.add(l.startsWith("\uFEFF") ? l.substring(1) : l);
                }
            }
        }
        if (lines.isEmpty()) {
            throw unreadable(file, "it is empty");
        }
        char separator = separator(lines);
        var format = CSVFormat.DEFAULT.builder().setDelimiter(separator).setIgnoreEmptyLines(true).setCommentMarker('#').setTrim(true)
                .get();
        boolean comma = separator != ',' && lines.stream().skip(1).anyMatch(l -> COMMA.matcher(l).find())
                && lines.stream().skip(1).noneMatch(l -> POINT.matcher(l).find());
        var first = List.of(format.parse(new java.io.StringReader(lines.getFirst())).iterator().next().values());
        boolean named = first.stream().anyMatch(c -> !c.isEmpty() && Double.isNaN(number(c, comma)));
        List<String> names = new ArrayList<>();
        for (int i = 0; i < Math.min(MAX_COLUMNS, first.size()); i++) {
            String n = named ? first.get(i) : "";
            names.add(n.isEmpty() || names.contains(n) ? (n + " column " + (i + 1)).strip() : n);
        }
        return new Head(format, names, named ? 1 : 0, comma);
    }

    private static double number(String text, boolean decimalComma) {
        try {
            return text.isEmpty() ? Double.NaN : Double.parseDouble(decimalComma ? text.replace(',', '.') : text);
        } catch (NumberFormatException e) {
            return Double.NaN;
        }
    }

    private static int timeColumn(List<String> names) {
        for (int i = 0; i < names.size(); i++) {
            String n = names.get(i).toLowerCase(Locale.ROOT);
            if (TIME.matcher(n).find()) {
                return i;
            }
        }
        return -1;
    }

    private static Contents lookText(Path file) {
        try {
            Head h = head(file);
            long rows;
            try (var lines = Files.lines(file)) {
                rows = lines.limit(LOOKED_AT).count() - h.skip();
            }
            return new Contents(h.names(), h.names().stream().map(_ -> rows).toList(), timeColumn(h.names()));
        } catch (IOException | UncheckedIOException e) {
            throw unreadable(file, "it is not UTF-8 text");
        }
    }

    private static Samples readText(Path file, Plan plan) {
        try {
            Head h = head(file);
            int time = plan.time().isEmpty() ? -1 : index(file, h.names(), plan.time());
            int[] from = plan.mappings().stream().mapToInt(m -> index(file, h.names(), m.column())).toArray();
            var store = new SampleStore(plan.mappings().stream().map(m -> new Column(m.tap(), m.unit())).toList());
            try (var reader = Files.newBufferedReader(file, StandardCharsets.UTF_8); var csv = h.format().parse(reader)) {
                double last = Double.NEGATIVE_INFINITY;
                long row = 0;
                for (CSVRecord r : csv) {
                    if (r.getRecordNumber() <= h.skip()) {
                        continue;
                    }
                    String place = file + ":" + csv.getCurrentLineNumber();
                    if (r.size() < h.names().size()) {
                        throw FindingException.of(place, "The row has " + r.size() + " cells, the header " + h.names().size() + ".",
                                "The file may be cut off; export it again.");
                    }
                    double t = time < 0 ? row * plan.step() : cell(r, time, h, place) * plan.timeFactor();
                    row++;
                    if (!(t > last)) {
                        throw FindingException.of(place, "The time does not increase.",
                                "Choose another time column, or sort the rows by time.");
                    }
                    last = t;
                    for (int i = 0; i < from.length; i++) {
                        if (!r.get(from[i]).isEmpty()) {
                            store.add(i, t, plan.mappings().get(i).toSi(cell(r, from[i], h, place)));
                        }
                    }
                }
            }
            return store;
        } catch (IOException | UncheckedIOException e) {
            throw unreadable(file, "it is not UTF-8 text, or its quotes do not match");
        }
    }

    private static double cell(CSVRecord r, int column, Head h, String place) {
        String text = r.get(column);
        double v = number(text, h.decimalComma());
        if (Double.isNaN(v) && !text.equalsIgnoreCase("nan")) {
            throw FindingException.of(place, "'" + text + "' in column '" + h.names().get(column) + "' is not a number.",
                    "Leave the column out, or correct the cell.");
        }
        return v;
    }

    private static int index(Path file, List<String> names, String name) {
        int i = names.indexOf(name);
        if (i < 0) {
            throw FindingException.of(file.toString(), "There is no column '" + name + "'.",
                    "Columns are: " + String.join(", ", names.stream().limit(20).toList()) + ".");
        }
        return i;
    }

    // ---- HDF5

    private static void datasets(Group g, int depth, List<Dataset> found) {
        if (depth > 16 || found.size() >= MAX_COLUMNS) {
            return;
        }
        for (Node n : g) {
            if (n instanceof Dataset d && d.getDimensions().length == 1 && isNumber(d)) {
                found.add(d);
            } else if (n instanceof Group child) {
                datasets(child, depth + 1, found);
            }
        }
    }

    private static boolean isNumber(Dataset d) {
        Class<?> c = d.getJavaType();
        return c == double.class || c == float.class || c == int.class || c == long.class || c == short.class || c == byte.class;
    }

    private static <T> T hdf(Path file, java.util.function.Function<List<Dataset>, T> use) {
        try (var h = HdfFiles.open(file)) {
            List<Dataset> found = new ArrayList<>();
            datasets(h, 0, found);
            return use.apply(found);
        } catch (FindingException e) {
            throw e;
        } catch (RuntimeException | StackOverflowError | OutOfMemoryError | InternalError e) {
            throw unreadable(file, "it is damaged or not an HDF5 file");
        }
    }

    private static Contents lookHdf(Path file) {
        return hdf(file, found -> new Contents(found.stream().map(Dataset::getPath).toList(), found.stream().map(Dataset::getSize).toList(),
                timeColumn(found.stream().map(Dataset::getName).toList())));
    }

    private static Samples readHdf(Path file, Plan plan) {
        return hdf(file, found -> {
            List<String> names = found.stream().map(Dataset::getPath).toList();
            double[] times = plan.time().isEmpty() ? null : values(found.get(index(file, names, plan.time())), t -> t * plan.timeFactor());
            List<Series> all = new ArrayList<>();
            for (Mapping m : plan.mappings()) {
                double[] v = values(found.get(index(file, names, m.column())), m::toSi);
                double[] t = times;
                if (t == null) {
                    t = new double[v.length];
                    for (int i = 0; i < t.length; i++) {
                        t[i] = i * plan.step();
                    }
                }
                if (t.length != v.length) {
                    throw FindingException.of(file + " " + m.column(), "It has " + v.length + " values, the time column " + t.length + ".",
                            "Choose a time column of the same length.");
                }
                for (int i = 1; i < t.length; i++) {
                    if (!(t[i] > t[i - 1])) {
                        throw FindingException.of(file + " " + plan.time(), "The time does not increase at row " + (i + 1) + ".",
                                "Choose another time column.");
                    }
                }
                all.add(new Series(m.tap(), m.unit(), t, v));
            }
            return SampleStore.of(new RunData(all));
        });
    }

    private static double[] values(Dataset d, DoubleUnaryOperator toSi) {
        Object data = d.getData();
        double[] v = new double[data == null ? 0 : Array.getLength(data)];
        for (int i = 0; i < v.length; i++) {
            v[i] = toSi.applyAsDouble(Array.getDouble(data, i));
        }
        return v;
    }
}
