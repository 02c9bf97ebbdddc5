package boldanvil.core.replay;

import boldanvil.core.instance.Instance;
import boldanvil.core.program.Arithmetic;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Function;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.replay.Node.Cause;
import boldanvil.core.replay.Why.Part;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Runs the procedures of one part, statement by statement, and notes for each value what had a part in it then. A factor of zero hides the
 * other factor; a false operand of AND, or a true one of OR, hides the other; a selection hides what it does not choose.
 */
final class Tracer {
    /** A value with what had a part in it. */
    private record Traced(double value, List<Cause> causes) {
        boolean isTrue() {
            return value != 0;
        }

        List<Cause> deciding() {
            return causes.stream().map(Cause::deciding).toList();
        }
    }

    private final Program program;
    private final Map<String, List<Stmt>> procedures = new HashMap<>();
    private final Map<Slot, Node[]> memory = new IdentityHashMap<>();
    private final Map<Expr.Literal, Node> constants = new IdentityHashMap<>();
    /** What decided that a loop was left. */
    private List<Cause> leaving = List.of();
    /** How many functions the present statement is in; their constants are no concern of the block. */
    private int within;
    /** What decided that the present statement runs. */
    private List<Cause> control = List.of();

    /** @param now in the state before the tick; slots are read now */
    Tracer(Program program, Instance now) {
        this.program = program;
        program.procedures().forEach(p -> procedures.put(p.name(), p.body()));
        for (Slot s : program.slots()) {
            double[] values = s.isArray() ? now.elements(s) : new double[] {now.get(s)};
            Node[] nodes = new Node[values.length];
            for (int i = 0; i < nodes.length; i++) {
                nodes[i] = Node.before(s, values[i]);
            }
            memory.put(s, nodes);
        }
    }

    Program program() {
        return program;
    }

    /** The present value of a slot, or of the first element of an array. */
    Node node(Slot s) {
        return nodes(s)[0];
    }

    void put(Slot s, Node n) {
        nodes(s)[0] = n;
    }

    void run(String procedure) {
        run(procedures.get(procedure));
    }

    private Node[] nodes(Slot s) {
        return memory.computeIfAbsent(s, a -> {
            Node[] zeros = new Node[a.length()];
            java.util.Arrays.fill(zeros, Node.constant(0));
            return zeros;
        });
    }

    /** Whether the body was left by a break. */
    private boolean run(List<Stmt> body) {
        for (Stmt s : body) {
            switch (s) {
                case Stmt.Assign a -> nodes(a.target())[0] = made(a.target(), value(a.value()), List.of(), s);
                case Stmt.Store t -> {
                    Traced index = value(t.index());
                    nodes(t.array())[Math.clamp((int) index.value(), 0, t.array().length() - 1)] = made(t.array(), value(t.value()),
                            index.deciding(), s);
                }
                case Stmt.If i -> {
                    Traced condition = value(i.condition());
                    List<Stmt> other = condition.isTrue() ? i.no() : i.yes();
                    if (decided(condition.deciding(), () -> {
                        keep(other);
                        return run(condition.isTrue() ? i.yes() : i.no());
                    })) {
                        return true;
                    }
                    if (breaks(other)) {
                        // The rest of the loop runs only because this did not leave it.
                        control = joined(control, condition.deciding());
                    }
                }
                case Stmt.Repeat r -> {
                    List<Cause> outer = control;
                    boolean left = false;
                    for (int k = 0; k < r.count() && !left; k++) {
                        nodes(r.counter())[0] = Node.constant(k);
                        left = run(r.body());
                    }
                    leave(left, r.body());
                    control = outer;
                }
                case Stmt.While w -> repeat(w);
                case Stmt.Group g -> run(g.body());
                case Stmt.Written w -> run(w.body());
                case Stmt.Break _ -> {
                    leaving = control;
                    return true;
                }
                case Stmt.Raise _ -> { }
                case Stmt.Invoke i -> run(i.procedure());
            }
        }
        return false;
    }

    private void repeat(Stmt.While w) {
        List<Cause> outer = control;
        boolean left = false;
        Traced condition = value(w.condition());
        for (int k = 0; condition.isTrue() && !left && k < w.limit(); k++) {
            control = joined(control, condition.deciding());
            left = run(w.body());
            condition = left ? condition : value(w.condition());
        }
        control = joined(control, condition.deciding());
        keep(w.body());
        leave(left, w.body());
        control = outer;
    }

    /** After a loop: what its body set last would be other values, had it not been left. */
    private void leave(boolean left, List<Stmt> body) {
        if (left) {
            control = leaving;
            keep(body);
        }
    }

    private static boolean breaks(List<Stmt> body) {
        return body.stream().anyMatch(s -> s instanceof Stmt.Break || s instanceof Stmt.If i && (breaks(i.yes()) || breaks(i.no()))
                || s instanceof Stmt.Group g && breaks(g.body()) || s instanceof Stmt.Written w && breaks(w.body()));
    }

    private boolean decided(List<Cause> by, java.util.function.BooleanSupplier what) {
        List<Cause> outer = control;
        control = joined(outer, by);
        boolean left = what.getAsBoolean();
        control = outer;
        return left;
    }

    private Node made(Slot target, Traced v, List<Cause> more, Stmt s) {
        return new Node(target, target.type().convert(v.value()), s.origin().path(), joined(joined(v.causes(), more), control));
    }

    /** What a body that does not run would have set keeps its value, because of the condition. */
    private void keep(List<Stmt> body) {
        for (Stmt s : body) {
            Slot target = s instanceof Stmt.Assign a ? a.target() : s instanceof Stmt.Store t ? t.array() : null;
            if (target != null) {
                Node[] nodes = nodes(target);
                for (int i = 0; i < nodes.length; i++) {
                    Node old = nodes[i];
                    nodes[i] = new Node(target, old.value(), old.path(), joined(old.causes(), control));
                }
            }
            s.bodies().forEach(this::keep);
        }
    }

    private static List<Cause> joined(List<Cause> a, List<Cause> b) {
        if (b.isEmpty()) {
            return a;
        }
        if (a.isEmpty()) {
            return b;
        }
        Map<Node, Part> roles = new IdentityHashMap<>();
        List<Node> order = new ArrayList<>(a.size() + b.size());
        for (List<Cause> list : List.of(a, b)) {
            for (Cause c : list) {
                Part known = roles.get(c.node());
                if (known == null) {
                    order.add(c.node());
                }
                roles.put(c.node(), known == Part.VALUE ? known : c.role());
            }
        }
        return order.stream().map(n -> new Cause(n, roles.get(n))).toList();
    }

    /** What a slot gives to who reads it; a value on the way, which no wire carries, gives what it was made of. */
    private static Traced read(Node n) {
        boolean passing = n.slot() == null || n.slot().role() == Slot.Role.LOCAL;
        return new Traced(n.value(), passing ? n.causes() : List.of(new Cause(n, Part.VALUE)));
    }

    private Traced value(Expr e) {
        return switch (e) {
            case Expr.Literal l -> new Traced(l.value(), within > 0 ? List.of()
                    : List.of(new Cause(constants.computeIfAbsent(l, c -> Node.constant(c.value())), Part.VALUE)));
            case Expr.Read r -> read(node(r.slot()));
            case Expr.At a -> {
                Traced index = value(a.index());
                Traced element = read(nodes(a.array())[Math.clamp((int) index.value(), 0, a.array().length() - 1)]);
                yield new Traced(element.value(), joined(element.causes(), index.deciding()));
            }
            case Expr.Not n -> {
                Traced a = value(n.a());
                yield new Traced(a.isTrue() ? 0 : 1, a.causes());
            }
            case Expr.Select s -> {
                Traced condition = value(s.condition());
                Traced v = value(condition.isTrue() ? s.yes() : s.no());
                yield new Traced(v.value(), joined(v.causes(), condition.deciding()));
            }
            case Expr.Binary b -> binary(b.op(), b, value(b.a()), value(b.b()));
            case Expr.Convert c -> {
                Traced a = value(c.a());
                yield new Traced(c.type().convert(a.value()), a.causes());
            }
            case Expr.Wrap w -> {
                Traced a = value(w.a());
                yield new Traced(w.type().wrap((long) a.value()), a.causes());
            }
            case Expr.Bits b -> {
                Traced a = value(b.children().getFirst());
                Traced low = b.children().size() > 1 ? value(b.children().get(1)) : new Traced(0, List.of());
                yield new Traced(Arithmetic.bits(b.form(), a.value(), low.value()), joined(a.causes(), low.causes()));
            }
            case Expr.Call c -> {
                Traced a = value(c.a());
                yield new Traced(Arithmetic.call(c.intrinsic(), c.type(), a.value()), a.causes());
            }
            case Expr.Apply a -> apply(a.function(), a.arguments().stream().map(this::value).toList());
            case Expr.Element t -> {
                Traced index = value(t.index());
                yield new Traced(t.table().value(Math.clamp((int) index.value(), 0, t.table().size() - 1)), index.causes());
            }
        };
    }

    private static Traced binary(Op op, Expr.Binary e, Traced a, Traced b) {
        double v = Arithmetic.binary(op, e.a().type(), a.value(), b.value());
        boolean one = switch (op) {
            case MUL, BAND -> a.value() == 0 && Double.isFinite(b.value());
            case DIV, REM -> a.value() == 0 && Double.isFinite(b.value()) && b.value() != 0;
            case AND -> !a.isTrue();
            case OR -> a.isTrue();
            default -> false;
        };
        boolean other = switch (op) {
            case MUL, BAND -> b.value() == 0 && Double.isFinite(a.value());
            case AND -> !b.isTrue();
            case OR -> b.isTrue();
            default -> false;
        };
        return new Traced(v, one == other ? joined(a.causes(), b.causes()) : one ? a.causes() : b.causes());
    }

    private Traced apply(Function f, List<Traced> arguments) {
        // What is within a function begins as zero at each call.
        Set<Slot> own = Collections.newSetFromMap(new IdentityHashMap<>());
        f.body().forEach(s -> boldanvil.core.program.Rewriter.usedSlots(s, own::add));
        own.forEach(memory::remove);
        List<Cause> outer = control;
        control = List.of();
        for (int i = 0; i < arguments.size(); i++) {
            memory.put(f.parameters().get(i), new Node[] {new Node(f.parameters().get(i), arguments.get(i).value(), null,
                    arguments.get(i).causes())});
        }
        within++;
        run(f.body());
        Traced result = value(f.result());
        within--;
        control = outer;
        return result;
    }
}
