package boldanvil.app.cli;

import boldanvil.core.bench.Sweep;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.files.TextsHash;
import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Variables;
import boldanvil.core.study.Sampling;
import boldanvil.core.study.Sampling.Correlation;
import boldanvil.core.study.Shards;
import boldanvil.core.study.Shards.Shard;
import boldanvil.core.study.Spread;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.regex.Pattern;
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

    @Option(names = "--method", paramLabel = "WAY", description = "How the points of --sample lie: random, latin hypercube or sobol. With "
            + "this option a value may be spread as normal(MEAN, DEVIATION), too.")
    private String method;

    @Option(names = "--correlate", paramLabel = "A,B=R",
            description = "With --method: two values go together, with this correlation. May be "
            + "repeated.")
    private List<String> correlate = new ArrayList<>();

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
        var all = points(variables);
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
                    vary.toString(), Integer.toString(sample), String.valueOf(method), correlate.toString(), Long.toString(seed))));
            var lines = Shards.written(study, all.size(), numbers, Sweep.csv(outcomes));
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

    private List<Map<String, Double>> points(Map<String, Quantity> variables) {
        if (method == null) {
            List<Sweep.Axis> axes = vary.stream().map(v -> axis(v, variables)).toList();
            return sample > 0 ? Sweep.sample(axes, sample, seed) : Sweep.grid(axes);
        }
        Map<String, Spread> spreads = new LinkedHashMap<>();
        vary.forEach(v -> {
            int equals = v.indexOf('=');
            String name = equals < 1 ? v : v.substring(0, equals).strip();
            spreads.put(name, Spread.of(name, equals < 1 ? "" : v.substring(equals + 1), variables));
        });
        return Sampling.labelled("--method", method).points(spreads, correlate.stream().map(SweepCommand::correlation).toList(), sample,
                seed);
    }

    private static Correlation correlation(String text) {
        var m = Pattern.compile("([^,=]+),([^,=]+)=(.+)").matcher(text);
        try {
            if (m.matches()) {
                return new Correlation(m.group(1).strip(), m.group(2).strip(), Double.parseDouble(m.group(3)));
            }
        } catch (IllegalArgumentException e) {
            // Said below.
        }
        throw FindingException.of("--correlate", "'" + text + "' is not a correlation.",
                "Write two names and a number from -1 to 1: A,B=0.8.");
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
