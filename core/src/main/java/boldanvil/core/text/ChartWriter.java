package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import boldanvil.core.text.StructuredTextParser.ActionContext;
import boldanvil.core.text.StructuredTextParser.AssociationContext;
import boldanvil.core.text.StructuredTextParser.ChartContext;
import boldanvil.core.text.StructuredTextParser.StepContext;
import boldanvil.core.text.StructuredTextParser.StepListContext;
import boldanvil.core.text.StructuredTextParser.TransitionContext;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.antlr.v4.runtime.Token;
import org.antlr.v4.runtime.tree.TerminalNode;

/**
 * A sequential function chart (IEC 61131-3:2013, section 6.7). In each cycle but the first, first the transitions are looked at, all
 * on the steps as they were; of several that leave the same step, the one with the least priority number, or else the first in the
 * text, is cleared. Then the actions of the steps that are now active run, in the order of the text, without a final scan
 * after a step has become inactive.
 */
final class ChartWriter {
    /** A step and its memory. */
    private static final class Step {
        final StepContext tree;
        final int number;
        Slot active;
        Slot was;
        /** Cycles since it became active; where these vary, the time at which it did. */
        Slot since;
        Slot time;

        Step(StepContext tree, int number) {
            this.tree = tree;
            this.number = number;
        }
    }

    /** One mention of an action in a step. */
    private record Use(Step step, String qualifier, AssociationContext tree) {}

    private final Compilation compilation;
    private final Scope scope;
    private final ChartContext tree;
    private final Map<String, Step> steps = new LinkedHashMap<>();
    private final Map<String, ActionContext> actions = new HashMap<>();
    private final List<Stmt> out = new ArrayList<>();
    private final Origin origin;
    private final BodyCompiler.Locals locals;
    private final ChartMemory memory;
    /** The time of this scan; null where each cycle takes the same time. */
    private final Expr now;

    /** @param scope of an instance, which has the chart's memory */
    ChartWriter(Compilation compilation, Scope scope, ChartContext tree, BodyCompiler.Locals locals) {
        this.compilation = compilation;
        this.tree = tree;
        this.locals = locals;
        this.memory = scope.chart();
        this.scope = scope;
        this.origin = compilation.host().origin();
        this.now = compilation.host().now();
    }

    private Expr read(Slot s) {
        return Memory.load(s, s.isArray() ? scope.index() : null);
    }

    private Stmt set(Slot s, Expr value) {
        return Memory.store(s, s.isArray() ? scope.index() : null, value, origin);
    }

    private Slot local(String name, Type type) {
        return compilation.host().local(now == null ? name : name + compilation.fresh(), type);
    }

    /** Number of the first active step, from 1; 0 where none is. */
    Expr active() {
        Expr number = Expr.of(Type.INT32, 0);
        for (Step s : new ArrayList<>(steps.values()).reversed()) {
            number = Expr.of(Type.INT32, s.number).when(read(s.active), number);
        }
        return number;
    }

    List<Stmt> statements() {
        steps();
        for (ActionContext a : tree.action()) {
            if (actions.putIfAbsent(Scope.key(a.ID().getText()), a) != null) {
                compilation.mistake(a.getStart(), "There are two actions '" + a.ID().getText() + "'.", "Rename one of them.");
            }
        }
        Slot began = memory.slot("began", Type.BOOL, 0);
        List<Stmt> moves = transitions();
        out.add(new Stmt.If(read(began), moves, List.of(), origin));
        out.add(set(began, Expr.of(true)));
        for (Step s : steps.values()) {
            Expr entered = read(s.active).and(read(s.was).not());
            if (now == null) {
                Expr next = read(s.since).plus(whole(1)).min(whole(2_000_000_000));
                out.add(set(s.since, whole(0).when(entered.or(read(s.active).not()), next)));
            } else {
                out.add(set(s.since, now.when(entered, read(s.since))));
            }
            out.add(timed(s, read(s.since)));
        }
        actions();
        for (Step s : steps.values()) {
            out.add(set(s.was, read(s.active)));
        }
        return out;
    }

    private static Expr whole(long n) {
        return Expr.of(Type.INT32, n);
    }

    /** Exact up to one rounding, so that a step of 3 s at 1 ms lasts 3000 cycles. */
    private Expr elapsed(Expr since) {
        return now != null ? Expressions.exact(now.minus(since))
                : since.as(Type.FLOAT64).times(Math.rint(compilation.host().cycleTime() * 1e9)).over(Expr.of(1e9));
    }

    private Stmt timed(Step s, Expr since) {
        return new Stmt.Assign(s.time, elapsed(since).when(read(s.active), Expr.of(0.0)), origin);
    }

    private void steps() {
        boolean initial = false;
        for (StepContext s : tree.step()) {
            String name = s.ID().getText();
            var step = new Step(s, steps.size() + 1);
            boolean first = s.kind.getType() == StructuredTextParser.INITIAL_STEP;
            initial |= first;
            step.active = memory.active(name, first);
            step.was = memory.slot(name + "_was", Type.BOOL, 0);
            step.since = memory.slot(name + (now == null ? "_cycles" : "_since"), now == null ? Type.INT32 : Type.FLOAT64, 0);
            step.time = local(name + "_T", TextType.TIME.type());
            var parts = new Scope(null);
            parts.add("X", place(step.active, TextType.BOOL));
            parts.add("T", place(step.time, TextType.TIME));
            if (steps.putIfAbsent(Scope.key(name), step) != null || isTaken(name)) {
                compilation.mistake(s.ID().getSymbol(), "The name '" + name + "' is already used.", "Rename the step.");
            }
            scope.bind(name, new Symbol.Step(parts));
            out.add(timed(step, now == null ? read(step.since).plus(whole(1)) : read(step.since)));
        }
        if (!initial) {
            compilation.mistake(tree.getStart(), "The chart has no INITIAL_STEP.", "Declare the first step as INITIAL_STEP.");
        }
    }

    private boolean isTaken(String name) {
        return scope.symbols().containsKey(Scope.key(name));
    }

    private Symbol place(Slot s, TextType type) {
        return new Symbol.Place(new Storage.Cell(s, new DataType.Plain(type)), s.isArray() ? scope.index() : null, false);
    }

    private List<Step> found(StepListContext list) {
        List<Step> all = new ArrayList<>();
        for (TerminalNode id : list.ID()) {
            Step s = steps.get(Scope.key(id.getText()));
            if (s == null) {
                Token t = id.getSymbol();
                throw new MistakeException(new Mistake(t.getLine(), t.getCharPositionInLine() + 1,
                        "There is no step '" + id.getText() + "'.",
                        "Correct the name, or add the step.", false));
            }
            all.add(s);
        }
        return all;
    }

    private List<Stmt> transitions() {
        List<TransitionContext> order = new ArrayList<>(tree.transition());
        order.sort(java.util.Comparator.comparingLong(t -> t.INTEGER() == null ? Long.MAX_VALUE
                : Long.parseLong(t.INTEGER().getText().replace("_", ""))));
        List<Stmt> moves = new ArrayList<>();
        Map<Step, Slot> next = new LinkedHashMap<>();
        Map<Step, Slot> left = new LinkedHashMap<>();
        for (Step s : steps.values()) {
            next.put(s, local(s.tree.ID().getText() + "_next", Type.BOOL));
            left.put(s, local(s.tree.ID().getText() + "_left", Type.BOOL));
            moves.add(new Stmt.Assign(next.get(s), read(s.active), origin));
            moves.add(new Stmt.Assign(left.get(s), Expr.of(false), origin));
        }
        Map<Step, Set<Step>> reached = new HashMap<>();
        for (TransitionContext t : order) {
            compilation.guarded(() -> transition(t, moves, next, left, reached));
        }
        next.forEach((s, slot) -> moves.add(set(s.active, Expr.read(slot))));
        unreachable(reached);
        return moves;
    }

    private void transition(TransitionContext t, List<Stmt> moves, Map<Step, Slot> next, Map<Step, Slot> left,
            Map<Step, Set<Step>> reached) {
        List<Step> from = found(t.from);
        List<Step> to = found(t.to);
        from.forEach(s -> reached.computeIfAbsent(s, _ -> new LinkedHashSet<>()).addAll(to));
        Expr enabled = Expr.of(true);
        for (Step s : from) {
            enabled = enabled.and(read(s.active)).and(Expr.read(left.get(s)).not());
        }
        Slot holds = local("clears", Type.BOOL);
        List<Stmt> fire = new ArrayList<>(new BodyCompiler(compilation, scope, locals).conditionInto(holds, t.expression()));
        List<Stmt> cleared = new ArrayList<>();
        for (Step s : from) {
            cleared.add(new Stmt.Assign(left.get(s), Expr.of(true), origin));
            cleared.add(new Stmt.Assign(next.get(s), Expr.of(false), origin));
        }
        for (Step s : to) {
            cleared.add(new Stmt.Assign(next.get(s), Expr.of(true), origin));
            // A step that is left and entered at once restarts.
            cleared.add(set(s.was, Expr.of(false)));
        }
        fire.add(new Stmt.If(Expr.read(holds), cleared, List.of(), origin));
        moves.add(new Stmt.If(enabled, fire, List.of(), origin));
    }

    private void unreachable(Map<Step, Set<Step>> reached) {
        Set<Step> seen = new LinkedHashSet<>();
        var waiting = new ArrayDeque<Step>();
        steps.values().stream().filter(s -> s.tree.kind.getType() == StructuredTextParser.INITIAL_STEP).forEach(waiting::add);
        while (!waiting.isEmpty()) {
            Step s = waiting.poll();
            if (seen.add(s)) {
                waiting.addAll(reached.getOrDefault(s, Set.of()));
            }
        }
        for (Step s : steps.values()) {
            if (!seen.contains(s)) {
                compilation.warning(s.tree.getStart(), "No transition leads to the step '" + s.tree.ID().getText() + "'.",
                        "Add a transition to it, or remove it.");
            }
        }
    }

    private void actions() {
        Map<String, List<Use>> uses = new LinkedHashMap<>();
        for (Step s : steps.values()) {
            for (AssociationContext a : s.tree.association()) {
                compilation.guarded(() -> uses.computeIfAbsent(Scope.key(a.ID(0).getText()), _ -> new ArrayList<>()).add(use(s, a)));
            }
        }
        for (String name : actions.keySet()) {
            if (!uses.containsKey(name)) {
                compilation.warning(actions.get(name).getStart(), "No step uses the action '" + name + "'.",
                        "Use it in a step, or remove it.");
            }
        }
        uses.forEach((name, list) -> compilation.guarded(() -> action(name, list)));
    }

    private Use use(Step s, AssociationContext a) {
        String qualifier = a.ID().size() < 2 ? "N" : a.ID(1).getText().toUpperCase(Locale.ROOT);
        if (!Set.of("N", "S", "R", "P", "L", "D").contains(qualifier)) {
            throw Compilation.stop(a, "There is no action qualifier '" + qualifier + "' here.", "Use N, S, R, P, L or D.");
        }
        boolean timed = qualifier.equals("L") || qualifier.equals("D");
        if (timed != (a.expression() != null)) {
            throw Compilation.stop(a, timed ? "The qualifier " + qualifier + " needs a time."
                    : "The qualifier " + qualifier + " has no time.",
                    timed ? "Write it after the qualifier, as in (" + qualifier + ", T#2s)." : "Remove it.");
        }
        return new Use(s, qualifier, a);
    }

    /** The action control of one action: runs while one of its uses says so. */
    private void action(String name, List<Use> uses) {
        var expressions = new BodyCompiler(compilation, scope, locals).expressions();
        Expr runs = null;
        Expr sets = null;
        Expr resets = null;
        for (Use u : uses) {
            Expr x = read(u.step().active);
            Expr since = read(u.step().since);
            Expr one = switch (u.qualifier()) {
                case "N" -> x;
                case "P" -> x.and(read(u.step().was).not());
                case "L" -> x.and(elapsed(since).lt(limit(expressions, u)));
                case "D" -> x.and(elapsed(since).compare(Op.GE, limit(expressions, u)));
                default -> null;
            };
            if (one != null) {
                runs = runs == null ? one : runs.or(one);
            } else if (u.qualifier().equals("S")) {
                sets = sets == null ? x : sets.or(x);
            } else {
                resets = resets == null ? x : resets.or(x);
            }
        }
        Expr reset = resets == null ? Expr.of(false) : resets;
        if (sets != null) {
            Slot stored = memory.slot(name + "_stored", Type.BOOL, 0);
            out.add(set(stored, reset.not().and(sets.or(read(stored)))));
            runs = runs == null ? read(stored) : runs.or(read(stored));
        }
        runs = runs == null ? Expr.of(false) : runs.and(reset.not());
        ActionContext body = actions.get(name);
        Symbol s = scope.find(name);
        if (body != null) {
            out.add(new Stmt.If(runs, new BodyCompiler(compilation, scope, locals).body(body.statements()), List.of(), origin));
        } else if (s instanceof Symbol.Place v && v.type() instanceof DataType.Plain t && t.type() == TextType.BOOL && v.writable()) {
            var setter = new BodyCompiler(compilation, scope, locals);
            setter.store(v, runs);
            out.addAll(setter.written());
        } else {
            throw Compilation.stop(uses.getFirst().tree(), "There is no action and no BOOL variable '" + uses.getFirst().tree().ID(0)
                    .getText()
                    + "'.", "Add ACTION " + uses.getFirst().tree().ID(0).getText() + ": … END_ACTION, or declare the variable.");
        }
    }

    private Expr limit(Expressions expressions, Use u) {
        var t = expressions.to(expressions.value(u.tree().expression(), TextType.TIME), TextType.TIME, u.tree().getStart());
        // Half a cycle less, so that rounding does not prolong it by one.
        return now != null ? t.expr() : t.expr().minus(Expr.of(compilation.host().cycleTime() / 2));
    }
}
