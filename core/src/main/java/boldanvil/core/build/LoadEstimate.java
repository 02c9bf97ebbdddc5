package boldanvil.core.build;

import boldanvil.core.board.Board;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Task;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * A first guess at processor time, before a board is bought: operations of the IR, weighted by what they cost with and
 * without hardware for their type. Meant for sizing, not for proof; response times follow from rate-monotonic analysis (Joseph
 * and Pandya, Finding response times in a real-time system, Computer Journal 29, 1986).
 */
public final class LoadEstimate {
    private static final double CALL_CYCLES = 12;
    private static final double MEMORY_CYCLES = 2;
    private static final int LOOP_ROUNDS = 8;

    /**
     * One task.
     *
     * @param periodSeconds time between releases
     * @param seconds worst case of one run by itself
     * @param responseSeconds from release to end, with all faster tasks in between; infinite when it never ends
     */
    public record Row(String name, double periodSeconds, double seconds, double responseSeconds) {}

    private LoadEstimate() {}

    /** Estimates every task of a program on a board. */
    public static List<Row> of(Program program, Board board) {
        Map<String, Procedure> procedures = program.procedures().stream()
                .collect(Collectors.toMap(Procedure::name, Function.identity()));
        double continuous = program.continuous() ? cycles(procedures.get(Program.ADVANCE).body(), procedures, board)
                + cycles(procedures.get(Program.SAMPLE).body(), procedures, board) : 0;
        List<Row> rows = new ArrayList<>();
        if (program.continuous()) {
            double s = continuous / board.clockHz();
            rows.add(new Row("continuous", program.tickSeconds(), s, s));
        }
        for (Task task : program.tasks()) {
            double own = 0;
            for (String p : List.of(task.publish(), task.latch(), task.run())) {
                own += CALL_CYCLES + cycles(procedures.get(p).body(), procedures, board);
            }
            double seconds = own / board.clockHz();
            double period = task.periodTicks() * program.tickSeconds();
            rows.add(new Row(task.name(), period, seconds, response(seconds, period, rows)));
        }
        return rows;
    }

    /** Share of the processor that all tasks take together. */
    public static double load(List<Row> rows) {
        return rows.stream().mapToDouble(r -> r.seconds() / r.periodSeconds()).sum();
    }

    private static double response(double own, double period, List<Row> faster) {
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

    private static double cycles(List<Stmt> body, Map<String, Procedure> procedures, Board board) {
        double sum = 0;
        for (Stmt s : body) {
            sum += switch (s) {
                case Stmt.Assign a -> MEMORY_CYCLES + cycles(a.value(), board);
                case Stmt.If i -> 2 + cycles(i.condition(), board)
                        + Math.max(cycles(i.yes(), procedures, board), cycles(i.no(), procedures, board));
                case Stmt.Repeat r -> r.count() * (3 + cycles(r.body(), procedures, board));
                case Stmt.Store t -> MEMORY_CYCLES + 2 + cycles(t.index(), board) + cycles(t.value(), board);
                // A loop whose rounds are not known is taken to run a few times.
                case Stmt.While w -> Math.min(w.limit(), LOOP_ROUNDS) * (4 + cycles(w.condition(), board) + cycles(w.body(), procedures, board));
                case Stmt.Group g -> cycles(g.body(), procedures, board);
                case Stmt.Break _ -> 1;
                case Stmt.Raise _ -> 0;
                case Stmt.Invoke i -> CALL_CYCLES + cycles(procedures.get(i.procedure()).body(), procedures, board);
            };
        }
        return sum;
    }

    private static double cycles(Expr e, Board board) {
        double own = switch (e) {
            case Expr.Literal _ -> 0;
            case Expr.Read _ -> MEMORY_CYCLES;
            case Expr.Binary b -> operation(b.op(), b.a().type(), board);
            case Expr.Not _ -> 1;
            case Expr.Select _ -> 3;
            case Expr.Convert c -> operation(Expr.Op.ADD, c.type().isFloat() ? c.type() : c.a().type(), board);
            case Expr.Call c -> operation(Expr.Op.DIV, c.type(), board);
            case Expr.Apply a -> 30 * operation(Expr.Op.MUL, a.type(), board);
            case Expr.Element _, Expr.At _ -> 5;
            case Expr.Wrap _ -> 1;
            case Expr.Bits _ -> 2;
        };
        for (Expr child : e.children()) {
            own += cycles(child, board);
        }
        return own;
    }

    private static double operation(Expr.Op op, Type type, Board board) {
        boolean hardware = !type.isFloat() || type.bytes() * 8 <= board.floatBits();
        boolean division = op == Expr.Op.DIV;
        if (hardware) {
            return division ? 14 : 1;
        }
        double soft = division ? 160 : op == Expr.Op.MUL ? 45 : 38;
        return type == Type.FLOAT64 ? soft : soft / 2;
    }
}
