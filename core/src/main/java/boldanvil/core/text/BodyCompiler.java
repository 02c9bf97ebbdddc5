package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import boldanvil.core.text.StructuredTextParser.AssignmentContext;
import boldanvil.core.text.StructuredTextParser.CallContext;
import boldanvil.core.text.StructuredTextParser.CaseContext;
import boldanvil.core.text.StructuredTextParser.ContinueContext;
import boldanvil.core.text.StructuredTextParser.ExitContext;
import boldanvil.core.text.StructuredTextParser.ExpressionContext;
import boldanvil.core.text.StructuredTextParser.ForContext;
import boldanvil.core.text.StructuredTextParser.FunctionBlockContext;
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
import java.util.function.Consumer;
import org.antlr.v4.runtime.ParserRuleContext;
import org.antlr.v4.runtime.tree.ParseTree;

/** Statements of one function block instance, function or action. */
final class BodyCompiler {
    /** Makes locals of a function; null where the host provides them. */
    interface Locals {
        Slot make(String name, Type type);

        Slot array(String name, Type type, int length);
    }

    private final Compilation compilation;
    private final Scope scope;
    private final Locals locals;
    private final Expressions expressions;
    /** The function block whose body or method this is; null for none. */
    private final FunctionBlockContext self;
    private List<Stmt> out = new ArrayList<>();
    /** Set when RETURN was met; null where the body has none. */
    private Slot returned;
    /** Set when CONTINUE was met in the innermost loop; null where that has none. */
    private Slot skipping;
    private int loops;

    BodyCompiler(Compilation compilation, Scope scope, Locals locals) {
        this(compilation, scope, locals, null);
    }

    BodyCompiler(Compilation compilation, Scope scope, Locals locals, FunctionBlockContext self) {
        this.compilation = compilation;
        this.scope = scope;
        this.locals = locals;
        this.self = self;
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

    FunctionBlockContext self() {
        return self;
    }

    Locals locals() {
        return locals;
    }

    Slot local(String name, Type t) {
        String unique = name + compilation.fresh();
        return locals == null ? compilation.host().local(unique, t) : locals.make(unique, t);
    }

    /** An array that is used within one step. */
    Slot localArray(String name, Type t, int length) {
        String unique = name + compilation.fresh();
        return locals == null ? compilation.host().localArray(unique, t, length) : locals.array(unique, t, length);
    }

    /** An array that nothing changes. */
    Slot constants(String name, Type t, double[] values) {
        if (locals == null) {
            return compilation.host().array(name + compilation.fresh(), t, values);
        }
        Slot s = localArray(name, t, values.length);
        for (int i = 0; i < values.length; i++) {
            add(new Stmt.Store(s, Expr.of(Type.INT32, i), Expr.of(t, values[i]), origin()));
        }
        return s;
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

    void set(Slot s, Expr value) {
        add(new Stmt.Assign(s, value, origin()));
    }

    /** The whole body. */
    List<Stmt> body(StatementsContext tree) {
        out = new ArrayList<>();
        if (contains(tree, ReturnContext.class, false)) {
            returned = local("returned", Type.BOOL);
            set(returned, Expr.of(false));
        }
        scope.resets().forEach(this::add);
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

    List<Stmt> nested(Runnable some) {
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
        var partial = Variables.partial(a.variable());
        Symbol s = expressions.resolve(a.variable());
        if (!(s instanceof Symbol.Place p) || !p.writable()) {
            throw Compilation.stop(a, "'" + a.variable().getText() + "' cannot be set here.",
                    "Assign to an output or a VAR; inputs of function blocks are given in their call.");
        }
        if (partial != null) {
            partial(a, p, Integer.parseInt(partial.substring(2)));
        } else {
            assign(p, a.expression());
        }
    }

    /** Sets one bit of a variable. */
    private void partial(AssignmentContext a, Symbol.Place p, int bit) {
        Expr old = expressions.partial(a, p, bit);
        Type t = old.type();
        Expr mask = Expr.of(t, t.wrap(1L << bit));
        Expr set = new Expr.Binary(Op.BOR, old, mask);
        Expr clear = new Expr.Binary(Op.BAND, old, new Expr.Binary(Op.BXOR, mask, Expr.of(t, t.isSigned() ? -1 : t.greatest())));
        store(p, set.when(converted(a.expression(), TextType.BOOL), clear));
    }

    /** Gives a variable a value; one of several values is copied whole. */
    void assign(Symbol.Place target, ExpressionContext e) {
        switch (target.storage()) {
            case Storage.Cell c -> store(target, limited(c.type(), converted(e, c.type().type())));
            case Storage.Located l -> store(target, limited(l.type(), converted(e, l.type().type())));
            case Storage.Text t -> new Strings(expressions, this).assign(t, target.index(), e);
            default -> {
                var from = expressions.place(e);
                if (from == null || !from.type().equals(target.type())) {
                    throw Compilation.stop(e, "A " + target.type().shown() + " is needed here.", "Name a variable of the same type.");
                }
                copy(target.storage(), target.index(), from.storage(), from.index(), 1, e);
            }
        }
    }

    /** A value within the range of its type; one outside raises a fault and is held at the limit. */
    private Expr limited(DataType.Plain type, Expr value) {
        if (!type.isLimited() || type.low() <= value.type().least() && type.high() >= value.type().greatest()) {
            return value;
        }
        if (value instanceof Expr.Literal l && l.value() >= type.low() && l.value() <= type.high()) {
            return value;
        }
        Expr kept = kept("value", value);
        Expr low = Expr.of(value.type(), type.low());
        Expr high = Expr.of(value.type(), type.high());
        add(new Stmt.If(kept.lt(low).or(kept.gt(high)), List.of(new Stmt.Raise(Fault.DOMAIN, origin())), List.of(), origin()));
        return kept.clamp(low, high);
    }

    /** Sets a single value. */
    void store(Symbol.Place p, Expr value) {
        if (p.storage() instanceof Storage.Located l) {
            Memory.store(l, p.index(), kept("value", value), origin()).forEach(this::add);
        } else {
            add(Memory.store(((Storage.Cell) p.storage()).slot(), p.index(), value, origin()));
        }
    }

    /** Copies {@code count} values of a kind, one behind the other. */
    void copy(Storage to, Expr toIndex, Storage from, Expr fromIndex, int count, ParserRuleContext at) {
        switch (to) {
            case Storage.Row r when from instanceof Storage.Row f ->
                copy(r.element(), toIndex, f.element(), fromIndex, count * r.type().size(), at);
            case Storage.Fields f when from instanceof Storage.Fields g ->
                f.members().forEach((key, m) -> copy(m, toIndex, g.members().get(key), fromIndex, count, at));
            case Storage.Text t when from instanceof Storage.Text f -> {
                int room = count * (t.type().capacity() + 1);
                repeat(room, i -> add(Memory.store(t.slot(), behind(toIndex, room, i), Memory.load(f.slot(), behind(fromIndex, room, i)),
                        origin())));
            }
            case Storage.Cell _, Storage.Located _ -> repeat(count, i -> {
                var target = new Symbol.Place(to, behind(toIndex, count, i), true);
                store(target, expressions.load(new Symbol.Place(from, behind(fromIndex, count, i), false)));
            });
            default -> throw Compilation.stop(at, "This cannot be copied.", "Copy its variables one by one.");
        }
    }

    private static Expr behind(Expr index, int count, Expr i) {
        return index == null ? i : index.times(Expr.of(Type.INT32, count)).plus(i);
    }

    private void repeat(int count, Consumer<Expr> body) {
        if (count == 1) {
            body.accept(Expr.of(Type.INT32, 0));
            return;
        }
        Slot i = local("i", Type.INT32);
        add(new Stmt.Repeat(i, count, nested(() -> body.accept(Expr.read(i))), origin()));
    }

    Expr converted(ExpressionContext e, TextType t) {
        return expressions.to(expressions.value(e, t), t, e.getStart()).expr();
    }

    private void call(CallContext c) {
        String name = c.variable().getText();
        var target = new Calls(compilation, scope, this).target(c.variable());
        if (target == null && !StandardFunctions.isKnown(name)) {
            throw Compilation.stop(c, "'" + name + "' is not a function block instance.",
                    "Declare one in VAR, such as: timer : TON; a "
                    + "function is called within an expression.");
        }
        if (target == null) {
            throw Compilation.stop(c, "The result of '" + name + "' is not used.", "Assign it to a variable.");
        }
        new Calls(compilation, scope, this).call(c, target, c.argument());
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
        if (!(s instanceof Symbol.Place counter) || !counter.writable() || !(counter.type() instanceof DataType.Plain plain)
                || !plain.type().isInteger()) {
            throw Compilation.stop(f, "'" + f.ID().getText() + "' cannot be a loop counter.", "Declare it in VAR with an integer type.");
        }
        TextType t = plain.type();
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
        store(counter, from);
        Expr now = expressions.load(counter);
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
        double step = by;
        body.addAll(nested(() -> store(counter, now.plus(Expr.of(t.type(), t.type().wrap((long) step))))));
        body.add(new Stmt.Assign(rounds, Expr.read(rounds).minus(Expr.of(1.0)), origin()));
        loop(Expr.read(rounds).compare(Op.GE, Expr.of(0.0)), body);
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
            loop(condition[0], body);
        } else {
            var all = new ArrayList<>(before);
            all.add(new Stmt.If(condition[0].not(), List.of(new Stmt.Break(origin())), List.of(), origin()));
            all.addAll(body);
            loop(Expr.of(true), all);
        }
        stopAfterReturn();
    }

    private void repeat(RepeatContext r) {
        endless(r, r.expression(), r.statements(), false);
        var all = new ArrayList<>(loopBody(r.statements()));
        all.addAll(nested(() -> add(new Stmt.If(expressions.condition(r.expression()), List.of(new Stmt.Break(origin())), List.of(),
                origin()))));
        loop(Expr.of(true), all);
        stopAfterReturn();
    }

    /** A loop that ends at its limit, and where the budget of the whole scan is used up. */
    private void loop(Expr condition, List<Stmt> body) {
        Slot budget = compilation.host().budget();
        if (budget == null) {
            add(new Stmt.While(condition, compilation.host().loopLimit(), body, origin()));
            return;
        }
        List<Stmt> counted = new ArrayList<>();
        counted.add(new Stmt.Assign(budget, Expr.read(budget).minus(Expr.of(Type.INT32, 1)), origin()));
        counted.add(new Stmt.If(Expr.read(budget).lt(Expr.of(Type.INT32, 0)),
                List.of(new Stmt.Raise(Fault.ENDLESS_LOOP, origin()), new Stmt.Break(origin())), List.of(), origin()));
        counted.addAll(body);
        add(new Stmt.While(condition, Integer.MAX_VALUE, counted, origin()));
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
