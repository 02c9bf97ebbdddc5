package boldanvil.core.transfer;

import boldanvil.core.finding.FindingException;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Samples;
import boldanvil.core.storage.RunWriter;
import boldanvil.core.user.WholeFile;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.ServiceLoader;
import java.util.stream.Collectors;

/**
 * Writes runs for other tools; the ending of the file's name says how. A new format is a line in {@link #FORMATS}; a jar of its own names
 * it in {@code META-INF/services}.
 */
public final class RunExport {
    static final RunFormat CSV = format("CSV", (samples, file) -> RunCsv.write(samples.snapshot(), file), ".csv");
    static final RunFormat HDF5 = format("HDF5", (samples, file) -> WholeFile.write(file, beside -> RunWriter.write(samples, beside)),
            ".h5", ".hdf5");

    private static final List<RunFormat> FORMATS = new ArrayList<>(List.of(CSV, HDF5,
            format("VCD", (samples, file) -> RunVcd.write(samples.snapshot(), file), ".vcd")));

    static {
        ServiceLoader.load(RunFormat.class, RunExport.class.getClassLoader()).forEach(FORMATS::add);
    }

    private RunExport() {}

    private interface Writing {
        void write(Samples samples, Path file) throws IOException;
    }

    private static RunFormat format(String name, Writing writing, String... endings) {
        return new RunFormat() {
            @Override
            public String name() {
                return name;
            }

            @Override
            public List<String> endings() {
                return List.of(endings);
            }

            @Override
            public void write(Samples samples, Path file) throws IOException {
                writing.write(samples, file);
            }
        };
    }

    /** Every format. */
    public static List<RunFormat> formats() {
        return List.copyOf(FORMATS);
    }

    /**
     * Writes samples in the format of the file's ending. What was there before is replaced only when all is written.
     *
     * @throws FindingException when there is no such format, or the file cannot be written
     */
    public static void write(Samples samples, Path file) {
        var format = require(file);
        try {
            format.write(samples, file);
        } catch (IOException e) {
            throw FindingException.of(file.toString(), "The file cannot be written: " + e.getMessage() + ".",
                    "Choose a folder that exists and can be written to.");
        }
    }

    /** The format of the ending of a file's name, or a finding with those there are. */
    public static RunFormat require(Path file) {
        String name = String.valueOf(file.getFileName()).toLowerCase(Locale.ROOT);
        return FORMATS.stream().filter(f -> f.endings().stream().anyMatch(name::endsWith)).findFirst()
                .orElseThrow(() -> FindingException.of(file.toString(), "The file extension does not match a format.",
                        "Use " + FORMATS.stream().map(f -> f.endings().getFirst()).collect(Collectors.joining(", ")) + "."));
    }

    /** Some columns over a span of time. */
    public static Samples part(Samples all, List<String> names, double from, double to) {
        return SampleStore.of(new RunData(names.stream().mapToInt(all::indexOf).filter(i -> i >= 0).mapToObj(i -> all.series(i, from, to))
                .toList()));
    }
}
