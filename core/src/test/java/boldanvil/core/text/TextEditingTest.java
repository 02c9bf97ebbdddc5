package boldanvil.core.text;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.text.TextEditing.Kind;
import boldanvil.core.text.TextEditing.Proposal;
import java.util.List;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.Test;

class TextEditingTest {
    private static final String TEXT = """
            VAR_INPUT speed, limit : REAL; go : BOOL; END_VAR
            VAR_OUTPUT high : BOOL; END_VAR
            VAR delay : TON; span : ARRAY[1..3] OF REAL; END_VAR
            (* slow *)
            delay(IN := go, PT := T#200ms);
            high := ABS(speed) > limit AND delay.Q;
            """;

    private static Kind kindOf(String text, String piece) {
        int at = text.indexOf(piece);
        return TextEditing.of(text).pieces().stream().filter(p -> p.start() <= at && at < p.end()).findFirst().orElseThrow().kind();
    }

    private static List<String> proposals(String text) {
        return TextEditing.of(text).proposals(text.length()).stream().map(Proposal::text).toList();
    }

    @Test
    void eachPieceHasItsKind() {
        assertThat(kindOf(TEXT, "VAR_INPUT")).isEqualTo(Kind.KEYWORD);
        assertThat(kindOf(TEXT, "REAL")).isEqualTo(Kind.TYPE);
        assertThat(kindOf(TEXT, "TON")).isEqualTo(Kind.TYPE);
        assertThat(kindOf(TEXT, "(* slow")).isEqualTo(Kind.COMMENT);
        assertThat(kindOf(TEXT, "T#200ms")).isEqualTo(Kind.NUMBER);
        assertThat(kindOf(TEXT, "ABS")).isEqualTo(Kind.FUNCTION);
        assertThat(kindOf(TEXT, "limit AND")).isEqualTo(Kind.NAME);
        assertThat(kindOf(TEXT, ":= go")).isEqualTo(Kind.OTHER);
    }

    @Test
    void namesOfTheTextAreProposedFirst() {
        assertThat(proposals(TEXT + "l")).startsWith("limit").contains("LN", "LREAL").doesNotContain("LIMIT");
        assertThat(proposals(TEXT + "SP")).containsExactly("speed", "span");
        assertThat(proposals(TEXT + "speed")).isEmpty();
        assertThat(proposals(TEXT + "END_I")).containsExactly("END_IF");
    }

    @Test
    void behindADotTheVariablesOfTheFunctionBlockAreProposed() {
        assertThat(proposals(TEXT + "delay.")).containsExactlyInAnyOrder("IN", "PT", "Q", "ET");
        assertThat(proposals(TEXT + "delay.E")).containsExactly("ET");
        assertThat(proposals(TEXT + "speed.")).isEmpty();
        String own = "FUNCTION_BLOCK ramp VAR_INPUT goal : REAL; END_VAR VAR_OUTPUT now : REAL; END_VAR VAR k : INT; END_VAR now := goal; "
                + "END_FUNCTION_BLOCK VAR r : ramp; END_VAR r.";
        assertThat(proposals(own)).containsExactlyInAnyOrder("goal", "now");
    }

    @Test
    void aNameLeadsToItsDeclaration() {
        int use = TEXT.indexOf("limit AND");
        assertThat(TextEditing.of(TEXT).declaration(use + 2)).hasValue(TEXT.indexOf("limit"));
        assertThat(TextEditing.of(TEXT).declaration(TEXT.indexOf("ABS") + 1)).isEmpty();
        String chart = "INITIAL_STEP idle: END_STEP STEP run: END_STEP TRANSITION FROM idle TO run := TRUE; END_TRANSITION";
        assertThat(TextEditing.of(chart).declaration(chart.indexOf("TO run") + 4)).hasValue(chart.indexOf("run:"));
        assertThat(proposals(chart + " run.")).containsExactlyInAnyOrder("X", "T");
    }

    @Property(tries = 300)
    void anyTextCanBeWritten(@ForAll String text) {
        var editing = TextEditing.of(text);
        int end = 0;
        for (var piece : editing.pieces()) {
            assertThat(piece.start()).isGreaterThanOrEqualTo(end);
            end = piece.end();
        }
        editing.proposals(editing.start(Math.min(3, text.length())));
        editing.declaration(0);
    }

    @Property(tries = 200)
    void aTextCutAnywhereCanBeWrittenOn(@ForAll @net.jqwik.api.constraints.IntRange(min = 0, max = 250) int at) {
        String text = TEXT.substring(0, Math.min(at, TEXT.length()));
        TextEditing.of(text).proposals(text.length());
        assertThat(TextEditing.of(text).pieces().stream().allMatch(p -> p.end() <= text.length())).isTrue();
    }
}
