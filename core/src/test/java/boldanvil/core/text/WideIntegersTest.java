package boldanvil.core.text;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.plc.PlcRuntime;
import boldanvil.core.text.PlcProgram.Surroundings;
import java.math.BigInteger;
import java.util.List;
import java.util.stream.Collectors;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.LongRange;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** LINT, ULINT and LWORD of a PLC against the integers of Java, to the last bit. */
class WideIntegersTest {
    private static final BigInteger TWO_64 = BigInteger.ONE.shiftLeft(64);

    private static PlcRuntime running(String variables, String body) {
        String text = "VAR_GLOBAL " + variables + " END_VAR\nPROGRAM p\nVAR n : DINT; END_VAR\n" + body + "\nEND_PROGRAM\n";
        var plc = PlcProgram.of(text, Surroundings.USUAL);
        assertThat(plc.mistakes().stream().filter(m -> !m.isWarning()).map(Mistake::located).toList()).as(text).isEmpty();
        var r = new PlcRuntime(Surroundings.USUAL);
        r.load(plc);
        r.run();
        return r;
    }

    private static Object unsigned(long bits) {
        return bits >= 0 ? (Object) bits : new BigInteger(Long.toUnsignedString(bits));
    }

    private static final PlcRuntime SIGNED = running("a, b, sum, difference, product, quotient, rest, least, absolute : LINT; "
            + "less, equal : BOOL; shown : STRING[24]; back : LINT; at : LREAL; small : INT;",
            "sum := a + b; difference := a - b; product := a * b; quotient := a / b; rest := a MOD b; least := MIN(a, b); "
            + "absolute := ABS(a); less := a < b; equal := a = b; shown := LINT_TO_STRING(a); back := STRING_TO_LINT(shown); "
            + "at := LINT_TO_LREAL(a); small := LINT_TO_INT(a);");

    @Property(tries = 300)
    void signedArithmeticIsThatOfJava(@ForAll long a, @ForAll long b) {
        SIGNED.write("a", a);
        SIGNED.write("b", b);
        SIGNED.scanOnce();
        assertThat(List.of("sum", "difference", "product", "quotient", "rest", "least", "absolute").stream().map(SIGNED::read).toList())
                .containsExactly(a + b, a - b, a * b, b == 0 ? 0 : a / b, b == 0 ? 0 : a % b, Math.min(a, b), Math.abs(a));
        assertThat(SIGNED.read("less")).isEqualTo(a < b);
        assertThat(SIGNED.read("equal")).isEqualTo(a == b);
        assertThat(SIGNED.read("shown")).isEqualTo(Long.toString(a));
        assertThat(SIGNED.read("back")).isEqualTo(a == Long.MIN_VALUE ? -Long.MAX_VALUE : a);
        assertThat(SIGNED.read("at")).isEqualTo((double) a);
        assertThat(SIGNED.read("small")).isEqualTo(Math.clamp(a, Short.MIN_VALUE, Short.MAX_VALUE) + 0L);
    }

    private static final PlcRuntime UNSIGNED = running("a, b, sum, product, quotient, rest : ULINT; w, v, both, either, other, none, left, "
            + "right, turned : LWORD; less : BOOL; shown : STRING[24]; back : ULINT; at : LREAL; down : LINT; turn : DINT; "
            + "pattern : LWORD; real : LREAL;",
            "sum := a + b; product := a * b; quotient := a / b; rest := a MOD b; less := a < b; w := ULINT_TO_LWORD(a); "
            + "v := ULINT_TO_LWORD(b); both := w AND v; either := w OR v; other := w XOR v; none := NOT w; left := SHL(w, turn); "
            + "right := SHR(w, turn); turned := ROL(w, turn); shown := ULINT_TO_STRING(a); back := STRING_TO_ULINT(shown); "
            + "at := ULINT_TO_LREAL(a); down := ULINT_TO_LINT(a); pattern := LREAL_TO_LWORD(at); real := LWORD_TO_LREAL(pattern);");

    @Property(tries = 300)
    void unsignedArithmeticAndBitsAreThoseOfJava(@ForAll long a, @ForAll long b, @ForAll @LongRange(max = 70) long n) {
        UNSIGNED.write("a", unsigned(a));
        UNSIGNED.write("b", unsigned(b));
        UNSIGNED.write("turn", n);
        UNSIGNED.scanOnce();
        var expected = List.of(a + b, a * b, b == 0 ? 0 : Long.divideUnsigned(a, b), b == 0 ? 0 : Long.remainderUnsigned(a, b), a & b,
                a | b,
                a ^ b, ~a, n > 63 ? 0 : a << n, n > 63 ? 0 : a >>> n, Long.rotateLeft(a, (int) n), a);
        assertThat(List.of("sum", "product", "quotient", "rest", "both", "either", "other", "none", "left", "right", "turned", "back")
                .stream().map(UNSIGNED::read).toList())
                .isEqualTo(expected.stream().map(WideIntegersTest::unsigned).collect(Collectors.toList()));
        assertThat(UNSIGNED.read("less")).isEqualTo(Long.compareUnsigned(a, b) < 0);
        assertThat(UNSIGNED.read("shown")).isEqualTo(Long.toUnsignedString(a));
        double at = new BigInteger(Long.toUnsignedString(a)).doubleValue();
        assertThat(UNSIGNED.read("at")).isEqualTo(at);
        assertThat(UNSIGNED.read("down")).isEqualTo(a < 0 ? Long.MAX_VALUE : a);
        assertThat(UNSIGNED.read("pattern")).isEqualTo(unsigned(Double.doubleToRawLongBits(at)));
        assertThat(UNSIGNED.read("real")).isEqualTo(at);
    }

    @ParameterizedTest
    @CsvSource({"9223372036854775807", "LINT#9_007_199_254_740_993", "-5", "LINT#16#7FFF_FFFF_FFFF_FFFF", "5000000000"})
    void literalsKeepAllDigits(String literal) {
        var r = running("x : LINT;", "x := " + literal + ";");
        r.scanOnce();
        String digits = literal.replace("LINT#", "").replace("_", "");
        assertThat(r.read("x")).isEqualTo(digits.startsWith("16#") ? Long.parseLong(digits.substring(3), 16) : Long.parseLong(digits));
    }

    @Test
    void valuesLieAtAddressesInArraysAndSurviveAChange() {
        String variables = "x AT %ML2 : LINT; w AT %MB16 : BYTE; i : LINT := 2; "
                + "row : ARRAY [1..3] OF ULINT := [1, 18446744073709551615, 3];";
        var r = running(variables, "x := x - 1; row[3] := row[i] - 5; CASE i OF 2: n := 7; END_CASE; IF x.%X63 THEN n := n + 1; END_IF;");
        r.scanOnce();
        assertThat(r.read("x")).isEqualTo(-1L);
        assertThat(r.read("w")).isEqualTo(255L);
        assertThat(r.read("row[3]")).isEqualTo(TWO_64.subtract(BigInteger.valueOf(6)));
        assertThat(r.read("p.n")).isEqualTo(8L);
        r.change(PlcProgram.of("VAR_GLOBAL " + variables + " END_VAR PROGRAM p VAR n : DINT; END_VAR x := x + 3; END_PROGRAM",
                Surroundings.USUAL));
        r.scanOnce();
        assertThat(r.read("x")).isEqualTo(2L);
        assertThat(r.read("row[3]")).isEqualTo(TWO_64.subtract(BigInteger.valueOf(6)));
    }

    @ParameterizedTest
    @CsvSource({"x : LINT; y : DINT;, y := x;", "x : ULINT; y : LINT;, y := x;", "x : LINT; y : LREAL;, y := x;",
        "x : LINT; y : INT;, x := LINT#9223372036854775808;"})
    void whatLosesSomethingNeedsAConversion(String variables, String body) {
        var plc = PlcProgram.of("PROGRAM p VAR " + variables + " END_VAR " + body + " END_PROGRAM", Surroundings.USUAL);
        assertThat(plc.mistakes().stream().anyMatch(m -> !m.isWarning())).isTrue();
    }

    @Test
    void aSheetHasNone() {
        assertThat(ParsedText.block("VAR_INPUT x : LINT; END_VAR VAR_OUTPUT y : DINT; END_VAR y := LINT_TO_DINT(x);").inputs()).isEmpty();
    }
}
