package boldanvil.core.simulate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.mockito.ArgumentMatchers.anyLong;
import static org.mockito.Mockito.inOrder;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.times;
import static org.mockito.Mockito.verify;

import boldanvil.core.diagram.Wire;
import boldanvil.core.finding.FindingException;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.samples.Series;
import boldanvil.core.testing.PartBuilder;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

class ConductorTest {
    private static LoweredSystem system(List<PartBuilder> parts, Wire... wires) {
        return LoweredSystem.of(PartBuilder.project(parts.stream().map(PartBuilder::part).toList(), wires)).orThrow();
    }

    private static Map<String, Instance> instances(LoweredSystem system) {
        Map<String, Instance> all = new LinkedHashMap<>();
        system.parts().keySet().forEach(id -> all.put(id, JvmCompiler.compile(system.program(id).orElseThrow()).instantiate()));
        return all;
    }

    private static Series run(LoweredSystem system, int ticks, String tap, Change... changes) {
        var instances = instances(system);
        var conductor = new Conductor(system, instances);
        var recorder = new Recorder(system, instances, Integer.MAX_VALUE);
        recorder.record(conductor);
        var store = recorder.store();
        conductor.schedule(List.of(changes));
        for (int i = 0; i < ticks; i++) {
            conductor.tick();
        }
        return store.snapshot().find(tap).orElseThrow();
    }

    private static PartBuilder counting() {
        return new PartBuilder("a").block("n", "counter", "limit=1000").block("c", "convert").block("out", "outlet").wire("n.y", "c.u")
                .wire("c.y", "out.u");
    }

    private static PartBuilder watching(String id, String sampleTime) {
        return new PartBuilder(id).sampleTime(sampleTime).block("in", "inlet").block("seen", "tap").wire("in.y", "seen.u");
    }

    @Test
    void betweenDiscretePartsAValueArrivesATickLater() {
        var s = system(List.of(counting(), watching("b", "1 ms")), new Wire("a", "out", "b", "in"));
        assertThat(run(s, 5, "b.seen").values()).containsExactly(0, 0, 1, 2, 3);
    }

    @Test
    void theOrderOfThePartsDoesNotMatter() {
        var there = system(List.of(counting(), watching("b", "1 ms")), new Wire("a", "out", "b", "in"));
        var back = system(List.of(watching("b", "1 ms"), counting()), new Wire("a", "out", "b", "in"));
        assertThat(run(there, 20, "b.seen")).isEqualTo(run(back, 20, "b.seen"));
    }

    @Test
    void aControllerSeesThePlantOfTheSameInstant() {
        var plant = new PartBuilder("a").plant("1 ms", "rk4").block("one", "constant").block("x", "integrator").block("out", "outlet")
                .wire("one.y", "x.u").wire("x.y", "out.u");
        var s = system(List.of(plant, watching("b", "1 ms")), new Wire("a", "out", "b", "in"));
        double[] seen = run(s, 4, "b.seen").values();
        for (int k = 0; k < 4; k++) {
            assertThat(seen[k]).isCloseTo(k * 1e-3, org.assertj.core.api.Assertions.within(1e-15));
        }
    }

    @Test
    void partsOfDifferentRatesShareOneClock() {
        var s = system(List.of(counting(), watching("b", "3 ms")), new Wire("a", "out", "b", "in"));
        var seen = run(s, 10, "b.seen");
        assertThat(seen.times()).containsExactly(0, 0.003, 0.006, 0.009);
        assertThat(seen.values()).containsExactly(0, 2, 5, 8);
    }

    @Test
    void changesHappenAtTheirTick() {
        var part = new PartBuilder("a").block("t", "tunable", "value=1", "low=0", "high=9").block("seen", "tap").wire("t.y", "seen.u");
        var s = system(List.of(part));
        assertThat(run(s, 5, "a.seen", new Change("a.t", 7, 3_000_000), new Change("a.t", 5, 1_000_000)).values())
                .containsExactly(1, 5, 5, 7, 7);
    }

    @Test
    void changesAreCheckedWhenTheyArePlanned() {
        var part = new PartBuilder("a").block("t", "tunable", "value=1", "low=0", "high=9").block("seen", "tap").wire("t.y", "seen.u");
        var s = system(List.of(part));
        assertThatThrownBy(() -> run(s, 1, "a.seen", new Change("a.t", 10, 0))).isInstanceOf(FindingException.class)
                .hasMessageContaining("outside 0.0 to 9.0");
        assertThatThrownBy(() -> run(s, 1, "a.seen", new Change("a.q", 1, 0))).hasMessageContaining("no tunable 'q'")
                .hasMessageContaining("Tunables are: t");
        assertThatThrownBy(() -> run(s, 1, "a.seen", new Change("zz.q", 1, 0))).hasMessageContaining("no part 'zz'");
        assertThatThrownBy(() -> run(s, 1, "a.seen", new Change("a.t", Double.NaN, 0))).hasMessageContaining("outside");
    }

    @Test
    void aSystemWithErrorsDoesNotRun() {
        var broken = LoweredSystem.of(PartBuilder.project(List.of(new PartBuilder("a").block("g", "gain").part())));
        assertThatThrownBy(() -> new Conductor(broken, Map.of())).isInstanceOf(FindingException.class);
    }

    @Test
    void anEmptySystemIsAFinding() {
        assertThatThrownBy(() -> new Conductor(LoweredSystem.of(PartBuilder.project(List.of())), Map.of()))
                .isInstanceOf(FindingException.class).hasMessageContaining("no part");
    }

    @Test
    void eachKindOfFaultIsReportedOnceWithItsInstant() {
        var part = new PartBuilder("a").block("one", "constant", "value=1", "type=int32").block("zero", "constant", "value=0", "type=int32")
                .block("q", "product", "signs=*/").block("seen", "tap").wire("one.y", "q.u1").wire("zero.y", "q.u2").wire("q.y", "seen.u");
        var s = system(List.of(part));
        var conductor = new Conductor(s, instances(s));
        conductor.tick();
        assertThat(conductor.takeFaults()).singleElement().satisfies(f -> {
            assertThat(f.place().text()).isEqualTo("a/q");
            assertThat(f.cause()).contains("divided by zero").contains("at 0.0 s");
        });
        conductor.tick();
        assertThat(conductor.takeFaults()).isEmpty();
    }

    @Test
    void differentFaultsOfOneTickAreReportedWithTheirOwnBlocks() {
        var part = new PartBuilder("a").block("one", "constant", "value=1").block("zero", "constant", "value=0")
                .block("minus", "constant", "value=-1")
                .block("q", "product", "signs=*/").block("root", "function", "f=sqrt").block("ln", "function", "f=ln")
                .block("as int", "convert", "type=int16")
                .block("seen", "tap").wire("one.y", "q.u1").wire("zero.y", "q.u2").wire("minus.y", "root.u").wire("minus.y", "ln.u")
                .wire("root.y", "as int.u")
                .wire("as int.y", "seen.u");
        var s = system(List.of(part));
        var conductor = new Conductor(s, instances(s));
        for (int i = 0; i < 5; i++) {
            conductor.tick();
        }
        assertThat(conductor.takeFaults()).extracting(f -> f.place().text() + ": " + f.cause().substring(0, 12))
                .contains("a/q: It divided b", "a/root: A function w", "a/as int: A value that");
    }

    @Test
    void aSignalThatIsNotANumberIsReportedAtTheBlockItComesFrom() {
        var part = new PartBuilder("a").block("big", "constant", "value=1e308").block("k", "gain", "k=10").block("half", "gain", "k=0.5")
                .block("seen", "tap")
                .wire("big.y", "k.u").wire("k.y", "half.u").wire("half.y", "seen.u");
        var s = system(List.of(part));
        var conductor = new Conductor(s, instances(s));
        conductor.tick();
        assertThat(conductor.takeFaults()).singleElement().satisfies(f -> {
            assertThat(f.cause()).contains("infinite or not a number");
            assertThat(f.place().text()).startsWith("a/");
        });
    }

    @Test
    void requestsAreServedBetweenTicks() {
        var s = system(List.of(counting()));
        var conductor = new Conductor(s, instances(s));
        var request = mock(Runnable.class);
        conductor.request(request);
        conductor.tick();
        conductor.tick();
        verify(request, times(1)).run();
    }

    @Test
    void eachPartSamplesStepsAndAdvancesInThisOrder() {
        var s = system(List.of(counting()));
        var instance = mock(Instance.class);
        var observer = mock(Observer.class);
        var conductor = new Conductor(s, Map.of("a", instance));
        conductor.observe("a", observer);
        conductor.tick();
        var order = inOrder(instance, observer);
        order.verify(instance).sample();
        order.verify(observer).sampled(0);
        order.verify(instance).step();
        order.verify(observer).stepped(0, 0);
        order.verify(instance).advance();
        verify(observer, times(1)).stepped(anyLong(), anyLong());
    }

    @Test
    void warmingUpLeavesNoTraceButKeepsTunables() {
        var part = new PartBuilder("a").block("t", "tunable", "value=1").block("n", "counter").block("seen", "tap").block("live", "tap")
                .wire("n.y", "seen.u").wire("t.y", "live.u");
        var s = system(List.of(part));
        var instances = instances(s);
        var conductor = new Conductor(s, instances);
        instances.get("a").set(s.program("a").orElseThrow().tunable("t").orElseThrow().slot(), 4);
        conductor.warmUp(100, 1_000_000_000L);
        assertThat(conductor.nowNanos()).isZero();
        var recorder = new Recorder(s, instances, Integer.MAX_VALUE);
        recorder.record(conductor);
        var store = recorder.store();
        conductor.tick();
        conductor.tick();
        assertThat(store.snapshot().find("a.seen").orElseThrow().values()).containsExactly(0, 1);
        assertThat(store.latest(store.indexOf("a.live"))).isEqualTo(4);
    }

    /** A tunable that is tapped, at 1 ms. */
    private static PartBuilder driven() {
        return new PartBuilder("d").block("t", "tunable", "value=5", "low=-10", "high=10").block("x", "tap").wire("t.y", "x.u");
    }

    @Test
    void aStimulusIsExactToATick() {
        var system = system(List.of(driven()));
        var instances = instances(system);
        var conductor = new Conductor(system, instances);
        var recorder = new Recorder(system, instances, Integer.MAX_VALUE);
        recorder.record(conductor);
        for (int i = 0; i < 10; i++) {
            conductor.tick();
        }
        conductor.drive("d.t", Stimulus.ramp(0, 1, 0.01, false));
        assertThat(conductor.driven()).containsExactly("d.t");
        for (int i = 0; i < 20; i++) {
            conductor.tick();
        }
        double[] v = recorder.store().series(0).values();
        for (int i = 0; i < 30; i++) {
            double expected = i < 10 ? 5 : Math.min(1, (i - 10) * 0.1);
            assertThat(v[i]).as("tick %d", i).isCloseTo(expected, org.assertj.core.api.Assertions.within(1e-12));
        }
        assertThat(conductor.driven()).isEmpty();
    }

    @Test
    void aLimitCountsTheTimeForWhichItIsExceeded() {
        var system = system(List.of(driven()));
        var conductor = new Conductor(system, instances(system));
        conductor.guard(List.of(new Guard("d.x", Double.NEGATIVE_INFINITY, 6, Double.POSITIVE_INFINITY, 0.003)));
        // Two ticks above, one below, then above for good.
        conductor.drive("d.t", Stimulus.playback(new double[] {0, 0.002, 0.003, 1}, new double[] {7, 5, 8, 8}, false));
        int ticks = 0;
        while (conductor.tripped().isEmpty() && ticks < 100) {
            conductor.tick();
            ticks++;
        }
        assertThat(ticks).isEqualTo(6);
        assertThat(conductor.tripped().orElseThrow().cause()).contains("was 8.0, above its limit 6.0 for 0.003 s").contains("at 0.005 s");
    }

    @Test
    void warmingUpPlaysNoStimulusAndTripsNoLimit() {
        var system = system(List.of(driven()));
        var conductor = new Conductor(system, instances(system));
        conductor.guard(List.of(new Guard("d.x", -1, 1, Double.POSITIVE_INFINITY, 0)));
        conductor.warmUp(100, Long.MAX_VALUE / 4);
        assertThat(conductor.tripped()).isEmpty();
        conductor.tick();
        assertThat(conductor.tripped()).isPresent();
    }
}
