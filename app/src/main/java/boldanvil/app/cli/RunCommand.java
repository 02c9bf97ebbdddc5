package boldanvil.app.cli;

import boldanvil.core.target.TargetLog;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.bench.TargetLogs;
import boldanvil.app.model.Figures;
import boldanvil.core.bench.BenchRun;
import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.control.DeviceRegistry;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.quantity.Units;
import boldanvil.core.transfer.FileRecording;
import boldanvil.core.transfer.RunExport;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
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

/** Runs a rig and records it. */
@Command(name = "run", mixinStandardHelpOptions = true, description = "Runs a rig for a time and records its taps.")
final class RunCommand implements Callable<Integer> {
    enum Pace { real, max }

    @Parameters(paramLabel = "PROJECT", description = "The project's folder.")
    private Path project;

    @Option(names = "--rig", required = true, description = "The rig to run.")
    private String rig;

    @Option(names = "--for", required = true, paramLabel = "TIME", description = "Simulated time to run, such as 4s.")
    private String duration;

    @Option(names = "--set", paramLabel = "PART.TUNABLE=VALUE@TIME", description = "Changes a tunable at a time; may be repeated.")
    private List<String> sets = new ArrayList<>();

    @Option(names = "--settled", paramLabel = "PERIOD",
            description = "Starts in the state that repeats after this period, such as 50us, which is searched before. All parts must be "
                    + "models.")
    private String settled;

    @Option(names = "--record", paramLabel = "FILE",
            description = "Writes all taps to a file; its extension sets the format: .csv, .h5 (HDF5) or .vcd.")
    private Path record;

    @Option(names = "--target-log", paramLabel = "PART=FILE",
            description = "Has the target of a part keep its taps in its own memory at each step, and writes them to a file "
            + "in the end; the formats are those of --record.")
    private Map<String, Path> targetLogs = new LinkedHashMap<>();

    @Option(names = "--log-last", description = "With --target-log: keeps the last steps when the memory is full, not the first.")
    private boolean logLast;

    @Option(names = "--pace", description = "real: in step with the wall clock; max: as fast as it can. Default: real with a "
            + "device, else max.")
    private Pace pace;

    @Option(names = "--attach",
            description = "Reconnect to the rig that is running standalone, measure it for this time, and leave it running.")
    private boolean attach;

    @Mixin
    private JsonOption json;

    @Option(names = {"-v", "--verbose"}, description = "Print the build log.")
    private boolean verbose;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() throws Exception {
        var out = spec.commandLine().getOut();
        var read = started(ProjectReader.read(project));
        if (record != null) {
            Path parent = record.toAbsolutePath().getParent();
            if (parent == null || Files.isDirectory(record)) {
                throw FindingException.of("--record " + record, "This is a folder.", "Name a file.");
            }
            RunExport.require(record);
            if (!Files.isDirectory(parent) || !Files.isWritable(parent)) {
                throw FindingException.of("--record " + record, "There is no folder '" + parent + "' to write to.",
                        "Create it, or name another file.");
            }
        }
        targetLogs.values().forEach(RunExport::require);
        boolean device = read.rig(rig).stream().flatMap(r -> r.places().values().stream())
                .anyMatch(p -> p.mode() == Rig.Mode.DEVICE);
        boolean realTime = pace == null ? device : pace == Pace.real;
        var changes = sets.stream().map(s -> Texts.change(s, read)).toList();
        var options = new RunOptions(Texts.nanos("--for", duration), realTime ? 1 : Double.POSITIVE_INFINITY, changes,
                project.resolve("build"));
        Progress progress = json.isJson() ? Progress.NONE : new LogProgress(out, verbose);
        try (LiveRun run = attach ? attach(read, options) : RigStarter.prepare(read, rig, options, progress)) {
            progress.step(attach ? "Measure for " + duration : "Run for " + duration + (realTime ? " in step with the wall clock"
                    : " as fast as it can"));
            var recording = record == null ? null : new FileRecording(run.store(), record);
            for (var log : targetLogs.entrySet()) {
                logs(run).start(log.getKey(), List.of(), 1, logLast ? TargetLog.Keep.LAST : TargetLog.Keep.FIRST);
            }
            run.start();
            long begin = System.nanoTime();
            if (attach) {
                changes.forEach(c -> run.set(c.address(), c.value()));
                Thread.sleep(options.endNanos() / 1_000_000);
                ((BenchRun) run).leave();
            } else {
                run.awaitEnd();
            }
            double wall = (System.nanoTime() - begin) / 1e9;
            if (recording != null) {
                recording.close();
                recording.failure().ifPresent(f -> CommandLineMain.print(spec.commandLine().getErr(), List.of(f)));
            }
            report(run, wall);
            for (var log : targetLogs.entrySet()) {
                RunExport.write(SampleStore.of(logs(run).upload(log.getKey())), log.getValue());
            }
            if (run.state() == LiveRun.State.LOST) {
                throw new FindingException(run.findings());
            }
            boolean failed = run.findings().stream().anyMatch(Finding::isError) || recording != null && recording.failure().isPresent();
            return failed ? 1 : 0;
        }
    }

    private TargetLogs logs(LiveRun run) {
        return run.targetLogs().orElseThrow(() -> FindingException.of(Place.rig(rig), "No part of this rig runs on a real-time target.",
                "Choose a rig with a target, or leave --target-log out."));
    }

    /** The project with the start that is asked for. */
    private Project started(Project p) {
        return settled == null ? p : p.withRigs(p.rigs().stream().map(r -> r.name().equals(rig) ? r.settled(settled) : r).toList());
    }

    private LiveRun attach(Project read, RunOptions options) {
        var found = DeviceRegistry.devices().stream().filter(d -> d.rig().equals(rig) && d.project().equals(read.name())).findFirst()
                .orElseThrow(() -> FindingException.of(Place.rig(rig), "This rig is not running standalone anywhere.",
                "Start it with 'deploy --standalone'; 'devices' lists what is running."));
        return RigStarter.attach(read, rig, options, found.process());
    }

    private void report(LiveRun run, double wall) {
        var out = spec.commandLine().getOut();
        if (json.isJson()) {
            Map<String, Object> result = new LinkedHashMap<>();
            result.put("rig", rig);
            result.put("seconds", run.seconds());
            result.put("wallSeconds", wall);
            result.put("overruns", run.overruns());
            Map<String, Object> last = new LinkedHashMap<>();
            for (int i = 0; i < run.store().columns().size(); i++) {
                var c = run.store().columns().get(i);
                double v = Units.fromSi(c.unit(), run.store().latest(i));
                last.put(c.name(), Double.isFinite(v) ? v : null);
            }
            result.put("last", last);
            Map<String, Object> instructions = new LinkedHashMap<>();
            run.instructions().forEach((part, i) -> instructions.put(part, Map.of("most", i.most(), "mean", i.mean())));
            result.put("instructions", instructions);
            result.put("findings", run.findings().stream().map(Object::toString).toList());
            json.print(result);
            return;
        }
        out.printf(Locale.ROOT, "%.3f s of simulated time in %.3f s, %s%n", run.seconds(), wall, Figures.count(run.overruns(), "overrun"));
        for (int i = 0; i < run.store().columns().size(); i++) {
            var c = run.store().columns().get(i);
            out.printf(Locale.ROOT, "  %-44s %14.6f %s%n", c.name(), Units.fromSi(c.unit(), run.store().latest(i)), c.unit());
        }
        run.instructions().forEach(
                (part, i) -> out.printf(Locale.ROOT,
                "  %s: %d instructions in the longest step, %.0f in the mean, on the emulated processor%n", part, i.most(), i.mean()));
        CommandLineMain.print(out, run.findings());
    }
}
