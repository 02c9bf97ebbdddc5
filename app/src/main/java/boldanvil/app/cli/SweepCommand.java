package boldanvil.app.cli;

import boldanvil.core.bench.Sweep;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.files.TextsHash;
import boldanvil.core.quantity.Variables;
import boldanvil.core.study.Shards;
import boldanvil.core.study.Shards.Shard;
import boldanvil.core.farm.Work;
import boldanvil.core.finding.Finding;
import java.io.Closeable;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Runs a rig many times with other values. */
@Command(name = "sweep", mixinStandardHelpOptions = true,
        description = "Runs a rig over a grid or a random sample of values, on all cores or by workers, and writes the "
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

    @Mixin
    private WorkerOptions where;

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
        long end = Texts.nanos("--for", duration);
        String study = shard == null ? "" : TextsHash.of(Map.of("project", TextsHash.of(ProjectWriter.files(read)), "plan",
                String.join("\n", rig, duration, choice.toString())));
        try (var lines = new OutcomeLines(file, spec.commandLine().getOut(), study, all.size(), numbers)) {
            where.each(Work.sweep(read, rig, end), Sweep.runs(read, rig, end), Integer.MAX_VALUE, points, Sweep.Outcome.class, err,
                    lines::add);
            CommandLineMain.print(err, lines.findings());
            return lines.isEmpty() ? 2 : 0;
        }
    }

    /** Writes outcomes as they come; only those before the first that has results are kept. */
    private static final class OutcomeLines implements Closeable {
        private static final int MOST_FINDINGS = 10;

        private final PrintWriter to;
        private final boolean isFile;
        private final String study;
        private final int all;
        private final Iterator<Integer> numbers;
        private final List<String> waiting = new ArrayList<>();
        private final Set<Finding> findings = new LinkedHashSet<>();
        private boolean isHeaded;

        OutcomeLines(Path file, PrintWriter out, String study, int all, List<Integer> numbers) throws IOException {
            isFile = file != null;
            to = isFile ? new PrintWriter(Files.newBufferedWriter(file, StandardCharsets.UTF_8)) : out;
            this.study = study;
            this.all = all;
            this.numbers = numbers.iterator();
        }

        void add(Sweep.Outcome o) {
            o.findings().stream().limit(MOST_FINDINGS - findings.size()).forEach(findings::add);
            int number = numbers.next();
            String line = Sweep.csvLine(o);
            waiting.add(study.isEmpty() ? line : Shards.line(number, line));
            if (!isHeaded && !o.courses().isEmpty()) {
                isHeaded = true;
                String head = Sweep.csvHead(o);
                (study.isEmpty() ? List.of(head) : Shards.heads(study, all, head)).forEach(to::println);
            }
            if (isHeaded) {
                waiting.forEach(to::println);
                waiting.clear();
            }
        }

        boolean isEmpty() {
            return !isHeaded;
        }

        List<Finding> findings() {
            return List.copyOf(findings);
        }

        @Override
        public void close() {
            to.flush();
            if (isFile) {
                to.close();
            }
        }
    }
}
