package boldanvil.app.cli;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import java.io.PrintWriter;
import picocli.CommandLine;
import picocli.CommandLine.Command;

/** The root of all commands. */
@Command(name = "bold-anvil", mixinStandardHelpOptions = true, version = "Bold Anvil 0.1.0",
        description = "Draw controllers, simulate them, put them on devices, drive them live.",
        subcommands = {CheckCommand.class, RunCommand.class, SweepCommand.class, GenerateCommand.class, BuildCommand.class, CompareCommand.class,
            OpenCommand.class, BlocksCommand.class, PatchCommand.class, DeployCommand.class, DevicesCommand.class,
            RunsCommand.class, ExportCommand.class, ImportCommand.class, MeasureCommand.class})
public final class CommandLineMain {
    private CommandLineMain() {}

    /** Runs a command and returns the exit status. */
    public static int execute(PrintWriter out, PrintWriter err, String... args) {
        var line = new CommandLine(new CommandLineMain());
        line.setOut(out);
        line.setErr(err);
        line.setExecutionExceptionHandler((e, command, _) -> {
            if (e instanceof FindingException f) {
                print(err, f.findings());
            } else {
                err.println("error: bold-anvil: This failed: " + Finding.reason(e) + ". Report it together with the project.");
            }
            err.flush();
            return 2;
        });
        int status;
        try {
            status = line.execute(args);
        } catch (StackOverflowError | OutOfMemoryError e) {
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
