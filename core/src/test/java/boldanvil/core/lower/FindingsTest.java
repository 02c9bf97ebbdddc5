package boldanvil.core.lower;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.diagram.Wire;
import boldanvil.core.finding.Finding;
import boldanvil.core.testing.PartBuilder;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Each mistake on a sheet becomes a finding with its place; a part with one has no program. */
class FindingsTest {
    private static PartBuilder part() {
        return new PartBuilder("p");
    }

    private static Finding only(PartBuilder b) {
        var l = b.lower();
        assertThat(l.findings()).as("findings").hasSize(1);
        assertThat(l.program()).isEmpty();
        Finding f = l.findings().getFirst();
        assertThat(f.cure()).isNotBlank();
        return f;
    }

    @Test
    void aSoundPartHasNone() {
        assertThat(part().block("a", "inlet").block("o", "outlet").wire("a.y", "o.u").lower().findings()).isEmpty();
    }

    @Test
    void anUnconnectedInput() {
        Finding f = only(part().block("g", "gain").block("o", "outlet").wire("g.y", "o.u"));
        assertThat(f.place().text()).isEqualTo("p/g · u");
        assertThat(f.cause()).contains("not connected");
    }

    @Test
    void anOptionalInputMayStayOpen() {
        assertThat(part().block("a", "inlet").block("it", "pid").block("o", "outlet").wire("a.y", "it.e").wire("it.y", "o.u").lower()
                .findings()).isEmpty();
    }

    @Test
    void anUnknownVariable() {
        Finding f = only(part().block("a", "inlet").block("g", "gain", "k=Kp_nowhere").block("o", "outlet").wire("a.y", "g.u")
                .wire("g.y", "o.u"));
        assertThat(f.place().text()).isEqualTo("p/g · k");
        assertThat(f.cause()).contains("Kp_nowhere");
    }

    @Test
    void anEmptyParameter() {
        assertThat(only(part().block("c", "constant", "value=").block("o", "outlet").wire("c.y", "o.u")).cure()).contains("Enter a value");
    }

    @Test
    void aValueOutOfRange() {
        Finding f = only(part().block("a", "inlet").block("r", "ratelimit", "rising=-1").block("o", "outlet").wire("a.y", "r.u")
                .wire("r.y", "o.u"));
        assertThat(f.place().text()).isEqualTo("p/r · rising");
        assertThat(f.cause()).contains("outside");
    }

    @Test
    void aChoiceThatIsNone() {
        assertThat(only(part().block("a", "inlet").block("m", "convert", "type=float128").block("o", "outlet").wire("a.y", "m.u")
                .wire("m.y", "o.u")).cure()).contains("float32");
    }

    @Test
    void anUnknownBlockType() {
        Finding f = only(part().block("m", "teleporter"));
        assertThat(f.place().text()).isEqualTo("p/m");
        assertThat(f.cause()).contains("teleporter");
    }

    @Test
    void aNumberWhereLogicIsWanted() {
        Finding f = only(part().block("a", "inlet").block("n", "logic", "operation=not").block("o", "outlet").wire("a.y", "n.u1")
                .wire("n.y", "o.u"));
        assertThat(f.place().text()).isEqualTo("p/n · u1");
        assertThat(f.cause()).contains("logic value").contains("float64");
        assertThat(f.cure()).contains("Compare");
    }

    @Test
    void logicWhereANumberIsWanted() {
        assertThat(only(part().block("a", "inlet", "type=bool").block("g", "gain").block("o", "outlet").wire("a.y", "g.u")
                .wire("g.y", "o.u")).cure()).contains("Type conversion");
    }

    @Test
    void twoTypesAtOneBlock() {
        Finding f = only(part().block("a", "inlet").block("b", "inlet", "type=int32").block("s", "sum").block("o", "outlet")
                .wire("a.y", "s.u1").wire("b.y", "s.u2").wire("s.y", "o.u"));
        assertThat(f.place().text()).isEqualTo("p/s · u2");
        assertThat(f.cause()).contains("int32").contains("float64");
    }

    @Test
    void anAlgebraicLoopIsNamedAsThePathOfItsBlocks() {
        Finding f = only(part().block("a", "inlet").block("sum", "sum").block("gain", "gain").block("o", "outlet").wire("a.y", "sum.u1")
                .wire("gain.y", "sum.u2").wire("sum.y", "gain.u").wire("gain.y", "o.u"));
        assertThat(f.cause()).containsAnyOf("p/sum → p/gain → p/sum", "p/gain → p/sum → p/gain");
        assertThat(f.cure()).contains("Unit delay");
    }

    @Test
    void aBlockThatFeedsItselfIsALoop() {
        assertThat(only(part().block("a", "inlet").block("s", "sum").block("o", "outlet").wire("a.y", "s.u1").wire("s.y", "s.u2")
                .wire("s.y", "o.u")).cause()).contains("p/s → p/s");
    }

    @Test
    void whatHangsBehindALoopIsNotBlamed() {
        Finding f = only(part().block("a", "inlet").block("s", "sum").block("g", "gain").block("after", "gain").block("o", "outlet")
                .wire("a.y", "s.u1").wire("g.y", "s.u2").wire("s.y", "g.u").wire("g.y", "after.u").wire("after.y", "o.u"));
        assertThat(f.cause()).doesNotContain("after");
    }

    @Test
    void twoLoopsAreTwoFindings() {
        var b = part().block("o", "outlet");
        for (String n : new String[] {"x", "y"}) {
            b.block(n + "1", "gain").block(n + "2", "gain").wire(n + "1.y", n + "2.u").wire(n + "2.y", n + "1.u");
        }
        b.block("s", "sum").wire("x1.y", "s.u1").wire("y1.y", "s.u2").wire("s.y", "o.u");
        assertThat(b.lower().findings()).hasSize(2).allMatch(f -> f.cause().startsWith("Algebraic loop"));
    }

    @ParameterizedTest
    @ValueSource(strings = {"delay", "accumulator"})
    void aMemoryBreaksTheLoop(String type) {
        assertThat(part().block("a", "inlet").block("s", "sum").block("m", type).block("o", "outlet").wire("a.y", "s.u1")
                .wire("m.y", "s.u2")
                .wire("s.y", "m.u").wire("m.y", "o.u").lower().findings()).isEmpty();
    }

    @Test
    void aLoopThroughASubsystemIsFound() {
        var b = part().block("a", "inlet").block("s", "sum").block("sub", "subsystem", "sheet=inner").block("o", "outlet")
                .wire("a.y", "s.u1").wire("sub.out", "s.u2").wire("s.y", "sub.in").wire("s.y", "o.u")
                .sheet("inner").block("in", "inlet").block("g", "gain").block("out", "outlet").wire("in.y", "g.u").wire("g.y", "out.u");
        assertThat(only(b).cause()).contains("p/sub/g");
    }

    @Test
    void twoWiresIntoOneInput() {
        var b = part().block("a", "inlet").block("b", "inlet").block("o", "outlet").wire("a.y", "o.u").wire("b.y", "o.u");
        assertThat(only(b).cause()).contains("Two wires");
    }

    @Test
    void aWireToAPortThatIsNotThere() {
        assertThat(only(part().block("a", "inlet").block("o", "outlet").wire("a.y", "o.u").wire("a.y", "o.nothing")).cause())
                .contains("does not exist");
        assertThat(only(part().block("a", "inlet").block("o", "outlet").wire("a.y", "o.u").wire("a.y", "ghost.u")).cause())
                .contains("does not exist");
    }

    @Test
    void twoBlocksOfOneName() {
        var b = part().block("a", "inlet").block("o", "outlet").wire("a.y", "o.u").block("A b", "constant").block("A_b", "constant");
        assertThat(only(b).cause()).contains("this name too");
    }

    @Test
    void aSubsystemWithoutItsSheet() {
        assertThat(only(part().block("sub", "subsystem", "sheet=gone")).cause()).contains("'gone' does not exist");
    }

    @Test
    void aSubsystemThatContainsItself() {
        Finding f = only(part().block("sub", "subsystem", "sheet=a").sheet("a").block("b", "subsystem", "sheet=b").sheet("b")
                .block("again", "subsystem", "sheet=a"));
        assertThat(f.place().text()).isEqualTo("p/sub/b/again");
        assertThat(f.cause()).contains("a → b → a");
    }

    @Test
    void subsystemsThatMultiplyWithoutEndAreStopped() {
        var b = part();
        for (int level = 0; level < 30; level++) {
            b.sheet(level == 0 ? "main" : "s" + level);
            b.block("one", "subsystem", "sheet=s" + (level + 1)).block("two", "subsystem", "sheet=s" + (level + 1))
                    .block("c", "constant");
        }
        b.sheet("s30").block("c", "constant");
        assertThat(b.lower().findings()).anyMatch(f -> f.cause().contains("more than"));
    }

    @Test
    void anUnconnectedPortOfASubsystemIsToldOnceAndOutside() {
        Finding f = only(part().block("sub", "subsystem", "sheet=inner").block("o", "outlet").wire("sub.out", "o.u").sheet("inner")
                .block("in", "inlet").block("g", "gain").block("out", "outlet").wire("in.y", "g.u").wire("g.y", "out.u"));
        assertThat(f.place().text()).isEqualTo("p/sub · in");
    }

    @Test
    void aWireThatRunsInACircleThroughBorders() {
        var b = part().block("sub", "subsystem", "sheet=inner").wire("sub.out", "sub.in").block("o", "outlet").wire("sub.out", "o.u")
                .sheet("inner").block("in", "inlet").block("out", "outlet").wire("in.y", "out.u");
        assertThat(b.lower().findings()).isNotEmpty().anyMatch(f -> f.cause().contains("cycle"));
    }

    @Test
    void aSampledBlockInContinuousSurroundings() {
        assertThat(only(part().plant("1 ms", "rk4").block("a", "inlet").block("d", "delay").block("o", "outlet").wire("a.y", "d.u")
                .wire("d.y", "o.u")).cause()).contains("needs a sample time");
    }

    @ParameterizedTest
    @CsvSource(delimiter = '|', textBlock = """
            50 ns      | is not possible
            2 h        | is not possible
            nonsense   | not a variable
            1 ms/3     | is not a whole number of nanoseconds
            """)
    void sampleTimesThatCannotBeKept(String text, String words) {
        var l = part().sampleTime(text).block("a", "inlet").block("o", "outlet").wire("a.y", "o.u").lower();
        assertThat(l.findings()).isNotEmpty().allSatisfy(f -> assertThat(f.cause()).contains(words));
    }

    @Test
    void aPartWithOddSettings() {
        assertThat(part().real("int32").lower().findings()).anyMatch(f -> f.cause().contains("real numbers"));
        assertThat(part().plant("1 ms", "magic").lower().findings()).anyMatch(f -> f.cause().contains("solver"));
        assertThat(new PartBuilder("Not an id").lower().findings()).anyMatch(f -> f.cause().contains("identifier"));
    }

    @Test
    void mistakesAreToldTogether() {
        var l = part().block("g", "gain", "k=nope").block("h", "gain").block("o", "outlet").wire("g.y", "o.u").lower();
        assertThat(l.findings()).hasSize(3);
    }

    private static List<Finding> system(PartBuilder a, PartBuilder b, Wire... wires) {
        return LoweredSystem.of(PartBuilder.project(List.of(a.part(), b.part()), wires)).findings();
    }

    private static PartBuilder sender(String type) {
        return new PartBuilder("a").block("c", "constant", "type=" + type).block("out", "outlet").wire("c.y", "out.u");
    }

    private static PartBuilder receiver(String type) {
        return new PartBuilder("b").block("in", "inlet", "type=" + type).block("t", "tap").wire("in.y", "t.u");
    }

    @Test
    void anUnconnectedInputOfAPart() {
        assertThat(system(sender("real"), receiver("real"))).singleElement().satisfies(f ->
                assertThat(f.place().text()).isEqualTo("system · b.in"));
    }

    @Test
    void aWireBetweenPartsThatFit() {
        assertThat(system(sender("real"), receiver("real"), new Wire("a", "out", "b", "in"))).isEmpty();
        assertThat(system(sender("int32"), receiver("real"), new Wire("a", "out", "b", "in"))).isEmpty();
    }

    @Test
    void logicAndNumbersDoNotMeetBetweenParts() {
        assertThat(system(sender("bool"), receiver("real"), new Wire("a", "out", "b", "in"))).anyMatch(f -> f.cause().contains("bool"));
    }

    @Test
    void wiresBetweenPartsThatAreNotThere() {
        assertThat(system(sender("real"), receiver("real"), new Wire("a", "out", "b", "in"), new Wire("a", "out", "ghost", "in")))
                .singleElement().satisfies(f -> assertThat(f.cause()).contains("part that does not exist"));
        assertThat(system(sender("real"), receiver("real"), new Wire("a", "out", "b", "in"), new Wire("a", "oops", "b", "in")))
                .singleElement().satisfies(f -> assertThat(f.cause()).contains("port that does not exist"));
    }

    @Test
    void anEmptyListIsNoValue() {
        Finding f = only(part().block("a", "inlet").block("g", "gain", "k=[]").block("o", "outlet").wire("a.y", "g.u").wire("g.y", "o.u"));
        assertThat(f.cause()).contains("has no value");
    }

    @ParameterizedTest
    @ValueSource(strings = {"99999999999", "-1", "0", "1e400", "2.5", "m^2147483", "1 V"})
    void aNumberOfInputsThatCannotBeIsAFinding(String inputs) {
        assertThat(part().block("a", "inlet").block("m", "mux", "inputs=" + inputs).lower().findings()).isNotEmpty();
    }

    @Test
    void aChoiceThatIsNoneIsNamedAndItsBlockStillDrawn() {
        var l = part().block("a", "inlet").block("r", "rounding", "mode=upside down").block("o", "outlet").wire("a.y", "r.u")
                .wire("r.y", "o.u").lower();
        assertThat(l.findings()).isNotEmpty().allSatisfy(f -> assertThat(f.cure()).isNotBlank());
    }

    @Test
    void aNetAtAPortWithDirection() {
        Finding f = only(part().block("a", "inlet").block("o", "outlet").wire("a.y", "o.u").net("a.y", "o.p").sheet("main"));
        assertThat(f.place().text()).isEqualTo("p/a · y");
        assertThat(f.cause()).contains("direction");
    }
}
