package boldanvil.app.cli;

import boldanvil.core.bench.Sweep;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.files.TextsHash;
import boldanvil.core.quantity.Variables;
import boldanvil.core.study.Shards;
import boldanvil.core.study.Shards.Shard;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
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

    @Mixin
    private PointOptions choice;

    @Option(names = "--shard", paramLabel = "K/N",
            description = "Runs every N-th point from the K-th on, for one of N machines; 'merge' puts "
            + "the files together.")
    private String shard;

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
        var all = choice.points(variables);
        var share = shard == null ? new Shard(1, 1) : Shard.of("--shard", shard);
        var numbers = share.runs(all.size());
        var points = numbers.stream().map(n -> all.get(n - 1)).toList();
        var err = spec.commandLine().getErr();
        int tenth = Math.max(1, points.size() / 10);
        var outcomes = Sweep.run(read, rig, Texts.nanos("--for", duration), points, Math.max(1, threads), (done, of) -> {
            if (done % tenth == 0 || done == of) {
                err.println("· " + done + " of " + of + " runs");
                err.flush();
            }
        });
        if (shard != null) {
            String study = TextsHash.of(Map.of("project", TextsHash.of(ProjectWriter.files(read)), "plan", String.join("\n", rig, duration,
                    choice.toString())));
            var csv = Sweep.csv(outcomes);
            var lines = csv.isEmpty() ? csv : Shards.written(study, all.size(), numbers, csv);
            if (file == null) {
                lines.forEach(spec.commandLine().getOut()::println);
            } else {
                Files.write(file, lines);
            }
        } else if (file == null) {
            write(outcomes, spec.commandLine().getOut());
        } else {
            try (var to = new PrintWriter(Files.newBufferedWriter(file, StandardCharsets.UTF_8))) {
                write(outcomes, to);
            }
        }
        outcomes.stream().flatMap(o -> o.findings().stream()).distinct().limit(10).forEach(f -> CommandLineMain.print(err, List.of(f)));
        return outcomes.stream().allMatch(o -> o.courses().isEmpty()) ? 2 : 0;
    }

    private static void write(List<Sweep.Outcome> outcomes, PrintWriter to) {
        Sweep.csv(outcomes).forEach(to::println);
        to.flush();
    }
}
