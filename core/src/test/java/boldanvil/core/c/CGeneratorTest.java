package boldanvil.core.c;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.escape.Escape;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.output.CodeText;
import boldanvil.core.program.Program;
import boldanvil.core.testing.CompiledC;
import boldanvil.core.testing.PartBuilder;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class CGeneratorTest {
    @TempDir
    private Path folder;

    private static Program demoController() {
        return LoweredSystem.of(ProjectReader.read(Path.of("../demo/larkmere-lock"))).program("controller").orElseThrow();
    }

    private static String source(Program p) {
        return CGenerator.C99.generate(p).get(1).text();
    }

    private static String header(Program p) {
        return CGenerator.C99.generate(p).get(0).text();
    }

    @Test
    void thePartNamesItsFiles() {
        assertThat(CGenerator.C99.generate(demoController())).extracting(GeneratedFile::name)
                .containsExactly("controller.h", "controller.c");
    }

    @Test
    void namesComeFromTheSheet() {
        assertThat(source(demoController())).contains("current_loop_error", "position_loop_speed_limit", "fault_latch");
    }

    @Test
    void everyStatementFollowsACommentWithItsBlock() {
        var file = CGenerator.C99.generate(demoController()).get(1);
        String[] lines = file.text().split("\n");
        String comment = "";
        int statements = 0;
        for (int i = 0; i < lines.length; i++) {
            String place = file.places().get(i + 1);
            if (lines[i].strip().startsWith("/* controller/")) {
                comment = lines[i].strip().replace("/* ", "").replace(" */", "");
            } else if (place != null && place.startsWith("controller/") && lines[i].contains("=")) {
                assertThat(comment).as("line %d: %s", i + 1, lines[i]).isEqualTo(place);
                statements++;
            }
        }
        assertThat(statements).isGreaterThan(30);
    }

    @Test
    void thereIsNoAllocationAndNoGlobalVariable() {
        String text = source(demoController());
        assertThat(text).doesNotContain("malloc").doesNotContain("calloc").doesNotContain("free(");
        assertThat(text.lines().filter(l -> l.matches("^(static )?(?!const)(double|float|bool|u?int\\d+_t) \\w+( =.*)?;.*"))).isEmpty();
    }

    @Test
    void theHeaderTellsUnitsTerminalsAndLimits() {
        String text = header(demoController());
        assertThat(text).contains("[V], analog in", "[rad], encoder in", "[m], 0.0 to 0.6", "PWM out");
    }

    @Test
    void theSignalsOfAStepStayLocalUnlessTheyMustBeSeen() {
        String text = header(demoController());
        assertThat(text).contains("double mean;").doesNotContain("double difference;");
    }

    @Test
    void generatingTwiceGivesTheSame() {
        assertThat(source(demoController())).isEqualTo(source(demoController()));
    }

    @Test
    void namesThatCReservesAreAvoided() throws Exception {
        var p = new PartBuilder("odd").block("double", "constant", "*value=2").block("floor", "gain", "k=3").block("1st", "convert",
                "type=int32", "rounding=down").block("fabs", "abs").block("a b", "gain", "k=2").block("a-b", "gain", "k=2")
                .block("out", "outlet").wire("double.y", "floor.u").wire("floor.y", "fabs.u").wire("fabs.y", "a b.u")
                .wire("a b.y", "1st.u").wire("1st.y", "out.u").wire("fabs.y", "a-b.u");
        // "a b" and "a-b" make the same address, which is a finding; without the second it compiles.
        assertThat(p.lower().findings()).anyMatch(f -> f.cause().contains("this name too"));
        var good = new PartBuilder("odd").block("double", "constant", "*value=2").block("floor", "gain", "k=3").block("1st", "convert",
                "type=int32", "rounding=down").block("fabs", "abs").block("out", "outlet").wire("double.y", "floor.u")
                .wire("floor.y", "fabs.u").wire("fabs.y", "1st.u").wire("1st.y", "out.u").program();
        var command = new java.util.ArrayList<>(List.of("gcc"));
        command.addAll(CompiledC.STRICT);
        assertThat(CompiledC.run(folder, List.of(good), 2, command)).hasSize(3);
    }

    @Test
    void aTextOfASheetCannotEndAComment() {
        assertThat(Escape.cComment("a */ evil(); /* b")).doesNotContain("*/").doesNotContain("/*");
        assertThat(Escape.cComment("two\nlines")).isEqualTo("two lines");
    }

    @Test
    void literalsKeepTheirBits() {
        assertThat(Double.parseDouble(CExpressions.literal(boldanvil.core.program.Type.FLOAT64, 0.1))).isEqualTo(0.1);
        assertThat(CExpressions.literal(boldanvil.core.program.Type.FLOAT32, 0.1)).endsWith("F");
        assertThat(CExpressions.literal(boldanvil.core.program.Type.FLOAT64, Double.NEGATIVE_INFINITY)).isEqualTo("(-(double)INFINITY)");
        assertThat(CExpressions.literal(boldanvil.core.program.Type.FLOAT64, -0.0)).isEqualTo("(-0.0)");
        assertThat(CExpressions.literal(boldanvil.core.program.Type.INT32, Integer.MIN_VALUE)).isEqualTo("INT32_MIN");
        assertThat(CExpressions.literal(boldanvil.core.program.Type.BOOL, 1)).isEqualTo("true");
    }

    @Test
    void theDemoCompilesUnderTheStrictestFlagsAndStaticAnalysisIsSilent() throws IOException, InterruptedException {
        for (GeneratedFile f : CGenerator.C99.generate(demoController())) {
            Files.writeString(folder.resolve(f.name()), f.text());
        }
        var command = new java.util.ArrayList<>(List.of("gcc"));
        command.addAll(CompiledC.STRICT);
        command.addAll(List.of("-c", "controller.c"));
        assertThat(CompiledC.execute(folder, command)).isEmpty();
    }

    @Test
    void linesKnowTheirPlace() {
        var t = new CodeText().line("a").at("part/block").line("b").at(null).line("c").file("x.c");
        assertThat(t.places()).containsOnlyKeys(2).containsEntry(2, "part/block");
        assertThat(t.text()).isEqualTo("a\nb\nc\n");
    }
}
