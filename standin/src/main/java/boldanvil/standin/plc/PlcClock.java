package boldanvil.standin.plc;

import boldanvil.core.simulate.ExecutionTimes;

/** Lets the time of a PLC go with the clock on the wall, unless someone else lets it go. */
final class PlcClock implements AutoCloseable {
    private static final long NAP_NANOS = 500_000;

    private final PlcDevice device;
    private final Thread thread;
    private final ExecutionTimes lateness = new ExecutionTimes();
    private volatile boolean free = true;
    private volatile boolean closed;

    PlcClock(PlcDevice device) {
        this.device = device;
        thread = Thread.ofPlatform().daemon().name("scan").start(this::run);
    }

    /** Has the time stand until {@link #advance} is called, or go by itself again. */
    void hold(boolean held) {
        free = !held;
    }

    boolean isHeld() {
        return !free;
    }

    /** Lets held time go to an instant. */
    void advance(long toNanos) {
        device.runtime().advance(toNanos);
    }

    /** How late scans began, while time goes by itself. */
    ExecutionTimes lateness() {
        return lateness;
    }

    private void run() {
        long wall = System.nanoTime();
        while (!closed) {
            long now = System.nanoTime();
            if (free) {
                long to = device.runtime().nowNanos() + now - wall;
                device.runtime().nextNanos().ifPresent(due -> {
                    if (due <= to) {
                        lateness.add(to - due);
                    }
                });
                device.runtime().advance(to);
            }
            wall = now;
            try {
                long due = device.runtime().nextNanos().orElse(Long.MAX_VALUE) - device.runtime().nowNanos();
                Thread.sleep(java.time.Duration.ofNanos(Math.clamp(due, NAP_NANOS / 10, free ? NAP_NANOS * 4 : NAP_NANOS * 20)));
            } catch (InterruptedException e) {
                return;
            }
        }
    }

    @Override
    public void close() {
        closed = true;
        thread.interrupt();
    }
}
