package boldanvil.core.drawing;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.diagram.BenchLayout.Binding;
import boldanvil.core.diagram.BenchLayout.Drawing;
import boldanvil.core.diagram.BenchLayout.Effect;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class LiveDrawingTest {
    private static final String SVG =
            "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"10\" height=\"10\"><rect id=\"tank\" y=\"10\" height=\"80\" "
            + "fill=\"#000000\"/>"
            + "<g id=\"arm\" data-pivot=\"3 4\" transform=\"scale(2)\"/><text id=\"t\">?</text></svg>";

    private static String at(double v, Binding... bindings) {
        return LiveDrawing.of(SVG, "test", List.of(bindings)).at(_ -> v);
    }

    private static Binding binding(String element, Effect effect, String from, String to) {
        return new Binding(element, effect, "p.x", 0, 2, from, to);
    }

    @Test
    void eachEffectFollowsItsSignal() {
        assertThat(at(1, binding("arm", Effect.MOVE_X, "0", "30"))).contains("transform=\"scale(2) translate(15.0 0)\"");
        assertThat(at(0.5, binding("arm", Effect.MOVE_Y, "10", "-30"))).contains("translate(0 0.0)");
        assertThat(at(2, binding("arm", Effect.TURN, "0", "-75"))).contains("rotate(-75.0 3 4)");
        assertThat(at(0.5, binding("tank", Effect.LEVEL, "0", "1"))).contains("y=\"70.0\"").contains("height=\"20.0\"");
        assertThat(at(1, binding("tank", Effect.COLOUR, "#000000", "#FF8000"))).contains("fill=\"#804000\"");
        assertThat(at(0.4, binding("tank", Effect.VISIBLE, "", ""))).contains("display=\"none\"");
        assertThat(at(1.6, binding("tank", Effect.VISIBLE, "", ""))).contains("display=\"inline\"");
        assertThat(at(1.25, binding("t", Effect.TEXT, "%.1f m", ""))).contains(">1.3 m<");
    }

    @Test
    void valuesBeyondTheEndsStayThere() {
        assertThat(at(99, binding("arm", Effect.MOVE_X, "0", "30"))).contains("translate(30.0 0)");
        assertThat(at(-99, binding("arm", Effect.MOVE_X, "0", "30"))).contains("translate(0.0 0)");
        assertThat(at(Double.NaN, binding("t", Effect.TEXT, "%.1f", ""))).contains(">?<");
    }

    @Test
    void severalEffectsOfOneElementAddUpAndDoNotPileUp() {
        var d = LiveDrawing.of(SVG, "test", List.of(binding("arm", Effect.MOVE_X, "0", "2"), binding("arm", Effect.TURN, "0", "90")));
        d.at(_ -> 1);
        assertThat(d.at(_ -> 2)).contains("transform=\"scale(2) translate(2.0 0) rotate(90.0 3 4)\"");
    }

    @Test
    void aPatternThatIsNoneIsNotUsed() {
        assertThat(at(1, binding("t", Effect.TEXT, "%s %n %d", ""))).contains(">1.000<");
    }

    @Test
    void aMissingElementIsADoubt() {
        assertThat(LiveDrawing.of(SVG, "test", List.of(binding("none", Effect.TURN, "0", "1"))).findings()).singleElement()
                .satisfies(f -> assertThat(f.cause()).contains("no element 'none'"));
    }

    @Test
    void nothingReachesOutsideTheFile(@TempDir Path folder) throws IOException {
        String hostile = "<svg xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\" "
                + "onload=\"x()\"><script>x()</script><image href=\"http://a/b.png\"/>"
                + "<use xlink:href=\"file:///etc/passwd\"/><use href=\"#a\"/><foreignObject/></svg>";
        String clean = LiveDrawing.of(hostile, "test", List.of()).at(_ -> 0);
        assertThat(clean).doesNotContain("script").doesNotContain("onload").doesNotContain("passwd").doesNotContain("http://a/")
                .contains("href=\"#a\"");
        assertRefused("<!DOCTYPE svg [<!ENTITY x SYSTEM \"file:///etc/passwd\">]><svg>&x;</svg>", "DOCTYPE");
        assertRefused("<svg", "no SVG");
        assertRefused("<html/>", "no SVG: its root is 'html'");
        assertRefused("<svg>" + "<g>".repeat(300) + "</g>".repeat(300) + "</svg>", "too deep");
        assertThatThrownBy(() -> LiveDrawing.read(folder, new Drawing("d", "../outside.svg", List.of())))
                .isInstanceOf(FindingException.class).hasMessageContaining("outside the folder");
        assertThatThrownBy(() -> LiveDrawing.read(folder, new Drawing("d", "none.svg", List.of()))).isInstanceOf(FindingException.class);
        Files.write(folder.resolve("big.svg"), new byte[5 << 20]);
        assertThatThrownBy(() -> LiveDrawing.read(folder, new Drawing("d", "big.svg", List.of()))).hasMessageContaining("4 MiB");
    }

    private static void assertRefused(String svg, String why) {
        String text = svg.contains("html") || svg.contains("xmlns") ? svg : svg.replace("<svg>",
                "<svg xmlns=\"http://www.w3.org/2000/svg\">");
        assertThatThrownBy(() -> LiveDrawing.of(text, "test", List.of())).isInstanceOf(FindingException.class)
                .hasMessageContaining(why.equals("too deep") ? "lie too deep" : why);
    }

    @Test
    void theDrawingThatShipsFitsItsBindings() {
        Path demo = Path.of("../demo/larkmere-lock");
        var drawing = ProjectReader.read(demo).bench().drawings().getFirst();
        var live = LiveDrawing.read(demo, drawing);
        assertThat(live.findings()).isEmpty();
        Map<String, Double> values = Map.of("chamber.level", 0.9, "drive.position", 0.3);
        assertThat(live.at(t -> values.getOrDefault(t, Double.NaN))).contains("0.300 m").contains("0.90 m").contains("translate(0 -21.0)");
    }

    private static String cleaned(String element) {
        return LiveDrawing.of("<svg xmlns=\"http://www.w3.org/2000/svg\">" + element + "</svg>", "test", List.of()).at(_ -> 0);
    }

    @org.junit.jupiter.params.ParameterizedTest
    @org.junit.jupiter.params.provider.ValueSource(strings = {"<line x2='1' stroke-dasharray='0.0000001'/>",
            "<line x2='1' stroke-dasharray='1e-9,1e-9'/>", "<line x2='1' style='stroke-dasharray: 1e-12 1e-12'/>",
        "<line x2='1' stroke-dasharray='0 0'/>", "<style>line { stroke-dasharray: 0.0001 }</style>"})
    void dashesThatAPainterWouldDrawForeverAreTakenOut(String element) {
        assertThat(cleaned(element)).doesNotContain("stroke-dash");
    }

    @Test
    void ordinaryDashesAndCoordinatesStay() {
        assertThat(cleaned("<line x1='-3.5' x2='1e3' stroke-dasharray='4 2'/>")).contains("stroke-dasharray=\"4 2\"")
                .contains("x1=\"-3.5\"").contains("x2=\"1e3\"");
        assertThat(cleaned("<path d='M 0 0 L 1e9 1e300'/>")).doesNotContain("1e300");
        assertThat(cleaned("<rect width='1e12' height='4'/>")).doesNotContain("1e12").contains("height=\"4\"");
    }

    @Test
    void aDrawingOutsideTheFolderOrBehindAPipeIsRefused(@TempDir Path folder) throws Exception {
        for (String name : List.of("../a.svg", "/etc/hostname", "a\0b.svg", "")) {
            assertThatThrownBy(() -> LiveDrawing.read(folder, new Drawing("d", name, List.of()))).isInstanceOf(FindingException.class);
        }
        assertThat(new ProcessBuilder("mkfifo", folder.resolve("pipe.svg").toString()).start().waitFor()).isZero();
        assertThatThrownBy(() -> LiveDrawing.read(folder, new Drawing("d", "pipe.svg", List.of()))).isInstanceOf(FindingException.class)
                .hasMessageContaining("not a regular file");
        Files.createSymbolicLink(folder.resolve("link.svg"), folder.resolve("../outside.svg"));
        assertThatThrownBy(() -> LiveDrawing.read(folder, new Drawing("d", "link.svg", List.of()))).isInstanceOf(FindingException.class)
                .hasMessageContaining("outside the project");
    }
}
