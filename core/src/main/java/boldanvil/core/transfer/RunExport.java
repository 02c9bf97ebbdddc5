package boldanvil.core.transfer;

import boldanvil.core.finding.FindingException;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Samples;
import boldanvil.core.storage.RunWriter;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Locale;

/** Writes runs for other tools; the ending of the file's name says how. */
public final class RunExport {
    private RunExport() {}

    /**
     * Writes samples as CSV, as HDF5 ({@code .h5}, {@code .hdf5}) or as a value change dump ({@code .vcd}). What was there before is replaced
     * only when all is written.
     */
    public static void write(Samples samples, Path file) {
        String name = String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT);
        try {
            if (name.endsWith(".vcd")) {
                RunVcd.write(samples.snapshot(), file);
            } else if (name.endsWith(".h5") || name.endsWith(".hdf5")) {
                Path temporary = file.resolveSibling("." + file.getFileName() + ".part");
                try {
                    RunWriter.write(samples, temporary);
                    Files.move(temporary, file, StandardCopyOption.REPLACE_EXISTING);
                } finally {
                    Files.deleteIfExists(temporary);
                }
            } else if (name.endsWith(".csv")) {
                RunCsv.write(samples.snapshot(), file);
            } else {
                throw unknown(file);
            }
        } catch (IOException e) {
            throw FindingException.of(file.toString(), "The file cannot be written: " + e.getMessage() + ".", "Choose a folder that exists and can be written to.");
        }
    }

    private static FindingException unknown(Path file) {
        return FindingException.of(file.toString(), "The file extension does not match a format.", "Use .csv, .h5 or .vcd.");
    }

    /** Whether the ending of a file's name says how to write samples. */
    public static void require(Path file) {
        String name = String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT);
        if (!name.endsWith(".csv") && !name.endsWith(".h5") && !name.endsWith(".hdf5") && !name.endsWith(".vcd")) {
            throw unknown(file);
        }
    }

    /** Some columns over a span of time. */
    public static Samples part(Samples all, java.util.List<String> names, double from, double to) {
        return SampleStore.of(new RunData(names.stream().mapToInt(all::indexOf).filter(i -> i >= 0).mapToObj(i -> all.series(i, from, to)).toList()));
    }
}
