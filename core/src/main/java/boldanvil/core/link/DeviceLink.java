package boldanvil.core.link;

import boldanvil.core.program.Slot;
import boldanvil.core.program.TapGroup;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.BooleanSupplier;
import java.util.function.DoubleConsumer;

/**
 * The connection to one device, whatever protocol carries it. A device answers to what its {@link #capabilities} name; other calls throw
 * {@link UnsupportedOperationException}. What the device refuses, or does not answer in time, throws a
 * {@link boldanvil.core.finding.FindingException}. Calls may come from any thread.
 */
public interface DeviceLink extends AutoCloseable {
    /** What a device can be asked for. */
    enum Capability {
        IDENTIFY, DEPLOY, READ, WRITE, SUBSCRIBE, SAFE_STOP,
        /** Its tags can be read, written and subscribed to by their addresses. */
        TAGS,
        /** It names its tags. */
        BROWSE
    }

    /**
     * What a device states of itself.
     *
     * @param board name of its board
     * @param firmware version of what answers
     * @param image hash of the sources of its image; empty for none
     * @param digest SHA-256 of its image; empty for none
     */
    record Identity(String board, String serial, String firmware, String image, String digest) {}

    /** Takes measured values as they arrive, on a thread of the link. */
    interface Receiver {
        /**
         * @param group index in the groups given to {@link #subscribe}
         * @param nanos time of the device
         * @param values one for each tap of the group; valid only until this returns
         */
        void row(int group, long nanos, double[] values);
    }

    /** Takes values of tags, on a thread of the link. */
    interface TagReceiver {
        /** @param tag index in the tags that were subscribed to */
        void reading(int tag, Reading reading);
    }

    /** Most tags that are browsed. */
    int MOST_TAGS = 100_000;

    Set<Capability> capabilities();

    /**
     * The tags a device names, at most {@link #MOST_TAGS}.
     *
     * @param cancelled asked between requests
     */
    default List<Tag> browse(BooleanSupplier cancelled) {
        throw new UnsupportedOperationException(Capability.BROWSE.name());
    }

    /** The present values of tags, one for each. What a device does not know is {@linkplain Reading#bad bad}; a lost link throws. */
    default List<Reading> readTags(List<Tag> tags) {
        throw new UnsupportedOperationException(Capability.TAGS.name());
    }

    /**
     * Writes values and waits for their confirmation.
     *
     * @throws boldanvil.core.finding.FindingException when the device refuses one, or does not answer
     */
    default void writeTags(Map<Tag, Object> values) {
        throw new UnsupportedOperationException(Capability.TAGS.name());
    }

    /**
     * Has tags measured from now on; replaces what was subscribed to before. While the link is lost, every tag gets a reading that is not
     * good; when it is back, every tag gets its value.
     *
     * @param periodsNanos how often each of the tags is read
     */
    default void subscribeTags(List<Tag> tags, List<Long> periodsNanos, TagReceiver receiver) {
        throw new UnsupportedOperationException(Capability.TAGS.name());
    }

    /** How long ago the device was heard of last, in nanoseconds. */
    default long silenceNanos() {
        throw new UnsupportedOperationException(Capability.TAGS.name());
    }

    default Identity identify() {
        throw new UnsupportedOperationException(Capability.IDENTIFY.name());
    }

    /** The median round trip of a few requests, in seconds. */
    default double roundTrip() {
        throw new UnsupportedOperationException(Capability.IDENTIFY.name());
    }

    /**
     * Stops the device, erases it and downloads an image.
     *
     * @param share gets the share that is done, 0 to 1
     * @param cancelled asked between pieces
     */
    default void deploy(byte[] image, DoubleConsumer share, BooleanSupplier cancelled) {
        throw new UnsupportedOperationException(Capability.DEPLOY.name());
    }

    /** Compares the image on the device with this one. */
    default void verify(byte[] image) {
        throw new UnsupportedOperationException(Capability.DEPLOY.name());
    }

    /** Ends the deployment; the device is ready to start its image. */
    default void deployed() {
        throw new UnsupportedOperationException(Capability.DEPLOY.name());
    }

    /** Reads the value of a slot of the program. */
    default double read(Slot slot) {
        throw new UnsupportedOperationException(Capability.READ.name());
    }

    /** Writes values that take effect together, between two steps of the device. */
    default void write(Map<Slot, Double> values) {
        throw new UnsupportedOperationException(Capability.WRITE.name());
    }

    /** Has groups of taps measured from now on; replaces what was measured before. */
    default void subscribe(List<TapGroup> groups, Receiver to) {
        throw new UnsupportedOperationException(Capability.SUBSCRIBE.name());
    }

    /** Puts the outputs of the device into their safe state and stops its program. */
    default void safeStop() {
        throw new UnsupportedOperationException(Capability.SAFE_STOP.name());
    }

    /** What to do when the connection is lost; called once, on a thread of the link. */
    default void onLost(Runnable action) { }

    /** Shows the device that the connection is in use. */
    default void keepAlive() { }

    /** Returns when everything measured before has arrived. */
    default void drain() { }

    /** Rows that were lost on the way. */
    default long lost() {
        return 0;
    }

    /** Breaks the connection as a pulled cable would. */
    default void drop() {
        close();
    }

    @Override
    void close();
}
