package boldanvil.app.cli;

import boldanvil.app.model.Reports;
import boldanvil.app.model.RunPlots;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.finding.FindingException;
import boldanvil.core.samples.Column;
import boldanvil.core.samples.Samples;
import boldanvil.core.transfer.RunExport;
import boldanvil.core.transfer.RunImport;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Writes a recorded run, or a part of it, for other tools. */
@Command(name = "export", mixinStandardHelpOptions = true,
        description = "Writes a recorded run for other tools; the file extension sets the format: "
        + ".csv, .h5, .vcd, or a chart as .svg or .pdf.")
final class ExportCommand implements Callable<Integer> {
    @Parameters(index = "0", paramLabel = "RUN", description = "A run's folder, or a file of samples: CSV or HDF5.")
    private Path run;

    @Parameters(index = "1", paramLabel = "FILE", description = "The file to write.")
    private Path file;

    @Option(names = "--tap", paramLabel = "TAP", description = "Only this tap; may be repeated.")
    private List<String> taps = new ArrayList<>();

    @Option(names = "--from", paramLabel = "TIME", description = "First instant.")
    private String from;

    @Option(names = "--to", paramLabel = "TIME", description = "Last instant.")
    private String to;

    @Spec
    private CommandSpec spec;

    /** Opens a run's folder or a file. */
    static Samples open(Path run) {
        Path samples = run.resolve("samples.h5");
        return RunImport.open(Files.isDirectory(run) ? Files.exists(samples) ? samples : run.resolve("samples.csv") : run);
    }

    /** Names of taps as asked for; all where none is. */
    static List<String> named(Samples samples, List<String> taps) {
        taps.stream().filter(t -> samples.indexOf(t) < 0).findFirst().ifPresent(t -> {
            throw FindingException.of("--tap", "The run has no tap '" + t + "'.",
                    "It has: " + String.join(", ", samples.columns().stream().map(Column::name).toList()) + ".");
        });
        return taps.isEmpty() ? samples.columns().stream().map(Column::name).toList() : taps;
    }

    @Override
    public Integer call() {
        try (Samples samples = open(run)) {
            double a = from == null ? samples.begin() : Texts.number("--from", from, Map.of(), "s");
            double b = to == null ? samples.end() : Texts.number("--to", to, Map.of(), "s");
            var names = named(samples, taps);
            String name = file.toString();
            if (name.endsWith(".svg") || name.endsWith(".pdf")) {
                var charts = names.stream().map(n -> new Chart(n, samples.columns().get(samples.indexOf(n)).unit(), List.of(n))).toList();
                Reports.plot(RunPlots.of(run.getFileName().toString(), charts, List.of(new RunPlots.Shown("", samples, 0)), a,
                        Math.max(b, a + 1e-9)), file);
            } else {
                RunExport.write(RunExport.part(samples, names, a, b), file);
            }
        }
        spec.commandLine().getOut().println("Wrote " + file + ".");
        return 0;
    }
}
