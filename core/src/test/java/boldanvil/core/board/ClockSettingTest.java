package boldanvil.core.board;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.Patch;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.testing.PartBuilder;
import java.util.List;
import java.util.Map;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import org.junit.jupiter.api.Test;

class ClockSettingTest {
    private static final ClockTree SWAGE = Boards.shipped().find("swage32").orElseThrow().clock();
    private static final ClockTree CLINKER = Boards.shipped().find("clinker16").orElseThrow().clock();

    @Test
    void swage32ReachesWhatItsSheetPromises() {
        var c = ClockSetting.solve(SWAGE, "", Map.of());
        assertThat(c.hertz("core")).isEqualTo(168e6);
        assertThat(c.source().name()).isEqualTo("crystal");
        assertThat(c.systemHertz()).isEqualTo(12e6 / c.divide() * c.multiply() / c.post());
        assertThat(c.hertz("timers")).isEqualTo(168e6);
        assertThat(c.hertz("converters")).isEqualTo(28e6);
        assertThat(c.hertz("serial")).isEqualTo(42e6);
        assertThat(c.domains().values()).allSatisfy(d -> assertThat(d.ppm()).isCloseTo(0, within(1e-6)));
    }

    @Test
    void aBoardWithoutALoopDividesItsSource() {
        var c = ClockSetting.solve(CLINKER, "internal", Map.of());
        assertThat(c.usesLoop()).isFalse();
        assertThat(c.hertz("core")).isEqualTo(8e6);
        assertThat(c.domains().get("core").ppm()).isCloseTo((8.0 / 24 - 1) * 1e6, within(1e-6));
        assertThat(ClockSetting.solve(CLINKER, "", Map.of()).hertz("converters")).isEqualTo(1e6);
    }

    /** Whatever is asked, limits hold, and no setting of the tree comes nearer: an independent search over the loop's integers. */
    @Property(tries = 40)
    void noOtherSettingComesNearer(@ForAll @IntRange(min = 13, max = 168) int megahertz) {
        double asked = megahertz * 1e6;
        var c = ClockSetting.solve(SWAGE, "crystal", Map.of("core", asked));
        double error = Math.abs(c.hertz("core") - asked);
        assertThat(c.hertz("core")).isLessThanOrEqualTo(168e6 * (1 + 1e-9));
        for (int divide = 2; divide <= 6; divide++) {
            for (int multiply = 24; multiply <= 216; multiply++) {
                double oscillator = 12e6 / divide * multiply;
                if (oscillator < 192e6 || oscillator > 432e6) {
                    continue;
                }
                for (int post : new int[] {2, 4, 6, 8}) {
                    for (int divider : new int[] {1, 2, 4, 8, 16}) {
                        double reached = oscillator / post / divider;
                        assertThat(reached > 168e6 || Math.abs(reached - asked) >= error - 1e-3)
                                .as("%d %d %d %d", divide, multiply, post, divider).isTrue();
                    }
                }
            }
        }
    }

    @Test
    void whatAProjectAsksForIsRead() {
        var board = Boards.shipped().find("swage32").orElseThrow();
        var program = new PartBuilder("c").block("leg", "pwm out").block("k", "constant").wire("k.y", "leg.u").program();
        var setup = new BoardSetup(board, new Patch("swage32", List.of()).withClock(Map.of("source", "internal", "core", "84 MHz")),
                program);
        assertThat(setup.clock().source().name()).isEqualTo("internal");
        assertThat(setup.coreHertz()).isEqualTo(84e6);
        assertThat(setup.findings()).isEmpty();
        assertThat(wrong(board, program, "core", "200 MHz")).contains("cannot run at 200 MHz");
        assertThat(wrong(board, program, "core", "fast")).contains("not a frequency");
        assertThat(wrong(board, program, "moon", "1 MHz")).contains("no clock 'moon'");
        assertThat(wrong(board, program, "source", "moon")).contains("no clock source 'moon'");
        assertThat(wrong(board, program, "serial", "16 MHz")).contains("instead of 16 MHz");
    }

    private static String wrong(Board board, boldanvil.core.program.Program program, String key, String text) {
        return new BoardSetup(board, new Patch("swage32", List.of()).withClock(Map.of(key, text)), program).findings().getFirst().cause();
    }
}
