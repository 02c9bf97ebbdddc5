package boldanvil.app.bench;

/** Counts pictures a second. */
final class FrameRate {
    private static final long WINDOW_NANOS = 1_000_000_000L;

    private long since;
    private long before;
    private double perSecond;

    /**
     * @param now nanoseconds
     * @param pictures how many were drawn so far
     */
    void count(long now, long pictures) {
        if (now - since > WINDOW_NANOS) {
            perSecond = (pictures - before) * 1e9 / (now - since);
            before = pictures;
            since = now;
        }
    }

    /** The number over the last second. */
    double perSecond() {
        return perSecond;
    }
}
