package boldanvil.app.cli;

import boldanvil.app.shell.BoldAnvil;
import boldanvil.core.finding.FindingException;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import javafx.application.Application;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** Opens the window. */
@Command(name = "open", mixinStandardHelpOptions = true, description = "Opens a project in a window.")
final class OpenCommand implements Callable<Integer> {
    @Parameters(paramLabel = "PROJECT", arity = "0..1", description = "The project's folder.")
    private Path project;

    @Override
    public Integer call() {
        try {
            Application.launch(BoldAnvil.class, project == null ? new String[0] : new String[] {project.toString()});
        } catch (UnsupportedOperationException e) {
            throw FindingException.of("window", "No window can be opened: " + e.getMessage() + ".",
                    "Set DISPLAY, or start through ./bold-anvil demo, which provides its own display.");
        }
        return 0;
    }
}
