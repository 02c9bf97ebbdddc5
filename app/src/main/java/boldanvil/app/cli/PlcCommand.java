package boldanvil.app.cli;

import boldanvil.core.bench.PlcProcess;
import boldanvil.core.files.SafeFile;
import boldanvil.core.finding.FindingException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Runs the PLC stand-in by itself. */
@Command(name = "plc", mixinStandardHelpOptions = true,
        description = "Starts a simulated Tongs PLC-24, downloads a program in Structured Text "
        + "and runs it, until the input ends. Other programs reach it over OPC UA and Modbus TCP.")
final class PlcCommand implements Callable<Integer> {
    private static final long LONGEST = 4_000_000;

    @Parameters(paramLabel = "PROGRAM", arity = "0..1", description = "File with the program; without it, the one the folder keeps.")
    private Path program;

    @Option(names = "--opcua", paramLabel = "PORT", defaultValue = "4840", description =
            "Port of its OPC UA server; 0 for any, -1 for none. Default ${DEFAULT-VALUE}.")
    private int opcUa;

    @Option(names = "--modbus", paramLabel = "PORT", defaultValue = "5020", description =
            "Port of its Modbus server; 0 for any, -1 for none. Default ${DEFAULT-VALUE}.")
    private int modbus;

    @Option(names = "--address", defaultValue = "127.0.0.1", paramLabel = "ADDRESS", description =
            "Address at which its servers listen. Default: this machine only.")
    private String address;

    @Option(names = "--user", paramLabel = "NAME=PASSWORD", description = "A user who may write over OPC UA; may be repeated.")
    private Map<String, String> users = new LinkedHashMap<>();

    @Option(names = "--anonymous-writes", description = "Anyone may write over OPC UA.")
    private boolean anonymousWrites;

    @Option(names = "--folder", paramLabel = "DIR", description = "Where it keeps program, retained values and certificates.")
    private Path folder;

    @Option(names = "--for", paramLabel = "TIME", description = "How long it runs; without it, until the input ends.")
    private String time;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() throws Exception {
        Map<String, Object> settings = new LinkedHashMap<>();
        settings.put("opcua", opcUa);
        settings.put("modbus", modbus);
        settings.put("bind", address);
        settings.put("users", users);
        settings.put("anonymousWrites", anonymousWrites);
        if (folder != null) {
            settings.put("folder", folder.toAbsolutePath().toString());
        }
        var out = spec.commandLine().getOut();
        try (var plc = PlcProcess.start(settings)) {
            if (program != null) {
                plc.control().ask("download", Map.of("text", SafeFile.text(program, LONGEST)));
                plc.control().ask("run", Map.of());
            }
            var status = plc.control().ask("status", Map.of());
            out.println("Tongs PLC-24: " + status.path("mode").asString("") + (status.path("program").asString("").isEmpty() ? ""
                    : ", program " + status.path("program").asString("")));
            List.of(plc.opcUa(), plc.modbus()).stream().filter(e -> e.port() > 0).forEach(e -> out.println("  " + e));
            out.flush();
            if (time != null) {
                Thread.sleep(Texts.nanos("--for", time) / 1_000_000);
            } else {
                Inputs.untilEnd();
            }
            var end = plc.control().ask("status", Map.of());
            end.path("tasks").forEach(t -> out.println("  task " + t.path("name").asString("") + ": " + t.path("scans").asLong()
                    + " scans, "
                    + t.path("overruns").asLong() + " overruns"));
            if (end.path("mode").asString("").equals("FAULT")) {
                throw FindingException.of("PLC", end.path("reason").asString(""), "Correct the program, then start it again.");
            }
        }
        return 0;
    }
}
