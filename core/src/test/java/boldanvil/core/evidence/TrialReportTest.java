package boldanvil.core.evidence;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.bench.Progress;
import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import boldanvil.core.report.PdfBook;
import boldanvil.core.trial.StepResult;
import boldanvil.core.trial.Verdict;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.apache.maven.plugin.surefire.log.api.NullConsoleLogger;
import org.apache.maven.plugins.surefire.report.SurefireReportParser;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is written of two trials on the paddle drive, one of which fails. */
class TrialReportTest {
    private static final String FAILING = """
            trial The paddle is <too> fast & wild
            rigs desk
            covers PD-9
            set panel.enable to on
            expect drive.speed > 10 m/s within 20 ms      [PD-7]
            ask "Is it quiet?"
            expect drive.position between -1 m and 1 m    [PD-1]
            """;
    private static Project project;
    private static List<TrialRecord> records;

    @TempDir
    private Path folder;

    @BeforeAll
    static void run() {
        project = ProjectReader.read(Path.of("../demo/larkmere-lock")).withTrial("wild.trial", FAILING);
        records = List.of(record("wild"), record("paddle-follows"));
    }

    private static TrialRecord record(String trial) {
        return TrialRunner.run(project, trial, "desk", new TrialRunner.Options(Path.of("target"), Map.of(), false, false), Progress.NONE,
                _ -> { });
    }

    @Test
    void theDemoPassesAndTheOtherFailsAsIsExpectedOfThem() {
        assertThat(records).extracting(TrialRecord::verdict).containsExactly(Verdict.FAILED, Verdict.PASSED);
        assertThat(records.getFirst().failures()).singleElement().asString()
                .startsWith("line 5: expect drive.speed > 10 m/s within 20 ms: not");
        assertThat(records.getFirst().courses()).containsOnlyKeys("drive.speed", "drive.position");
    }

    @Test
    void onSimulatedTimeARunIsRepeatedBitForBit() {
        var again = record("wild");
        assertThat(again.exact()).isTrue();
        assertThat(again.steps()).isEqualTo(records.getFirst().steps());
        assertThat(again.courses()).isEqualTo(records.getFirst().courses());
        assertThat(again.made()).isEqualTo(records.getFirst().made());
    }

    @Test
    void mavensOwnParserReadsTheReportForBuildServers() throws Exception {
        for (TrialRecord r : records) {
            Files.writeString(folder.resolve("TEST-" + JUnitReport.name(r) + ".xml"), JUnitReport.suite(r));
        }
        var parser = new SurefireReportParser(List.of(folder.toFile()), new NullConsoleLogger());
        var suites = parser.parseXMLReportFiles();
        assertThat(suites).extracting(s -> s.getNumberOfTests()).containsExactlyInAnyOrder(3, 7);
        var wild = suites.stream().filter(s -> s.getFullClassName().contains("wild")).findFirst().orElseThrow();
        assertThat(wild.getNumberOfFailures()).isEqualTo(1);
        assertThat(wild.getNumberOfSkipped()).isEqualTo(1);
        assertThat(parser.getFailureDetails(suites)).filteredOn(f -> f.hasFailure()).singleElement().satisfies(f -> {
            assertThat(f.getName()).isEqualTo("1: expect drive.speed > 10 m/s within 20 ms [PD-7]");
            assertThat(f.getFailureMessage()).startsWith("not within 0.02 s: drive.speed = ");
        });
        assertThat(JUnitReport.suites(records)).contains("<testsuites>");
    }

    @Test
    void theHtmlHoldsAllItNeedsAndNoMarkupOfOthers() {
        String html = new TrialReport("Trials of Larkmere", records, Requirements.of("id,text\nPD-1,reaches\nPD-2,rests\nPD-3,trips"))
                .html();
        assertThat(html).contains("2 trials: 1 passed, 1 failed", "The paddle is &lt;too&gt; fast &amp; wild", "<svg", "not covered");
        assertThat(html).doesNotContain("<too>");
        assertThat(html.replace("http://www.w3.org/2000/svg", "")).as("nothing is fetched").doesNotContain("http", "src=", "href=");
    }

    @Test
    void theTextOfThePdfCanBeExtracted() throws Exception {
        Path file = folder.resolve("trials.pdf");
        byte[] font = Files.readAllBytes(Path.of("../app/src/main/resources/boldanvil/app/fonts/IBMPlexSans_400Regular.ttf"));
        try (var book = new PdfBook("Trials", new PdfBook.Fonts(font, font, font))) {
            new TrialReport("Trials of Larkmere", records, new Requirements(Map.of())).add(book);
            book.save(file);
        }
        try (var read = Loader.loadPDF(file.toFile())) {
            assertThat(new PDFTextStripper().getText(read)).contains("1 passed, 1 failed", "expect drive.speed > 10 m/s within 20 ms",
                    "PD-7");
        }
    }

    @Test
    void aRequirementIsAsGoodAsTheWorstThatWasShownOfIt() {
        assertThat(Requirements.state("PD-7", "desk", records)).isEqualTo(Requirements.State.FAILED);
        assertThat(Requirements.state("PD-9", "desk", records)).as("covered by the trial as a whole").isEqualTo(Requirements.State.FAILED);
        assertThat(Requirements.state("PD-1", "desk", records)).isEqualTo(Requirements.State.PASSED);
        assertThat(Requirements.state("PD-1", "code", records)).isEqualTo(Requirements.State.NOT_COVERED);
        var matrix = Requirements.of("PD-1,reaches\nX-1,\"flies, too\"").matrix(records);
        assertThat(matrix.columns()).containsExactly("Requirement", "Text", "desk", "Trials");
        assertThat(matrix.rows()).contains(List.of("X-1", "flies, too", "not covered", ""), List.of("PD-7", "", "failed", "wild"));
    }

    @Test
    void requirementsWithoutIdentifierAreRefused() {
        assertThatThrownBy(() -> Requirements.of("id,text\n a b,c")).isInstanceOf(FindingException.class).hasMessageContaining("Line 2");
    }

    @Test
    void aTrialThatDoesNotFitIsAnErrorWithItsLine() {
        var p = project.withTrial("bad.trial", "wait 1 ms\nexpect nothing.there > 1\n");
        var r = TrialRunner.run(p, "bad", "desk", new TrialRunner.Options(folder, Map.of(), false, false), Progress.NONE, _ -> { });
        assertThat(r.verdict()).isEqualTo(Verdict.ERROR);
        assertThat(r.failures()).singleElement().asString().contains("line 2").contains("nothing.there");
        assertThat(r.steps()).isEqualTo(List.<StepResult>of());
    }

    @Test
    void aLimitOfTheBenchThatStopsTheRigFailsTheTrial() {
        var p = project.withTrial("limit.trial", "set panel.enable to on\ninsert fixed at 0 V on drive.shunt A\n"
                + "insert fixed at 3.3 V on drive.shunt B\nwait 1 s\nexpect drive.position > -1 m\n");
        var r = TrialRunner.run(p, "limit", "desk", new TrialRunner.Options(folder, Map.of(), false, false), Progress.NONE, _ -> { });
        assertThat(r.verdict()).isEqualTo(Verdict.FAILED);
        assertThat(r.failures()).anySatisfy(f -> assertThat(f).contains("The run ended before."))
                .anySatisfy(f -> assertThat(f).contains("The rig was stopped"));
    }
}
