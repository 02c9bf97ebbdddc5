package boldanvil.core.text;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.plc.PlcRuntime;
import boldanvil.core.text.PlcProgram.Surroundings;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class PlcProgramTest {
    private static PlcRuntime run(String text) {
        var plc = PlcProgram.of(text, Surroundings.USUAL);
        assertThat(plc.mistakes().stream().map(Mistake::located).toList()).isEmpty();
        var runtime = new PlcRuntime(Surroundings.USUAL);
        runtime.load(plc);
        runtime.run();
        return runtime;
    }

    private static List<String> mistakes(String text) {
        return PlcProgram.of(text, Surroundings.USUAL).mistakes().stream().map(Mistake::located).toList();
    }

    /** What y is after one scan of a program. */
    private static Object y(String before, String type, String variables, String statements) {
        var r = run(before + "\nPROGRAM p\nVAR " + variables + "\n y : " + type + "; END_VAR\n" + statements + "\nEND_PROGRAM\n");
        r.scanOnce();
        return r.read("p.y");
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', value = {
        "LEN('Larkmere') | 8", "FIND('lock gate', 'gate') | 6", "FIND('lock', 'gate') | 0", "STRING_TO_DINT('-42 m') | -42",
        "LEN('') | 0", "LEN('a$$b$'$41') | 5", "BOOL_TO_DINT('abc' < 'abd') | 1", "BOOL_TO_DINT('ab' = 'ab') | 1",
        "BOOL_TO_DINT('ab' < 'a') | 0", "TIME_TO_DINT(DT#2026-12-01-08:30:00 - DT#2026-12-01-08:00:00) | 1800000",
        "TIME_TO_DINT(TOD#12:00:01.5 - TOD#12:00:00) | 1500", "TIME_TO_DINT(DIV_TIME(T#10s, 4.0)) | 2500",
        "BOOL_TO_DINT(D#2026-02-01 > D#2026-01-31) | 1"})
    void textsAndTimesHaveTheValuesOfTheStandard(String expression, long value) {
        assertThat(y("", "DINT", "", "y := " + expression + ";")).isEqualTo(value);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', quoteCharacter = '"', value = {
        "LEFT('paddle', 3) | pad", "RIGHT('paddle', 2) | le", "MID('paddle', 3, 2) | add", "CONCAT('lock', ' ', 'gate') | lock gate",
        "INSERT('loate', 'ck g', 2) | lock gate", "DELETE('paddled', 1, 7) | paddle", "REPLACE('red', 'reen', 2, 2) | rreen",
        "DINT_TO_STRING(-1205) | -1205", "TO_STRING(7.25) | 7.25", "LREAL_TO_STRING(0.0) | 0.0", "BOOL_TO_STRING(TRUE) | TRUE",
        "LREAL_TO_STRING(1.5E12) | 1.5E12", "LREAL_TO_STRING(2.5E-7) | 2.5E-7", "LEFT('ab', 9) | ab", "MID('ab', 9, 9) | ''"})
    void functionsOfTextsGiveTexts(String expression, String value) {
        assertThat(y("", "STRING[40]", "", "y := " + expression + ";")).isEqualTo(value.equals("''") ? "" : value);
    }

    @Test
    void whatDoesNotFitIntoAStringIsCutOff() {
        assertThat(y("", "STRING[4]", "", "y := 'chamber';")).isEqualTo("cham");
    }

    @Test
    void structuresEnumerationsAndSubrangesAreTypes() {
        String types = """
                TYPE
                    Lamp : (red, amber := 5, green) := green;
                    Percent : INT(0..100);
                    Point : STRUCT x : REAL := 1.5; y : REAL; END_STRUCT;
                    Gate : STRUCT name : STRING[10] := 'upper'; leaves : ARRAY [1..2] OF Point; lamp : Lamp; END_STRUCT;
                END_TYPE
                """;
        assertThat(y(types, "DINT", "l : Lamp;", "y := l; IF l = green THEN y := y + 10; END_IF; l := Lamp#amber; y := 100 * l + y;"))
                .isEqualTo(516L);
        assertThat(y(types, "REAL", "g : Gate; h : ARRAY [0..3] OF Gate; i : INT := 2;",
                "g.leaves[2].x := 4.0; h[i] := g; h[3].leaves[1] := h[i].leaves[2]; y := h[3].leaves[1].x + h[0].leaves[1].x;"))
                .isEqualTo(5.5);
        assertThat(y(types, "STRING[10]", "h : ARRAY [0..3] OF Gate;", "h[1].name := 'lower'; y := CONCAT(h[0].name, h[1].name);"))
                .isEqualTo("upperlower");
        assertThat(y(types, "INT", "p : Percent; n : INT := 120;", "p := n; y := p;")).isEqualTo(100L);
        assertThat(mistakes(types + "PROGRAM p VAR q : Percent; END_VAR q := 200; END_PROGRAM")).isEmpty();
        assertThat(mistakes(types + "PROGRAM p VAR q : Percent := 200; END_VAR q := 20; END_PROGRAM"))
                .anyMatch(m -> m.contains("outside 0..100"));
    }

    @Test
    void initialValuesOfArraysAndStructures() {
        assertThat(y("TYPE P : STRUCT a : INT; b : ARRAY [1..2] OF INT; END_STRUCT; END_TYPE", "INT",
                "v : ARRAY [1..5] OF INT := [1, 3(7)]; s : ARRAY [1..2] OF P := [(a := 4, b := [5, 6])];",
                "y := v[1] + v[4] + v[5] + 10 * s[1].b[2] + s[2].a;")).isEqualTo(68L);
    }

    @Test
    void functionBlocksWithInOutMethodsAndEdges() {
        String text = """
                FUNCTION_BLOCK Counter
                VAR_INPUT pulse : BOOL R_EDGE; END_VAR
                VAR_OUTPUT n : INT; END_VAR
                VAR_IN_OUT total : DINT; END_VAR
                METHOD PUBLIC add : INT
                VAR_INPUT more : INT; END_VAR
                n := n + more;
                add := n * 2;
                END_METHOD
                IF pulse THEN n := n + 1; total := total + 1; END_IF;
                END_FUNCTION_BLOCK
                FUNCTION swap
                VAR_IN_OUT a : INT; b : INT; END_VAR
                VAR_OUTPUT sum : INT; END_VAR
                VAR t : INT; END_VAR
                t := a; a := b; b := t; sum := a + b;
                END_FUNCTION
                PROGRAM p
                VAR c : ARRAY [1..3] OF Counter; total : DINT; tick : BOOL; i : INT; y : INT; a : INT := 1; b : INT := 2; s : INT; END_VAR
                tick := NOT tick;
                FOR i := 1 TO 3 DO c[i](pulse := tick AND i <> 2, total := total); END_FOR;
                y := c[2].add(more := 4);
                swap(a := a, b := b, sum => s);
                END_PROGRAM
                """;
        var r = run(text);
        for (int i = 0; i < 4; i++) {
            r.scanOnce();
        }
        assertThat(r.read("p.total")).isEqualTo(4L);
        assertThat(r.read("p.c[1].n")).isEqualTo(2L);
        assertThat(r.read("p.c[2].n")).isEqualTo(16L);
        assertThat(r.read("p.y")).isEqualTo(32L);
        assertThat(r.read("p.a")).isEqualTo(1L);
        assertThat(r.read("p.s")).isEqualTo(3L);
    }

    @Test
    void enableInputsDecideWhetherACallRuns() {
        assertThat(y("", "DINT", "ok : BOOL; no : BOOL;",
                "y := ADD(EN := TRUE, IN1 := 2, IN2 := 3, ENO => ok) + 100 * ADD(EN := FALSE, IN1 := 2, IN2 := 3, ENO => no);"
                + " IF ok AND NOT no THEN y := y + 1000; END_IF;")).isEqualTo(1005L);
    }

    @Test
    void addressesOverlapAsTheyDoInAPlc() {
        var r = run("""
                VAR_GLOBAL
                    word AT %MW1 : WORD;
                    low AT %MB2 : BYTE;
                    bit AT %MX2.3 : BOOL;
                    level AT %MD2 : REAL;
                    row AT %MW10 : ARRAY [0..3] OF INT;
                    input AT %IX0.1 : BOOL;
                END_VAR
                PROGRAM p
                VAR y : DWORD; END_VAR
                word := 16#1234; bit := TRUE; level := 1.0; y := %MD2; row[2] := -5;
                %QX0.2 := input; %QB1 := WORD_TO_BYTE(word); word.%X15 := TRUE;
                END_PROGRAM
                """);
        r.input(0, 2);
        r.scanOnce();
        assertThat(r.read("word")).isEqualTo(0x923CL);
        assertThat(r.read("low")).isEqualTo(0x3CL);
        assertThat(r.read("p.y")).isEqualTo(0x3F80_0000L);
        assertThat(r.read("row[2]")).isEqualTo(-5L);
        assertThat(r.read("row[1]")).isEqualTo(0L);
        assertThat(r.outputs()[0]).isEqualTo((byte) 4);
        assertThat(r.outputs()[1]).isEqualTo((byte) 0x3C);
    }

    @Test
    void aConfigurationNamesTasksAndPrograms() {
        var r = run("""
                PROGRAM fast
                VAR_INPUT gain : INT; END_VAR
                VAR_OUTPUT n : INT; END_VAR
                n := n + gain;
                END_PROGRAM
                PROGRAM event
                VAR_EXTERNAL hits : INT; END_VAR
                hits := hits + 1;
                END_PROGRAM
                CONFIGURATION lock
                    VAR_GLOBAL hits : INT; total : INT; alarm : BOOL; END_VAR
                    RESOURCE main ON tongs
                        TASK quick(INTERVAL := T#5ms, PRIORITY := 1);
                        TASK on_alarm(SINGLE := alarm, PRIORITY := 0);
                        PROGRAM one WITH quick : fast(gain := 3, n => total);
                        PROGRAM two WITH on_alarm : event;
                    END_RESOURCE
                END_CONFIGURATION
                """);
        r.advance(20_000_000);
        assertThat(r.read("total")).isEqualTo(15L);
        assertThat(r.read("hits")).isEqualTo(0L);
        r.write("alarm", true);
        r.advance(40_000_000);
        assertThat(r.read("hits")).isEqualTo(1L);
        assertThat(r.tasks()).extracting(PlcRuntime.TaskState::name).containsExactly("quick", "on_alarm");
    }

    @Test
    void chartsAndTimersKeepTheTimeOfTheScan() {
        var r = run("""
                FUNCTION_BLOCK Blink
                VAR_OUTPUT lamp : BOOL; END_VAR
                INITIAL_STEP off: END_STEP
                STEP lit: lamp(N); END_STEP
                TRANSITION FROM off TO lit := off.T >= T#30ms; END_TRANSITION
                TRANSITION FROM lit TO off := lit.T >= T#20ms; END_TRANSITION
                END_FUNCTION_BLOCK
                PROGRAM p
                VAR a : Blink; b : ARRAY [1..2] OF Blink; t : TON; y : INT; END_VAR
                a(); b[1](); t(IN := TRUE, PT := T#25ms);
                IF b[1].lamp THEN y := y + 1; END_IF;
                END_PROGRAM
                """);
        StringBuilder lamp = new StringBuilder();
        StringBuilder timer = new StringBuilder();
        for (int i = 0; i < 9; i++) {
            r.scanOnce();
            lamp.append((boolean) r.read("p.a.lamp") ? '#' : '.');
            timer.append((boolean) r.read("p.t.Q") ? '#' : '.');
        }
        assertThat(lamp.toString()).isEqualTo("...##...#");
        assertThat(timer.toString()).isEqualTo("...######");
        assertThat(r.read("p.y")).isEqualTo(3L);
        assertThat(r.read("p.a.lit.X")).isEqualTo(true);
    }

    @Test
    void wordsThatAreKeywordsElsewhereCanBeNames() {
        assertThat(y("", "INT", "on : BOOL := TRUE; type : INT := 2; task : INT; at : INT; program : INT;",
                "task := 3; at := 4; IF on THEN y := type * task + at; END_IF;")).isEqualTo(10L);
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', quoteCharacter = '"', value = {
        "PROGRAM p VAR x : Nothing; END_VAR END_PROGRAM | There is no type 'Nothing'",
        "PROGRAM p VAR x : STRING[0]; END_VAR END_PROGRAM | 1 to 1000 characters",
        "PROGRAM p VAR x AT %IX0.9 : BOOL; END_VAR END_PROGRAM | is not an address",
        "PROGRAM p VAR x AT %IW0 : BOOL; END_VAR END_PROGRAM | has 16 bits",
        "PROGRAM p VAR x AT %MW90000 : INT; END_VAR END_PROGRAM | beyond the 8192 bytes",
        "TYPE A : STRUCT b : A; END_STRUCT; END_TYPE PROGRAM p END_PROGRAM | contains itself",
        "FUNCTION_BLOCK f VAR g : f; END_VAR END_FUNCTION_BLOCK PROGRAM p END_PROGRAM | contains itself",
        "FUNCTION f VAR_IN_OUT a : INT; END_VAR f(a := a); END_FUNCTION PROGRAM p END_PROGRAM | calls itself",
        "PROGRAM p VAR s : STRING; y : INT; END_VAR y := s; END_PROGRAM | is a text, not a number",
        "PROGRAM p VAR s : STRING; END_VAR s := 4; END_PROGRAM | A text is needed here",
        "PROGRAM p VAR_EXTERNAL g : INT; END_VAR END_PROGRAM | no global variable 'g'",
        "VAR_GLOBAL g : INT; END_VAR PROGRAM p VAR_EXTERNAL g : REAL; END_VAR END_PROGRAM | is a INT, not a REAL",
        "CONFIGURATION c TASK t(INTERVAL := T#1ms); PROGRAM a WITH t : none; END_CONFIGURATION | There is no program 'none'",
        "CONFIGURATION c TASK t(SINGLE := x); END_CONFIGURATION | not a global BOOL variable",
        "FUNCTION_BLOCK f END_FUNCTION_BLOCK | has no program that runs",
        "PROGRAM p VAR x : INT; END_VAR %IX0.0 := TRUE; END_PROGRAM | cannot be set here"})
    void mistakesHaveACause(String text, String cause) {
        assertThat(mistakes(text)).anyMatch(m -> m.contains(cause));
    }
}
