package boldanvil.core.testing;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Function;
import boldanvil.core.program.Instance;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;

/**
 * An evaluator that walks the IR. It is a third, independent reading of what the IR means, slow and plain, against which both
 * outputs are held.
 */
public final class Reference implements Instance {
    private final Program program;
    private final Map<String, Procedure> procedures = new HashMap<>();
    private final Map<Slot, Double> memory = new IdentityHashMap<>();

    public Reference(Program program) {
        this.program = program;
        program.procedures().forEach(p -> procedures.put(p.name(), p));
        init();
    }

    @Override
    public void init() {
        memory.clear();
        program.slots().forEach(s -> memory.put(s, s.initial()));
    }

    @Override
    public void sample() {
        run(Program.SAMPLE);
    }

    @Override
    public void step() {
        run(Program.STEP);
    }

    @Override
    public void advance() {
        run(Program.ADVANCE);
    }

    private void run(String procedure) {
        run(procedures.get(procedure).body());
    }

    private void run(List<Stmt> body) {
        for (Stmt s : body) {
            switch (s) {
                case Stmt.Assign a -> memory.put(a.target(), value(a.value()));
                case Stmt.If i -> run(value(i.condition()) != 0 ? i.yes() : i.no());
                case Stmt.Repeat r -> {
                    for (int k = 0; k < r.count(); k++) {
                        memory.put(r.counter(), (double) k);
                        run(r.body());
                    }
                }
                case Stmt.Invoke i -> run(i.procedure());
            }
        }
    }

    /** What an expression comes to with the present memory. */
    public double value(Expr e) {
        return switch (e) {
            case Expr.Literal l -> l.value();
            case Expr.Read r -> memory.get(r.slot());
            case Expr.Not n -> value(n.a()) != 0 ? 0 : 1;
            case Expr.Select s -> value(value(s.condition()) != 0 ? s.yes() : s.no());
            case Expr.Binary b -> binary(b.op(), b.a().type(), value(b.a()), value(b.b()));
            case Expr.Convert c -> convert(c.type(), c.a().type(), value(c.a()));
            case Expr.Call c -> round(c.type(), switch (c.intrinsic()) {
                case ABS -> Math.abs(value(c.a()));
                case SQRT -> Math.sqrt(value(c.a()));
                case FLOOR -> Math.floor(value(c.a()));
                case CEIL -> Math.ceil(value(c.a()));
            });
            case Expr.Apply a -> apply(a.function(), value(a.a()));
            case Expr.Element t -> t.table().value(Math.clamp((int) value(t.index()), 0, t.table().size() - 1));
        };
    }

    private double apply(Function f, double argument) {
        memory.put(f.parameter(), argument);
        run(f.body());
        return value(f.result());
    }

    private static double round(Type t, double v) {
        return t == Type.FLOAT32 ? (float) v : v;
    }

    private double convert(Type to, Type from, double v) {
        if (from.isFloat() && to.isInteger() && Double.isNaN(v)) {
            memory.merge(program.fault(), (double) Fault.NOT_A_NUMBER, (a, b) -> (double) (a.intValue() | b.intValue()));
            return 0;
        }
        if (to == Type.BOOL) {
            return v != 0 ? 1 : 0;
        }
        if (to == Type.INT32) {
            double cut = v < 0 ? Math.ceil(v) : Math.floor(v);
            return Math.clamp(cut, -2147483648.0, 2147483647.0) + 0.0;
        }
        if (to == Type.UINT16) {
            double cut = v < 0 ? Math.ceil(v) : Math.floor(v);
            return Math.clamp(cut, 0.0, 65535.0) + 0.0;
        }
        return round(to, v);
    }

    private double binary(Expr.Op op, Type t, double a, double b) {
        return switch (op) {
            case ADD -> wrap(t, a + b);
            case SUB -> wrap(t, a - b);
            case MUL -> t.isInteger() ? wrapLong(t, (long) a * (long) b) : wrap(t, a * b);
            case DIV -> divide(t, a, b);
            case LT -> a < b ? 1 : 0;
            case LE -> a <= b ? 1 : 0;
            case GT -> a > b ? 1 : 0;
            case GE -> a >= b ? 1 : 0;
            case EQ -> a == b ? 1 : 0;
            case NE, XOR -> a != b ? 1 : 0;
            case AND -> a != 0 && b != 0 ? 1 : 0;
            case OR -> a != 0 || b != 0 ? 1 : 0;
        };
    }

    private double divide(Type t, double a, double b) {
        if (!t.isInteger()) {
            return wrap(t, a / b);
        }
        if (b == 0) {
            memory.merge(program.fault(), (double) Fault.DIVISION_BY_ZERO, (x, y) -> (double) (x.intValue() | y.intValue()));
            return 0;
        }
        return wrapLong(t, (long) a / (long) b);
    }

    private static double wrap(Type t, double v) {
        return t.isInteger() ? wrapLong(t, (long) v) : round(t, v);
    }

    private static double wrapLong(Type t, long v) {
        return t == Type.INT32 ? (int) v : v & 0xFFFF;
    }

    @Override
    public double get(Slot slot) {
        return memory.get(slot);
    }

    @Override
    public void set(Slot slot, double value) {
        memory.put(slot, slot.type().convert(value));
    }
}
