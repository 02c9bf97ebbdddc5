package boldanvil.core.stock;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.program.Type;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/**
 * The timing diagrams of IEC 61131-3:2013, figure 15, at a sample time of 1 s, once for the block and once for the function block
 * of Structured Text. A character is one sample; for ET, the digit is its seconds.
 */
class TimersTest {
    private static Stepper block(String type, String preset) {
        var b = new PartBuilder("p").sampleTime("1 s").block("t", type, "PT=" + preset).block("IN", "inlet", "type=bool")
                .block("Q", "outlet").block("ET", "outlet");
        return Stepper.of(b.wire("IN.y", "t.IN").wire("t.Q", "Q.u").wire("t.ET", "ET.u"));
    }

    private static Stepper text(String type, String preset) {
        var b = new PartBuilder("p").sampleTime("1 s")
                .block("t", "st", "text=VAR_INPUT IN : BOOL; END_VAR VAR_OUTPUT Q : BOOL; ET : LREAL; END_VAR VAR t : "
                + type.toUpperCase() + "; END_VAR t(IN := IN, PT := T#" + preset.replace(" ", "")
                + ", Q => Q); ET := TIME_TO_LREAL(t.ET);");
        return Stepper.of(b.block("IN", "inlet", "type=bool").block("Q", "outlet").block("ET", "outlet").wire("IN.y", "t.IN")
                .wire("t.Q", "Q.u").wire("t.ET", "ET.u"));
    }

    private static void check(Stepper s, String in, String q, String et) {
        var seenQ = new StringBuilder();
        var seenEt = new StringBuilder();
        for (char c : in.toCharArray()) {
            s.set("IN", c == '1' ? 1 : 0).step();
            seenQ.append((int) s.out("Q"));
            seenEt.append((int) s.out("ET"));
            s.advance();
        }
        assertThat(seenQ).hasToString(q);
        assertThat(seenEt).hasToString(et);
    }

    @ParameterizedTest
    @CsvSource({
        // on-delay: a long and a short pulse
        "ton, 00111111001110000, 00000111000000000, 00012333000120000",
        // off-delay: a pulse, and one that comes back before the time is over
        "tof, 00111000001110011000000, 00111111001111111111000, 00000012330000100012333",
        // pulse: longer than PT, shorter than PT, and edges within the pulse that do not count
        "tp,  00111111001000000010100, 00111000001110000011100, 00012333000120000001200"})
    void diagrams(String type, String in, String q, String et) {
        check(block(type, "3 s"), in, q, et);
        check(text(type, "3 s"), in, q, et);
    }

    @Test
    void presetTimesAreRoundedToSamples() {
        var s = Stepper.of(new PartBuilder("p").sampleTime("1 ms").block("t", "ton", "PT=2.4 ms")
                .block("on", "constant", "value=on", "type=bool").block("Q", "outlet")
                .block("ET", "outlet").wire("on.y", "t.IN").wire("t.Q", "Q.u").wire("t.ET", "ET.u"));
        assertThat(s.course("Q", 4)).containsExactly(0, 0, 1, 1);
    }

    private static Stepper counter(String type, String... inputs) {
        var b = new PartBuilder("p").block("c", type, "PV=2");
        for (String i : inputs) {
            b.block(i, "inlet", "type=bool").wire(i + ".y", "c." + i);
        }
        String q = type.equals("ctud") ? "QU" : "Q";
        return Stepper.of(b.block("Q", "outlet").block("CV", "outlet").wire("c." + q, "Q.u").wire("c.CV", "CV.u"));
    }

    @Test
    void upCountersCountRisingEdges() {
        var s = counter("ctu", "CU", "R");
        String cv = "";
        String q = "";
        String cu = "0101101010";
        String r = "0000000001";
        for (int i = 0; i < cu.length(); i++) {
            s.set("CU", cu.charAt(i) - '0').set("R", r.charAt(i) - '0').step();
            cv += (int) s.out("CV");
            q += (int) s.out("Q");
            s.advance();
        }
        // Edges at samples 1, 3, 6 and 8; the reset in the last sample wins.
        assertThat(cv).isEqualTo("0112223340");
        assertThat(q).isEqualTo("0001111110");
    }

    @Test
    void downCountersLoadAndCountDown() {
        var s = counter("ctd", "CD", "LD");
        assertThat(s.set("LD", 1).step().out("CV")).isEqualTo(2);
        s.advance();
        assertThat(s.set("LD", 0).set("CD", 1).step().out("CV")).isEqualTo(1);
        s.advance();
        s.set("CD", 0).step().advance();
        assertThat(s.set("CD", 1).step().out("CV")).isZero();
        assertThat(s.out("Q")).isEqualTo(1);
    }

    @Test
    void upDownCountersCountBothWaysAndStayWhenBothRise() {
        var s = counter("ctud", "CU", "CD", "R", "LD");
        s.set("CU", 1).step().advance();
        assertThat(s.out("CV")).isEqualTo(1);
        s.set("CU", 0).step().advance();
        s.set("CU", 1).set("CD", 1).step().advance();
        assertThat(s.out("CV")).isEqualTo(1);
        s.set("CU", 0).set("CD", 0).step().advance();
        s.set("CD", 1).step().advance();
        assertThat(s.out("CV")).isZero();
        assertThat(s.set("LD", 1).step().out("CV")).isEqualTo(2);
        assertThat(s.set("R", 1).step().out("CV")).isZero();
    }

    @Test
    void theirValuesHaveTypes() {
        var p = new PartBuilder("p").block("c", "ctu").block("on", "constant", "value=on", "type=bool").block("Q", "outlet")
                .block("CV", "outlet").wire("on.y", "c.CU")
                .wire("c.Q", "Q.u").wire("c.CV", "CV.u").program();
        assertThat(p.port("Q").orElseThrow().slot().type()).isEqualTo(Type.BOOL);
        assertThat(p.port("CV").orElseThrow().slot().type()).isEqualTo(Type.INT32);
    }
}
