package boldanvil.core.lower;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.testing.PartBuilder;
import java.util.List;
import org.junit.jupiter.api.Test;

class UnitCheckTest {
    private static List<String> causes(PartBuilder b) {
        var lowered = b.lower();
        assertThat(lowered.program()).as("units are doubts, not errors").isPresent();
        assertThat(lowered.findings()).noneMatch(f -> f.isError());
        return lowered.findings().stream().map(f -> f.place().text() + ": " + f.cause()).toList();
    }

    @Test
    void addingVoltsToAmperesIsTold() {
        var b = new PartBuilder("p").block("v", "inlet", "unit=V").block("i", "inlet", "unit=mA").block("s", "sum").block("y", "outlet")
                .wire("v.y", "s.u1")
                .wire("i.y", "s.u2").wire("s.y", "y.u");
        assertThat(causes(b)).containsExactly("p/s · u2: It carries a current (A), but u1 carries a voltage (V).");
    }

    @Test
    void likeQuantitiesInOtherUnitsFit() {
        var b = new PartBuilder("p").block("v", "inlet", "unit=mm").block("i", "inlet", "unit=m").block("s", "sum")
                .block("y", "outlet", "unit=km").wire("v.y", "s.u1")
                .wire("i.y", "s.u2").wire("s.y", "y.u");
        assertThat(causes(b)).isEmpty();
    }

    @Test
    void unitsFollowThroughGainsProductsAndIntegrators() {
        var b = new PartBuilder("p").block("i", "inlet", "unit=A").block("r", "constant", "value=2 ohm").block("u", "product")
                .block("y", "outlet", "unit=W")
                .wire("i.y", "u.u1").wire("r.y", "u.u2").wire("u.y", "y.u");
        assertThat(causes(b)).singleElement().asString().startsWith("p/y · unit: Its unit is W, but the signal carries a voltage");
        var c = new PartBuilder("p").block("v", "inlet", "unit=m/s").block("x", "accumulator").block("t", "tap", "unit=A")
                .wire("v.y", "x.u").wire("x.y", "t.u");
        assertThat(causes(c)).containsExactly("p/t · unit: Its unit is A, but the signal carries a length (m).");
    }

    @Test
    void whatIsNotStatedIsLeftAlone() {
        var b = new PartBuilder("p").block("v", "inlet", "unit=V").block("g", "gain", "k=3").block("i", "inlet", "unit=A").block("s", "sum")
                .block("y", "outlet", "unit=m")
                .wire("v.y", "g.u").wire("g.y", "s.u1").wire("i.y", "s.u2").wire("s.y", "y.u");
        assertThat(causes(b)).containsExactly("p/y · unit: Its unit is m, but the signal carries a current (A).");
    }

    @Test
    void parametersAreOfTheKindOfTheirSignals() {
        var b = new PartBuilder("p").block("v", "inlet", "unit=V").block("s", "saturation", "low=-1 A", "high=24 V")
                .block("r", "ratelimit", "rising=3 V", "falling=2 V/s")
                .block("x", "function", "f=exp").block("y", "outlet").wire("v.y", "s.u").wire("s.y", "r.u").wire("r.y", "x.u")
                .wire("x.y", "y.u");
        assertThat(causes(b)).hasSize(3).anyMatch(c -> c.startsWith("p/s · low"))
                .anyMatch(c -> c.startsWith("p/r · rising: It carries a voltage"))
                .anyMatch(c -> c.startsWith("p/x · u: It carries a voltage (V), but a pure number"));
    }

    @Test
    void aParameterOfAnotherKindThanItsOwnIsAnError() {
        for (String[] wrong : new String[][] {{"sine", "frequency=3 m"}, {"step", "at=3 A"}, {"delay of n", "n=3 m"}, {"ton", "PT=5 V"}}) {
            var b = new PartBuilder("p").block("b", wrong[0], wrong[1]).block("c", "constant",
                    "type=" + (wrong[0].equals("ton") ? "bool" : "real"));
            if (!wrong[0].equals("sine") && !wrong[0].equals("step")) {
                b.wire("c.y", wrong[0].equals("ton") ? "b.IN" : "b.u");
            }
            assertThat(b.lower().findings()).as(wrong[1]).anyMatch(f -> f.isError() && f.cause().contains("is needed"));
        }
        assertThat(new PartBuilder("p").sampleTime("3 m").block("c", "constant").block("g", "gain").wire("c.y", "g.u").lower().findings())
                .anyMatch(f -> f.isError() && f.cause().contains("a length"));
    }

    @Test
    void aTunableIsInItsUnit() {
        var p = new PartBuilder("p").block("speed", "tunable", "value=1500", "unit=rpm", "low=-3000", "high=3000 rpm").block("y", "outlet")
                .wire("speed.y", "y.u").program();
        var t = p.tunables().getFirst();
        assertThat(t.slot().initial()).isCloseTo(50 * Math.PI, org.assertj.core.api.Assertions.within(1e-12));
        assertThat(t.minimum()).isCloseTo(-100 * Math.PI, org.assertj.core.api.Assertions.within(1e-12));
        assertThat(t.maximum()).isCloseTo(100 * Math.PI, org.assertj.core.api.Assertions.within(1e-12));
        assertThat(t.slot().unit()).isEqualTo("rpm");
    }
}
