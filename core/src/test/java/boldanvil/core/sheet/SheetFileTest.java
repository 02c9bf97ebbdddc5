package boldanvil.core.sheet;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.diagram.Look;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Side;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.report.PdfBook;
import boldanvil.core.review.Review;
import boldanvil.core.sheet.SheetScene.PortKind;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Stock;
import boldanvil.core.stock.Values;
import boldanvil.core.testing.PartBuilder;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import javax.xml.parsers.DocumentBuilderFactory;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Sheets in files say what sheets in the window say. */
class SheetFileTest {
    private static final Path FONTS = Path.of("../app/src/main/resources/boldanvil/app/fonts");
    private static final Project LOCK = ProjectReader.read(Path.of("../demo/larkmere-lock"));

    private static PdfBook.Fonts fonts() throws Exception {
        return new PdfBook.Fonts(Files.readAllBytes(FONTS.resolve("IBMPlexSans_400Regular.ttf")),
                Files.readAllBytes(FONTS.resolve("IBMPlexSans_600SemiBold.ttf")),
                Files.readAllBytes(FONTS.resolve("IBMPlexMono_400Regular.ttf")));
    }

    @Test
    void everySheetOfEveryDemoIsWellFormedSvgByDayAndNight() throws Exception {
        var widths = new FontWidths(fonts());
        for (String demo : new String[] {"larkmere-lock", "gate-drive", "beacon", "workboat", "paddle-modes", "motor-position",
                "lamp-charger",
            "gate-network", "paddle-network", "lift-platform", "shore-plants", "level-hold", "lock-sequence"}) {
            var source = SheetSource.of(Review.of(ProjectReader.read(Path.of("../demo", demo))));
            for (var e : SheetFile.all(source).entrySet()) {
                for (boolean night : new boolean[] {false, true}) {
                    String svg = SheetFile.svg(e.getValue(), widths, night);
                    var tree = DocumentBuilderFactory.newInstance().newDocumentBuilder()
                            .parse(new ByteArrayInputStream(svg.getBytes(StandardCharsets.UTF_8)));
                    int texts = tree.getElementsByTagName("text").getLength();
                    assertThat(texts).as(e.getKey()).isGreaterThanOrEqualTo(e.getValue().nodes().size());
                    assertThat(svg).contains(Ink.PAPER.hex(night)).doesNotContain("NaN");
                }
            }
        }
    }

    @Test
    void greekLettersAndUnitsStandInABook(@TempDir Path folder) throws Exception {
        Project p = PartBuilder.project(List.of(new PartBuilder("p").block("ω*", "inlet").block("torque τ", "tap", "unit=kΩ")
                .wire("ω*.y", "torque τ.u").part()));
        var source = SheetSource.of(p, LoweredSystem.of(p), List.of());
        Path file = folder.resolve("greek.pdf");
        try (var book = new PdfBook("Greek", fonts())) {
            for (var e : SheetFile.all(source).entrySet()) {
                SheetFile.pdf(book, e.getKey(), e.getValue());
            }
            book.save(file);
        }
        try (var document = Loader.loadPDF(file.toFile())) {
            assertThat(new PDFTextStripper().getText(document)).contains("ω*", "torque τ", "records kΩ").doesNotContain("?");
        }
    }

    @Test
    void aBookHasEverySheetWithItsTexts(@TempDir Path folder) throws Exception {
        var source = SheetSource.of(Review.of(LOCK));
        Path file = folder.resolve("lock.pdf");
        var all = SheetFile.all(source);
        try (var book = new PdfBook("Lock", fonts())) {
            for (var e : all.entrySet()) {
                SheetFile.pdf(book, e.getKey(), e.getValue());
            }
            book.save(file);
        }
        try (var read = Loader.loadPDF(file.toFile())) {
            assertThat(read.getNumberOfPages()).isEqualTo(all.size());
            assertThat(new PDFTextStripper().getText(read)).contains("current loop", "Paddle controller", "Kp_i + Ki_i/s");
        }
    }

    @Test
    void widthsOfTextsAreThoseOfTheFont() throws Exception {
        var widths = new FontWidths(fonts());
        // Every letter of a monospaced font is as wide.
        assertThat(widths.width("iiii", Pen.Lettering.MONO, 12)).isEqualTo(widths.width("MMMM", Pen.Lettering.MONO, 12));
        assertThat(widths.width("ab", Pen.Lettering.SANS, 12)).isCloseTo(widths.width("a", Pen.Lettering.SANS, 12)
                + widths.width("b", Pen.Lettering.SANS, 12), org.assertj.core.api.Assertions.within(1e-9));
        assertThat(widths.width("x", Pen.Lettering.SANS, 24)).isEqualTo(2 * widths.width("x", Pen.Lettering.SANS, 12));
    }

    @Test
    void everyPictureOfTheStockStaysInItsRoom() {
        for (var type : Stock.all()) {
            var picture = type.picture(new Values(new Settings(type, Map.of()), Map.of()));
            for (var shape : picture.shapes()) {
                if (shape instanceof boldanvil.core.stock.Picture.Line l) {
                    for (int i = 0; i < l.x().length; i++) {
                        assertThat(l.x()[i]).as(type.id()).isBetween(0.0, 1.0);
                        assertThat(l.y()[i]).as(type.id()).isBetween(0.0, 1.0);
                    }
                }
            }
        }
    }

    @Test
    void pictureFollowTheParameters() {
        var transfer = Stock.find("transfer").orElseThrow();
        var known = new Values(new Settings(transfer, Map.of("num", "[K]", "den", "[0.15, 1]")), Map.of());
        assertThat(transfer.picture(known).shapes()).containsExactly(new boldanvil.core.stock.Picture.Fraction("…", "0.15 s + 1"));
        var inZ = Stock.find("transfer in z").orElseThrow();
        assertThat(inZ.picture(new Values(new Settings(inZ, Map.of("b", "[0, 2]", "a", "[1, -0.5]")), Map.of())).shapes())
                .containsExactly(new boldanvil.core.stock.Picture.Fraction("2 z⁻¹", "1 − 0.5 z⁻¹"));
        var poles = Stock.find("zero-pole").orElseThrow();
        assertThat(poles.picture(new Values(new Settings(poles, Map.of("zeros", "[-2]", "poles", "[0, -1]")), Map.of())).shapes())
                .containsExactly(new boldanvil.core.stock.Picture.Fraction("(s + 2)", "s(s + 1)"));
    }

    @Test
    void aPlateIsTurnedMirroredAndResized() {
        var ref = new SheetRef("controller", "current-loop");
        String id = LOCK.sheet(ref).orElseThrow().blocks().stream().filter(b -> b.name().equals("error")).findFirst().orElseThrow().id();
        for (Look look : List.of(Look.PLAIN.mirroredOnce(), Look.PLAIN.turnedOnce(), Look.PLAIN.sized(240, 120))) {
            var p = LOCK.change(ref, s -> s.change(id, b -> b.looking(look)));
            var node = SheetScene.of(SheetSource.of(Review.of(p)), ref, "controller/current loop").node(id).orElseThrow();
            Side side = node.ports(PortKind.INPUT).getFirst().side();
            assertThat(side).isEqualTo(look.mirrored() ? Side.RIGHT : look.turn() == 1 ? Side.TOP : Side.LEFT);
            assertThat(node.width()).isEqualTo(look.width() > 0 ? 240 : SheetScene.Node.WIDTH);
            node.ports().forEach(q -> {
                var at = node.at(q);
                assertThat(at.x() % 10).isZero();
                assertThat(at.y() % 10).isZero();
                assertThat(at.x()).isBetween(node.x(), node.x() + node.width());
                assertThat(at.y()).isBetween(node.y(), node.y() + node.height());
            });
        }
    }

    @Test
    void aLayoutFollowsTheWiresAndCoversNothing() {
        var source = SheetSource.of(Review.of(LOCK));
        for (var scene : SheetFile.all(source).values()) {
            var places = AutoLayout.of(scene, java.util.Set.of());
            assertThat(places).hasSize(scene.nodes().size() < 2 ? 0 : scene.nodes().size());
            for (var a : scene.nodes()) {
                for (var b : scene.nodes()) {
                    if (a != b && !places.isEmpty()) {
                        var p = places.get(a.id());
                        var q = places.get(b.id());
                        boolean apart = p.x() + a.width() <= q.x() || q.x() + b.width() <= p.x() || p.y() + a.height() <= q.y()
                                || q.y() + b.height() <= p.y();
                        assertThat(apart).as("%s and %s", a.title(), b.title()).isTrue();
                    }
                }
            }
        }
    }
}
