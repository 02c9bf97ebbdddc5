package boldanvil.app.cli;

import boldanvil.core.build.Builder;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Rig;
import boldanvil.core.export.Exporter;
import boldanvil.core.export.Exporters;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.review.Review;
import java.nio.file.Path;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Writes the code of parts as files. */
@Command(name = "generate", mixinStandardHelpOptions = true, description = "Writes the code of a rig's code and device parts, or of "
        + "all controllers, one folder each.")
final class GenerateCommand implements Callable<Integer> {
    @Parameters(paramLabel = "PROJECT", description = "The project's folder.")
    private Path project;

    @Option(names = "--rig", description = "The rig whose parts are generated; without it, all controllers for no particular board.")
    private String rigName;

    @Option(names = "--out", required = true, paramLabel = "DIR", description = "Where to write.")
    private Path out;

    @Option(names = "--format", defaultValue = "c", paramLabel = "FORMAT", completionCandidates = Formats.class,
            description = "What to write: ${COMPLETION-CANDIDATES}. Default: ${DEFAULT-VALUE}, C99 source files.")
    private String format;

    @Spec
    private CommandSpec spec;

    /** The formats there are. */
    static final class Formats implements Iterable<String> {
        @Override
        public Iterator<String> iterator() {
            return Exporters.all().stream().map(Exporter::id).iterator();
        }
    }

    @Override
    public Integer call() {
        var exporter = Exporters.require(format);
        var read = ProjectReader.read(project);
        var review = Review.of(read.rig(rigName).map(read::as).orElse(read)).orThrow();
        Rig rig = rigName == null ? new Rig("plain", "", Rig.Terminals.IDEAL, Map.of()) : review.rig(rigName);
        List<String> parts = rigName == null
                ? review.project().parts().stream().filter(p -> p.kind() == Part.Kind.CONTROLLER).map(Part::id).toList()
                : rig.places().entrySet().stream().filter(e -> e.getValue().mode() != Rig.Mode.MODEL).map(Map.Entry::getKey)
                        .toList();
        for (String part : parts) {
            var files = exporter.files(review, rig, part);
            Builder.write(files, out.resolve(part));
            files.forEach(f -> spec.commandLine().getOut().println(out.resolve(part).resolve(f.name())));
        }
        return 0;
    }
}
