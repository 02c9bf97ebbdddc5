package boldanvil.app.cli;

import boldanvil.app.model.Reports;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.review.Review;
import boldanvil.core.sheet.SheetFile;
import boldanvil.core.sheet.SheetSource;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Writes a project, or one of its sheets, as a document. */
@Command(name = "report", mixinStandardHelpOptions = true, description = "Writes a project as one PDF: sheets, variables, patch, clock, "
        + "rigs, sizes and findings; or one sheet as SVG, PDF or PNG.")
final class ReportCommand implements Callable<Integer> {
    @Parameters(index = "0", paramLabel = "PROJECT", description = "The project's folder.")
    private Path project;

    @Parameters(index = "1", paramLabel = "FILE", description = "The file to write.")
    private Path file;

    @Option(names = "--sheet", paramLabel = "TITLE",
            description = "Only this sheet, by the last part of its title, such as 'current loop'.")
    private String sheet;

    @Override
    public Integer call() {
        var review = Review.of(ProjectReader.read(project));
        if (sheet == null) {
            Reports.project(review, file);
            return 0;
        }
        var scenes = SheetFile.all(SheetSource.of(review));
        var one = scenes.entrySet().stream().filter(e -> e.getKey().equals(sheet) || e.getKey().endsWith(" › " + sheet)).findFirst()
                .orElseThrow(() -> FindingException.of("--sheet", "There is no sheet '" + sheet + "'.",
                        "Sheets are: " + String.join(", ", scenes.keySet()) + "."));
        Reports.sheet(one.getKey(), one.getValue(), file);
        return 0;
    }
}
