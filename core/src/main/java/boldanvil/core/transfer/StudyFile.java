package boldanvil.core.transfer;

import boldanvil.core.escape.Escape;
import boldanvil.core.finding.FindingException;
import boldanvil.core.hdf5.GrowingFile;
import boldanvil.core.hdf5.NumberType;
import boldanvil.core.storage.HdfFiles;
import boldanvil.core.study.RunTable;
import boldanvil.core.study.RunTable.Column;
import boldanvil.core.user.WholeFile;
import io.jhdf.HdfFile;
import io.jhdf.api.Dataset;
import io.jhdf.api.Group;
import io.jhdf.api.Node;
import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;

/**
 * The runs of a study as a file: HDF5 with a dataset for each column, or CSV. In HDF5, {@code /varied/…} has the values that varied and
 * {@code /results/…} what came of them, SI, with their units and the unit people read them in; {@code /notes} has for each run what went
 * wrong, as an index into the attributes {@code note 1}, {@code note 2} …; 0 is nothing.
 */
public final class StudyFile {
    private static final String FORMAT = "bold-anvil study 1";
    private static final int MOST_CHUNK_ROWS = 4096;
    private static final int MOST_NOTES = 200;
    private static final int MOST_NOTE_LENGTH = 1_000;
    private static final int MOST_COLUMNS = 100_000;
    private static final int MOST_RUNS = 10_000_000;

    private StudyFile() {}

    /**
     * What a file has.
     *
     * @param about what was run, such as {@code project} and {@code rig}, by name
     */
    public record Contents(RunTable table, Map<String, String> about) {}

    /** Whether a name is that of an HDF5 file. */
    public static boolean isHdf(Path file) {
        String name = file.toString().toLowerCase(Locale.ROOT);
        return name.endsWith(".h5") || name.endsWith(".hdf5");
    }

    /** Writes a table as its name says: HDF5 for {@code .h5} and {@code .hdf5}, else CSV. */
    public static void write(RunTable table, Map<String, String> about, Path file) throws IOException {
        WholeFile.write(file, beside -> {
            if (isHdf(file)) {
                hdf(table, about, beside);
            } else {
                csv(table, beside);
            }
        });
    }

    private static void csv(RunTable table, Path file) throws IOException {
        try (BufferedWriter w = Files.newBufferedWriter(file, StandardCharsets.UTF_8)) {
            w.write(RunTable.csvHead(table.columns()) + ",note\n");
            double[] row = new double[table.columns().size()];
            for (int run = 0; run < table.size(); run++) {
                for (int c = 0; c < row.length; c++) {
                    row[c] = table.value(run, c);
                }
                w.write(RunTable.csvLine(table.columns(), row) + "," + Escape.csvText(table.note(run)) + "\n");
            }
        }
    }

    private static void hdf(RunTable table, Map<String, String> about, Path file) throws IOException {
        Map<String, Integer> notes = new LinkedHashMap<>();
        int chunk = Math.clamp(table.size(), 16, MOST_CHUNK_ROWS);
        double[] note = new double[table.size()];
        for (int run = 0; run < note.length; run++) {
            String text = table.note(run);
            String kept = text.substring(0, Math.min(text.length(), MOST_NOTE_LENGTH));
            if (!kept.isEmpty()) {
                Integer known = notes.get(kept);
                if (known == null) {
                    known = notes.size() < MOST_NOTES ? notes.size() + 1 : MOST_NOTES;
                    notes.putIfAbsent(kept, known);
                }
                note[run] = known;
            }
        }
        Map<String, String> texts = new LinkedHashMap<>();
        notes.forEach((text, i) -> texts.putIfAbsent("note " + i, text));
        Map<String, String> head = new LinkedHashMap<>(about);
        head.put("format", FORMAT);
        try (var h = new GrowingFile(file, head)) {
            for (int i = 0; i < table.columns().size(); i++) {
                Column c = table.columns().get(i);
                double[] values = table.values(i);
                h.dataset((c.isVaried() ? "/varied/" : "/results/") + HdfFiles.linkName(i + " " + c.label()), NumberType.FLOAT64, 1,
                        chunk, attributes(c, i)).append(values, 0, 1, values.length);
            }
            h.dataset("/notes", NumberType.INT32, 1, chunk, texts).append(note, 0, 1, note.length);
            h.commit();
        }
    }

    private static Map<String, String> attributes(Column c, int number) {
        return Map.of("name", c.name(), "figure", c.figure(), "unit", HdfFiles.siUnit(c.unit()), "shown in", c.unit(), "column",
                Integer.toString(number));
    }

    /**
     * Reads an HDF5 file of {@link #write}.
     *
     * @throws FindingException when it is missing, damaged or something else
     */
    public static Contents read(Path file) {
        if (!Files.isRegularFile(file)) {
            throw FindingException.of(file.toString(), "There is no such file.", "Check the path.");
        }
        try (HdfFile h = HdfFiles.open(file)) {
            if (!FORMAT.equals(text(h, "format"))) {
                throw FindingException.of(file.toString(), "The file does not contain the runs of a study, or a newer version wrote it.",
                        "Name a file that was saved on the page Trials or by 'sweep --out'.");
            }
            Map<String, String> about = new LinkedHashMap<>();
            h.getAttributes().forEach((name, a) -> about.put(name, String.valueOf(a.getData())));
            about.remove("format");
            return new Contents(table(h), about);
        } catch (FindingException e) {
            throw e;
        } catch (RuntimeException | StackOverflowError | OutOfMemoryError | InternalError e) {
            throw FindingException.of(file.toString(), "The file is damaged or not an HDF5 file.", "Use an intact copy.");
        }
    }

    private static RunTable table(HdfFile h) {
        TreeMap<Integer, Column> columns = new TreeMap<>();
        Map<Integer, double[]> values = new LinkedHashMap<>();
        for (String group : List.of("varied", "results")) {
            if (h.getChild(group) instanceof Group g) {
                for (Node n : g) {
                    int at = Integer.parseInt(text(n, "column"));
                    columns.put(at, new Column(text(n, "name"), text(n, "figure"), text(n, "shown in"), group.equals("varied")));
                    values.put(at, numbers((Dataset) n));
                }
            }
        }
        if (columns.isEmpty() || columns.size() > MOST_COLUMNS || columns.lastKey() != columns.size() - 1) {
            throw new IllegalArgumentException("columns");
        }
        Dataset notes = h.getDatasetByPath("notes");
        double[] note = numbers(notes);
        var table = new RunTable(List.copyOf(columns.values()));
        double[] row = new double[columns.size()];
        for (int run = 0; run < note.length; run++) {
            for (int c = 0; c < row.length; c++) {
                row[c] = values.get(c)[run];
            }
            table.add(row, note[run] == 0 ? "" : text(notes, "note " + (int) note[run]));
        }
        return table;
    }

    private static double[] numbers(Dataset d) {
        if (d.getSize() > MOST_RUNS) {
            throw new IllegalArgumentException("runs");
        }
        if (d.getSize() == 0) {
            return new double[0];
        }
        return switch (d.getData()) {
            case double[] v -> v;
            case int[] v -> java.util.Arrays.stream(v).asDoubleStream().toArray();
            default -> throw new IllegalArgumentException("numbers");
        };
    }

    private static String text(Node n, String attribute) {
        var a = n.getAttribute(attribute);
        return a == null ? "" : String.valueOf(a.getData());
    }
}
