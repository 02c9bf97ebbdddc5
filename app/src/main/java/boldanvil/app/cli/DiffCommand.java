package boldanvil.app.cli;

import boldanvil.core.compare.Change;
import boldanvil.core.compare.ProjectDiff;
import boldanvil.core.compare.Revisions;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import java.nio.file.Files;
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

/** Compares two projects, or a project with an earlier revision of itself. */
@Command(name = "diff", mixinStandardHelpOptions = true, description = "Compares two projects: blocks, wires, values and all else. "
        + "Exit 1 when they differ.")
final class DiffCommand implements Callable<Integer> {
    @Parameters(index = "0", paramLabel = "OLDER", description = "A project's folder, or PROJECT@REVISION for a revision of the Git "
            + "repository it lies in.")
    private String older;

    @Parameters(index = "1", paramLabel = "NEWER", description = "As OLDER.")
    private String newer;

    @Option(names = "--layout", description = "Report what differs only in the drawing too.")
    private boolean layout;

    @Mixin
    private JsonOption json;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        List<Change> changes = ProjectDiff.of(read(older), read(newer)).stream().filter(c -> layout || !c.layout()).toList();
        if (json.isJson()) {
            json.print(changes.stream().map(DiffCommand::json).toList());
        } else if (changes.isEmpty()) {
            spec.commandLine().getOut().println("No differences.");
        } else {
            changes.forEach(c -> spec.commandLine().getOut().println(c.place().text() + ": " + c.text()));
            spec.commandLine().getOut().println(changes.size() + (changes.size() == 1 ? " difference." : " differences."));
        }
        return changes.isEmpty() ? 0 : 1;
    }

    private static Project read(String text) {
        int at = text.lastIndexOf('@');
        return at <= 0 || Files.isDirectory(Path.of(text)) ? ProjectReader.read(Path.of(text))
                : Revisions.read(Path.of(text.substring(0, at)), text.substring(at + 1));
    }

    private static Map<String, Object> json(Change c) {
        Map<String, Object> m = new LinkedHashMap<>();
        m.put("kind", c.kind().label());
        m.put("what", c.what());
        m.put("place", c.place().text());
        m.put("item", c.item());
        m.put("before", c.before());
        m.put("after", c.after());
        m.put("layout", c.layout());
        return m;
    }
}
