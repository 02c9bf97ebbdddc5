package boldanvil.core.text;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.text.PlcProgram.Surroundings;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;

class CrossReferenceTest {
    private static final String TEXT = """
            FUNCTION_BLOCK Ramp
            VAR_INPUT target : REAL; END_VAR
            VAR_OUTPUT y : REAL; END_VAR
            VAR wait : TON; END_VAR
            wait(IN := target > y, PT := T#1s);
            IF wait.Q THEN
                y := target;
            END_IF;
            END_FUNCTION_BLOCK
            PROGRAM Main
            VAR
                left, right : Ramp;
                levels : ARRAY[1..3] OF REAL;
            END_VAR
            left(target := wanted, y => levels[2]);
            right(target := levels[2]);
            END_PROGRAM
            CONFIGURATION c
                VAR_GLOBAL wanted : REAL; END_VAR
                TASK t(INTERVAL := T#10ms, PRIORITY := 1);
                PROGRAM Run WITH t : Main;
            END_CONFIGURATION
            """;

    private static CrossReference of(String text) {
        var program = PlcProgram.of(text, Surroundings.USUAL);
        assertThat(program.mistakes()).isEmpty();
        return CrossReference.of(text, program);
    }

    private static CrossReference.Unit unit(CrossReference r, String name) {
        return r.units().stream().filter(u -> u.name().equals(name)).findFirst().orElseThrow();
    }

    @Test
    void aBlockHasAnInstanceForEachOfItsUses() {
        var r = of(TEXT.replace("VAR\n    left", "VAR_EXTERNAL wanted : REAL; END_VAR\nVAR\n    left"));
        assertThat(unit(r, "Ramp").instances()).containsExactly("Run.left.", "Run.right.");
        assertThat(unit(r, "Main").instances()).containsExactly("Run.");
        var ramp = unit(r, "Ramp");
        var done = r.uses(ramp).stream().filter(u -> u.name().equals("wait.Q")).findFirst().orElseThrow();
        assertThat(done.line()).isEqualTo(6);
        assertThat(r.path(done, "Run.right.")).contains("Run.right.wait.Q");
    }

    @Test
    void everyPlaceOfAValueIsFoundWhereItIsWrittenFirst() {
        var r = of(TEXT.replace("VAR\n    left", "VAR_EXTERNAL wanted : REAL; END_VAR\nVAR\n    left"));
        assertThat(r.where("Run.left.y")).extracting(u -> u.line() + (u.written() ? " written" : ""))
                .containsExactly("7 written", "3", "5", "16");
        assertThat(r.where("Run.levels[2]")).extracting(u -> u.line() + (u.written() ? " written" : ""))
                .containsExactly("16 written", "17");
        assertThat(r.where("Run.left.target")).anyMatch(u -> u.line() == 16 && u.written());
        assertThat(r.where("wanted")).extracting(CrossReference.Use::line).contains(16);
    }

    @Test
    void stepsOfAChartAreValues() throws Exception {
        var r = of(Files.readString(Path.of("../demo/lock-sequence/tags/sequence.st")));
        var sequence = unit(r, "Sequence");
        assertThat(sequence.chart()).startsWith("INITIAL_STEP rest");
        assertThat(r.where("Lock.steps.boat_comes.X")).hasSize(1);
        assertThat(r.where("B1_BoatLow")).anyMatch(u -> u.unit().name().equals("LockControl") && !u.written());
        assertThat(r.where("FirstOut")).anyMatch(CrossReference.Use::written);
    }

    @Test
    void aTextWithMistakesHasNone() {
        var program = PlcProgram.of("PROGRAM", Surroundings.USUAL);
        assertThat(CrossReference.of("PROGRAM", program).units()).isEmpty();
    }
}
