package boldanvil.core.testing;

import boldanvil.core.instance.Instance;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Fault;
import boldanvil.core.program.FaultPlaces;
import boldanvil.core.program.Function;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Rewriter;
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
    private static final double[] ZERO = {0};

    private final FaultPlaces places;
    private int place;
    private final Map<Slot, double[]> memory = new IdentityHashMap<>();

    private long left = Long.MAX_VALUE;

    /** More statements than were allowed. */
    public static final class TooLong extends RuntimeException {
        private static final long serialVersionUID = 1L;
    }

    /** @param statements after which {@link TooLong} is thrown: loops of some sheets would take an interpreter minutes */
    public Reference(Program program, long statements) {
        this(program);
        left = statements;
    }

    public Reference(Program program) {
        this.program = program;
        this.places = FaultPlaces.of(program);
        program.procedures().forEach(p -> procedures.put(p.name(), p));
        init();
    }

    @Override
    public void init() {
        memory.clear();
        program.slots().forEach(s -> memory.put(s, java.util.stream.IntStream.range(0, s.length()).mapToDouble(s::initial).toArray()));
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

    /** Whether the body was left by a break. */
    private boolean run(List<Stmt> body) {
        for (Stmt s : body) {
            if (--left < 0) {
                throw new TooLong();
            }
            place = places.numberOf(s.origin().path());
            switch (s) {
                case Stmt.Assign a -> memory.put(a.target(), new double[] {value(a.value())});
                case Stmt.Store t -> {
                    int index = Math.clamp((int) value(t.index()), 0, t.array().length() - 1);
                    double v = value(t.value());
                    memory.computeIfAbsent(t.array(), a -> new double[a.length()])[index] = v;
                }
                case Stmt.If i -> {
                    if (run(value(i.condition()) != 0 ? i.yes() : i.no())) {
                        return true;
                    }
                }
                case Stmt.Repeat r -> {
                    boolean left = false;
                    for (int k = 0; k < r.count() && !left; k++) {
                        memory.put(r.counter(), new double[] {k});
                        left = run(r.body());
                    }
                }
                case Stmt.While w -> {
                    for (int k = 0; value(w.condition()) != 0; k++) {
                        if (k >= w.limit()) {
                            place = places.numberOf(w.origin().path());
                            raise(Fault.ENDLESS_LOOP);
                            break;
                        }
                        if (run(w.body())) {
                            break;
                        }
                        place = places.numberOf(w.origin().path());
                    }
                }
                case Stmt.Group g -> run(g.body());
                case Stmt.Written w -> run(w.body());
                case Stmt.Break _ -> {
                    return true;
                }
                case Stmt.Raise r -> raise(r.bit());
                case Stmt.Invoke i -> run(i.procedure());
            }
        }
        return false;
    }

    private void raise(int bit) {
        memory.put(program.fault(), new double[] {Fault.raise((int) get(program.fault()), bit, place)});
    }

    /** What an expression comes to with the present memory. */
    public double value(Expr e) {
        return switch (e) {
            case Expr.Literal l -> l.value();
            case Expr.Read r -> memory.getOrDefault(r.slot(), ZERO)[0];
            case Expr.At a -> memory.getOrDefault(a.array(), new double[a.array().length()])
                    [Math.clamp((int) value(a.index()), 0, a.array().length() - 1)];
            case Expr.Not n -> value(n.a()) != 0 ? 0 : 1;
            case Expr.Select s -> value(value(s.condition()) != 0 ? s.yes() : s.no());
            case Expr.Binary b -> binary(b.op(), b.a().type(), value(b.a()), value(b.b()));
            case Expr.Convert c -> convert(c.type(), c.a().type(), value(c.a()));
            case Expr.Wrap w -> wrapLong(w.type(), (long) value(w.a()));
            case Expr.Bits b -> bits(b);
            case Expr.Call c -> round(c.type(), switch (c.intrinsic()) {
                case ABS -> Math.abs(value(c.a()));
                case SQRT -> Math.sqrt(value(c.a()));
                case FLOOR -> Math.floor(value(c.a()));
                case CEIL -> Math.ceil(value(c.a()));
                case RINT -> Math.rint(value(c.a()));
            });
            case Expr.Apply a -> apply(a.function(), a.arguments().stream().map(this::value).toList());
            case Expr.Element t -> t.table().value(Math.clamp((int) value(t.index()), 0, t.table().size() - 1));
        };
    }

    private double bits(Expr.Bits b) {
        double v = value(b.children().getFirst());
        return switch (b.form()) {
            case FLOAT32_TO_UINT32 -> Integer.toUnsignedLong(Float.floatToRawIntBits((float) v));
            case UINT32_TO_FLOAT32 -> Float.intBitsToFloat((int) (long) v);
            case HIGH_OF_FLOAT64 -> Double.doubleToRawLongBits(v) >>> 32;
            case LOW_OF_FLOAT64 -> Double.doubleToRawLongBits(v) & 0xFFFF_FFFFL;
            case HALVES_TO_FLOAT64 -> Double.longBitsToDouble((long) v << 32 | (long) value(b.children().get(1)));
        };
    }

    private double apply(Function f, List<Double> arguments) {
        // Arrays within a function begin as zero at each call.
        f.body().forEach(s -> Rewriter.usedSlots(s, memory::remove));
        for (int i = 0; i < arguments.size(); i++) {
            memory.put(f.parameters().get(i), new double[] {arguments.get(i)});
        }
        int caller = place;
        run(f.body());
        place = places.numberOf(f.name());
        double result = value(f.result());
        place = caller;
        return result;
    }

    private static double round(Type t, double v) {
        return t == Type.FLOAT32 ? (float) v : v;
    }

    private double convert(Type to, Type from, double v) {
        if (to == Type.BOOL) {
            return v != 0 ? 1 : 0;
        }
        if (!to.isInteger()) {
            return round(to, v);
        }
        if (Double.isNaN(v)) {
            raise(Fault.NOT_A_NUMBER);
            return 0;
        }
        double cut = v < 0 ? Math.ceil(v) : Math.floor(v);
        return Math.clamp(cut, (double) to.least(), (double) to.greatest()) + 0.0;
    }

    private double binary(Expr.Op op, Type t, double a, double b) {
        return switch (op) {
            case ADD -> wrap(t, a + b);
            case SUB -> wrap(t, a - b);
            case MUL -> t.isInteger() ? wrapLong(t, (long) a * (long) b) : wrap(t, a * b);
            case DIV -> divide(t, a, b);
            case REM -> remainder(t, a, b);
            case BAND -> (long) a & (long) b;
            case BOR -> (long) a | (long) b;
            case BXOR -> (long) a ^ (long) b;
            case SHL -> b < 0 || b > 31 ? 0 : wrapLong(t, (long) a << (long) b);
            case SHR -> Math.floor(a / Math.pow(2, b < 0 || b > 31 ? 40 : b));
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
            raise(Fault.DIVISION_BY_ZERO);
            return 0;
        }
        return wrapLong(t, (long) a / (long) b);
    }

    private double remainder(Type t, double a, double b) {
        if (!t.isInteger()) {
            return t == Type.FLOAT32 ? (float) a % (float) b : a % b;
        }
        if (b == 0) {
            raise(Fault.DIVISION_BY_ZERO);
            return 0;
        }
        return wrapLong(t, (long) a % (long) b);
    }

    private static double wrap(Type t, double v) {
        return t.isInteger() ? wrapLong(t, (long) v) : round(t, v);
    }

    private static double wrapLong(Type t, long v) {
        long modulus = 1L << 8 * t.bytes();
        long low = Math.floorMod(v, modulus);
        return low > t.greatest() ? low - modulus : low;
    }

    @Override
    public double get(Slot slot) {
        return memory.get(slot)[0];
    }

    @Override
    public void set(Slot slot, double value) {
        memory.get(slot)[0] = slot.type().convert(value);
    }
}
