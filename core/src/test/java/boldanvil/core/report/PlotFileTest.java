package boldanvil.core.report;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import javax.xml.parsers.DocumentBuilderFactory;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class PlotFileTest {
    private static final Path FONT = Path.of("../app/src/main/resources/boldanvil/app/fonts/IBMPlexSans_400Regular.ttf");

    @TempDir
    Path folder;

    private static Plot plot() {
        var curve = new Plot.Curve("speed <desk>", "#0B6AA2", new double[0], new double[] {0, 1, 2, 3},
                new double[] {0, 5, Double.NaN, 10});
        var other = new Plot.Curve("speed, code", "#C2570C", new double[] {7, 4}, new double[] {0, 3}, new double[] {0, 10});
        return new Plot("Gate & drive", "time [s]", 0, 4, List.of(new Plot.Pane("Speed [m/s]", 0, 10, List.of(curve, other))));
    }

    @Test
    void theSvgIsWellFormedAndItsPointsLieWhereTheyBelong() throws Exception {
        Path f = folder.resolve("a.svg");
        PlotFile.svg(plot(), f);
        var document = DocumentBuilderFactory.newInstance().newDocumentBuilder().parse(f.toFile());
        assertThat(document.getElementsByTagName("text").item(0).getTextContent()).isEqualTo("Gate & drive");
        String text = Files.readString(f);
        assertThat(text).contains("speed &lt;desk&gt;").contains("stroke-dasharray=\"7 4\"");
        // From 70 to 780 across, from 60 to 240 down: (0, 0) and (1, 5) of the first curve; the gap ends it.
        assertThat(text).contains("points=\"70.00,240.00 247.50,150.00 \"");
        assertThat(text).contains("points=\"70.00,240.00 602.50,60.00 \"");
    }

    @Test
    void thePdfHasItsWords() throws IOException {
        Path f = folder.resolve("a.pdf");
        PlotFile.pdf(plot(), f, Files.readAllBytes(FONT));
        try (var document = Loader.loadPDF(f.toFile())) {
            assertThat(document.getNumberOfPages()).isEqualTo(1);
            assertThat(new PDFTextStripper().getText(document)).contains("Gate & drive").contains("time [s]").contains("Speed [m/s]")
                    .contains("speed, code");
        }
    }

    @Test
    void ticksAreRoundAndWithinTheEnds() {
        assertThat(Ticks.of(0, 4, 8)).containsExactly(0.0, 0.5, 1.0, 1.5, 2.0, 2.5, 3.0, 3.5, 4.0);
        assertThat(Ticks.of(-1.2, 1.1, 4)).containsExactly(-1.0, 0.0, 1.0);
        assertThat(Ticks.of(1, 1, 4)).isEmpty();
        assertThat(Plot.text(0.1 + 0.2)).isEqualTo("0.3");
        assertThat(Plot.text(-1e-17)).isEqualTo("0");
    }

    @Test
    void aFolderThatIsNotThereIsAFinding() {
        assertThatThrownBy(() -> PlotFile.svg(plot(), folder.resolve("none/a.svg"))).isInstanceOf(FindingException.class);
        assertThatThrownBy(() -> PlotFile.pdf(plot(), folder.resolve("none/a.pdf"), Files.readAllBytes(FONT)))
                .isInstanceOf(FindingException.class);
    }
}
