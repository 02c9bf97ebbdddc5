package boldanvil.core.text;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.finding.Finding;
import boldanvil.core.program.Fault;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class StructuredTextTest {
    /** A part with one block whose inputs and outputs are those of the part. */
    private static PartBuilder part(String text) {
        var b = new PartBuilder("p").block("f", "st", "text=" + text, "loop limit=1000");
        var parsed = ParsedText.block(text);
        parsed.inputs().forEach(v -> b.block("in " + v.name(), "inlet", "type=" + v.type().label())
                .wire("in " + v.name() + ".y", "f." + v.name()));
        parsed.outputs().forEach(v -> b.block(v.name(), "outlet").wire("f." + v.name(), v.name() + ".u"));
        return b;
    }

    private static Stepper run(String text) {
        return Stepper.of(part(text));
    }

    private static List<String> mistakes(String text) {
        return part(text).lower().findings().stream().map(Finding::cause).toList();
    }

    /** What {@code y : LREAL} is after one step of some statements. */
    private static double y(String variables, String statements) {
        var s = run("VAR_OUTPUT y : LREAL; END_VAR VAR " + variables + " END_VAR " + statements);
        s.step();
        return s.out("y");
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {
        "1 + 2 * 3 | 7", "(1 + 2) * 3 | 9", "2.0 ** 3.0 | 8", "-2.0 ** 2.0 | 4", "7 / 2 | 3", "7.0 / 2.0 | 3.5", "-7 / 2 | -3",
                "7 MOD 3 | 1",
        "-7 MOD 3 | -1", "16#FF + 2#101 + 8#17 | 275", "1_000 | 1000", "1.5E2 | 150", "SQRT(16.0) | 4", "ABS(-3) | 3", "MIN(3, 1, 2) | 1",
        "MAX(3, 1, 2) | 3",
        "LIMIT(0, 12, 10) | 10", "LIMIT(0, -1, 10) | 0", "SEL(TRUE, 1, 2) | 2", "SEL(FALSE, 1, 2) | 1", "MUX(1, 10, 20, 30) | 20",
        "MUX(9, 10, 20, 30) | 30",
        "TRUNC(2.9) | 2", "TRUNC(-2.9) | -2", "LREAL_TO_DINT(2.5) | 2", "LREAL_TO_DINT(3.5) | 4", "LREAL_TO_INT(1.0E9) | 32767",
        "EXPT(2.0, 10.0) | 1024",
        "SHL(INT#1, 4) | 16", "SHR(UINT#16#8000, 15) | 1", "ROL(USINT#129, 1) | 3", "ROR(USINT#129, 1) | 192", "DINT_TO_LREAL(5) | 5",
        "TO_LREAL(5) | 5",
        "INT#3 + DINT#4 | 7", "ATAN2(1.0, 0.0) | 1.5707963267948966", "ADD(1, 2, 3) | 6", "TIME_TO_DINT(T#1m30s500ms) | 90500",
        "BOOL_TO_INT(TRUE) | 1",
        "(* a comment *) 4 // another | 4", "SHR(INT#-1, 12) | 15", "BYTE#15 AND BYTE#9 | 9", "NOT BYTE#15 | 240", "5 XOR 3 | 6"})
    void expressionsHaveTheValuesOfTheStandard(String expression, double value) {
        String text = expression.contains("//") ? expression.replace("// another", "") : expression;
        assertThat(y("", "y := TO_LREAL(" + text + ");")).isEqualTo(value);
    }

    @Test
    void statementsRun() {
        assertThat(y("i : DINT; s : DINT;", "FOR i := 1 TO 10 DO s := s + i; END_FOR; y := TO_LREAL(s);")).isEqualTo(55);
        assertThat(y("i : DINT; s : DINT;", "FOR i := 10 TO 1 BY -3 DO s := s * 10 + i MOD 10; END_FOR; y := TO_LREAL(s);")).isEqualTo(741);
        assertThat(y("i : DINT;", "WHILE i < 7 DO i := i + 2; END_WHILE; y := TO_LREAL(i);")).isEqualTo(8);
        assertThat(y("i : DINT;", "REPEAT i := i + 2; UNTIL i >= 7 END_REPEAT; y := TO_LREAL(i);")).isEqualTo(8);
        assertThat(y("i : DINT; s : DINT;",
                "FOR i := 1 TO 10 DO IF i = 5 THEN EXIT; END_IF; IF i MOD 2 = 0 THEN CONTINUE; END_IF; s := s + i; END_FOR; "
                + "y := TO_LREAL(s);")).isEqualTo(4);
        assertThat(y("k : INT := 12;", "CASE k OF 1, 2: y := 1.0; 10..14: y := 2.0; ELSE y := 3.0; END_CASE;")).isEqualTo(2);
        assertThat(y("k : INT := 7;", "IF k > 10 THEN y := 1.0; ELSIF k > 5 THEN y := 2.0; ELSE y := 3.0; END_IF;")).isEqualTo(2);
        assertThat(y("", "y := 1.0; RETURN; y := 2.0;")).isEqualTo(1);
        assertThat(y("i : DINT; j : DINT; n : DINT;",
                "FOR i := 1 TO 5 DO FOR j := 1 TO 5 DO n := n + 1; IF n = 7 THEN y := TO_LREAL(10 * i + j); RETURN; "
                + "END_IF; END_FOR; END_FOR; y := -1.0;")).isEqualTo(22);
        assertThat(y("i : SINT; n : DINT;", "FOR i := 120 TO 127 DO n := n + 1; END_FOR; y := TO_LREAL(n);")).isEqualTo(8);
    }

    @Test
    void arraysHaveBoundsOfTheirOwn() {
        assertThat(y("a : ARRAY [1..3] OF LREAL := [5.0, 6.0, 7.0]; i : DINT;",
                "FOR i := 1 TO 3 DO a[i] := a[i] * 2.0; END_FOR; y := a[1] + a[3];"))
                .isEqualTo(24);
        assertThat(y("m : ARRAY [0..1, 1..2] OF DINT; i : DINT; j : DINT;",
                "FOR i := 0 TO 1 DO FOR j := 1 TO 2 DO m[i, j] := 10 * i + j; END_FOR; "
                + "END_FOR; y := TO_LREAL(m[1, 2] * 100 + m[0, 1]);")).isEqualTo(1201);
    }

    @Test
    void anIndexOutsideIsAFaultAndTakesTheNearestElement() {
        var s = run("VAR_INPUT k : DINT; END_VAR VAR_OUTPUT y : LREAL; END_VAR VAR a : ARRAY [1..3] OF LREAL := [5.0, 6.0, 7.0]; END_VAR "
                + "y := a[k];");
        s.set("in k", 2).step();
        assertThat(s.fault()).isZero();
        s.set("in k", 9).step();
        assertThat(s.out("y")).isEqualTo(7);
        assertThat(s.fault()).isEqualTo(Fault.INDEX);
    }

    @Test
    void functionsAndFunctionBlocksOfOnesOwn() {
        String text = """
                FUNCTION square : LREAL
                VAR_INPUT x : LREAL; END_VAR
                square := x * x;
                END_FUNCTION
                FUNCTION length : LREAL
                VAR_INPUT a : LREAL; b : LREAL; END_VAR
                length := SQRT(square(a) + square(x := b));
                END_FUNCTION
                FUNCTION_BLOCK summer
                VAR_INPUT u : LREAL; END_VAR
                VAR_OUTPUT s : LREAL; END_VAR
                s := s + u;
                END_FUNCTION_BLOCK
                VAR_INPUT u : LREAL; END_VAR
                VAR_OUTPUT y : LREAL; z : LREAL; END_VAR
                VAR one : summer; two : summer; END_VAR
                one(u := u);
                two(2.0 * u, s => z);
                y := length(one.s, 4.0);
                """;
        var s = run(text);
        s.set("in u", 3).step();
        assertThat(s.out("y")).isEqualTo(5);
        assertThat(s.out("z")).isEqualTo(6);
        s.advance();
        s.step();
        assertThat(s.out("z")).isEqualTo(12);
    }

    @Test
    void aLoopThatDoesNotEndIsLeftWithAFault() {
        var s = run("VAR_INPUT go : BOOL; END_VAR VAR_OUTPUT n : DINT; END_VAR n := 0; WHILE go DO n := n + 1; END_WHILE;");
        s.set("in go", 0).step();
        assertThat(s.fault()).isZero();
        s.set("in go", 1).step();
        assertThat(s.out("n")).isEqualTo(1000);
        assertThat(s.fault()).isEqualTo(Fault.ENDLESS_LOOP);
    }

    @Test
    void divisionByZeroIsAFault() {
        var s = run("VAR_INPUT a : LREAL; b : DINT; END_VAR VAR_OUTPUT y : LREAL; n : DINT; END_VAR y := 1.0 / a; n := 7 / b;");
        s.set("in a", 2).set("in b", 2).step();
        assertThat(s.fault()).isZero();
        s.set("in a", 0).step();
        assertThat(s.fault()).isEqualTo(Fault.DIVISION_BY_ZERO);
    }

    @Test
    void variablesKeepTheirValues() {
        var s = run("VAR_OUTPUT n : DINT; END_VAR VAR k : DINT := 40; END_VAR k := k + 1; n := k;");
        s.step();
        s.advance();
        s.step();
        assertThat(s.out("n")).isEqualTo(42);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {
        "y := 1.0 | Line 1, column 41: The text cannot be parsed here",
        "y := z; | There is no variable 'z'",
        "y := TRUE; | A BOOL is used where a LREAL is needed",
        "y := q; | A BOOL is used where a LREAL is needed",
        "k := 3.5; | The number does not fit into INT",
        "k := 99999; | The number does not fit into INT",
        "y := 1.0 / 0.0; | This is a division by zero",
        "IF y THEN y := 1.0; END_IF; | A LREAL is used where a BOOL is needed",
        "WHILE TRUE DO y := 1.0; END_WHILE; | The loop never ends",
        "REPEAT y := 1.0; UNTIL FALSE END_REPEAT; | The loop never ends",
        "EXIT; | EXIT is outside any loop",
        "y := SIN(1.0, 2.0); | SIN takes 1 arguments, not 2",
        "y := SINUS(1.0); | There is no function 'SINUS'",
        "FOR k := 1 TO 5 BY 0 DO y := 1.0; END_FOR; | The loop would never end",
        "FOR k := 1 TO 20000 DO y := 1.0; END_FOR; | more than the limit of 1000",
        "q := q + q; | '+' needs numbers, not BOOL",
        "y := T#1s; | A TIME is used where a LREAL is needed",
        "t(IN := TRUE, XX := 1); | has no such input",
        "k[1] := 3; | 'k' is not an array",
        "y := t.ZZ; | 't' has no 'ZZ'"})
    void mistakesAreToldWithTheirPlace(String statements, String cause) {
        assertThat(mistakes("VAR_OUTPUT y : LREAL; END_VAR VAR k : INT; q : BOOL; t : TON; END_VAR\n" + statements)
                .stream().map(m -> m.replace("Line 2, column 9", "Line 1, column 41")).toList()).anyMatch(m -> m.contains(cause));
    }

    @Test
    void severalMistakesAreToldAtOnce() {
        assertThat(mistakes("VAR_OUTPUT y : LREAL; END_VAR\ny := a;\ny := b;\n"))
                .containsExactly("Line 2, column 6: There is no variable 'a'.",
                "Line 3, column 6: There is no variable 'b'.");
    }

    @Test
    void declarationsAreChecked() {
        assertThat(mistakes("VAR_OUTPUT y : LREEL; END_VAR y := 1.0;")).anyMatch(m -> m.contains("There is no type 'LREEL'"));
        assertThat(mistakes("VAR_OUTPUT y : LREAL; END_VAR VAR Y : INT; END_VAR y := 1.0;"))
                .anyMatch(m -> m.contains("There is a variable 'Y' already"));
        assertThat(mistakes("VAR_OUTPUT y : LREAL; END_VAR VAR CONSTANT c : INT := 3; END_VAR c := 4; y := 1.0;"))
                .anyMatch(m -> m.contains("'c' cannot be set here"));
        assertThat(mistakes("FUNCTION f : INT VAR_INPUT x : INT; END_VAR f := f(x); END_FUNCTION VAR_OUTPUT y : INT; END_VAR y := f(1);"))
                .anyMatch(m -> m.contains("There is no function 'f'") || m.contains("calls itself"));
        assertThat(mistakes("FUNCTION_BLOCK a VAR x : a; END_VAR ; END_FUNCTION_BLOCK VAR_OUTPUT y : INT; END_VAR VAR z : a; END_VAR y "
                + ":= 1;"))
                .anyMatch(m -> m.contains("contains itself"));
    }

    @Test
    void hostileTextsEndInMistakes() {
        assertThat(mistakes("y := " + "(".repeat(5_000) + "1" + ")".repeat(5_000) + ";")).anyMatch(m -> m.contains("nested deeper"));
        assertThat(mistakes("x".repeat(300_000))).anyMatch(m -> m.contains("longer than"));
        assertThat(mistakes("IF IF IF \u0000 %% END")).isNotEmpty();
    }

    @Test
    void anExpressionBlockHasItsNamesAsInputs() {
        var s = Stepper.of(new PartBuilder("p").block("a", "inlet").block("b", "inlet")
                .block("e", "expression", "expression=a * SIN(b) + a").block("y",
                "outlet").wire("a.y", "e.a").wire("b.y", "e.b").wire("e.y", "y.u"));
        s.set("a", 2).set("b", 0.5).step();
        assertThat(s.out("y")).isCloseTo(2 * Math.sin(0.5) + 2, within(1e-15));
        var c = new PartBuilder("p").block("a", "inlet").block("e", "expression", "expression=a > 1.0").block("y", "outlet")
                .wire("a.y", "e.a")
                .wire("e.y", "y.u").program();
        assertThat(c.port("y").orElseThrow().slot().type()).isEqualTo(boldanvil.core.program.Type.BOOL);
    }

    @Test
    void transientVariablesTakeNoMemory() {
        var p = part("VAR_INPUT u : LREAL; END_VAR VAR_OUTPUT y : LREAL; END_VAR VAR t : LREAL; k : LREAL; i : DINT; END_VAR "
                + "t := u * 2.0; FOR i := 1 TO 3 DO k := k + t; END_FOR; y := k;").program();
        assertThat(p.slots()).anyMatch(s -> s.name().equals("f_k"));
        assertThat(p.slots()).noneMatch(s -> s.name().equals("f_t") || s.name().equals("f_i"));
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {
        "WORD_TO_INT(16#8001) | -32767", "WORD_TO_DINT(16#8001) | 32769", "DWORD_TO_UDINT(DINT_TO_DWORD(-1)) | 4294967295",
                "BYTE_TO_USINT(WORD_TO_BYTE(16#1234)) | 52",
        "DWORD_TO_UDINT(REAL_TO_DWORD(1.0)) | 1065353216", "DWORD_TO_REAL(16#40490FDB) | 3.1415927410125732", "BYTE_TO_SINT(16#FF) | -1",
        "DWORD_TO_UDINT(INT_TO_DWORD(-1)) | 65535", "BOOL_TO_DINT(WORD_TO_BOOL(2)) | 0", "BOOL_TO_DINT(WORD_TO_BOOL(3)) | 1",
        "LIMIT(MX := 10, IN := 12, MN := 0) | 10", "SEL(IN1 := 5, IN0 := 4, G := FALSE) | 4", "SUB(IN2 := 3, IN1 := 10) | 7",
        "EXPT(IN2 := 3.0, IN1 := 2.0) | 8",
        "MUX(IN1 := 20, K := 1, IN0 := 10) | 20", "SHL(N := 4, IN := INT#1) | 16",
        "BOOL_TO_INT(T#100ms + T#200ms = T#300ms) | 1", "BOOL_TO_INT(T#100ms * 3 = T#300ms) | 1", "BOOL_TO_INT(T#1h / 3 = T#20m) | 1",
        "BOOL_TO_INT(ADD(T#100ms, T#200ms) = T#300ms) | 1", "TIME_TO_DINT(DINT_TO_TIME(1234)) | 1234",
        "BCD_TO_UINT(16#1234) | 1234", "WORD_BCD_TO_UINT(16#9999) | 9999", "WORD_TO_UINT(UINT_TO_BCD_WORD(1234)) | 4660",
        "BYTE_TO_USINT(USINT_TO_BCD(42)) | 66",
        "DWORD_TO_UDINT(UDINT_TO_BCD_DWORD(87654321)) | 2271560481", "TRUNC(LOG(1000.0)) | 3"})
    void conversionsAndNamedArgumentsFollowTheStandard(String expression, double value) {
        assertThat(y("", "y := TO_LREAL(" + expression + ");")).isEqualTo(value);
    }

    @Test
    void aQuotientOfWholeLiteralsForARealIsReal() {
        assertThat(y("", "y := 1 / 2;")).isEqualTo(0.5);
    }

    @Test
    void unknownConversionsAndWrongNamesAreMistakes() {
        String head = "VAR_OUTPUT y : DINT; END_VAR ";
        assertThat(mistakes(head + "y := FOO_TO_DINT(1.5);").getFirst()).contains("no function 'FOO_TO_DINT'");
        assertThat(mistakes(head + "y := WORD_TO_DINT(REAL_TO_WORD(1.0));").getFirst()).contains("no bits");
        assertThat(mistakes(head + "y := LIMIT(0, IN := 3, MX := 4);").getFirst()).contains("by name");
        assertThat(mistakes(head + "y := LIMIT(MN := 0, IN := 3, MAX := 4);").getFirst()).contains("no input 'MAX'");
    }

    @Test
    void aDigitAboveNineAndANumberTooLongForItsDigitsRaiseAFault() {
        var s = run("VAR_INPUT w : WORD; n : UINT; END_VAR VAR_OUTPUT y : UINT; z : WORD; END_VAR y := BCD_TO_UINT(w); z := "
                + "UINT_TO_BCD_WORD(n);");
        s.set("in w", 0x12).set("in n", 5).step();
        assertThat(s.fault()).isZero();
        s.advance().set("in n", 12345).step();
        assertThat(s.out("z")).isEqualTo(0x9999);
        assertThat(s.fault()).isEqualTo(Fault.DOMAIN);
        assertThat(run("VAR_INPUT w : WORD; END_VAR VAR_OUTPUT y : UINT; END_VAR y := BCD_TO_UINT(w);").set("in w", 0x1A).step().fault())
                .isEqualTo(Fault.DOMAIN);
    }

    @Test
    void aMistakeInTheDeclarationsIsShownAndNotItsConsequences() {
        var b = new PartBuilder("p").block("c", "constant").block("f", "st",
                "text=VAR_INPUT u : LREAL END_VAR VAR_OUTPUT y : LREAL; END_VAR y := u;")
                .block("out", "outlet").wire("c.y", "f.u").wire("f.y", "out.u");
        assertThat(b.lower().findings()).extracting(Finding::cause).first().asString().contains("Line 1").contains("cannot be parsed");
        assertThat(b.lower().findings()).extracting(Finding::cause).noneMatch(c -> c.contains("a port that"));
    }

    @Test
    void overlappingLabelsAndArithmeticWithBitStringsAreReported() {
        assertThat(mistakes("VAR_INPUT u : INT; END_VAR VAR_OUTPUT y : INT; END_VAR CASE u OF 1..5: y := 1; 4: y := 2; 7, 8: y := 3; "
                + "8..9: y := 4; END_CASE;"))
                .anyMatch(m -> m.contains("covers 4")).anyMatch(m -> m.contains("covers 8")).hasSize(2);
        assertThat(mistakes("VAR_INPUT u : WORD; END_VAR VAR_OUTPUT y : WORD; END_VAR y := u + 1;")).singleElement().asString()
                .contains("string of bits");
    }

    @ParameterizedTest
    @CsvSource({"-1.0, SQRT", "0.0, LN", "-2.0, LOG", "2.0, ASIN", "-1.5, ACOS"})
    void aFunctionOutsideOfItsDomainRaisesAFault(double u, String f) {
        assertThat(run("VAR_INPUT u : LREAL; END_VAR VAR_OUTPUT y : LREAL; END_VAR y := " + f + "(u);").set("in u", u).step().fault())
                .isEqualTo(Fault.DOMAIN);
    }

    @Test
    void textsBeyondTheirLimitsAreMistakesAndTakeNoTime() {
        String head = "VAR_OUTPUT y : LREAL; END_VAR ";
        assertThat(mistakes(head + "y := " + "-".repeat(5000) + "1.0;").getFirst()).contains("signs in a row");
        assertThat(mistakes(head + "IF TRUE THEN ".repeat(2000) + "y := 1.0;" + " END_IF;".repeat(2000)).getFirst())
                .contains("nested deeper");
        assertThat(mistakes(head + "y := 1.0" + " + 1.0".repeat(3000) + ";").getFirst()).contains("operators");
        var calls = new StringBuilder("FUNCTION f0 : LREAL VAR_INPUT x : LREAL; END_VAR f0 := SIN(x); END_FUNCTION ");
        for (int i = 1; i <= 26; i++) {
            calls.append("FUNCTION f").append(i).append(" : LREAL VAR_INPUT x : LREAL; END_VAR f").append(i).append(" := f").append(i - 1)
                    .append("(x) + f").append(i - 1)
                    .append("(x); END_FUNCTION ");
        }
        assertThat(mistakes(calls + head + "y := f26(1.0);").getFirst()).contains("operations");
        var blocks = new StringBuilder(
                "FUNCTION_BLOCK b0 VAR_INPUT x : LREAL; END_VAR VAR_OUTPUT q : LREAL; END_VAR q := x; END_FUNCTION_BLOCK ");
        for (int i = 1; i <= 20; i++) {
            blocks.append("FUNCTION_BLOCK b").append(i).append(" VAR_INPUT x : LREAL; END_VAR VAR_OUTPUT q : LREAL; END_VAR VAR l : b")
                    .append(i - 1).append("; r : b")
                    .append(i - 1).append("; END_VAR l(x := x); r(x := l.q); q := r.q; END_FUNCTION_BLOCK ");
        }
        assertThat(mistakes(blocks + head + "VAR i : b20; END_VAR i(x := 1.0); y := i.q;").getFirst()).contains("grows to more than");
        assertThat(mistakes("VAR_INPUT u : LREAL; END_VAR " + head + "y := u" + " ** u".repeat(100) + ";")).isEmpty();
    }
}
