package boldanvil.core.peripheral;

/**
 * A terminal's peripheral at work: what it makes of signals, as counts in registers, and what counts mean. The program's side of it is
 * what generated code computes; the other side is the hardware, which a stand-in and a simulation as built share.
 *
 * <p>For an input the signals given are those on its wires, and the signals made are what the program sees; for an output it is the
 * other way round. Signals are in the order of the terminal's ports, counts in the order stated for each kind.
 */
public abstract class PinModel {
    /** Back to the state at power-up. */
    public void init() { }

    /** Writes what it remembers from tick to tick; nothing where that is nothing. */
    public void save(Kept to) { }

    /** Remembers what {@link #save} wrote, read in the same order. */
    public void restore(Kept from) { }

    /** A step begins; what is on its way continues. For outputs only. */
    public void begin() { }

    /** Counts that follow from signals. Called once for each tick; may remember. */
    public abstract long[] counts(double[] signals);

    /** Signals that follow from counts. */
    public abstract double[] signals(long[] counts);
}
