package boldanvil.app.cli;

import boldanvil.app.model.Diagnostics;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Spec;

/** Prints what a report of a failure needs. */
@Command(name = "diagnostics", mixinStandardHelpOptions = true, description =
        "Prints versions, machine, tools and the end of the log, for a report of a failure.")
final class DiagnosticsCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        var out = spec.commandLine().getOut();
        out.println(Diagnostics.machine());
        out.print(Diagnostics.log());
        return 0;
    }
}
