package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import boldanvil.core.text.StructuredTextParser.ArgumentContext;
import boldanvil.core.text.StructuredTextParser.AssignmentContext;
import boldanvil.core.text.StructuredTextParser.CallContext;
import boldanvil.core.text.StructuredTextParser.CaseContext;
import boldanvil.core.text.StructuredTextParser.ContinueContext;
import boldanvil.core.text.StructuredTextParser.ExitContext;
import boldanvil.core.text.StructuredTextParser.ExpressionContext;
import boldanvil.core.text.StructuredTextParser.ForContext;
import boldanvil.core.text.StructuredTextParser.IfContext;
import boldanvil.core.text.StructuredTextParser.NothingContext;
import boldanvil.core.text.StructuredTextParser.RepeatContext;
import boldanvil.core.text.StructuredTextParser.ReturnContext;
import boldanvil.core.text.StructuredTextParser.StatementContext;
import boldanvil.core.text.StructuredTextParser.StatementsContext;
import boldanvil.core.text.StructuredTextParser.WhileContext;
import java.util.ArrayList;
import java.util.List;
import java.util.TreeMap;
import org.antlr.v4.runtime.ParserRuleContext;
import org.antlr.v4.runtime.tree.ParseTree;

/** Statements of one function block instance, function or action. */
final class BodyCompiler {
    /** Makes locals of a function; null where the host provides them. */
    interface Locals {
        Slot make(String name, Type type);
    }

    private final Compilation compilation;
    private final Scope scope;
    private final Locals locals;
    private final Expressions expressions;
    private List<Stmt> out = new ArrayList<>();
    /** Set when RETURN was met; null where the body has none. */
    private Slot returned;
    /** Set when CONTINUE was met in the innermost loop; null where that has none. */
    private Slot skipping;
    private int loops;

    BodyCompiler(Compilation compilation, Scope scope, Locals locals) {
        this.compilation = compilation;
        this.scope = scope;
        this.locals = locals;
        this.expressions = new Expressions(compilation, scope, this);
    }

    Expressions expressions() {
        return expressions;
    }

    Origin origin() {
        return compilation.host().origin();
    }

    /** The statements written so far. */
    List<Stmt> written() {
        return out;
    }

    void add(Stmt s) {
        compilation.count();
        out.add(s);
    }

    private Slot local(String name, Type t) {
        String unique = name + compilation.fresh();
        return locals == null ? compilation.host().local(unique, t) : locals.make(unique, t);
    }

    /** A value that is used several times. */
    Expr kept(String name, Expr value) {
        if (value instanceof Expr.Literal || value instanceof Expr.Read) {
            return value;
        }
        Slot s = local(name, value.type());
        add(new Stmt.Assign(s, value, origin()));
        return Expr.read(s);
    }

    private void set(Slot s, Expr value) {
        add(new Stmt.Assign(s, value, origin()));
    }

    /** The whole body. */
    List<Stmt> body(StatementsContext tree) {
        out = new ArrayList<>();
        if (contains(tree, ReturnContext.class, false)) {
            returned = local("returned", Type.BOOL);
            set(returned, Expr.of(false));
        }
        statements(tree.statement());
        return out;
    }

    /** What the condition comes to, with the statements it needs in front. */
    List<Stmt> conditionInto(Slot target, ExpressionContext e) {
        out = new ArrayList<>();
        compilation.guarded(() -> set(target, expressions.condition(e)));
        return out;
    }

    private List<Stmt> nested(StatementsContext tree) {
        return nested(() -> statements(tree.statement()));
    }

    private List<Stmt> nested(Runnable some) {
        var outer = out;
        out = new ArrayList<>();
        some.run();
        var inner = out;
        out = outer;
        return inner;
    }

    private void statements(List<StatementContext> list) {
        for (int i = 0; i < list.size(); i++) {
            StatementContext s = list.get(i);
            compilation.guarded(() -> statement(s));
            Expr goesOn = goesOn(s);
            if (goesOn != null && i + 1 < list.size()) {
                var rest = list.subList(i + 1, list.size());
                add(new Stmt.If(goesOn, nested(() -> statements(rest)), List.of(), origin()));
                return;
            }
        }
    }

    /** The condition under which what follows a statement still runs; null where it always does. */
    private Expr goesOn(StatementContext s) {
        Expr goes = null;
        if (returned != null && contains(s, ReturnContext.class, false)) {
            goes = Expr.read(returned).not();
        }
        if (skipping != null && contains(s, ContinueContext.class, true)) {
            goes = goes == null ? Expr.read(skipping).not() : goes.and(Expr.read(skipping).not());
        }
        return goes;
    }

    /** @param sameLoop whether loops within are left out of the search */
    private static boolean contains(ParseTree tree, Class<?> kind, boolean sameLoop) {
        if (kind.isInstance(tree)) {
            return true;
        }
        for (int i = 0; i < tree.getChildCount(); i++) {
            ParseTree child = tree.getChild(i);
            boolean loop = child instanceof ForContext || child instanceof WhileContext || child instanceof RepeatContext;
            if (!(sameLoop && loop) && contains(child, kind, sameLoop)) {
                return true;
            }
        }
        return false;
    }

    private void statement(StatementContext s) {
        switch (s) {
            case NothingContext _ -> { }
            case AssignmentContext a -> assignment(a);
            case CallContext c -> call(c);
            case IfContext i -> conditional(i, 0);
            case CaseContext c -> selection(c);
            case ForContext f -> counted(f);
            case WhileContext w -> whileLoop(w);
            case RepeatContext r -> repeat(r);
            case ExitContext x -> {
                insideLoop(x, "EXIT");
                add(new Stmt.Break(origin()));
            }
            case ContinueContext c -> {
                insideLoop(c, "CONTINUE");
                set(skipping, Expr.of(true));
            }
            case ReturnContext _ -> {
                set(returned, Expr.of(true));
                if (loops > 0) {
                    add(new Stmt.Break(origin()));
                }
            }
            default -> throw Compilation.stop(s, "This is not a statement.", "Correct it.");
        }
    }

    private void insideLoop(ParserRuleContext at, String word) {
        if (loops == 0) {
            throw Compilation.stop(at, word + " is outside any loop.", "Remove it, or use RETURN.");
        }
    }

    private void assignment(AssignmentContext a) {
        Symbol s = expressions.resolve(a.variable());
        switch (s) {
            case Symbol.Variable v when v.writable() -> set(v.slot(), converted(a.expression(), v.type()));
            case Symbol.Array v when v.writable() -> {
                Expr value = converted(a.expression(), v.type());
                if (v.slot().isArray()) {
                    add(new Stmt.Store(v.slot(), expressions.place(a.variable(), v), value, origin()));
                } else {
                    set(v.slot(), value);
                }
            }
            default -> throw Compilation.stop(a, "'" + a.variable().getText() + "' cannot be set here.",
                    "Assign to an output or a VAR; inputs of "
                    + "function blocks are given in their call.");
        }
    }

    private Expr converted(ExpressionContext e, TextType t) {
        return expressions.to(expressions.value(e, t), t, e.getStart()).expr();
    }

    private void call(CallContext c) {
        Symbol s = scope.find(c.ID().getText());
        if (!(s instanceof Symbol.Instance fb)) {
            throw Compilation.stop(c, "'" + c.ID().getText() + "' is not a function block instance.",
                    "Declare one in VAR, such as: timer : TON; a "
                    + "function is called within an expression.");
        }
        List<Symbol.Variable> order = List.copyOf(fb.scope().inputs.values());
        for (int i = 0; i < c.argument().size(); i++) {
            ArgumentContext a = c.argument(i);
            if (a.variable() != null) {
                continue;
            }
            Symbol.Variable input = a.ID() != null ? fb.scope().inputs.get(Scope.key(a.ID().getText())) : i < order.size() ? order.get(i)
                    : null;
            if (input == null) {
                throw Compilation.stop(a, "The function block has no such input.",
                        "It has: " + String.join(", ", fb.scope().inputs.keySet()) + ".");
            }
            set(input.slot(), converted(a.expression(), input.type()));
        }
        add(new Stmt.Group(fb.type().name.getText(), new BodyCompiler(compilation, fb.scope(), locals).body(fb.type().statements()),
                origin()));
        for (ArgumentContext a : c.argument()) {
            if (a.variable() != null) {
                takeOver(a, fb);
            }
        }
    }

    private void takeOver(ArgumentContext a, Symbol.Instance fb) {
        Symbol from = fb.scope().find(a.ID().getText());
        if (!(from instanceof Symbol.Variable output)) {
            throw Compilation.stop(a, "The function block has no output '" + a.ID().getText() + "'.", "Use one of its VAR_OUTPUT.");
        }
        if (!(expressions.resolve(a.variable()) instanceof Symbol.Variable target) || !target.writable()) {
            throw Compilation.stop(a, "'" + a.variable().getText() + "' cannot be set.", "Name an output or a VAR.");
        }
        set(target.slot(), expressions.to(new Symbol.Typed(Expr.read(output.slot()), output.type()), target.type(), a.getStart()).expr());
    }

    private void conditional(IfContext i, int branch) {
        if (branch == i.expression().size()) {
            if (i.ELSE() != null) {
                statements(i.statements(branch).statement());
            }
            return;
        }
        Expr condition = expressions.condition(i.expression(branch));
        var yes = nested(i.statements(branch));
        var no = nested(() -> compilation.guarded(() -> conditional(i, branch + 1)));
        add(new Stmt.If(condition, yes, no, origin()));
    }

    private void selection(CaseContext c) {
        var v = expressions.value(c.expression(), null);
        if (!v.type().isInteger()) {
            throw Compilation.stop(c.expression(), "CASE needs an integer, not a " + v.type() + ".", "Use IF.");
        }
        reportOverlaps(c);
        select(c, kept("choice", v.expr()), 0);
    }

    /** Labels that an earlier one covers are never reached. */
    private void reportOverlaps(CaseContext c) {
        TreeMap<Long, Long> seen = new TreeMap<>();
        for (var selection : c.selection()) {
            for (var label : selection.label()) {
                long low = expressions.whole(label.expression(0));
                long high = label.expression().size() == 1 ? low : expressions.whole(label.expression(1));
                if (high < low) {
                    compilation.warning(label.getStart(), "The range of this label is empty.", "Write its bounds from low to high.");
                    continue;
                }
                var before = seen.floorEntry(high);
                if (before != null && before.getValue() >= low) {
                    compilation.warning(label.getStart(), "The label covers " + Math.max(low, before.getKey())
                            + ", which an earlier label already covers; the first one is used.",
                            "Remove the overlap.");
                }
                seen.merge(low, high, Math::max);
            }
        }
    }

    private void select(CaseContext c, Expr value, int at) {
        if (at == c.selection().size()) {
            if (c.ELSE() != null) {
                statements(c.statements().statement());
            }
            return;
        }
        Expr hits = null;
        for (var label : c.selection(at).label()) {
            Expr low = Expr.of(value.type(), expressions.whole(label.expression(0)));
            Expr one = label.expression().size() == 1 ? value.eq(low)
                    : value.compare(Op.GE, low).and(value.compare(Op.LE, Expr.of(value.type(), expressions.whole(label.expression(1)))));
            hits = hits == null ? one : hits.or(one);
        }
        var yes = nested(c.selection(at).statements());
        var no = nested(() -> select(c, value, at + 1));
        add(new Stmt.If(hits, yes, no, origin()));
    }

    /** A loop body with its own CONTINUE. */
    private List<Stmt> loopBody(StatementsContext tree) {
        Slot outer = skipping;
        skipping = contains(tree, ContinueContext.class, true) ? local("skip", Type.BOOL) : null;
        loops++;
        var inner = nested(() -> {
            if (skipping != null) {
                set(skipping, Expr.of(false));
            }
            statements(tree.statement());
        });
        loops--;
        skipping = outer;
        return inner;
    }

    private void counted(ForContext f) {
        Symbol s = scope.find(f.ID().getText());
        if (!(s instanceof Symbol.Variable counter) || !counter.writable() || !counter.type().isInteger()) {
            throw Compilation.stop(f, "'" + f.ID().getText() + "' cannot be a loop counter.", "Declare it in VAR with an integer type.");
        }
        TextType t = counter.type();
        Expr from = converted(f.expression(0), t);
        Expr last = converted(f.expression(1), t);
        last = kept("last", last);
        double by = 1;
        if (f.BY() != null) {
            by = expressions.whole(f.expression(2));
            if (by == 0) {
                throw Compilation.stop(f.expression(2), "The loop would never end: its step is 0.", "Give a step other than 0.");
            }
        }
        set(counter.slot(), from);
        Expr now = Expr.read(counter.slot());
        // Signed and wide, so that counting up to the greatest value of the type ends.
        Slot rounds = local("rounds", Type.FLOAT64);
        Expr count = last.as(Type.FLOAT64).minus(from.as(Type.FLOAT64)).times(1 / by).call(Expr.Intrinsic.FLOOR);
        var body = new ArrayList<>(loopBody(f.statements()));
        boolean known = from instanceof Expr.Literal && last instanceof Expr.Literal;
        int limit = compilation.host().loopLimit();
        if (known) {
            double n = Math.floor((((Expr.Literal) last).value() - ((Expr.Literal) from).value()) / by) + 1;
            if (n > limit) {
                throw Compilation.stop(f, "The loop runs " + (long) n + " times, more than the limit of " + limit + ".",
                        "Shorten it, or raise the block's loop limit.");
            }
        }
        set(rounds, count);
        body.add(new Stmt.Assign(counter.slot(), now.plus(Expr.of(t.type(), t.type().wrap((long) by))), origin()));
        body.add(new Stmt.Assign(rounds, Expr.read(rounds).minus(Expr.of(1.0)), origin()));
        add(new Stmt.While(Expr.read(rounds).compare(Op.GE, Expr.of(0.0)), limit, body, origin()));
        stopAfterReturn();
    }

    /** A loop that RETURN has left must not let an outer loop continue. */
    private void stopAfterReturn() {
        if (returned != null && loops > 0) {
            add(new Stmt.If(Expr.read(returned), List.of(new Stmt.Break(origin())), List.of(), origin()));
        }
    }

    private void whileLoop(WhileContext w) {
        endless(w, w.expression(), w.statements(), true);
        var condition = new Expr[1];
        var before = nested(() -> condition[0] = expressions.condition(w.expression()));
        var body = loopBody(w.statements());
        if (before.isEmpty()) {
            add(new Stmt.While(condition[0], compilation.host().loopLimit(), body, origin()));
        } else {
            var all = new ArrayList<>(before);
            all.add(new Stmt.If(condition[0].not(), List.of(new Stmt.Break(origin())), List.of(), origin()));
            all.addAll(body);
            add(new Stmt.While(Expr.of(true), compilation.host().loopLimit(), all, origin()));
        }
        stopAfterReturn();
    }

    private void repeat(RepeatContext r) {
        endless(r, r.expression(), r.statements(), false);
        var all = new ArrayList<>(loopBody(r.statements()));
        all.addAll(nested(() -> add(new Stmt.If(expressions.condition(r.expression()), List.of(new Stmt.Break(origin())), List.of(),
                origin()))));
        add(new Stmt.While(Expr.of(true), compilation.host().loopLimit(), all, origin()));
        stopAfterReturn();
    }

    private void endless(ParserRuleContext loop, ExpressionContext condition, StatementsContext body, boolean whileTrue) {
        String text = condition.getText();
        boolean forever = text.equalsIgnoreCase(whileTrue ? "TRUE" : "FALSE");
        if (forever && !contains(body, ExitContext.class, true) && !contains(body, ReturnContext.class, false)) {
            throw Compilation.stop(loop, "The loop never ends: its condition is constant, and no EXIT or RETURN leaves it.",
                    "Use a condition that changes, or add an EXIT.");
        }
    }
}
