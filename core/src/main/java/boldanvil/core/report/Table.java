package boldanvil.core.report;

import boldanvil.core.escape.Escape;
import boldanvil.core.finding.FindingException;
import boldanvil.core.user.WholeFile;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/**
 * A table of texts.
 *
 * @param title what it shows
 * @param notes lines beneath the title
 * @param columns headings
 * @param rows each as wide as the headings
 */
public record Table(String title, List<String> notes, List<String> columns, List<List<String>> rows) {
    public Table {
        notes = List.copyOf(notes);
        columns = List.copyOf(columns);
        rows = rows.stream().map(List::copyOf).toList();
        for (List<String> r : rows) {
            if (r.size() != columns.size()) {
                throw new IllegalArgumentException(r + " under " + columns);
            }
        }
    }

    /** The table as CSV with a line of headings. */
    public String csv() {
        var bytes = new ByteArrayOutputStream();
        try (var printer = new CSVPrinter(new OutputStreamWriter(bytes, StandardCharsets.UTF_8), CSVFormat.RFC4180)) {
            printer.printRecord(columns.stream().map(Escape::csvText).toList());
            for (List<String> r : rows) {
                printer.printRecord(r.stream().map(Escape::csvText).toList());
            }
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
        return bytes.toString(StandardCharsets.UTF_8);
    }

    /** Writes something to a stream. */
    @FunctionalInterface
    interface Content {
        void to(OutputStream out) throws IOException;
    }

    /** Writes a file whole or not at all. */
    static void write(Path file, Content content) {
        try {
            WholeFile.write(file, beside -> {
                try (OutputStream out = Files.newOutputStream(beside)) {
                    content.to(out);
                }
            });
        } catch (IOException e) {
            throw FindingException.of(file.toString(), "The file cannot be written: " + e.getMessage() + ".",
                    "Choose a folder that exists and can be written to.");
        }
    }

    /** Writes the table as CSV. */
    public void writeCsv(Path file) {
        write(file, out -> out.write(csv().getBytes(StandardCharsets.UTF_8)));
    }
}
