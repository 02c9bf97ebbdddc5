package boldanvil.app.cli;

import boldanvil.core.bench.Sweep;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Variables;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
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

/** Runs a rig many times with other values. */
@Command(name = "sweep", mixinStandardHelpOptions = true,
        description = "Runs a rig over a grid or a random sample of values, on all cores, and writes the "
        + "results of each tap as CSV.")
final class SweepCommand implements Callable<Integer> {
    @Parameters(paramLabel = "PROJECT", description = "The project's folder.")
    private Path project;

    @Option(names = "--rig", required = true, description = "The rig to run; all its parts are models.")
    private String rig;

    @Option(names = "--for", required = true, paramLabel = "TIME", description = "Simulated time of each run, such as 4s.")
    private String duration;

    @Option(names = "--vary", required = true, paramLabel = "NAME=VALUES",
            description = "A project variable or part.tunable, and its values: a list [1, 2, 5], or "
            + "from, to and number as 1:5:9. May be repeated.")
    private List<String> vary = new ArrayList<>();

    @Option(names = "--sample", paramLabel = "N", description = "N random points in the ranges, instead of the grid.")
    private int sample;

    @Option(names = "--seed", defaultValue = "1", description = "Seed of the sample; the same gives the same points.")
    private long seed;

    @Option(names = "--out", paramLabel = "FILE", description = "Where to write; standard output if omitted.")
    private Path file;

    @Option(names = "--threads", description = "Runs at the same time; default all cores.")
    private int threads = Runtime.getRuntime().availableProcessors();

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() throws IOException {
        var read = ProjectReader.read(project);
        var variables = Variables.resolve(read.variableTexts()).values();
        List<Sweep.Axis> axes = vary.stream().map(v -> axis(v, variables)).toList();
        var points = sample > 0 ? Sweep.sample(axes, sample, seed) : Sweep.grid(axes);
        var err = spec.commandLine().getErr();
        int tenth = Math.max(1, points.size() / 10);
        var outcomes = Sweep.run(read, rig, Texts.nanos("--for", duration), points, Math.max(1, threads), (done, all) -> {
            if (done % tenth == 0 || done == all) {
                err.println("· " + done + " of " + all + " runs");
                err.flush();
            }
        });
        if (file == null) {
            write(outcomes, spec.commandLine().getOut());
        } else {
            try (var to = new PrintWriter(Files.newBufferedWriter(file, StandardCharsets.UTF_8))) {
                write(outcomes, to);
            }
        }
        outcomes.stream().flatMap(o -> o.findings().stream()).distinct().limit(10).forEach(f -> CommandLineMain.print(err, List.of(f)));
        return outcomes.stream().allMatch(o -> o.courses().isEmpty()) ? 2 : 0;
    }

    private static Sweep.Axis axis(String text, Map<String, Quantity> variables) {
        int equals = text.indexOf('=');
        if (equals < 1) {
            throw FindingException.of("--vary", "'" + text + "' has no values.", "Write NAME=[1, 2, 5] or NAME=1:5:9.");
        }
        return Sweep.Axis.of(text.substring(0, equals).strip(), text.substring(equals + 1), variables);
    }

    private static void write(List<Sweep.Outcome> outcomes, PrintWriter to) {
        Sweep.csv(outcomes).forEach(to::println);
        to.flush();
    }
}
