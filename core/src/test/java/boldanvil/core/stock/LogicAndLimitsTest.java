package boldanvil.core.stock;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.DoubleRange;
import net.jqwik.api.constraints.Size;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class LogicAndLimitsTest {
    private static Stepper compare(String relation) {
        return Stepper.of(new PartBuilder("l").block("a", "inlet").block("b", "inlet").block("it", "compare", "relation=" + relation)
                .block("out", "outlet").wire("a.y", "it.a").wire("b.y", "it.b").wire("it.y", "out.u"));
    }

    @ParameterizedTest
    @CsvSource({"'>', 0, 0, 1", "'≥', 0, 1, 1", "'<', 1, 0, 0", "'≤', 1, 1, 0", "'=', 0, 1, 0", "'≠', 1, 0, 1"})
    void relationsBelowAtAndAbove(String relation, double below, double at, double above) {
        var s = compare(relation).set("b", 5);
        assertThat(s.course("a", "out", 4, 5, 6)).containsExactly(below, at, above);
    }

    @Test
    void whatIsNoNumberCompaesAsUnequalToAll() {
        for (String r : new String[] {">", "≥", "<", "≤", "="}) {
            assertThat(compare(r).set("b", 1).set("a", Double.NaN).step().out("out")).as(r).isZero();
        }
        assertThat(compare("≠").set("b", 1).set("a", Double.NaN).step().out("out")).isEqualTo(1);
    }

    @ParameterizedTest
    @CsvSource({"and, 0, 0, 0, 1", "or, 0, 1, 1, 1", "xor, 0, 1, 1, 0", "nand, 1, 1, 1, 0", "nor, 1, 0, 0, 0"})
    void truthTables(String operation, double ff, double ft, double tf, double tt) {
        var s = Stepper.of(new PartBuilder("l").block("a", "inlet", "type=bool").block("b", "inlet", "type=bool")
                .block("it", "logic", "operation=" + operation).block("out", "outlet").wire("a.y", "it.u1").wire("b.y", "it.u2")
                .wire("it.y", "out.u"));
        assertThat(s.set("a", 0).set("b", 0).step().out("out")).isEqualTo(ff);
        assertThat(s.set("a", 0).set("b", 1).step().out("out")).isEqualTo(ft);
        assertThat(s.set("a", 1).set("b", 0).step().out("out")).isEqualTo(tf);
        assertThat(s.set("a", 1).set("b", 1).step().out("out")).isEqualTo(tt);
    }

    @Test
    void notHasOneInput() {
        var s = Stepper.of(new PartBuilder("l").block("a", "inlet", "type=bool").block("it", "logic", "operation=not")
                .block("out", "outlet").wire("a.y", "it.u1").wire("it.y", "out.u"));
        assertThat(s.course("a", "out", 0, 1)).containsExactly(1, 0);
    }

    @Test
    void aSwitchChooses() {
        var s = Stepper.of(new PartBuilder("l").block("c", "inlet", "type=bool").block("one", "constant", "value=1")
                .block("two", "constant", "value=2").block("it", "switch").block("out", "outlet").wire("one.y", "it.yes")
                .wire("c.y", "it.if").wire("two.y", "it.no").wire("it.y", "out.u"));
        assertThat(s.course("c", "out", 1, 0, 1)).containsExactly(1, 2, 1);
    }

    private static Stepper latch(String dominant) {
        return Stepper.of(new PartBuilder("l").block("set", "inlet", "type=bool").block("reset", "inlet", "type=bool")
                .block("it", "latch", "dominant=" + dominant).block("out", "outlet").wire("set.y", "it.set").wire("reset.y", "it.reset")
                .wire("it.y", "out.u"));
    }

    @Test
    void aLatchKeepsItsValue() {
        var s = latch("set");
        assertThat(s.course("set", "out", 0, 1, 0, 0)).containsExactly(0, 1, 1, 1);
        assertThat(s.course("reset", "out", 1, 0)).containsExactly(0, 0);
    }

    @Test
    void theDominantInputWins() {
        assertThat(latch("set").set("set", 1).set("reset", 1).step().out("out")).isEqualTo(1);
        assertThat(latch("reset").set("set", 1).set("reset", 1).step().out("out")).isZero();
    }

    private static Stepper limit(String type, String... settings) {
        return Stepper.of(new PartBuilder("l").block("a", "inlet").block("it", type, settings).block("out", "outlet").wire("a.y", "it.u")
                .wire("it.y", "out.u"));
    }

    @Test
    void saturationHoldsWithin() {
        assertThat(limit("saturation", "low=-2", "high=3").course("a", "out", -5, -2, 0, 3, 9)).containsExactly(-2, -2, 0, 3, 3);
    }

    @Test
    void aDeadZoneGivesTheDistance() {
        assertThat(limit("deadzone", "low=-1", "high=2").course("a", "out", -3, -1, 0, 2, 5)).containsExactly(-2, 0, 0, 0, 3);
    }

    @Test
    void limitsInTheWrongOrderAreAFinding() {
        var l = new PartBuilder("l").block("a", "inlet").block("it", "saturation", "low=3", "high=-3").block("out", "outlet")
                .wire("a.y", "it.u").wire("it.y", "out.u").lower();
        assertThat(l.findings()).singleElement().satisfies(f -> assertThat(f.cause()).contains("above high"));
    }

    @Property(tries = 60)
    void saturationTwiceIsSaturationOnce(@ForAll @DoubleRange(min = -10, max = 10) double u) {
        var s = limit("saturation", "low=-2", "high=3");
        double once = s.set("a", u).step().out("out");
        assertThat(s.set("a", once).step().out("out")).isEqualTo(once);
    }

    @Property(tries = 60)
    void aRateLimiterNeverChangesFasterThanItsLimits(@ForAll @Size(min = 2, max = 40) double[] inputs) {
        double[] y = limit("ratelimit", "rising=5", "falling=2").course("a", "out", inputs);
        double last = 0;
        for (double v : y) {
            assertThat(v - last).isBetween(-2e-3 - 1e-12, 5e-3 + 1e-12);
            last = v;
        }
    }

    @Test
    void aRateLimiterReachesItsInputAndStays() {
        double[] y = limit("ratelimit", "rising=1000", "falling=500").course("a", "out", 3, 3, 3, 3, 0, 0);
        assertThat(y).containsExactly(1, 2, 3, 3, 2.5, 2);
    }

    @Test
    void resettingARateLimiterLetsItsInputThrough() {
        var s = Stepper.of(new PartBuilder("l").block("a", "inlet").block("r", "inlet", "type=bool")
                .block("it", "ratelimit", "rising=1000", "falling=1000").block("out", "outlet").wire("a.y", "it.u").wire("r.y", "it.reset")
                .wire("it.y", "out.u"));
        assertThat(s.set("r", 1).set("a", 50).step().out("out")).isEqualTo(50);
        assertThat(s.advance().set("r", 0).set("a", 60).step().out("out")).isCloseTo(51, within(1e-12));
    }
}
