package boldanvil.standin.plc;

/** Lets the time of a PLC go with the clock on the wall, unless someone else lets it go. */
final class PlcClock implements AutoCloseable {
    private static final long NAP_NANOS = 500_000;

    private final PlcDevice device;
    private final Thread thread;
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

    private void run() {
        long wall = System.nanoTime();
        while (!closed) {
            long now = System.nanoTime();
            if (free) {
                device.runtime().advance(device.runtime().nowNanos() + now - wall);
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
