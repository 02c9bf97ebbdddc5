package boldanvil.app.cli;

import boldanvil.app.model.Reports;
import boldanvil.app.model.RunPlots;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.samples.Samples;
import boldanvil.core.transfer.RunExport;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Writes a recorded run, or a part of it, for other tools. */
@Command(name = "export", mixinStandardHelpOptions = true,
        description = "Writes a recorded run for other tools; the file extension sets the format: "
        + ".csv, .h5, .vcd, or a chart as .svg or .pdf.")
final class ExportCommand implements Callable<Integer> {
    @Mixin
    private RecordedRun run;

    @Parameters(index = "1", paramLabel = "FILE", description = "The file to write.")
    private Path file;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        try (Samples samples = run.open()) {
            double a = run.begin(samples);
            double b = run.end(samples);
            var names = run.taps(samples);
            String name = file.toString();
            if (name.endsWith(".svg") || name.endsWith(".pdf")) {
                var charts = names.stream().map(n -> new Chart(n, samples.columns().get(samples.indexOf(n)).unit(), List.of(n))).toList();
                Reports.plot(RunPlots.of(run.name(), charts, List.of(new RunPlots.Shown("", samples, 0)), a,
                        Math.max(b, a + 1e-9)), file);
            } else {
                RunExport.write(RunExport.part(samples, names, a, b), file);
            }
        }
        spec.commandLine().getOut().println("Wrote " + file + ".");
        return 0;
    }
}
