package boldanvil.core.lower;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Task;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;

/** Writes what is called for each tick: when tasks run, and how the continuous part goes from tick to tick. */
final class Schedule {
    static final Origin ORIGIN = Origin.of("schedule");

    private final ProgramWriter writer;
    private final SolverWriter solver;
    private final Slot time;
    private final Slot ticks;
    private final Map<Long, TaskBody> tasks;
    private final List<Stmt> continuousUpdates;
    private final List<Slot> continuousStates;
    private final boolean hasContinuous;

    /**
     * @param time seconds since the start, null where nothing asks for it
     * @param ticks ticks since the start, null likewise
     * @param tasks by period in nanoseconds
     */
    Schedule(ProgramWriter writer, SolverWriter solver, Slot time, Slot ticks, Map<Long, TaskBody> tasks, List<Stmt> continuousUpdates,
            List<Slot> continuousStates, boolean hasContinuous) {
        this.writer = writer;
        this.solver = solver;
        this.time = time;
        this.ticks = ticks;
        this.tasks = tasks;
        this.continuousUpdates = continuousUpdates;
        this.continuousStates = continuousStates;
        this.hasContinuous = hasContinuous;
    }

    /** Time, and the outputs of the continuous part. */
    List<Stmt> sample() {
        List<Stmt> body = new ArrayList<>();
        if (time != null) {
            body.add(new Stmt.Assign(time, Expr.read(ticks).times(writer.tickSeconds()), ORIGIN));
        }
        if (hasContinuous) {
            body.add(new Stmt.Invoke(Program.OUTPUTS, ORIGIN));
        }
        return body;
    }

    /**
     * A slower task's results become visible at its release, before faster tasks run; it takes over their values after
     * they have run.
     */
    List<Stmt> step(List<Task> taskList) {
        List<Stmt> body = new ArrayList<>();
        Map<Task, Slot> waits = new IdentityHashMap<>();
        for (Task t : taskList) {
            if (t.periodTicks() > 1) {
                Type narrowest = t.periodTicks() <= 256 ? Type.UINT8 : t.periodTicks() <= 65_536 ? Type.UINT16 : Type.INT32;
                waits.put(t, writer.state(t.name() + "_wait", narrowest));
            }
        }
        for (Task t : taskList) {
            if (!bodyOf(t).publish.isEmpty()) {
                body.add(new Stmt.If(isDue(waits.get(t)), List.of(new Stmt.Invoke(t.publish(), ORIGIN)), List.of(), ORIGIN));
            }
        }
        for (Task t : taskList) {
            List<Stmt> run = new ArrayList<>();
            if (!bodyOf(t).latch.isEmpty()) {
                run.add(new Stmt.Invoke(t.latch(), ORIGIN));
            }
            run.add(new Stmt.Invoke(t.run(), ORIGIN));
            Slot wait = waits.get(t);
            if (wait == null) {
                body.addAll(run);
            } else {
                run.add(new Stmt.Assign(wait, Expr.of(wait.type(), t.periodTicks() - 1), ORIGIN));
                body.add(new Stmt.If(isDue(wait), run,
                        List.of(new Stmt.Assign(wait, Expr.read(wait).minus(Expr.of(wait.type(), 1)), ORIGIN)), ORIGIN));
            }
        }
        return body;
    }

    private TaskBody bodyOf(Task t) {
        return tasks.get(t.periodTicks() * writer.tickNanos());
    }

    private static Expr isDue(Slot wait) {
        return Expr.read(wait).compare(Expr.Op.EQ, Expr.of(wait.type(), 0));
    }

    /** @param step longest step of the solver, in nanoseconds */
    List<Stmt> advance(long step) {
        List<Stmt> body = new ArrayList<>();
        if (!continuousUpdates.isEmpty()) {
            body.add(new Stmt.Invoke(Program.OUTPUTS, ORIGIN));
            body.addAll(continuousUpdates);
        }
        if (!writer.events().isEmpty()) {
            body.add(new Stmt.Invoke(Events.SETTLE, ORIGIN));
        }
        if (!continuousStates.isEmpty()) {
            int substeps = Math.toIntExact((writer.tickNanos() + step - 1) / step);
            body.addAll(solver.steps(writer.tickSeconds(), substeps));
            body.addAll(finite());
        } else if (!writer.events().follows().isEmpty()) {
            body.add(new Stmt.Invoke(Program.OUTPUTS, ORIGIN));
            body.addAll(writer.events().follows());
        }
        if (!writer.events().isEmpty()) {
            body.add(new Stmt.Assign(writer.events().held(), Expr.of(false), ORIGIN));
        }
        if (time != null) {
            body.add(new Stmt.Assign(ticks, Expr.read(ticks).plus(Expr.of(1.0)), ORIGIN));
        }
        return body;
    }

    /** A fault of the block whose continuous state is no longer finite: zero times it is NaN. */
    private List<Stmt> finite() {
        Slot all = writer.solverSlot("all_finite", writer.resolver().real());
        var zero = Expr.of(writer.resolver().real(), 0);
        Expr sum = continuousStates.stream().map(x -> Expr.read(x).times(0)).reduce(Expr::plus).orElseThrow();
        List<Stmt> raise = continuousStates.stream().map(x -> (Stmt) new Stmt.If(Expr.read(x).times(0).compare(Expr.Op.NE, zero),
                List.of(new Stmt.Raise(Fault.NOT_FINITE, Origin.of(x.path()))), List.of(), Origin.of(x.path()))).toList();
        if (raise.size() == 1) {
            return raise;
        }
        return List.of(new Stmt.Assign(all, sum, ORIGIN),
                new Stmt.If(Expr.read(all).compare(Expr.Op.NE, zero), raise, List.of(), ORIGIN));
    }

    /** The greatest common divisor of two periods. */
    static long gcd(long a, long b) {
        return b == 0 ? a : gcd(b, a % b);
    }
}
