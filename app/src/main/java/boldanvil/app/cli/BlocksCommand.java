package boldanvil.app.cli;

import boldanvil.core.stock.BlockManual;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Spec;

/** Prints the manual of all blocks. */
@Command(name = "blocks", mixinStandardHelpOptions = true, description = "Prints the manual of all blocks as Markdown.")
final class BlocksCommand implements Callable<Integer> {
    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        spec.commandLine().getOut().print(BlockManual.markdown());
        return 0;
    }
}
