package boldanvil.app.cli;

import boldanvil.app.model.Reports;
import boldanvil.core.bench.Progress;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.evidence.CoverageReport;
import boldanvil.core.evidence.JUnitReport;
import boldanvil.core.evidence.Requirements;
import boldanvil.core.evidence.TrialRecord;
import boldanvil.core.evidence.TrialReport;
import boldanvil.core.evidence.TrialRunner;
import boldanvil.core.evidence.TrialStudy;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.farm.Work;
import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Variables;
import boldanvil.core.trial.Trial;
import boldanvil.core.trial.TrialSet;
import boldanvil.core.trial.Verdict;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Runs trials. */
@Command(name = "trial", mixinStandardHelpOptions = true,
        description = "Runs trials and gives their verdicts. The exit status is 0 when all "
        + "passed, 1 when one failed or stayed open, 2 when one could not be run.")
final class TrialCommand implements Callable<Integer> {
    @Parameters(paramLabel = "PATH", arity = "1..*", description = "Project folders, folders of projects, or single files of trials.")
    private List<Path> paths = new ArrayList<>();

    @Option(names = "--rig", paramLabel = "NAME", description = "The rigs to run on; may be repeated. 'all' for each that a trial names. "
            + "Default: the first that a trial names.")
    private List<String> rigs = new ArrayList<>();

    @Option(names = "--tag", paramLabel = "WORD", description = "Runs the trials that have one of these tags; may be repeated.")
    private List<String> tags = new ArrayList<>();

    @Option(names = "--answer", paramLabel = "QUESTION=yes|no", description = "Answers a question of a trial; may be repeated.")
    private Map<String, String> answers = new LinkedHashMap<>();

    @Option(names = "--pace", description = "real: in step with the wall clock; max: as fast as it can. Default: max.")
    private RunCommand.Pace pace = RunCommand.Pace.max;

    @Option(names = "--junit", paramLabel = "PATH",
            description = "Writes a report for build servers: an XML file for each trial into a folder, or "
            + "one file where the path ends in .xml.")
    private Path junit;

    @Option(names = "--html", paramLabel = "FILE", description = "Writes a report that opens without network.")
    private Path html;

    @Option(names = "--pdf", paramLabel = "FILE", description = "Writes the report as PDF.")
    private Path pdf;

    @Option(names = "--matrix", paramLabel = "FILE", description = "Writes which requirement was shown by what, as CSV.")
    private Path matrix;

    @Option(names = "--coverage", paramLabel = "FILE", description = "Notes how much of the parts runs, on rigs of models, and "
            + "writes it as CSV: outcomes, conditions and table entries of each block. The reports have it, too.")
    private Path coverage;

    @Mixin
    private PointOptions choice;

    @Mixin
    private WorkerOptions where;

    @Option(names = "--out", paramLabel = "FILE", description = "With --vary: writes the verdict of each run as CSV.")
    private Path out;

    @Option(names = "--list", description = "Lists the trials and checks their texts, but runs none.")
    private boolean list;

    @Mixin
    private JsonOption json;

    @Spec
    private CommandSpec spec;

    /** A trial of a project on a rig. */
    private record Job(Path folder, Project project, Trial trial, String rig) {}

    @Override
    public Integer call() throws IOException {
        List<Job> jobs = new ArrayList<>();
        for (Path p : paths) {
            jobs.addAll(jobs(p));
        }
        if (jobs.isEmpty()) {
            throw FindingException.of(paths.getFirst().toString(), "There is no trial to run.",
                    "Name a folder with a project that has trials, other tags, or another rig.");
        }
        if (list) {
            return list(jobs);
        }
        if (!choice.isEmpty()) {
            return study(jobs);
        }
        List<TrialRecord> records = new ArrayList<>();
        var out = spec.commandLine().getOut();
        for (Job j : jobs) {
            var r = TrialRunner.run(j.project(), j.trial().name(), j.rig(), options(j), Progress.NONE, _ -> { });
            records.add(r);
            if (!json.isJson()) {
                print(r, out);
            }
            if (junit != null && !isFile(junit)) {
                Files.createDirectories(junit);
                Files.writeString(junit.resolve("TEST-" + JUnitReport.name(r) + ".xml"), JUnitReport.suite(r), StandardCharsets.UTF_8);
            }
        }
        report(jobs, records);
        if (json.isJson()) {
            json.print(records.stream().map(TrialCommand::told).toList());
        } else {
            out.println(TrialReport.counts(records));
            CoverageReport.merged(records).forEach((part, c) -> {
                if (!c.blocks().isEmpty()) {
                    out.println("coverage of " + part + ": " + CoverageReport.text(c.total()));
                }
            });
            out.flush();
        }
        return records.stream().anyMatch(r -> r.verdict() == Verdict.ERROR) ? 2
                : records.stream().allMatch(r -> r.verdict() == Verdict.PASSED) ? 0 : 1;
    }

    /** Runs one trial with many values. */
    private int study(List<Job> jobs) throws IOException {
        if (jobs.size() != 1) {
            throw FindingException.of("--vary", jobs.size() + " trials are chosen, but values vary for one.",
                    "Name the file of a trial, and one rig.");
        }
        Job j = jobs.getFirst();
        var points = choice.points(Variables.resolve(j.project().variableTexts()).values());
        boolean here = j.project().rig(j.rig()).stream().noneMatch(Rig::needsBench);
        var err = spec.commandLine().getErr();
        var options = options(j);
        Map<Verdict, Integer> counts = new EnumMap<>(Verdict.class);
        try (var to = out == null ? null : new PrintWriter(Files.newBufferedWriter(out, StandardCharsets.UTF_8))) {
            var lines = to == null ? spec.commandLine().getOut() : to;
            where.each(Work.trial(j.project(), j.trial().name(), j.rig(), options.answers()),
                    TrialStudy.runs(j.project(), j.trial().name(), j.rig(), options), here ? Integer.MAX_VALUE : 1, points,
                    TrialStudy.Outcome.class, err, o -> {
                        if (counts.isEmpty()) {
                            lines.println(TrialStudy.csvHead(o));
                        }
                        counts.merge(o.verdict(), 1, Integer::sum);
                        lines.println(TrialStudy.csvLine(o));
                    });
            lines.flush();
        }
        int passed = counts.getOrDefault(Verdict.PASSED, 0);
        err.println(passed + " of " + points.size() + " runs passed");
        err.flush();
        return counts.containsKey(Verdict.ERROR) ? 2 : passed == points.size() ? 0 : 1;
    }

    private void report(List<Job> jobs, List<TrialRecord> records) {
        var requirements = Requirements.of(jobs.stream().map(Job::project).distinct().toList());
        var names = jobs.stream().map(j -> j.project().name()).distinct().toList();
        var report = new TrialReport("Trials of " + (names.size() == 1 ? names.getFirst() : names.size() + " projects"), records,
                requirements);
        if (junit != null && isFile(junit)) {
            Reports.whole(junit, beside -> Files.writeString(beside, JUnitReport.suites(records)));
        }
        if (html != null) {
            Reports.whole(html, beside -> Files.writeString(beside, report.html()));
        }
        if (pdf != null) {
            Reports.trials(report, pdf);
        }
        if (coverage != null) {
            CoverageReport.table(records).writeCsv(coverage);
        }
        if (matrix != null) {
            requirements.matrix(records).writeCsv(matrix);
        }
    }

    private static boolean isFile(Path junitReport) {
        return junitReport.toString().endsWith(".xml");
    }

    private TrialRunner.Options options(Job j) {
        Map<String, Boolean> given = new LinkedHashMap<>();
        answers.forEach((q, a) -> {
            if (!a.equals("yes") && !a.equals("no")) {
                throw FindingException.of("--answer", "'" + a + "' is neither yes nor no.", "Write --answer 'QUESTION=yes'.");
            }
            given.put(q, a.equals("yes"));
        });
        return new TrialRunner.Options(j.folder().resolve("build"), given, false, pace == RunCommand.Pace.real)
                .withCoverage(coverage != null);
    }

    private List<Job> jobs(Path path) throws IOException {
        List<Job> jobs = new ArrayList<>();
        if (Files.isRegularFile(path) && path.getFileName().toString().endsWith(Trial.ENDING)) {
            Path folder = path.toAbsolutePath().getParent().getParent();
            String name = path.getFileName().toString();
            return jobs(folder, ProjectReader.read(folder), name.substring(0, name.length() - Trial.ENDING.length()));
        }
        if (Files.isRegularFile(path.resolve("project.json"))) {
            return jobs(path, ProjectReader.read(path), "");
        }
        if (!Files.isDirectory(path)) {
            throw FindingException.of(path.toString(), "There is no such project or trial.", "Name a project's folder, or a file "
                    + "that ends in " + Trial.ENDING + ".");
        }
        try (var inside = Files.list(path)) {
            for (Path p : inside.sorted().toList()) {
                if (Files.isRegularFile(p.resolve("project.json"))) {
                    jobs.addAll(jobs(p, ProjectReader.read(p), ""));
                }
            }
        }
        return jobs;
    }

    private List<Job> jobs(Path folder, Project project, String only) {
        List<Job> jobs = new ArrayList<>();
        for (Trial t : new TrialSet(project.trials()).all()) {
            if (!only.isEmpty() && !t.name().equals(only) || !tags.isEmpty() && t.tags().stream().noneMatch(tags::contains)) {
                continue;
            }
            List<String> suited = t.suitedRigs(project);
            if (rigs.contains("all")) {
                suited.forEach(r -> jobs.add(new Job(folder, project, t, r)));
            } else if (rigs.isEmpty()) {
                jobs.add(new Job(folder, project, t, suited.isEmpty() ? "" : suited.getFirst()));
            } else {
                rigs.stream().filter(suited::contains).forEach(r -> jobs.add(new Job(folder, project, t, r)));
            }
        }
        return jobs;
    }

    private int list(List<Job> jobs) {
        var out = spec.commandLine().getOut();
        boolean wrong = false;
        for (Job j : jobs) {
            var findings = TrialRunner.check(j.project(), j.trial().name(), j.rig());
            out.printf("%s · %s on %s: %s%n", j.project().name(), j.trial().name(), j.rig(), j.trial().title());
            CommandLineMain.print(out, findings);
            wrong |= !findings.isEmpty();
        }
        return wrong ? 2 : 0;
    }

    private static void print(TrialRecord r, PrintWriter out) {
        out.printf(Locale.ROOT, "%-6s %s · %s on %s, %d of %d expectations, %.3f s simulated in %.3f s%s%n", r.verdict().label(),
                r.made().getOrDefault("project", ""), r.trial().name(), r.rig(),
                r.passed(), r.expectations().size(), r.seconds(),
                r.wallSeconds(), r.exact() ? "" : ", wall clock: another run may differ");
        r.failures().forEach(f -> out.println("       " + f));
        out.flush();
    }

    private static Map<String, Object> told(TrialRecord r) {
        Map<String, Object> one = new LinkedHashMap<>();
        one.put("trial", r.trial().name());
        one.put("title", r.trial().title());
        one.put("rig", r.rig());
        one.put("verdict", r.verdict().label());
        one.put("seconds", r.seconds());
        one.put("exact", r.exact());
        one.put("covers", r.trial().covers());
        one.put("steps", r.steps());
        one.put("findings", r.findings().stream().map(Object::toString).toList());
        one.put("made", r.made());
        return one;
    }
}
