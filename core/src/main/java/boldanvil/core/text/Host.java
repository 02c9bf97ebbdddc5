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
