package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Type;

/** What a text is compiled into: it provides memory and inputs. */
public interface Host {
    /** A value that keeps from step to step. */
    Slot state(String name, Type type, double initial);

    /** An array that keeps from step to step. */
    Slot array(String name, Type type, double[] initial);

    /** A value used within one step. */
    Slot local(String name, Type type);

    /** An array used within one step. */
    default Slot localArray(String name, Type type, int length) {
        return array(name, type, new double[length]);
    }

    /** The bytes of the inputs, the outputs or the memory of a PLC, by the letter I, Q or M; null where there are none. */
    default Slot area(char letter) {
        return null;
    }

    /** The time of this scan in seconds, where the time between two steps varies; null where it does not. */
    default Expr now() {
        return null;
    }

    /** How many rounds all loops of a step may still take together; null where each loop has only its own limit. */
    default Slot budget() {
        return null;
    }

    /** What arrives at an input. */
    Expr input(String name);

    /** A name for a function that no other function of the program has. */
    String functionName(String wanted);

    /** Seconds between two steps. */
    double cycleTime();

    /** How many rounds a loop may take. */
    int loopLimit();

    Origin origin();
}
