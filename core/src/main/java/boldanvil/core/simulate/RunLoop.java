package boldanvil.core.simulate;

import java.util.Optional;
import java.util.concurrent.locks.LockSupport;

/**
 * Ticks a conductor until it is asked to stop: in step with the wall clock or as fast as it can. Control it from any thread.
 */
public final class RunLoop implements Runnable {
    /** How far ahead of the wall clock it may run before it sleeps. */
    private static final long CHUNK_NANOS = 1_000_000;
    /** A lag behind the wall clock that counts as an overrun; below, it is made up for. */
    private static final long LAG_NANOS = 100_000_000;
    /** While this young, a run may fall behind: the machine is still loading what it has never run before. */
    private static final long SETTLING_NANOS = 300_000_000;

    private final Conductor conductor;
    private final long endNanos;
    private final double speed;
    private final Runnable everyChunk;
    private volatile boolean stopping;
    private volatile boolean paused;
    /** Simulated time at which it is to pause again; {@link Long#MAX_VALUE} for never. */
    private volatile long pauseAt = Long.MAX_VALUE;
    private volatile long now;
    private volatile int overruns;
    private volatile double drift;
    private volatile Throwable failure;

    /**
     * @param endNanos simulated time at which to stop; {@link Long#MAX_VALUE} for never
     * @param speed virtual seconds per wall second; {@link Double#POSITIVE_INFINITY} for as fast as it can
     * @param everyChunk called on the loop's thread about every millisecond of simulated time
     */
    public RunLoop(Conductor conductor, long endNanos, double speed, Runnable everyChunk) {
        if (!(speed > 0)) {
            throw new IllegalArgumentException("speed " + speed);
        }
        this.conductor = conductor;
        this.endNanos = endNanos;
        this.speed = speed;
        this.everyChunk = everyChunk;
    }

    /** Runs until the end, or until something fails; either way the run ends in the safe state. */
    @Override
    public void run() {
        try {
            ticks();
        } catch (RuntimeException | LinkageError | StackOverflowError e) {
            failure = e;
        } finally {
            try {
                conductor.end();
            } catch (RuntimeException e) {
                failure = failure == null ? e : failure;
            }
            everyChunk.run();
        }
    }

    private void ticks() {
        long wallStart = System.nanoTime();
        long settled = wallStart + SETTLING_NANOS;
        long virtualStart = conductor.nowNanos();
        long madeUp = 0;
        long nextChunk = virtualStart + CHUNK_NANOS;
        while (!stopping && conductor.nowNanos() < endNanos && conductor.tripped().isEmpty() && !conductor.isOver()) {
            if (paused) {
                conductor.serve();
                LockSupport.parkNanos(5_000_000);
                wallStart = System.nanoTime();
                virtualStart = conductor.nowNanos();
                continue;
            }
            conductor.tick();
            now = conductor.nowNanos();
            if (now >= pauseAt) {
                pauseAt = Long.MAX_VALUE;
                paused = true;
                everyChunk.run();
                continue;
            }
            if (now >= nextChunk) {
                nextChunk = now + CHUNK_NANOS;
                everyChunk.run();
                long ahead = ahead(now - virtualStart, wallStart);
                boolean settling = System.nanoTime() < settled;
                if (ahead < -LAG_NANOS || ahead < 0 && settling) {
                    overruns += settling ? 0 : 1;
                    madeUp += settling ? 0 : ahead;
                    wallStart = System.nanoTime();
                    virtualStart = now;
                }
                drift = (madeUp + Math.min(0, ahead)) / 1e9;
                while (ahead > 0 && !stopping) {
                    LockSupport.parkNanos(Math.min(ahead, 20_000_000));
                    ahead = ahead(now - virtualStart, wallStart);
                }
            }
        }
    }

    /** What ended the run before its time, apart from being stopped and from a limit; empty for nothing. */
    public Optional<Throwable> failure() {
        return Optional.ofNullable(failure);
    }

    private long ahead(long virtual, long wallStart) {
        return Double.isInfinite(speed) ? 0 : (long) (virtual / speed) - (System.nanoTime() - wallStart);
    }

    public void stop() {
        stopping = true;
    }

    public void pause(boolean hold) {
        pauseAt = Long.MAX_VALUE;
        paused = hold;
    }

    /**
     * Lets a paused loop go on for some time, and pauses it again.
     *
     * @param nanos simulated; at least one tick is run
     */
    public void step(long nanos) {
        if (paused) {
            pauseAt = conductor.nowNanos() + Math.max(1, nanos);
            paused = false;
        }
    }

    /** Simulated time reached, in nanoseconds. */
    public long nowNanos() {
        return now;
    }

    /** By how much simulated time is ahead of the wall clock since the start, in seconds; below 0 when the machine was too slow. */
    public double drift() {
        return drift;
    }

    /** How often the machine fell more than 100 ms behind the wall clock. */
    public int overruns() {
        return overruns;
    }
}
