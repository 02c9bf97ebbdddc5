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
        return lowered.findings().stream().map(f -> f.place() + ": " + f.cause()).toList();
    }

    @Test
    void addingVoltsToAmperesIsTold() {
        var b = new PartBuilder("p").block("v", "inlet", "unit=V").block("i", "inlet", "unit=mA").block("s", "sum").block("y", "outlet").wire("v.y", "s.u1")
                .wire("i.y", "s.u2").wire("s.y", "y.u");
        assertThat(causes(b)).containsExactly("p/s · u2: It carries A, but input u1 carries V.");
    }

    @Test
    void likeQuantitiesInOtherUnitsFit() {
        var b = new PartBuilder("p").block("v", "inlet", "unit=mm").block("i", "inlet", "unit=m").block("s", "sum").block("y", "outlet", "unit=km").wire("v.y", "s.u1")
                .wire("i.y", "s.u2").wire("s.y", "y.u");
        assertThat(causes(b)).isEmpty();
    }

    @Test
    void unitsFollowThroughGainsProductsAndIntegrators() {
        var b = new PartBuilder("p").block("i", "inlet", "unit=A").block("r", "constant", "value=2 ohm").block("u", "product").block("y", "outlet", "unit=W")
                .wire("i.y", "u.u1").wire("r.y", "u.u2").wire("u.y", "y.u");
        assertThat(causes(b)).singleElement().asString().startsWith("p/y · unit: It says W, but the signal carries ");
        var c = new PartBuilder("p").block("v", "inlet", "unit=m/s").block("x", "accumulator").block("t", "tap", "unit=A").wire("v.y", "x.u").wire("x.y", "t.u");
        assertThat(causes(c)).containsExactly("p/t · unit: It says A, but the signal carries m.");
    }

    @Test
    void whatIsNotStatedIsLeftAlone() {
        var b = new PartBuilder("p").block("v", "inlet", "unit=V").block("g", "gain", "k=3").block("i", "inlet", "unit=A").block("s", "sum").block("y", "outlet", "unit=m")
                .wire("v.y", "g.u").wire("g.y", "s.u1").wire("i.y", "s.u2").wire("s.y", "y.u");
        assertThat(causes(b)).containsExactly("p/y · unit: It says m, but the signal carries A.");
    }
}
