package boldanvil.app.cli;

import boldanvil.core.bench.Sweep;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.files.TextsHash;
import boldanvil.core.diagram.Project;
import boldanvil.core.escape.Escape;
import boldanvil.core.farm.Crew;
import boldanvil.core.farm.TableStudy;
import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Units;
import boldanvil.core.quantity.Variables;
import boldanvil.core.review.Review;
import boldanvil.core.study.PointSource;
import boldanvil.core.study.RunTable;
import boldanvil.core.study.Sensitivity;
import boldanvil.core.study.Way;
import boldanvil.core.transfer.StudyFile;
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
import java.util.Locale;
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

    @Option(names = "--sensitivity", description = "Chooses the points of --sample so that indices of Sobol follow, and prints them: how "
            + "much each value contributes to the variance of each result.")
    private boolean sensitivity;

    @Option(names = "--worst", paramLabel = "RESULT", description = "Searches the ranges with the runs of --sample, such as --worst "
            + "'greatest drive.position maximum' or 'least gap.width minimum', and prints the worst case.")
    private String worst;

    @Option(names = "--out", paramLabel = "FILE",
            description = "Where to write; standard output if omitted. A name that ends with .h5 makes an HDF5 file.")
    private Path file;

    @Mixin
    private WorkerOptions where;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() throws IOException {
        var read = ProjectReader.read(project);
        var variables = Variables.resolve(read.variableTexts()).values();
        if (sensitivity || worst != null || file != null && StudyFile.isHdf(file)) {
            return table(read, variables);
        }
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

    /** Keeps all runs, because something follows from all of them, or the form of the file asks for it. */
    private int table(Project read, Map<String, Quantity> variables) throws IOException {
        if (shard != null) {
            throw FindingException.of("--shard", "A share of the runs cannot be evaluated or written as HDF5.",
                    "Write shards as CSV, and put them together with 'merge'.");
        }
        String[] goal = worst == null ? new String[] {"", ""} : worst.strip().split("\\s+", 2);
        if (worst != null && (goal.length < 2 || !goal[0].equals("greatest") && !goal[0].equals("least"))) {
            throw FindingException.of("--worst", "'" + worst + "' does not say what to search for.",
                    "Write 'greatest' or 'least', a tap and one of last, minimum, maximum, RMS.");
        }
        Way way = worst != null ? Way.WORST_CASE : sensitivity ? Way.SENSITIVITY : choice.way();
        PointSource source = switch (way) {
            case WORST_CASE -> choice.worstCase(variables, goal[0].equals("greatest"));
            case SENSITIVITY -> choice.sensitivity(variables);
            default -> PointSource.of(choice.points(variables));
        };
        var err = spec.commandLine().getErr();
        var order = new TableStudy.Order(read, rig, "", Texts.nanos("--for", duration), project.resolve("build"),
                Sweep.units(Review.of(read)));
        RunTable table;
        try (var crew = Crew.open(where.where())) {
            table = TableStudy.run(order, source, goal[1], crew, WorkerOptions.lines(err, source.all()), _ -> { });
        }
        if (file != null) {
            StudyFile.write(table, Map.of("project", read.name(), "rig", rig, "trial", "", "way", way.name()), file);
        }
        var out = spec.commandLine().getOut();
        if (sensitivity) {
            indices(table).forEach(out::println);
        }
        if (worst != null) {
            worstCase(table, table.find(goal[1]).orElseThrow(), goal[0].equals("greatest")).forEach(out::println);
        }
        out.flush();
        return 0;
    }

    private static List<String> indices(RunTable table) {
        var names = table.indices(true).stream().map(i -> table.columns().get(i).name()).toList();
        List<String> lines = new ArrayList<>(List.of("result,value,first order,from,to,total,from,to"));
        for (int c : table.indices(false)) {
            for (var i : Sensitivity.of(names, table.values(c))) {
                lines.add(String.format(Locale.ROOT, "%s,%s,%.4f,%.4f,%.4f,%.4f,%.4f,%.4f", Escape.csvText(table.columns().get(c).label()),
                        Escape.csvText(i.name()), i.firstOrder().value(), i.firstOrder().low(), i.firstOrder().high(), i.total().value(),
                        i.total().low(), i.total().high()));
            }
        }
        return lines;
    }

    private static List<String> worstCase(RunTable table, int column, boolean greatest) {
        double[] values = table.values(column);
        int at = 0;
        for (int i = 0; i < values.length && !Double.isNaN(values[at]); i++) {
            if (Double.isNaN(values[i]) || (greatest ? values[i] > values[at] : values[i] < values[at])) {
                at = i;
            }
        }
        String unit = table.columns().get(column).unit();
        List<String> lines = new ArrayList<>();
        lines.add(table.columns().get(column).label() + " = " + (Double.isNaN(values[at]) ? "no result: " + table.note(at)
                : Units.fromSi(unit, values[at]) + (unit.isEmpty() ? "" : " " + unit)) + " in run " + (at + 1));
        table.point(at).forEach((name, v) -> lines.add("  " + name + " = " + v));
        return lines;
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
