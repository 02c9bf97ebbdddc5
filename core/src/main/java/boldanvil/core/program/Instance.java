package boldanvil.core.program;

/**
 * One running copy of a program, whatever runs it: a Java class, compiled C, or a device. Not safe for use by several
 * threads at once.
 */
public interface Instance {
    /** Sets every slot to its beginning. */
    void init();

    /** Time and outputs of the continuous part, at the present tick. */
    void sample();

    /** Every discrete task that is due at the present tick, fastest first. */
    void step();

    /** Takes the continuous states to the next tick. */
    void advance();

    /** The value of a slot; every type fits a double exactly. */
    double get(Slot slot);

    /** Sets a slot, converting as {@link Type#convert} does. */
    void set(Slot slot, double value);
}
