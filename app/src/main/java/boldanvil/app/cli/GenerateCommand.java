package boldanvil.app.cli;

import boldanvil.core.bench.RigStarter;
import boldanvil.core.build.Builder;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.review.Review;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Writes generated C. */
@Command(name = "generate", mixinStandardHelpOptions = true, description = "Writes the C code of a rig's code and device parts, or of "
        + "all controllers, one folder each.")
final class GenerateCommand implements Callable<Integer> {
    @Parameters(paramLabel = "PROJECT", description = "The project's folder.")
    private Path project;

    @Option(names = "--rig", description = "The rig whose parts are generated; without it, all controllers as plain C.")
    private String rigName;

    @Option(names = "--out", required = true, paramLabel = "DIR", description = "Where to write.")
    private Path out;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        var read = ProjectReader.read(project);
        var review = Review.of(read.rig(rigName).map(read::as).orElse(read)).orThrow();
        Rig rig = rigName == null ? new Rig("plain", "", Rig.Terminals.IDEAL, Map.of()) : review.rig(rigName);
        List<String> parts = rigName == null
                ? review.project().parts().stream().filter(p -> p.kind() == Part.Kind.CONTROLLER).map(Part::id).toList()
                : rig.places().entrySet().stream().filter(e -> e.getValue().mode() != Rig.Mode.MODEL).map(Map.Entry::getKey)
                        .toList();
        for (String part : parts) {
            var files = RigStarter.sources(review, rig, part).files();
            Builder.write(files, out.resolve(part));
            files.forEach(f -> spec.commandLine().getOut().println(out.resolve(part).resolve(f.name())));
        }
        return 0;
    }
}
