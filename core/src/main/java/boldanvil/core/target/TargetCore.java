package boldanvil.core.target;

/** One core of a target in simulated time: steps of the parts on it follow each other. */
public final class TargetCore {
    private double busyUntil;

    /** Computes for some seconds from an instant on, or from when it is free; returns when that ends. */
    double run(double now, double seconds) {
        busyUntil = Math.max(now, busyUntil) + seconds;
        return busyUntil;
    }

    /** Forgets what it still had to compute. */
    void init() {
        busyUntil = 0;
    }
}
