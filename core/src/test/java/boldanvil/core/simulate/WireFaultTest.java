package boldanvil.core.simulate;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.diagram.Wire;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.simulate.WireFault.Kind;
import boldanvil.core.testing.PartBuilder;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** A counter that sends 0, 1, 2 … over a wire; a value arrives a tick after it was sent. */
class WireFaultTest {
    private final LoweredSystem system = LoweredSystem.of(PartBuilder.project(List.of(
            new PartBuilder("a").block("n", "counter", "limit=1000").block("c", "convert").block("out", "outlet").wire("n.y", "c.u")
                    .wire("c.y", "out.u").part(),
            new PartBuilder("b").block("in", "inlet").block("seen", "tap").wire("in.y", "seen.u").part()),
            new Wire("a", "out", "b", "in"))).orThrow();
    private final Map<String, Instance> instances = new LinkedHashMap<>();
    private final List<Double> seen = new ArrayList<>();
    private final Conductor conductor;

    WireFaultTest() {
        system.parts().keySet().forEach(id -> instances.put(id, JvmCompiler.compile(system.program(id).orElseThrow()).instantiate()));
        conductor = new Conductor(system, instances);
        var tap = system.program("b").orElseThrow().taps().getFirst().slot();
        conductor.observe("b", new Observer() {
            @Override
            public void sampled(long nanos) {}

            @Override
            public void stepped(long nanos, long partTick) {
                seen.add(instances.get("b").get(tap));
            }
        });
    }

    private List<Double> seen(int ticks) {
        seen.clear();
        for (int i = 0; i < ticks; i++) {
            conductor.tick();
        }
        return List.copyOf(seen);
    }

    private List<Double> with(WireFault fault, int ticks) {
        seen(5);
        conductor.insert("a.out", fault);
        return seen(ticks);
    }

    @Test
    void anOffsetAndAGainActOnEachValue() {
        assertThat(with(WireFault.of(Kind.OFFSET, 0.5), 3)).containsExactly(4.5, 5.5, 6.5);
        conductor.insert("b.in", WireFault.of(Kind.GAIN, 2));
        assertThat(seen(2)).as("the wire may be named by either end").containsExactly(14.0, 16.0);
        conductor.clear("a.out");
        assertThat(seen(2)).containsExactly(9.0, 10.0);
    }

    @Test
    void aDriftGrowsBySecondsSinceItBegan() {
        assertThat(with(WireFault.of(Kind.DRIFT, 1000), 3)).containsExactly(4.0, 6.0, 8.0);
    }

    @Test
    void aStuckWireKeepsTheValueOfTheInstantInWhichItBegan() {
        assertThat(with(WireFault.of(Kind.STUCK, 0), 3)).containsExactly(4.0, 4.0, 4.0);
        conductor.clear("");
        assertThat(seen(1)).containsExactly(7.0);
    }

    @Test
    void anOpenWireHasALevelOfItsOwn() {
        assertThat(with(WireFault.of(Kind.LEVEL, -3), 2)).containsExactly(-3.0, -3.0);
    }

    @Test
    void aDelayGivesTheValueOfThatTimeBefore() {
        assertThat(with(WireFault.late(0.002), 6)).as("what was there before stays until something older arrives")
                .containsExactly(4.0, 4.0, 4.0, 5.0, 6.0, 7.0);
    }

    @Test
    void anIntermittentFaultComesAndGoes() {
        assertThat(with(WireFault.of(Kind.LEVEL, 0).intermittent(0.003, 0.001), 6)).containsExactly(0.0, 5.0, 6.0, 0.0, 8.0, 9.0);
    }

    @Test
    void valuesAreLostAsOftenAsTheShareSaysAndAlwaysTheSameOnes() {
        var first = with(WireFault.random(Kind.LOST, 0.3, 0), 900);
        long kept = 0;
        for (int i = 1; i < first.size(); i++) {
            kept += first.get(i).equals(first.get(i - 1)) ? 1 : 0;
        }
        assertThat(kept).isBetween(220L, 320L);
        var again = new WireFaultTest();
        assertThat(again.with(WireFault.random(Kind.LOST, 0.3, 0), 900)).isEqualTo(first);
    }

    @Test
    void noiseHasItsStandardDeviation() {
        var all = with(WireFault.of(Kind.NOISE, 2), 900);
        double square = 0;
        for (int i = 0; i < all.size(); i++) {
            square += Math.pow(all.get(i) - (i + 4), 2) / all.size();
        }
        assertThat(Math.sqrt(square)).isBetween(1.8, 2.2);
    }

    @Test
    void aDamagedValueDiffersInOneBit() {
        var all = with(WireFault.random(Kind.DAMAGED, 1, 0), 50);
        for (int i = 0; i < all.size(); i++) {
            long differing = Double.doubleToRawLongBits(all.get(i)) ^ Double.doubleToRawLongBits(i + 4);
            assertThat(Long.bitCount(differing)).isEqualTo(1);
        }
    }

    @Test
    void aRepeatedValueIsOfSomeTimeBefore() {
        assertThat(with(WireFault.random(Kind.REPEATED, 1, 0.001), 4)).containsExactly(4.0, 4.0, 5.0, 6.0);
    }

    @Test
    void aHaltedPartKeepsWhatItGaveLastAndGoesOnAfterIt() {
        seen(5);
        conductor.insert("a", WireFault.ofPart(Kind.HALT, 0.003));
        assertThat(seen(6)).containsExactly(4.0, 4.0, 4.0, 4.0, 5.0, 6.0);
    }

    @Test
    void aResetPartStartsAnew() {
        seen(5);
        conductor.insert("a", WireFault.ofPart(Kind.RESET, 0));
        assertThat(seen(3)).containsExactly(0.0, 0.0, 1.0);
    }

    @Test
    void whatWasDoneCanBeRepeatedBitForBit() {
        var first = with(WireFault.of(Kind.NOISE, 1), 40);
        var again = new WireFaultTest();
        again.conductor.repeat(conductor.interventions(0));
        var all = again.seen(45);
        assertThat(all.subList(5, 45)).isEqualTo(first);
    }
}
