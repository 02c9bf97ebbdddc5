package boldanvil.app.cli;

import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.Finding;
import boldanvil.core.review.Review;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import tools.jackson.databind.json.JsonMapper;

/** Reads a project and prints all findings. */
@Command(name = "check", mixinStandardHelpOptions = true, description = "Reads a project and prints its errors and warnings. Exit 2 "
        + "when there is an error.")
final class CheckCommand implements Callable<Integer> {
    @Parameters(paramLabel = "PROJECT", description = "The project's folder.")
    private Path project;

    @Mixin
    private JsonOption json;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        var review = Review.of(ProjectReader.read(project));
        if (json.isJson()) {
            spec.commandLine().getOut().println(json(review.findings()));
        } else if (review.findings().isEmpty()) {
            spec.commandLine().getOut().println(review.project().name() + ": no findings in " + review.project().parts().size()
                    + " parts.");
        } else {
            CommandLineMain.print(review.hasErrors() ? spec.commandLine().getErr() : spec.commandLine().getOut(),
                    review.findings());
        }
        return review.hasErrors() ? 2 : 0;
    }

    private static String json(List<Finding> findings) {
        return new JsonMapper().writeValueAsString(findings.stream().map(f -> Map.of("severity",
                f.severity().label(), "place", f.place().text(), "cause", f.cause(), "cure", f.cure())).toList());
    }
}
