package boldanvil.app.cli;

import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.review.Review;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Compiles the code and device parts of a rig. */
@Command(name = "build", mixinStandardHelpOptions = true, description = "Generates and compiles the code and device parts of a "
        + "rig.")
final class BuildCommand implements Callable<Integer> {
    @Parameters(paramLabel = "PROJECT", description = "The project's folder.")
    private Path project;

    @Option(names = "--rig", required = true, description = "The rig to build for.")
    private String rigName;

    @Option(names = {"-v", "--verbose"}, description = "Print the build log.")
    private boolean verbose;

    @Mixin
    private JsonOption json;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        var out = spec.commandLine().getOut();
        var read = ProjectReader.read(project);
        var review = Review.of(read.rig(rigName).map(read::as).orElse(read)).orThrow();
        Rig rig = review.rig(rigName);
        Map<String, Object> images = new LinkedHashMap<>();
        for (var place : rig.places().entrySet()) {
            if (place.getValue().mode() == Rig.Mode.MODEL) {
                continue;
            }
            var progress = json.isJson() ? Progress.NONE : new LogProgress(out, verbose);
            var image = RigStarter.build(review, rig, place.getKey(), project.resolve("build"), progress);
            images.put(place.getKey(), Map.of("file", image.file().toString(), "sha256", image.sha256(), "codeBytes", image.codeBytes(),
                    "ramBytes", image.ramBytes(), "stackBytes", image.sizes().stack(), "fresh", image.fresh(), "compiled",
                    image.compiled()));
            if (!json.isJson()) {
                out.println(place.getKey() + ": " + image.file() + (image.fresh() ? "" : " (unchanged)") + ", code "
                        + image.codeBytes() + " bytes, RAM " + image.ramBytes() + " bytes, stack " + image.sizes()
                        .stack() + " bytes, SHA-256 " + image.sha256());
            }
        }
        if (json.isJson()) {
            json.print(images);
        }
        return 0;
    }
}
