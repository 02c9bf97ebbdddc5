/**
 * The intermediate representation: what a part does, after every diagram notion is gone.
 *
 * <p>A {@link boldanvil.core.program.Program} owns {@link boldanvil.core.program.Slot slots} (inputs, outputs, signals,
 * states, tunables) and {@link boldanvil.core.program.Procedure procedures} made of
 * {@link boldanvil.core.program.Stmt statements} over {@link boldanvil.core.program.Expr expressions}:
 * <pre>{@code
 * var u = Slot.of("u", Slot.Role.INPUT, Type.FLOAT64);
 * var y = Slot.of("y", Slot.Role.OUTPUT, Type.FLOAT64);
 * new Stmt.Assign(y, Expr.read(u).times(Expr.of(2.0)), Origin.of("controller/twice"));
 * }</pre>
 *
 * <p>Arithmetic is exact so that every output of the IR agrees bit for bit: floating point is IEEE 754 without
 * contraction; integer overflow wraps; integer division by zero yields 0 and sets the program's fault slot; conversion to
 * an integer truncates, saturates, and turns NaN into 0 with a fault.
 *
 * <p>A program has four entry procedures, called in this order for each tick: {@code sample} (time, outputs of the
 * continuous part), {@code step} (every discrete task that is due, fastest first), {@code advance} (continuous states go
 * from this tick to the next). {@code init} sets the beginning. Nothing here knows diagrams, Java classes or C.
 */
package boldanvil.core.program;
