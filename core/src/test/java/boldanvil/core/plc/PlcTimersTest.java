package boldanvil.core.plc;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.text.PlcProgram;
import boldanvil.core.text.PlcProgram.Surroundings;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Timers, counters, edges and latches of a PLC's program against the diagrams of IEC 61131-3:2013 (figure 15, tables 43 to 46), scan by
 * scan.
 */
class PlcTimersTest {
    private static final String PROGRAM = """
            PROGRAM p
            VAR
                in, reset, load, down : BOOL;
                on : TON; off : TOF; pulse : TP;
                up : CTU; downward : CTD; both : CTUD;
                rise : R_TRIG; fall : F_TRIG; set_first : SR; reset_first : RS;
            END_VAR
            on(IN := in, PT := T#25ms);
            off(IN := in, PT := T#25ms);
            pulse(IN := in, PT := T#25ms);
            up(CU := in, R := reset, PV := 3);
            downward(CD := in, LD := load, PV := 3);
            both(CU := in, CD := down, R := reset, LD := load, PV := 3);
            rise(CLK := in);
            fall(CLK := in);
            set_first(S1 := in, R := reset);
            reset_first(S := in, R1 := reset);
            END_PROGRAM
            """;
    private static final double PT = 0.025;

    private final PlcRuntime plc = new PlcRuntime(Surroundings.USUAL);
    private long scans;

    PlcTimersTest() {
        plc.load(PlcProgram.of(PROGRAM, Surroundings.USUAL));
        plc.run();
    }

    private void scan(boolean in, boolean reset, boolean load, boolean down) {
        plc.write("p.in", in);
        plc.write("p.reset", reset);
        plc.write("p.load", load);
        plc.write("p.down", down);
        plc.advance(scans++ * 10_000_000);
    }

    private boolean is(String path) {
        return (Boolean) plc.read("p." + path);
    }

    private double time(String path) {
        return ((Number) plc.read("p." + path)).doubleValue();
    }

    /** Each column is a scan of 10 ms; the input, then Q of each timer, as the figure draws them. */
    @ParameterizedTest
    @CsvSource({
        "on,    ..######....#..###..., .....###.............",
        "off,   ..######....#..###..., ..#########.#########",
        "pulse, ..######....#..###..., ..###.......###......",
    })
    void eachTimerFollowsItsDiagram(String timer, String input, String wanted) {
        var seen = new StringBuilder();
        for (char c : input.toCharArray()) {
            scan(c == '#', false, false, false);
            seen.append(is(timer + ".Q") ? '#' : '.');
        }
        assertThat(seen.toString()).isEqualTo(wanted);
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5})
    void timersFollowTheStandardForAnyInput(long seed) {
        var random = new Random(seed);
        boolean in = false;
        boolean before = false;
        boolean offRuns = false;
        boolean pulseRuns = false;
        double onStart = 0;
        double offStart = 0;
        double pulseStart = 0;
        double pulseElapsed = 0;
        for (int i = 0; i < 600; i++) {
            in = random.nextInt(4) == 0 ? !in : in;
            scan(in, false, false, false);
            double now = i * 0.01;
            boolean rises = in && !before;
            boolean falls = !in && before;
            onStart = rises ? now : onStart;
            double onElapsed = in ? Math.min(now - onStart, PT) : 0;
            assertThat(time("on.ET")).isCloseTo(onElapsed, within(1e-9));
            assertThat(is("on.Q")).isEqualTo(in && now - onStart >= PT - 1e-9);
            offStart = falls ? now : offStart;
            offRuns = in ? false : offRuns || falls;
            assertThat(time("off.ET")).isCloseTo(offRuns ? Math.min(now - offStart, PT) : 0, within(1e-9));
            assertThat(is("off.Q")).isEqualTo(in || offRuns && now - offStart < PT - 1e-9);
            if (rises && !pulseRuns) {
                pulseRuns = true;
                pulseStart = now;
            }
            if (pulseRuns) {
                pulseElapsed = Math.min(now - pulseStart, PT);
                pulseRuns = now - pulseStart < PT - 1e-9;
            }
            if (!pulseRuns && !in) {
                pulseElapsed = 0;
            }
            assertThat(is("pulse.Q")).as("scan %d", i).isEqualTo(pulseRuns);
            assertThat(time("pulse.ET")).isCloseTo(pulseElapsed, within(1e-9));
            before = in;
        }
    }

    @Test
    void countersEdgesAndLatchesFollowTheirTables() {
        var random = new Random(9);
        boolean lastIn = false;
        boolean lastDown = false;
        boolean setFirst = false;
        boolean resetFirst = false;
        int up = 0;
        int downward = 0;
        int both = 0;
        for (int i = 0; i < 800; i++) {
            boolean in = random.nextBoolean();
            boolean reset = random.nextInt(12) == 0;
            boolean load = random.nextInt(12) == 0;
            boolean down = random.nextBoolean();
            scan(in, reset, load, down);
            boolean rises = in && !lastIn;
            boolean steps = down && !lastDown;
            up = reset ? 0 : up + (rises ? 1 : 0);
            downward = load ? 3 : downward - (rises ? 1 : 0);
            both = reset ? 0 : load ? 3 : both + (rises && !steps ? 1 : 0) - (steps && !rises ? 1 : 0);
            setFirst = in || setFirst && !reset;
            resetFirst = !reset && (in || resetFirst);
            assertThat(plc.read("p.up.CV")).isEqualTo((long) up);
            assertThat(is("up.Q")).isEqualTo(up >= 3);
            assertThat(plc.read("p.downward.CV")).isEqualTo((long) downward);
            assertThat(is("downward.Q")).isEqualTo(downward <= 0);
            assertThat(plc.read("p.both.CV")).as("scan %d", i).isEqualTo((long) both);
            assertThat(is("both.QU")).isEqualTo(both >= 3);
            assertThat(is("both.QD")).isEqualTo(both <= 0);
            assertThat(is("rise.Q")).as("scan %d", i).isEqualTo(rises);
            // In the first scan an input that is off counts as one that fell (note to table 44).
            assertThat(is("fall.Q")).as("scan %d", i).isEqualTo(!in && (lastIn || i == 0));
            assertThat(is("set_first.Q1")).isEqualTo(setFirst);
            assertThat(is("reset_first.Q1")).isEqualTo(resetFirst);
            lastIn = in;
            lastDown = down;
        }
    }
}
