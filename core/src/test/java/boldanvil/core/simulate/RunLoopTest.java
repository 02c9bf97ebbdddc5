package boldanvil.core.simulate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.doThrow;
import static org.mockito.Mockito.inOrder;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.times;
import static org.mockito.Mockito.verify;

import boldanvil.core.finding.FindingException;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Slot;
import boldanvil.core.testing.PartBuilder;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Every way a run ends leads through the safe state. */
@Timeout(30)
class RunLoopTest {
    private static LoweredSystem system(String... ids) {
        return LoweredSystem.of(PartBuilder.project(List.of(ids).stream()
                .map(id -> new PartBuilder(id).block("ramp", "integrator", "initial=0").block("one", "constant", "value=1")
                .block("x", "tap").wire("one.y", "ramp.u").wire("ramp.y", "x.u")
                        .plant("1 ms", "rk4").part()).toList())).orThrow();
    }

    /** An instance that does what its model does and can be watched. */
    private static Instance watched(LoweredSystem system, String part) {
        Instance model = JvmCompiler.compile(system.program(part).orElseThrow()).instantiate();
        return mock(Instance.class, invocation -> invocation.getMethod().invoke(model, invocation.getArguments()));
    }

    private static Conductor conductor(LoweredSystem system, Map<String, Instance> instances) {
        return new Conductor(system, instances);
    }

    @Test
    void atItsEndTheSafeStateComesAfterTheLastStep() {
        var s = system("a");
        Instance a = watched(s, "a");
        new RunLoop(conductor(s, Map.of("a", a)), 10_000_000, Double.POSITIVE_INFINITY, () -> { }).run();
        var order = inOrder(a);
        order.verify(a, times(10)).step();
        order.verify(a).end();
        verify(a, times(1)).end();
    }

    @Test
    void whenALimitTripsTheSafeStateFollows() {
        var s = system("a");
        Instance a = watched(s, "a");
        var c = conductor(s, Map.of("a", a));
        c.guard(List.of(new Guard("a.x", Double.NEGATIVE_INFINITY, 0.5, Double.POSITIVE_INFINITY, 0)));
        new RunLoop(c, 10_000_000_000L, Double.POSITIVE_INFINITY, () -> { }).run();
        assertThat(c.tripped()).isPresent();
        assertThat(c.nowNanos()).isBetween(499_000_000L, 510_000_000L);
        verify(a).end();
    }

    @Test
    void whenItIsStoppedWhilePausedTheSafeStateFollows() throws InterruptedException {
        var s = system("a");
        Instance a = watched(s, "a");
        var loop = new RunLoop(conductor(s, Map.of("a", a)), Long.MAX_VALUE, 1, () -> { });
        loop.pause(true);
        var thread = Thread.ofPlatform().start(loop);
        await().until(() -> thread.getState() == Thread.State.TIMED_WAITING || thread.getState() == Thread.State.WAITING);
        verify(a, never()).end();
        loop.stop();
        thread.join();
        verify(a).end();
        verify(a, never()).step();
    }

    @Test
    void aStepThatFailsEndsTheRunWithItsReasonAndTheSafeState() {
        var s = system("a");
        Instance model = JvmCompiler.compile(s.program("a").orElseThrow()).instantiate();
        var steps = new AtomicInteger();
        Instance a = mock(Instance.class, invocation -> {
            if (invocation.getMethod().getName().equals("step") && steps.incrementAndGet() == 5) {
                throw new IllegalStateException("the emulator is gone");
            }
            return invocation.getMethod().invoke(model, invocation.getArguments());
        });
        var chunks = new AtomicInteger();
        var loop = new RunLoop(conductor(s, Map.of("a", a)), 1_000_000_000, Double.POSITIVE_INFINITY, chunks::incrementAndGet);
        loop.run();
        assertThat(loop.failure()).hasValueSatisfying(e -> assertThat(e).hasMessage("the emulator is gone"));
        verify(a).end();
        assertThat(chunks).as("whoever watches sees the end").hasPositiveValue();
        assertThat(steps).hasValue(5);
    }

    @Test
    void aRequestThatFailsIsAFailureToo() {
        var s = system("a");
        Instance a = watched(s, "a");
        var c = conductor(s, Map.of("a", a));
        c.request(() -> {
            throw FindingException.of("a stimulus", "It has no shape.", "Give it one.");
        });
        var loop = new RunLoop(c, 1_000_000_000, Double.POSITIVE_INFINITY, () -> { });
        loop.run();
        assertThat(loop.failure()).hasValueSatisfying(e -> assertThat(e).hasMessageContaining("It has no shape."));
        verify(a).end();
    }

    @Test
    void onePartThatCannotGoToItsSafeStateDoesNotKeepTheOthers() {
        var s = system("a", "b");
        Instance a = mock(Instance.class);
        doThrow(new IllegalStateException("no answer")).when(a).end();
        Map<String, Instance> instances = new LinkedHashMap<>();
        instances.put("a", a);
        Instance b = watched(s, "b");
        instances.put("b", b);
        var loop = new RunLoop(conductor(s, instances), 5_000_000, Double.POSITIVE_INFINITY, () -> { });
        loop.run();
        verify(a).end();
        verify(b).end();
        assertThat(loop.failure()).isPresent();
    }

    @Test
    void aRunThatEndsAsPlannedHasNoFailure() {
        var s = system("a");
        Instance a = mock(Instance.class);
        var loop = new RunLoop(conductor(s, Map.of("a", a)), 3_000_000, Double.POSITIVE_INFINITY, () -> { });
        loop.run();
        assertThat(loop.failure()).isEmpty();
        assertThat(loop.nowNanos()).isEqualTo(3_000_000);
        verify(a, times(3)).advance();
        verify(a, never()).set(any(Slot.class), org.mockito.ArgumentMatchers.anyDouble());
    }
}
