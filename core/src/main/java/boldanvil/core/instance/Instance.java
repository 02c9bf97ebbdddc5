package boldanvil.core.instance;

import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Tap;
import boldanvil.core.program.TapGroup;
import boldanvil.core.program.Type;

/**
 * One running copy of a program, whatever runs it: a Java class, compiled C, or a device. Not safe for use by several
 * threads at once.
 */
public interface Instance {
    /** Sets every slot to its beginning. */
    void init();

    /** The program starts anew, as by a reset while its surroundings go on. */
    default void reset() {
        init();
    }

    /** Time and outputs of the continuous part, at the present tick. */
    void sample();

    /** Every discrete task that is due at the present tick, fastest first. */
    void step();

    /** Takes the continuous states to the next tick. */
    void advance();

    /**
     * Calls a procedure of the program beside the entries, such as {@link Program#DERIVATIVES}.
     *
     * @throws IllegalArgumentException when the program has no such procedure
     * @throws UnsupportedOperationException when whatever runs this copy offers the entries alone
     */
    default void call(String procedure) {
        throw new UnsupportedOperationException(procedure);
    }

    /**
     * Everything it will need to continue from here, between two ticks.
     *
     * @throws UnsupportedOperationException when whatever runs this copy cannot be taken back
     */
    default double[] save() {
        throw new UnsupportedOperationException("save");
    }

    /** Continues where {@link #save} was called on a copy of the same program. */
    default void restore(double[] state) {
        throw new UnsupportedOperationException("restore");
    }

    /** The run is over: outputs of a device go to their safe state. Models keep theirs. */
    default void end() {
    }

    /**
     * The values of an array.
     *
     * @throws UnsupportedOperationException when whatever runs this copy does not show them
     */
    default double[] elements(Slot slot) {
        throw new UnsupportedOperationException("elements");
    }

    /**
     * Sets the values of an array.
     *
     * @throws UnsupportedOperationException when whatever runs this copy does not let it be set
     */
    default void set(Slot slot, double[] elements) {
        throw new UnsupportedOperationException("elements");
    }

    /** An element of an array, or the value of a single slot. */
    default double get(Slot slot, int element) {
        return slot.isArray() ? elements(slot)[element] : get(slot);
    }

    /** Sets an element of an array, or a single slot. */
    default void set(Slot slot, int element, double value) {
        if (!slot.isArray()) {
            set(slot, value);
            return;
        }
        double[] all = elements(slot);
        all[element] = slot.type().convert(value);
        set(slot, all);
    }

    /** The value of a slot; every type fits a double exactly. */
    double get(Slot slot);

    /** An element of an integer slot as it is, to the last of its 64 bits; those of an unsigned one count from 0. */
    default long whole(Slot slot, int element) {
        return (long) get(slot, element);
    }

    /** Sets an element of an integer slot, to the last of its 64 bits. */
    default void whole(Slot slot, int element, long value) {
        set(slot, element, value);
    }

    /** What reads the values of a group's taps at once; quicker than reading one after the other. */
    default TapReader reader(TapGroup group) {
        var slots = group.taps().stream().map(Tap::slot).toArray(Slot[]::new);
        return (into, at) -> {
            for (int i = 0; i < slots.length; i++) {
                into[at + i] = get(slots[i]);
            }
        };
    }

    /** Reads the present values of some taps. */
    interface TapReader {
        /**
         * @param into gets a value for each tap
         * @param at where the first goes
         */
        void read(double[] into, int at);
    }

    /** The pulses at a PWM output, as whatever runs this copy makes them. */
    default Pulse pulse(Port port) {
        return Pulse.asked(port);
    }

    /** Sets a slot, converting as {@link Type#convert} does. */
    void set(Slot slot, double value);
}
