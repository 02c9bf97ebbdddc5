package boldanvil.app.cli;

import boldanvil.app.model.Diagnostics;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.user.Log;
import java.io.PrintWriter;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Supplier;
import picocli.CommandLine;
import picocli.CommandLine.Command;

/** The root of all commands. */
@Command(name = "bold-anvil", mixinStandardHelpOptions = true, version = Diagnostics.VERSION,
        description = "Draw controllers, simulate them, put them on devices, drive them live.")
public final class CommandLineMain {
    /** Every command by its name. Only those that are called for are made: reading the options of all takes longer than most of them. */
    private static final Map<String, Supplier<Object>> COMMANDS = new LinkedHashMap<>();

    static {
        COMMANDS.put("check", CheckCommand::new);
        COMMANDS.put("run", RunCommand::new);
        COMMANDS.put("sweep", SweepCommand::new);
        COMMANDS.put("step", StepCommand::new);
        COMMANDS.put("energy", EnergyCommand::new);
        COMMANDS.put("loop", LoopCommand::new);
        COMMANDS.put("identify", IdentifyCommand::new);
        COMMANDS.put("generate", GenerateCommand::new);
        COMMANDS.put("build", BuildCommand::new);
        COMMANDS.put("plc", PlcCommand::new);
        COMMANDS.put("tags", TagsCommand::new);
        COMMANDS.put("merge", MergeCommand::new);
        COMMANDS.put("worker", WorkerCommand::new);
        COMMANDS.put("trial", TrialCommand::new);
        COMMANDS.put("compare", CompareCommand::new);
        COMMANDS.put("open", OpenCommand::new);
        COMMANDS.put("diff", DiffCommand::new);
        COMMANDS.put("report", ReportCommand::new);
        COMMANDS.put("blocks", BlocksCommand::new);
        COMMANDS.put("patch", PatchCommand::new);
        COMMANDS.put("deploy", DeployCommand::new);
        COMMANDS.put("devices", DevicesCommand::new);
        COMMANDS.put("runs", RunsCommand::new);
        COMMANDS.put("export", ExportCommand::new);
        COMMANDS.put("import", ImportCommand::new);
        COMMANDS.put("measure", MeasureCommand::new);
        COMMANDS.put("diagnostics", DiagnosticsCommand::new);
    }

    private CommandLineMain() {}

    private static CommandLine line(String... args) {
        var line = new CommandLine(new CommandLineMain());
        var one = args.length == 0 ? null : COMMANDS.get(args[0]);
        if (one != null) {
            line.addSubcommand(args[0], one.get());
        } else {
            COMMANDS.forEach((name, command) -> line.addSubcommand(name, command.get()));
        }
        return line;
    }

    /** Runs a command and returns the exit status. */
    public static int execute(PrintWriter out, PrintWriter err, String... args) {
        var line = line(args);
        line.setOut(out);
        line.setErr(err);
        line.setExecutionExceptionHandler((e, command, _) -> {
            if (e instanceof FindingException f) {
                print(err, f.findings());
            } else {
                Log.failed(CommandLineMain.class, e);
                err.println("error: bold-anvil: This failed: " + Finding.reason(e)
                        + ". Report it together with what 'bold-anvil diagnostics' prints.");
            }
            err.flush();
            return 2;
        });
        int status;
        try {
            status = line.execute(args);
        } catch (StackOverflowError | OutOfMemoryError e) {
            Log.failed(CommandLineMain.class, e);
            err.println("error: bold-anvil: This failed: " + Finding.reason(e) + ". Run it in smaller parts, or report the project.");
            status = 2;
        }
        out.flush();
        err.flush();
        return status;
    }

    /** Prints findings, one to a line. */
    static void print(PrintWriter to, Iterable<Finding> findings) {
        findings.forEach(f -> to.println(f.severity().label() + ": " + f));
    }
}
