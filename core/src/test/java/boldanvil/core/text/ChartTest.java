package boldanvil.core.text;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.files.ProjectReader;
import boldanvil.core.sheet.ChartPicture;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;

/** A chart as pieces of its text, and as a picture of which it is another view. */
class ChartTest {
    private static final String TEXT = """
            VAR_INPUT go : BOOL; END_VAR
            VAR_OUTPUT y : BOOL; END_VAR
            INITIAL_STEP rest:
            END_STEP
            STEP left: y(N); END_STEP
            STEP right: y(D, T#2s); END_STEP
            STEP done: END_STEP
            TRANSITION FROM rest TO (left, right) := go AND NOT y; END_TRANSITION
            TRANSITION FROM (left, right) TO done := left.T > T#1s; END_TRANSITION
            TRANSITION FROM done TO rest := TRUE; END_TRANSITION
            """;

    private static Chart chart(String text) {
        return Chart.of(text).orElseThrow();
    }

    @Test
    void stepsTransitionsAndActionsAreRead() {
        var c = chart(TEXT);
        assertThat(c.readable()).isTrue();
        assertThat(c.steps()).extracting(Chart.Step::name).containsExactly("rest", "left", "right", "done");
        assertThat(c.steps().getFirst().initial()).isTrue();
        assertThat(c.step("RIGHT").orElseThrow().actions()).containsExactly(new Chart.Association("y", "D", "T#2s"));
        assertThat(c.transitions()).extracting(Chart.Transition::condition).containsExactly("go AND NOT y", "left.T > T#1s", "TRUE");
        assertThat(c.transitions().get(1).from()).containsExactly("left", "right");
        assertThat(Chart.of("VAR_INPUT u : INT; END_VAR VAR_OUTPUT y : INT; END_VAR y := u;")).isEmpty();
    }

    @Test
    void editsOfThePictureAreEditsOfTheText() {
        var c = chart(TEXT);
        var other = chart(c.condition(c.transitions().get(2), "NOT go"));
        assertThat(other.transitions().get(2).condition()).isEqualTo("NOT go");
        assertThat(c.condition(c.transitions().get(2), "TRUE")).isEqualTo(TEXT);
        var renamed = chart(c.renamed(c.step("left").orElseThrow(), "port"));
        assertThat(renamed.step("left")).isEmpty();
        assertThat(renamed.transitions().get(1).condition()).isEqualTo("port.T > T#1s");
        assertThat(renamed.renamed(renamed.step("port").orElseThrow(), "left")).isEqualTo(TEXT);
        var added = chart(c.added(c.step("done").orElseThrow(), "extra"));
        assertThat(added.readable()).isTrue();
        assertThat(added.transitions().getLast().to()).containsExactly("extra");
        var gone = chart(added.without(added.step("extra").orElseThrow()));
        assertThat(gone.steps()).hasSize(4);
        assertThat(gone.transitions()).hasSize(3);
        assertThat(chart(c.connected(c.step("done").orElseThrow(), c.step("left").orElseThrow())).transitions()).hasSize(4);
        assertThat(chart(c.without(c.transitions().get(2))).transitions()).hasSize(2);
    }

    @Test
    void noTwoPiecesOfThePictureOverlap() {
        var demo = ProjectReader.read(Path.of("../demo/paddle-modes")).part("modes").orElseThrow().main().blocks().stream()
                .filter(b -> b.type().equals("modes")).findFirst().orElseThrow().settings().get("text");
        for (String text : new String[] {TEXT, demo, chart(demo).added(chart(demo).step("control").orElseThrow(), "more")}) {
            var picture = new ChartPicture(chart(text));
            assertThat(picture.steps()).hasSameSizeAs(chart(text).steps());
            assertThat(picture.bars()).hasSameSizeAs(chart(text).transitions());
            for (var a : picture.steps()) {
                assertThat(a.x()).isBetween(0.0, picture.width());
                assertThat(a.y()).isBetween(0.0, picture.height());
                for (var b : picture.steps()) {
                    assertThat(a == b || !b.contains(a.x() + 1, a.y() + 1)).as("%s in %s", a, b).isTrue();
                }
                assertThat(picture.bars()).as("%s", a).noneMatch(bar -> a.contains(bar.x(), bar.y()));
            }
        }
    }

    @Test
    void aBrokenTextStillHasAPicture() {
        for (String text : new String[] {"INITIAL_STEP a: END_STEP TRANSITION FROM a TO nowhere := TRUE; END_TRANSITION",
            "INITIAL_STEP a: END_STEP TRANSITION FROM a TO", "STEP b: END_STEP", "INITIAL_STEP"}) {
            Chart.of(text).ifPresent(c -> assertThat(new ChartPicture(c).steps()).hasSameSizeAs(c.steps()));
        }
    }
}
