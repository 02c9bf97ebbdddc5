package boldanvil.app.cli;

import boldanvil.core.finding.Finding;
import boldanvil.core.runs.RunShelf;
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

/** Lists the recorded runs of a project. */
@Command(name = "runs", mixinStandardHelpOptions = true,
        description = "Lists the recorded runs of a project, newest first, with the project, build and rig of each.")
final class RunsCommand implements Callable<Integer> {
    @Parameters(paramLabel = "PROJECT", description = "The project's folder.")
    private Path project;

    @Option(names = "--find", paramLabel = "WORDS",
            description = "Only runs whose rig, name, note, devices or changes contain all of these words.")
    private String find = "";

    @Mixin
    private JsonOption json;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        List<Finding> problems = new ArrayList<>();
        var entries = new RunShelf(project.resolve("runs")).list(problems).stream().filter(e -> e.note().matches(find)).toList();
        var out = spec.commandLine().getOut();
        if (json.isJson()) {
            List<Object> all = new ArrayList<>();
            for (var e : entries) {
                Map<String, Object> one = new LinkedHashMap<>();
                one.put("id", e.id());
                one.put("folder", e.folder().toString());
                one.put("note", e.note());
                all.add(one);
            }
            json.print(all);
        } else {
            for (var e : entries) {
                var n = e.note();
                out.printf(Locale.ROOT, "%-36s %10.3f s  %-10s %s%s%s%n", e.id(), n.seconds(), n.rig(), n.starred() ? "★ " : "", n.name(),
                        n.whole() ? "" : "  (cut off)");
            }
            if (entries.isEmpty()) {
                out.println("No runs found.");
            }
        }
        CommandLineMain.print(spec.commandLine().getErr(), problems);
        return 0;
    }
}
