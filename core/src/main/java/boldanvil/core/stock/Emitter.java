package boldanvil.core.stock;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.text.Mistake;
import boldanvil.core.program.Table;
import boldanvil.core.program.Type;
import java.util.List;

/**
 * Where a block type states its behaviour. Inputs read as zero where they are open. Outputs are computed each time the
 * block runs; updates follow after all outputs of the task are there.
 */
public interface Emitter {
    /** The value at an input. */
    Expr in(String port);

    /** Whether a wire ends at an input. */
    boolean connected(String port);

    /** The type of an output. */
    Type typeOf(String output);

    /** The part's type for real numbers. */
    Type real();

    /** A parameter as an expression; reads memory when it is tunable. */
    Expr param(String name, Type type);

    /** A parameter's value as it is now, SI. For structure that cannot change while running. */
    double value(String name);

    /** A list parameter's values, SI. */
    double[] list(String name);

    /** How many rows a list of lists has. */
    int rows(String name);

    /** A parameter's text. */
    String text(String name);

    /** The block's sample time in seconds; in the continuous part the solver's step. */
    double sampleTime();

    /** Time since the start of the run in seconds, float64. */
    Expr time();

    /** The distance between two ticks of the part in seconds; longer than the solver's step where it takes several. */
    double tick();

    /** Longest step of the part's solver in seconds. */
    double solverStep();

    /** All elements at an input. */
    List<Expr> elements(String port);

    /** Sets all elements of an output. */
    void outputs(String port, List<Expr> values);

    /** An array that keeps its values from step to step. */
    Slot array(String name, Type type, double[] initial);

    /** Tells a solver that locates zero crossings where this block's behaviour breaks: at the zero of a real value. */
    void crossing(Expr value);

    /**
     * A logic value that becomes true above {@code high}, false below {@code low}, and keeps its value in between. In the continuous
     * part the solver holds it during a step, finds the instant at which it changes and divides the step there.
     *
     * @param u what is compared; {@code low} and {@code high} have its type
     */
    Expr switched(String name, boolean initial, Expr u, Expr low, Expr high);

    /** Sets a state after each sample; in the continuous part after each step of the solver, however short. */
    void follow(Slot state, Expr value);

    /**
     * Sets a continuous state at an edge of a logic value. The solver divides its step at the instant of the edge.
     *
     * @param trigger false before the start
     * @param edge {@code rising}, {@code falling} or {@code either}
     * @param value what the state becomes, of its type
     */
    void reset(Slot state, Expr trigger, String edge, Expr value);

    /** Adds a statement to the updates, after the outputs of the whole task. */
    void after(Stmt statement);

    /** Whether it stands in a subsystem that does not always run. */
    boolean isConditional();

    /** A discrete state. */
    Slot state(String name, Type type, double initial);

    /** A continuous state of the part's real type. */
    Slot integrated(String name, double initial);

    /** A value used within this block's output statements only. */
    Expr temp(String name, Expr value);

    /** A local variable that {@link #add} statements may assign. */
    Slot local(String name, Type type);

    /** The whole counting variable of a loop. */
    default Slot counter(String name) {
        return local(name, Type.INT32);
    }

    /** A constant table. */
    Table table(String name, Type type, double[] values);

    /** The slot of an output, for {@link #add} statements. */
    Slot slotOf(String output);

    /** Adds a statement to the outputs. */
    void add(Stmt statement);

    /** The block's place, for statements it makes itself. */
    boldanvil.core.program.Origin origin();

    void output(String port, Expr value);

    void update(Slot state, Expr value);

    void derivative(Slot state, Expr value);

    /** A name for a function that no other function of the program has. */
    String functionName(String wanted);

    boolean hasParameter(String name);

    /** Reports something that is probably not meant, but can run. */
    void warning(String cause, String cure);

    /** Reports that the parameters make no sense together. */
    void problem(String cause, String cure);

    /** Reports a mistake in the block's text. */
    void report(Mistake mistake);

    /** Convenience: an assignment among the outputs. */
    default void assign(Slot target, Expr value) {
        add(new Stmt.Assign(target, value, origin()));
    }

    /** Inputs named by a prefix and a number from 1, in order. */
    default List<Expr> ins(String prefix, int count) {
        return java.util.stream.IntStream.rangeClosed(1, count).mapToObj(i -> in(prefix + i)).toList();
    }
}
