package boldanvil.core.tags;

import boldanvil.core.finding.Place;
import boldanvil.core.link.Access;
import boldanvil.core.link.DeviceLink;
import boldanvil.core.link.Endpoint;
import boldanvil.core.link.LinkProtocol;
import boldanvil.core.link.Reading;
import boldanvil.core.link.Tag;
import java.util.List;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.atomic.AtomicReferenceArray;

/** The present values of many tags of a device, over a link of its own. Values come on a thread of the link and are read from any. */
public final class TagWatch implements AutoCloseable {
    private final Endpoint at;
    private final DeviceLink link;
    private final AtomicReferenceArray<Reading> latest;
    private final AtomicLong arrivals = new AtomicLong();
    private final double roundTrip;

    private TagWatch(Endpoint at, DeviceLink link, List<Tag> tags, List<Long> periodsNanos) {
        this.at = at;
        this.link = link;
        latest = new AtomicReferenceArray<>(tags.size());
        long begin = System.nanoTime();
        if (!tags.isEmpty()) {
            link.readTags(tags.subList(0, 1));
        }
        roundTrip = (System.nanoTime() - begin) * 1e-9;
        link.subscribeTags(tags, periodsNanos, (i, r) -> {
            latest.set(i, r);
            arrivals.incrementAndGet();
        });
    }

    /**
     * Connects to a device and subscribes to tags.
     *
     * @param place how findings name the device
     * @param periodsNanos how often each of the tags is read
     * @throws boldanvil.core.finding.FindingException when nothing answers, or the device refuses
     */
    public static TagWatch open(Endpoint at, Place place, Access access, List<Tag> tags, List<Long> periodsNanos) {
        DeviceLink link = LinkProtocol.of(at).tags(at, place, access);
        try {
            return new TagWatch(at, link, tags, periodsNanos);
        } catch (RuntimeException e) {
            link.close();
            throw e;
        }
    }

    /** Where the device answers. */
    public Endpoint at() {
        return at;
    }

    /** The number of readings received so far. */
    public long arrivals() {
        return arrivals.get();
    }

    /** What was read last of a tag, by its place in the list; null for nothing yet. */
    public Reading reading(int tag) {
        return latest.get(tag);
    }

    /** How long a first request took, in seconds. */
    public double roundTrip() {
        return roundTrip;
    }

    /** How long ago the device was heard of last, in seconds. */
    public double silence() {
        return link.silenceNanos() * 1e-9;
    }

    @Override
    public void close() {
        link.close();
    }
}
