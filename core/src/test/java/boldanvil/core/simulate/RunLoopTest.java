package boldanvil.core.simulate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.testing.PartBuilder;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

@Timeout(30)
class RunLoopTest {
    private static Conductor conductor() {
        var system = LoweredSystem.of(PartBuilder.project(List.of(new PartBuilder("a").block("n", "counter").block("t", "tap")
                .wire("n.y", "t.u").part())));
        return new Conductor(system, Map.of("a", JvmCompiler.compile(system.program("a").orElseThrow()).instantiate()));
    }

    @Test
    void itEndsAtItsTime() {
        var loop = new RunLoop(conductor(), 250_000_000, Double.POSITIVE_INFINITY, () -> { });
        loop.run();
        assertThat(loop.nowNanos()).isEqualTo(250_000_000);
    }

    @Test
    void inStepWithTheWallClockItTakesItsTime() {
        long begin = System.nanoTime();
        new RunLoop(conductor(), 200_000_000, 1, () -> { }).run();
        // Never ahead of the clock; how far behind is the machine's affair.
        assertThat(System.nanoTime() - begin).isGreaterThanOrEqualTo(199_000_000);
    }

    @Test
    void itStopsWhenTold() throws Exception {
        var loop = new RunLoop(conductor(), Long.MAX_VALUE, 1, () -> { });
        var thread = Thread.ofPlatform().start(loop);
        Thread.sleep(20);
        loop.stop();
        thread.join(5_000);
        assertThat(thread.isAlive()).isFalse();
    }

    @Test
    void whilePausedTimeStandsStillButRequestsAreServed() throws Exception {
        var conductor = conductor();
        var loop = new RunLoop(conductor, Long.MAX_VALUE, 1, () -> { });
        loop.pause(true);
        var thread = Thread.ofPlatform().daemon().start(loop);
        var served = new CountDownLatch(1);
        conductor.request(served::countDown);
        assertThat(served.await(5, TimeUnit.SECONDS)).isTrue();
        assertThat(loop.nowNanos()).isZero();
        loop.pause(false);
        while (loop.nowNanos() == 0) {
            Thread.sleep(5);
        }
        loop.stop();
        thread.join(5_000);
    }

    @Test
    void theWatcherIsCalledAboutEveryMillisecond() {
        var calls = new AtomicInteger();
        new RunLoop(conductor(), 100_000_000, Double.POSITIVE_INFINITY, calls::incrementAndGet).run();
        assertThat(calls.get()).isBetween(90, 110);
    }

    @Test
    void aSpeedOfNothingIsRefused() {
        assertThatThrownBy(() -> new RunLoop(conductor(), 1, 0, () -> { })).isInstanceOf(IllegalArgumentException.class);
    }
}
