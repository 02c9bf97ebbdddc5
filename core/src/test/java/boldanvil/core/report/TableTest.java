package boldanvil.core.report;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class TableTest {
    private static final Path FONTS = Path.of("../app/src/main/resources/boldanvil/app/fonts");

    @TempDir
    private Path folder;

    private static Table table(int rows) {
        List<List<String>> all = new ArrayList<>();
        for (int i = 0; i < rows; i++) {
            all.add(List.of("N" + i, "a wire that is called, say, \"number " + i
                    + "\" and whose text is so long that it has to be broken into several lines to fit onto the paper", "µs → Ω"));
        }
        return new Table("Wires", List.of("A note."), List.of("Pin", "Wire", "Unit"), all);
    }

    private void pdf(Table t, String name) throws IOException {
        PdfBook.write(t, folder.resolve(name), new PdfBook.Fonts(Files.readAllBytes(FONTS.resolve("IBMPlexSans_400Regular.ttf")),
                Files.readAllBytes(FONTS.resolve("IBMPlexSans_600SemiBold.ttf")),
                Files.readAllBytes(FONTS.resolve("IBMPlexMono_400Regular.ttf"))));
    }

    @Test
    void csvQuotesWhatNeedsIt() {
        String[] lines = table(2).csv().split("\r\n");
        assertThat(lines).hasSize(3);
        assertThat(lines[0]).isEqualTo("Pin,Wire,Unit");
        assertThat(lines[1]).startsWith("N0,\"a wire that is called, say, \"\"number 0\"\" and").endsWith(",µs → Ω");
    }

    @Test
    void aRowOfAnotherWidthIsRefused() {
        assertThatThrownBy(() -> new Table("t", List.of(), List.of("a", "b"), List.of(List.of("1"))))
                .isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    void everyPageOfALongTableHasItsHeadings() throws IOException {
        pdf(table(60), "long.pdf");
        try (var d = Loader.loadPDF(folder.resolve("long.pdf").toFile())) {
            assertThat(d.getNumberOfPages()).isBetween(3, 8);
            assertThat(d.getDocumentInformation().getTitle()).isEqualTo("Wires");
            for (int page = 1; page <= d.getNumberOfPages(); page++) {
                var text = new PDFTextStripper();
                text.setStartPage(page);
                text.setEndPage(page);
                assertThat(text.getText(d)).contains("Pin Wire Unit");
            }
            assertThat(new PDFTextStripper().getText(d)).contains("A note.").contains("N59").contains("µs → Ω");
        }
    }

    @Test
    void whatTheFontCannotPrintDoesNotStopTheRest() throws IOException {
        pdf(new Table("t", List.of(), List.of("Name"), List.of(List.of("lock \uD83D\uDEA2 gate"))), "odd.pdf");
        try (var d = Loader.loadPDF(folder.resolve("odd.pdf").toFile())) {
            assertThat(new PDFTextStripper().getText(d)).contains("lock ? gate");
        }
    }

    @Test
    void aFileThatCannotBeWrittenIsAFindingAndNothingIsLeft() throws IOException {
        Path nowhere = folder.resolve("no such/t.csv");
        assertThatThrownBy(() -> table(1).writeCsv(nowhere)).isInstanceOf(FindingException.class).hasMessageContaining("cannot be written");
        table(1).writeCsv(folder.resolve("t.csv"));
        try (var files = Files.list(folder)) {
            assertThat(files.map(p -> p.getFileName().toString())).containsExactly("t.csv");
        }
    }
}
