package boldanvil.app.cli;

import boldanvil.core.control.DeviceRegistry;
import boldanvil.core.finding.FindingException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** Finds devices. */
@Command(name = "devices", mixinStandardHelpOptions = true,
        description = "Lists the devices and stand-ins that can be reached on this machine: their identity and what they run.")
final class DevicesCommand implements Callable<Integer> {
    @Mixin
    private JsonOption json;

    @Option(names = "--stop", paramLabel = "PROCESS",
            description = "End the process with this number and the devices in it. The list shows the numbers.")
    private Long stop;

    @Option(names = "--reset", paramLabel = "PROCESS", description = "Restart the programs of this process's devices.")
    private Long reset;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        var out = spec.commandLine().getOut();
        if (stop != null || reset != null) {
            long process = stop != null ? stop : reset;
            var entry = DeviceRegistry.entries().stream().filter(e -> e.pid() == process).findFirst()
                    .orElseThrow(() -> FindingException.of("process " + process,
                    "There is no such process.", "Take the number from the list of devices."));
            try (var control = entry.connect(2_000)) {
                control.ask(stop != null ? "end" : "reset", Map.of());
            }
            return 0;
        }
        List<DeviceRegistry.Found> found = DeviceRegistry.devices();
        if (json.isJson()) {
            json.print(found.stream().map(DevicesCommand::fields).toList());
            return 0;
        }
        for (var d : found) {
            out.printf(Locale.ROOT, "%-8d %-12s serial %s, firmware %s: %s, %s of rig %s, '%s', %.1f s, %s%n", d.process().pid(),
                    d.title(), d.serial(), d.firmware(),
                    d.running() ? "running" : "stopped", d.part(), d.rig(), d.project(), d.seconds(), d.connected() ? "connected"
                    : "standalone");
        }
        if (found.isEmpty()) {
            out.println("No device responds. Deploying a rig with a device starts its stand-in.");
        }
        return 0;
    }

    private static Map<String, Object> fields(DeviceRegistry.Found d) {
        Map<String, Object> m = new LinkedHashMap<>();
        m.put("process", d.process().pid());
        m.put("board", d.board());
        m.put("serial", d.serial());
        m.put("firmware", d.firmware());
        m.put("project", d.project());
        m.put("rig", d.rig());
        m.put("part", d.part());
        m.put("build", d.build());
        m.put("running", d.running());
        m.put("connected", d.connected());
        m.put("seconds", d.seconds());
        return m;
    }
}
