package boldanvil.benchmarks;

import boldanvil.core.instance.Instance;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Function;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;

/**
 * What a simulator does that does not compile: it walks the blocks in order, one virtual call for each, and each block works on its
 * statements as objects. All values are doubles in one array. Faults are left out; results are not compared.
 */
final class Walking implements Instance {
    private interface Value {
        double get();
    }

    private interface Action {
        /** Whether a loop is to be left. */
        boolean run();
    }

    private final Program program;
    private final Map<Slot, Integer> places = new IdentityHashMap<>();
    private final Map<String, Action> procedures = new HashMap<>();
    private final double[] memory;

    Walking(Program program) {
        this.program = program;
        program.slots().forEach(this::place);
        for (Function f : program.functions()) {
            f.parameters().forEach(this::place);
            f.body().forEach(s -> boldanvil.core.program.Rewriter.usedSlots(s, this::place));
        }
        program.procedures().forEach(p -> p.body().forEach(s -> boldanvil.core.program.Rewriter.usedSlots(s, this::place)));
        memory = new double[size];
        for (Procedure p : program.procedures()) {
            procedures.put(p.name(), blocks(p.body()));
        }
        init();
    }

    private int size;

    private int place(Slot s) {
        Integer known = places.get(s);
        if (known == null) {
            known = size;
            size += s.length();
            places.put(s, known);
        }
        return known;
    }

    /** One action for each block. */
    private Action blocks(List<Stmt> body) {
        List<Action> actions = new ArrayList<>();
        int from = 0;
        for (int i = 1; i <= body.size(); i++) {
            if (i == body.size() || !body.get(i).origin().equals(body.get(from).origin())) {
                if (i > from) {
                    actions.add(sequence(body.subList(from, i)));
                }
                from = i;
            }
        }
        return all(actions.toArray(Action[]::new));
    }

    private Action sequence(List<Stmt> body) {
        return all(body.stream().map(this::action).toArray(Action[]::new));
    }

    private static Action all(Action[] actions) {
        if (actions.length == 1) {
            return actions[0];
        }
        return () -> {
            for (Action a : actions) {
                if (a.run()) {
                    return true;
                }
            }
            return false;
        };
    }

    private Action action(Stmt s) {
        return switch (s) {
            case Stmt.Assign a -> {
                int at = place(a.target());
                Value v = value(a.value());
                yield () -> {
                    memory[at] = v.get();
                    return false;
                };
            }
            case Stmt.Store t -> {
                int at = place(t.array());
                int last = t.array().length() - 1;
                Value i = value(t.index());
                Value v = value(t.value());
                yield () -> {
                    memory[at + Math.clamp((int) i.get(), 0, last)] = v.get();
                    return false;
                };
            }
            case Stmt.If i -> {
                Value c = value(i.condition());
                Action yes = sequence(i.yes());
                Action no = sequence(i.no());
                yield () -> c.get() != 0 ? yes.run() : no.run();
            }
            case Stmt.Repeat r -> {
                int at = place(r.counter());
                Action inner = sequence(r.body());
                yield () -> {
                    for (int k = 0; k < r.count(); k++) {
                        memory[at] = k;
                        if (inner.run()) {
                            break;
                        }
                    }
                    return false;
                };
            }
            case Stmt.While w -> {
                Value c = value(w.condition());
                Action inner = sequence(w.body());
                yield () -> {
                    for (int k = 0; k < w.limit() && c.get() != 0; k++) {
                        if (inner.run()) {
                            break;
                        }
                    }
                    return false;
                };
            }
            case Stmt.Group g -> sequence(g.body());
            case Stmt.Written w -> sequence(w.body());
            case Stmt.Break _ -> () -> true;
            case Stmt.Raise _ -> () -> false;
            case Stmt.Invoke i -> () -> procedures.get(i.procedure()).run();
        };
    }

    private Value value(Expr e) {
        return switch (e) {
            case Expr.Literal l -> {
                double v = l.value();
                yield () -> v;
            }
            case Expr.Read r -> {
                int at = place(r.slot());
                yield () -> memory[at];
            }
            case Expr.At a -> {
                int at = place(a.array());
                int last = a.array().length() - 1;
                Value i = value(a.index());
                yield () -> memory[at + Math.clamp((int) i.get(), 0, last)];
            }
            case Expr.Not n -> {
                Value a = value(n.a());
                yield () -> a.get() != 0 ? 0 : 1;
            }
            case Expr.Select s -> {
                Value c = value(s.condition());
                Value yes = value(s.yes());
                Value no = value(s.no());
                yield () -> c.get() != 0 ? yes.get() : no.get();
            }
            case Expr.Binary b -> binary(b);
            case Expr.Convert c -> {
                Value a = value(c.a());
                Type t = c.type();
                yield () -> t.convert(a.get());
            }
            case Expr.Wrap w -> {
                Value a = value(w.a());
                Type t = w.type();
                yield () -> t.wrap((long) a.get());
            }
            case Expr.Call c -> {
                Value a = value(c.a());
                yield switch (c.intrinsic()) {
                    case ABS -> () -> Math.abs(a.get());
                    case SQRT -> () -> Math.sqrt(a.get());
                    case FLOOR -> () -> Math.floor(a.get());
                    case CEIL -> () -> Math.ceil(a.get());
                    case RINT -> () -> Math.rint(a.get());
                };
            }
            case Expr.Apply a -> apply(a);
            case Expr.Element t -> {
                Value i = value(t.index());
                yield () -> t.table().value(Math.clamp((int) i.get(), 0, t.table().size() - 1));
            }
            case Expr.Bits b -> {
                Value a = value(b.children().getFirst());
                yield () -> Double.doubleToRawLongBits(a.get()) >>> 32;
            }
        };
    }

    private Value apply(Expr.Apply a) {
        Value[] arguments = a.arguments().stream().map(this::value).toArray(Value[]::new);
        int[] at = a.function().parameters().stream().mapToInt(this::place).toArray();
        Action body = sequence(a.function().body());
        Value result = value(a.function().result());
        return () -> {
            for (int i = 0; i < at.length; i++) {
                memory[at[i]] = arguments[i].get();
            }
            body.run();
            return result.get();
        };
    }

    private Value binary(Expr.Binary e) {
        Value a = value(e.a());
        Value b = value(e.b());
        Type t = e.a().type();
        if (t.isInteger() && e.op().isArithmetic()) {
            return switch (e.op()) {
                case ADD -> () -> t.wrap((long) a.get() + (long) b.get());
                case SUB -> () -> t.wrap((long) a.get() - (long) b.get());
                case MUL -> () -> t.wrap((long) a.get() * (long) b.get());
                default -> () -> {
                    long d = (long) b.get();
                    return d == 0 ? 0 : t.wrap((long) a.get() / d);
                };
            };
        }
        return switch (e.op()) {
            case ADD -> () -> a.get() + b.get();
            case SUB -> () -> a.get() - b.get();
            case MUL -> () -> a.get() * b.get();
            case DIV -> () -> a.get() / b.get();
            case LT -> () -> a.get() < b.get() ? 1 : 0;
            case LE -> () -> a.get() <= b.get() ? 1 : 0;
            case GT -> () -> a.get() > b.get() ? 1 : 0;
            case GE -> () -> a.get() >= b.get() ? 1 : 0;
            case EQ -> () -> a.get() == b.get() ? 1 : 0;
            case AND -> () -> a.get() != 0 && b.get() != 0 ? 1 : 0;
            case OR -> () -> a.get() != 0 || b.get() != 0 ? 1 : 0;
            default -> () -> a.get() != b.get() ? 1 : 0;
        };
    }

    @Override
    public void init() {
        program.slots().forEach(s -> {
            for (int i = 0; i < s.length(); i++) {
                memory[places.get(s) + i] = s.initial(i);
            }
        });
    }

    @Override
    public void sample() {
        procedures.get(Program.SAMPLE).run();
    }

    @Override
    public void step() {
        procedures.get(Program.STEP).run();
    }

    @Override
    public void advance() {
        procedures.get(Program.ADVANCE).run();
    }

    @Override
    public double get(Slot slot) {
        return memory[places.get(slot)];
    }

    @Override
    public void set(Slot slot, double value) {
        memory[places.get(slot)] = value;
    }
}
