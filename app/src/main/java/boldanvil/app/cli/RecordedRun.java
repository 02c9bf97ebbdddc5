package boldanvil.app.cli;

import boldanvil.core.finding.FindingException;
import boldanvil.core.samples.Column;
import boldanvil.core.samples.Samples;
import boldanvil.core.transfer.RunImport;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** The part of a recorded run a command works on. */
final class RecordedRun {
    @Parameters(index = "0", paramLabel = "RUN", description = "A run's folder, or a file of samples: CSV or HDF5.")
    private Path run;

    @Option(names = "--tap", paramLabel = "TAP", description = "Only this tap; may be repeated.")
    private List<String> taps = new ArrayList<>();

    @Option(names = "--from", paramLabel = "TIME", description = "First instant.")
    private String from;

    @Option(names = "--to", paramLabel = "TIME", description = "Last instant.")
    private String to;

    /** Name of the run's folder or file. */
    String name() {
        return run.getFileName().toString();
    }

    /** Opens the samples of the whole run. */
    Samples open() {
        return open(run);
    }

    /** Opens a run's folder or a file. */
    static Samples open(Path run) {
        Path samples = run.resolve("samples.h5");
        return RunImport.open(Files.isDirectory(run) ? Files.exists(samples) ? samples : run.resolve("samples.csv") : run);
    }

    /** The first instant, in seconds. */
    double begin(Samples samples) {
        return from == null ? samples.begin() : Texts.number("--from", from, Map.of(), "s");
    }

    /** The last instant, in seconds. */
    double end(Samples samples) {
        return to == null ? samples.end() : Texts.number("--to", to, Map.of(), "s");
    }

    /** Names of the taps asked for; all where none is. */
    List<String> taps(Samples samples) {
        return named(samples, taps);
    }

    /** These names, or all where there are none; each must be there. */
    static List<String> named(Samples samples, List<String> taps) {
        List<String> all = samples.columns().stream().map(Column::name).toList();
        taps.stream().filter(t -> samples.indexOf(t) < 0).findFirst().ifPresent(t -> {
            throw FindingException.of("--tap", "The run has no tap '" + t + "'.", "It has: " + String.join(", ", all) + ".");
        });
        return taps.isEmpty() ? all : taps;
    }
}
