package boldanvil.core.iec;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.finding.Place;
import boldanvil.core.text.DiagramText;
import boldanvil.core.text.PlcText;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Bodies as function block diagrams, and diagrams as bodies. */
class FunctionDiagramTest {
    private static final String GATE = """
            FUNCTION_BLOCK gate
            VAR_INPUT a : BOOL; b : REAL; END_VAR
            VAR_OUTPUT q : BOOL; n : INT; END_VAR
            VAR t : TON; c : CTU; END_VAR
            VAR_TEMP late : BOOL; END_VAR
            t(IN := a AND NOT (b > 2.5), PT := T#3s, Q => late);
            c(CU := late OR t.Q, R := FALSE, PV := 3);
            q := c.Q; n := c.CV + 1;
            END_FUNCTION_BLOCK
            """;

    private static String body(String diagram, List<String> remarks) {
        return FunctionDiagramReader.statements(XmlTree.read(diagram, Place.named("file")), "gate", remarks);
    }

    private static String in(int id, String expression) {
        return "<inVariable localId=\"" + id + "\"><expression>" + expression + "</expression></inVariable>";
    }

    private static String out(int id, int y, String expression, int from, String attributes) {
        return "<outVariable localId=\"" + id + "\" " + attributes + "><position x=\"9\" y=\"" + y
                + "\"/><connectionPointIn><connection refLocalId=\""
                + from + "\" formalParameter=\"OUT\"/></connectionPointIn><expression>" + expression + "</expression></outVariable>";
    }

    private static String box(int id, String attributes, int... from) {
        var b = new StringBuilder("<block localId=\"" + id + "\" " + attributes + "><position x=\"1\" y=\"" + id
                + "\"/><inputVariables>");
        for (int i = 0; i < from.length; i++) {
            b.append("<variable formalParameter=\"IN").append(i + 1)
                    .append(from[i] < 0 ? "\" negated=\"true\">" : "\">").append("<connectionPointIn><connection refLocalId=\"")
                    .append(Math.abs(from[i])).append("\" formalParameter=\"OUT\"/></connectionPointIn></variable>");
        }
        return b + "</inputVariables></block>";
    }

    @Test
    void aTemporaryVariableBecomesAWireAndOtherValuesStayVariables() {
        String xml = PlcOpenWriter.write(PlcText.of(GATE), "lock", "2026-12-01T08:30:00", true).xml();
        assertThat(xml).contains("typeName=\"TON\" instanceName=\"t\"", "typeName=\"GT\"", "<expression>n</expression>")
                .doesNotContain("<expression>late</expression>");
        assertThat(PlcOpenReader.read(xml, Place.named("file")).text()).contains("t(IN := (a AND NOT ((b > 2.5))), PT := T#3s);",
                "c(CU := (t.Q OR t.Q), R := FALSE, PV := 3);", "q := c.Q;", "n := (c.CV + 1);");
    }

    @ParameterizedTest
    @CsvSource({"IF a THEN q := TRUE; END_IF;", "'t(a, PT := T#1s);'", "q := NOT a;", "q := -(b + 1.0) > 0.0; t();"})
    void otherBodiesStayTexts(String body) {
        String text = GATE.replaceAll("(?s)t\\(IN.*1;\n", body + "\n");
        String xml = PlcOpenWriter.write(PlcText.of(text), "lock", "2026-12-01T08:30:00", true).xml();
        assertThat(xml).contains("<ST>").doesNotContain("<FBD>");
    }

    @Test
    void withoutNumbersTheWiresGiveTheOrder() {
        List<String> remarks = new ArrayList<>();
        String text = body("<FBD>" + out(9, 1, "lamp", 8, "") + box(8, "typeName=\"AND\"", 7, -2) + box(7,
                "typeName=\"TON\" instanceName=\"t\"", 1)
                + in(1, "go") + in(2, "stop") + "</FBD>", remarks);
        assertThat(text).isEqualTo("t(IN1 := go);\nlamp := (t.OUT AND NOT (stop));");
        assertThat(remarks).isEmpty();
    }

    @Test
    void numbersGoBeforePlacesAndConnectorsLeadOn() {
        List<String> remarks = new ArrayList<>();
        String text = body("<FBD>" + in(1, "x") + out(2, 1, "late", 5, "executionOrderId=\"2\"") + out(3, 2, "early", 1,
                "executionOrderId=\"1\"")
                + "<connector localId=\"4\" name=\"k\"><connectionPointIn><connection refLocalId=\"1\"/></connectionPointIn></connector>"
                + "<continuation localId=\"5\" name=\"k\"/><jump localId=\"6\"/></FBD>", remarks);
        assertThat(text).isEqualTo("early := x;\nlate := x;");
        assertThat(remarks).containsExactly("gate: 'jump' in a diagram is not understood and was left out.");
    }

    @Test
    void wiresThatLeadRoundOrFanOutWithoutEndAreCut() {
        List<String> remarks = new ArrayList<>();
        var fan = new StringBuilder("<FBD>" + in(1, "x"));
        for (int i = 2; i < 60; i++) {
            fan.append(box(i, "typeName=\"ADD\"", i - 1, i - 1));
        }
        assertThat(body(fan + out(99, 1, "y", 59, "") + "</FBD>", remarks)).startsWith("y := ").hasSizeLessThan(3_000_000);
        assertThat(body("<FBD>" + box(1, "typeName=\"ADD\"", 2, 2) + box(2, "typeName=\"ADD\"", 1, 1) + out(3, 1, "y", 1, "") + "</FBD>",
                remarks)).startsWith("y := ");
        assertThat(remarks).hasSize(2).allMatch(r -> r.endsWith("they were cut."));
    }

    @ParameterizedTest
    @CsvSource({"GT, (a > b) AND (b > c)", "ADD, a + b + c", "MAX, 'MAX(a, b, c)'"})
    void aFunctionOfSeveralInputsIsWrittenAsTheStandardHasIt(String function, String expected) {
        assertThat(DiagramText.expression(function, List.of("a", "b", "c"))).contains(expected);
    }
}
