package boldanvil.app.model;

import boldanvil.core.finding.Place;
import boldanvil.core.link.Access;
import boldanvil.core.link.Endpoint;
import boldanvil.core.link.Reading;
import boldanvil.core.tags.TagAddress;
import boldanvil.core.tags.TagWatch;
import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/** The tags of a table as a device has them now. */
public final class WatchedTags implements AutoCloseable {
    private static final long PERIOD_NANOS = 100_000_000;

    private final TagWatch watch;
    private final Map<String, Integer> index = new HashMap<>();
    private long seen = -1;

    private WatchedTags(TagWatch watch, TagBindings of) {
        this.watch = watch;
        for (int i = 0; i < of.table().lines().size(); i++) {
            index.put(key(of.table().lines().get(i).name()), i);
        }
    }

    /**
     * Connects to a device.
     *
     * @throws boldanvil.core.finding.FindingException when nothing answers, or the device refuses
     */
    public static WatchedTags open(TagBindings of, Endpoint at, Access access) {
        return new WatchedTags(TagWatch.open(at, Place.named(at.toString()), access, of.asTags(at.protocol()), of.table().lines().stream()
                .map(l -> TagAddress.periodNanos(l, PERIOD_NANOS)).toList()), of);
    }

    private static String key(String name) {
        return name.toLowerCase(Locale.ROOT);
    }

    /** Whether anything has come since this was asked last. */
    public boolean hasNews() {
        long now = watch.arrivals();
        boolean news = now != seen;
        seen = now;
        return news;
    }

    /** How many values have come. */
    public long arrivals() {
        return watch.arrivals();
    }

    /** The value of a tag as it is shown; a dash where there is none. */
    public String value(String tag) {
        return reading(tag).map(WatchedTags::shown).orElse("—");
    }

    private Optional<Reading> reading(String tag) {
        Integer i = index.get(key(tag));
        return i == null ? Optional.empty() : Optional.ofNullable(watch.reading(i));
    }

    private static String shown(Reading r) {
        return r.value() == null ? "✕" : PlcSession.shown(r.value()) + (r.isGood() ? "" : " ?");
    }

    /** How old the value of a tag may be: how long the device has been silent, or since when its value is not good. */
    public String age(String tag) {
        return reading(tag).map(r -> String.format(Locale.ROOT, "%.1f s", r.isGood() ? watch.silence()
                : (System.nanoTime() - r.receivedNanos()) * 1e-9)).orElse("");
    }

    /** Where it is connected to, and how long a request takes. */
    public String words() {
        return String.format(Locale.ROOT, "Watching %d tags at %s; a request takes %.1f ms.", index.size(), watch.at(),
                watch.roundTrip() * 1e3);
    }

    @Override
    public void close() {
        watch.close();
    }
}
