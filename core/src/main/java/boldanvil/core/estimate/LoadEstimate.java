package boldanvil.core.estimate;

import boldanvil.core.board.Board;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.Fact;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Function;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Task;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * Processor time before there is a board: each operation of the IR at the price the board file gives it, along the longest branch of each
 * choice. Response times follow from rate-monotonic analysis (Joseph and Pandya, Finding response times in a real-time system, Computer
 * Journal 29, 1986), with blocking: all tasks run in one interrupt, so a task waits for a slower one that has begun (Sha, Rajkumar and
 * Lehoczky, IEEE Transactions on Computers 39, 1990). A compiler may do better, a cache or a bus worse: it is for sizing, to be held
 * against measured values.
 */
public final class LoadEstimate {
    /** Rounds taken for a loop of which only a limit is known. */
    private static final int LOOP_ROUNDS = 8;
    /** Rounds a loop that can end early usually takes: one that does the work, and one that finds it done. */
    private static final int USUAL_ROUNDS = 2;

    private final Board.Core core;
    private final Map<String, Procedure> procedures;
    private final Map<String, Double> known = new HashMap<>();
    private final Map<Function, Double> functions = new IdentityHashMap<>();
    private final boolean usual;

    /**
     * One task.
     *
     * @param periodSeconds time between releases
     * @param seconds worst case of one run by itself
     * @param responseSeconds from release to end, behind a slower task and with all faster ones in between; infinite when it never ends
     */
    public record Row(String name, double periodSeconds, double seconds, double responseSeconds) {
        /** Its share of the processor. */
        public double load() {
            return seconds / periodSeconds;
        }

        /** Whether it ends before it is released again. */
        public boolean isInTime() {
            return responseSeconds <= periodSeconds;
        }
    }

    private LoadEstimate(Program program, Board.Core core, boolean usual) {
        this.core = core;
        this.usual = usual;
        procedures = program.procedures().stream().collect(Collectors.toMap(Procedure::name, p -> p));
    }

    /**
     * Estimates every task of a program on a board. The fastest carries the interrupt, the terminals and what is computed in each tick;
     * the continuous part is a row by itself.
     */
    public static List<Row> of(BoardSetup setup) {
        return of(setup, false);
    }

    /**
     * The same for what usually happens: searches that can end early, such as those for the instant of an event, take two rounds. For
     * processors on which the worst case is so rare and so far from the usual one that nobody sizes for it.
     */
    public static List<Row> usual(BoardSetup setup) {
        return of(setup, true);
    }

    private static List<Row> of(BoardSetup setup, boolean usual) {
        Program program = setup.program();
        var estimate = new LoadEstimate(program, setup.board().core(), usual);
        double hertz = setup.coreHertz();
        double tick = (estimate.core.cycles().interrupt() + estimate.terminals(program)) / hertz;
        List<Row> rows = new ArrayList<>();
        if (program.continuous()) {
            double s = (estimate.procedure(Program.ADVANCE) + estimate.procedure(Program.SAMPLE)) / hertz + (program.tasks().isEmpty()
                    ? tick : 0);
            rows.add(new Row("continuous", program.tickSeconds(), s, 0));
        }
        for (Task task : program.tasks()) {
            double own = List.of(task.publish(), task.latch(), task.run()).stream()
                    .mapToDouble(p -> estimate.core.cycles().call() + estimate.procedure(p)).sum();
            double seconds = own / hertz + (task.equals(program.tasks().getFirst()) ? tick : 0);
            double period = task.periodTicks() * program.tickSeconds();
            rows.add(new Row(task.name(), period, seconds, 0));
        }
        for (int i = 0; i < rows.size(); i++) {
            Row r = rows.get(i);
            double blocked = rows.subList(i + 1, rows.size()).stream().mapToDouble(Row::seconds).max().orElse(0);
            rows.set(i, new Row(r.name(), r.periodSeconds(), r.seconds(), response(r.seconds() + blocked, r.periodSeconds(),
                    rows.subList(0, i))));
        }
        return rows;
    }

    /** Cycles of one tick of everything a program does, along the longest branches. */
    static double step(Program program, Board.Core core) {
        var estimate = new LoadEstimate(program, core, false);
        return Program.ENTRIES.stream().filter(e -> !e.equals(Program.INIT)).mapToDouble(estimate::procedure).sum();
    }

    /** Share of the processor that all tasks take together. */
    public static double load(List<Row> rows) {
        return rows.stream().mapToDouble(Row::load).sum();
    }

    /** What is said of a board that is too slow; empty where every task ends in time. */
    public static Optional<String> lateness(List<Row> rows, Board board) {
        return rows.stream().filter(r -> !r.isInTime()).findFirst().map(r ->
                board.title() + " is too slow: the task '" + r.name() + "' takes about "
                + Fact.sig(r.seconds() * 1e6) + " µs of its " + Fact.sig(r.periodSeconds() * 1e6) + " µs"
                + (r.seconds() <= r.periodSeconds() ? " and waits for other tasks" : "") + "; the load is "
                + Fact.sig(load(rows) * 100) + " %.");
    }

    /** The time from release to end of a task that takes {@code own}, with faster tasks in between; infinite when it never ends. */
    static double response(double own, double period, List<Row> faster) {
        double r = own;
        for (int i = 0; i < 1000; i++) {
            double next = own;
            for (Row f : faster) {
                next += Math.ceil(r / f.periodSeconds() - 1e-12) * f.seconds();
            }
            if (next == r) {
                return r;
            }
            r = next;
            if (r > 100 * period) {
                break;
            }
        }
        return Double.POSITIVE_INFINITY;
    }

    /** Reading and writing peripherals: a call, a conversion and a product for each port. */
    private double terminals(Program program) {
        double sum = 0;
        for (Terminal t : program.terminals()) {
            boolean level = t.ports().getFirst().slot().type() == Type.BOOL;
            var price = price(t.ports().getFirst().slot().type() == Type.FLOAT32 ? Type.FLOAT32 : Type.FLOAT64);
            sum += t.ports().size() * (core.cycles().call() + core.cycles().load() + core.cycles()
                    .store() + (level ? 0 : price.convert() + price.multiply() + price.compare()));
        }
        return sum;
    }

    private double procedure(String name) {
        Double already = known.get(name);
        if (already == null) {
            already = cycles(procedures.get(name).body());
            known.put(name, already);
        }
        return already;
    }

    private double cycles(List<Stmt> body) {
        var c = core.cycles();
        double sum = 0;
        for (Stmt s : body) {
            sum += switch (s) {
                case Stmt.Assign a -> (a.target().role() == Slot.Role.LOCAL ? 0 : c.store()) + cycles(a.value());
                case Stmt.If i -> c.branch() + cycles(i.condition()) + Math.max(cycles(i.yes()), cycles(i.no()));
                case Stmt.Repeat r -> (usual && endsEarly(r.body()) ? Math.min(r.count(), USUAL_ROUNDS) : r.count()) * (c.branch()
                        + cycles(r.body()));
                case Stmt.Store t -> c.store() + c.element() + cycles(t.index()) + cycles(t.value());
                case Stmt.While w -> Math.min(w.limit(), LOOP_ROUNDS) * (c.branch() + cycles(w.condition()) + cycles(w.body()));
                case Stmt.Group g -> cycles(g.body());
                case Stmt.Written w -> cycles(w.body());
                case Stmt.Break _ -> c.branch();
                case Stmt.Raise _ -> 0;
                case Stmt.Invoke i -> c.call() + procedure(i.procedure());
            };
        }
        return sum;
    }

    /** Whether statements leave the loop they are in. */
    private static boolean endsEarly(List<Stmt> body) {
        return body.stream().anyMatch(s -> switch (s) {
            case Stmt.Break _ -> true;
            case Stmt.If i -> endsEarly(i.yes()) || endsEarly(i.no());
            case Stmt.Group g -> endsEarly(g.body());
            case Stmt.Written w -> endsEarly(w.body());
            default -> false;
        });
    }

    private double cycles(Expr e) {
        var c = core.cycles();
        double own = switch (e) {
            case Expr.Literal _ -> 0;
            case Expr.Read r -> r.slot().role() == Slot.Role.LOCAL ? 0 : c.load();
            case Expr.Binary b -> operation(b.op(), b.a().type());
            case Expr.Not _ -> 1;
            case Expr.Select _ -> c.select();
            case Expr.Convert x -> price(x.type().isFloat() ? x.type() : x.a().type()).convert();
            case Expr.Call x -> x.intrinsic() == Expr.Intrinsic.SQRT ? price(x.type()).root()
                    : price(x.type()).compare() + price(x.type()).convert();
            case Expr.Apply a -> c.call() + function(a.function());
            case Expr.Element _, Expr.At _ -> c.element();
            case Expr.Wrap _ -> 1;
            case Expr.Bits _ -> c.load();
        };
        for (Expr child : e.children()) {
            own += cycles(child);
        }
        return own;
    }

    private double function(Function f) {
        Double already = functions.get(f);
        if (already == null) {
            already = cycles(f.body()) + cycles(f.result());
            functions.put(f, already);
        }
        return already;
    }

    private double operation(Expr.Op op, Type type) {
        var p = price(type);
        // Integers wider than the processor's are computed in pieces.
        double pieces = type.isFloat() ? 1 : Math.max(1, type.bytes() * 8.0 / core.bits());
        return pieces * switch (op) {
            case ADD, SUB -> p.add();
            case MUL -> p.multiply() * (type.isFloat() ? 1 : pieces);
            case DIV, REM -> p.divide();
            case LT, LE, GT, GE, EQ, NE -> p.compare();
            case AND, OR, XOR, BAND, BOR, BXOR, SHL, SHR -> 1;
        };
    }

    private Board.Arithmetic price(Type type) {
        return type == Type.FLOAT64 ? core.float64() : type == Type.FLOAT32 ? core.float32() : core.integer();
    }
}
