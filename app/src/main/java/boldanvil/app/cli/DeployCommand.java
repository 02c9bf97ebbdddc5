package boldanvil.app.cli;

import boldanvil.core.bench.BenchRun;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.control.DeviceFault;
import boldanvil.core.control.DeviceRegistry;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Puts a rig's images on its devices. */
@Command(name = "deploy", mixinStandardHelpOptions = true,
        description = "Builds a rig, finds its devices, checks identity and link, downloads and verifies. With --standalone the rig is "
        + "started and keeps running without the window; 'devices' lists it, 'run --attach' reconnects to it.")
final class DeployCommand implements Callable<Integer> {
    @Parameters(paramLabel = "PROJECT", description = "The project's folder.")
    private Path project;

    @Option(names = "--rig", required = true, description = "The rig to deploy.")
    private String rig;

    @Option(names = "--standalone", description = "Start the rig and leave it running.")
    private boolean standalone;

    @Option(names = "--fault", paramLabel = "PART=FAULT",
            description = "A fault for its stand-in to simulate: unplugged, wrong identity; of a microcontroller also verify failure, "
            + "busy link, brown-out.")
    private Map<String, String> faults = new LinkedHashMap<>();

    @Mixin
    private JsonOption json;

    @Option(names = {"-v", "--verbose"}, description = "Print the log.")
    private boolean verbose;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        var out = spec.commandLine().getOut();
        Map<String, DeviceFault> played = new LinkedHashMap<>();
        faults.forEach((part, text) -> played.put(part, DeviceFault.labelled("--fault", text)));
        var options = new RunOptions(Long.MAX_VALUE, 1, List.of(), project.resolve("build"), played);
        var read = ProjectReader.read(project);
        if (standalone) {
            DeviceRegistry.devices().stream().filter(d -> d.rig().equals(rig) && d.project().equals(read.name())
                    && (d.running() || d.connected())).findFirst().ifPresent(d -> {
                throw FindingException.of(Place.rig(rig, d.part()), d.title() + " is already running this rig, in process " + d.process()
                        .pid() + ".",
                        "End it with 'devices --stop " + d.process().pid() + "', or connect to it with 'run --attach'.");
            });
        }
        Progress progress = json.isJson() ? Progress.NONE : new LogProgress(out, verbose);
        try (var run = RigStarter.prepare(read, rig, options, progress)) {
            if (!(run instanceof BenchRun bench)) {
                throw FindingException.of(Place.rig(rig), "Every part of this rig is a model; there is nothing to deploy.",
                        "Choose a rig with a device.");
            }
            Map<String, Object> result = new LinkedHashMap<>();
            result.put("rig", rig);
            Map<String, Object> images = new LinkedHashMap<>();
            run.images().forEach((part, image) -> images.put(part, Map.of("sha256", image.sha256(), "build", image.sources(), "bytes",
                    image.bytes())));
            result.put("images", images);
            if (standalone) {
                run.start();
                bench.leave();
                result.put("process", DeviceRegistry.devices().stream().filter(d -> d.rig().equals(rig) && !d.connected())
                        .map(d -> d.process().pid()).findFirst().orElse(0L));
            }
            if (json.isJson()) {
                json.print(result);
            } else {
                out.println(standalone ? "Rig " + rig + " keeps running." : "Deployed, not started.");
            }
        }
        return 0;
    }
}
