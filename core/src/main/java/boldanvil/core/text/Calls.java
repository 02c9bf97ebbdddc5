package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import boldanvil.core.text.StructuredTextParser.ArgumentContext;
import boldanvil.core.text.StructuredTextParser.ExpressionContext;
import boldanvil.core.text.StructuredTextParser.FunctionBlockContext;
import boldanvil.core.text.StructuredTextParser.FunctionContext;
import boldanvil.core.text.StructuredTextParser.MethodContext;
import boldanvil.core.text.StructuredTextParser.StatementsContext;
import boldanvil.core.text.StructuredTextParser.TypeSpecContext;
import boldanvil.core.text.StructuredTextParser.VarBlockContext;
import boldanvil.core.text.StructuredTextParser.VariableContext;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.antlr.v4.runtime.ParserRuleContext;

/** Calls of function blocks, methods and functions; their statements are written where they are called. */
final class Calls {
    /** What is called. */
    sealed interface Target {
        String name();
    }

    private record OfBlock(String name, FunctionBlockContext tree, Scope scope) implements Target {}

    private record OfMethod(String name, MethodContext tree, FunctionBlockContext block, Scope scope) implements Target {}

    private record OfFunction(String name, FunctionContext tree) implements Target {}

    private final Compilation compilation;
    private final Scope scope;
    private final BodyCompiler body;
    private final Expressions expressions;

    Calls(Compilation compilation, Scope scope, BodyCompiler body) {
        this.compilation = compilation;
        this.scope = scope;
        this.body = body;
        this.expressions = body.expressions();
    }

    /** What a name before brackets stands for; null for a function of the standard, or nothing. */
    Target target(VariableContext v) {
        String name = v.getText();
        if (v.ADDRESS() != null) {
            return null;
        }
        if (v.selector().isEmpty()) {
            var own = method(body.self(), name);
            if (own.isPresent()) {
                return new OfMethod(name, own.get(), body.self(), scope);
            }
            var tree = compilation.functionTree(name);
            if (tree != null || scope.find(name) == null) {
                return tree == null ? null : new OfFunction(name, tree);
            }
        } else if (v.selector().getLast().ID() != null) {
            Symbol before = expressions.resolve(v, v.selector().size() - 1);
            String last = v.selector().getLast().ID().getText();
            if (before instanceof Symbol.Place p && p.storage() instanceof Storage.Instance i) {
                var m = method(i.type().tree(), last);
                if (m.isPresent()) {
                    return new OfMethod(name, m.get(), i.type().tree(), i.scope().at(p.index()));
                }
            }
        }
        Symbol s = scope.find(v.ID().getText()) == null ? null : expressions.resolve(v, v.selector().size());
        return s instanceof Symbol.Place p && p.storage() instanceof Storage.Instance i
                ? new OfBlock(name, i.type().tree(), i.scope().at(p.index())) : null;
    }

    private static Optional<MethodContext> method(FunctionBlockContext fb, String name) {
        return fb == null ? Optional.empty() : fb.method().stream().filter(m -> m.name != null && m.name.getText().equalsIgnoreCase(name))
                .findFirst();
    }

    /** The type of what a call gives; null for nothing. */
    DataType result(Target t) {
        TypeSpecContext type = switch (t) {
            case OfBlock _ -> null;
            case OfMethod m -> m.tree().result;
            case OfFunction f -> f.tree().result;
        };
        return type == null ? null : compilation.types().of(type, compilation.everywhere());
    }

    /** Whether a function is one that has nothing but inputs of single values and a result. */
    FunctionContext plain(Target t) {
        return t instanceof OfFunction f && compilation.isPlain(f.tree()) ? f.tree() : null;
    }

    /**
     * Writes a call.
     *
     * @return where its result is; null for none
     */
    Symbol.Place call(ParserRuleContext at, Target target, List<ArgumentContext> arguments) {
        ArgumentContext enable = named(arguments, "EN");
        ArgumentContext enabled = named(arguments, "ENO");
        List<ArgumentContext> rest = arguments.stream().filter(a -> a != enable && a != enabled).toList();
        Expr condition = enable == null ? null : body.kept("enable", expressions.condition(enable.expression()));
        Symbol.Place[] result = new Symbol.Place[1];
        if (condition == null) {
            result[0] = write(at, target, rest);
        } else {
            var inner = body.nested(() -> result[0] = write(at, target, rest));
            body.add(new Stmt.If(condition, inner, List.of(), body.origin()));
        }
        if (enabled != null) {
            takeOver(enabled, new Symbol.Typed(condition == null ? Expr.of(true) : condition, TextType.BOOL));
        }
        return result[0];
    }

    private static ArgumentContext named(List<ArgumentContext> arguments, String name) {
        return arguments.stream().filter(a -> a.ID() != null && a.ID().getText().equalsIgnoreCase(name)).findFirst().orElse(null);
    }

    private Symbol.Place write(ParserRuleContext at, Target target, List<ArgumentContext> arguments) {
        return switch (target) {
            case OfBlock b -> {
                block(at, b, arguments);
                yield null;
            }
            case OfMethod m -> inline(at, m.name(), m.tree().name.getText(), m.tree().varBlock(), m.tree().result, m.tree().statements(),
                    m.scope(), m.block(), arguments);
            case OfFunction f -> inline(at, f.name(), f.name(), f.tree().varBlock(), f.tree().result, f.tree().statements(),
                    compilation.everywhere(), null, arguments);
        };
    }

    /** A program with what its use gives and takes. */
    void program(StructuredTextParser.ProgramContext tree, Scope inner, List<ArgumentContext> arguments) {
        var given = given(tree, tree.name.getText(), inner.parameters(), arguments);
        pass(given, inner);
        var written = compilation.deeper(tree, tree.name, () -> tree.chart() != null
                ? new ChartWriter(compilation, inner, tree.chart(), null).statements()
                : new BodyCompiler(compilation, inner, null).body(tree.statements()));
        written.forEach(body::add);
        given.forEach((p, a) -> {
            if (p.direction() == Scope.Direction.OUT) {
                output(a, (Symbol.Place) inner.find(p.name()));
            }
        });
    }

    /** What each parameter is given, in the order of the call. */
    private Map<Scope.Parameter, ArgumentContext> given(ParserRuleContext at, String name, Map<String, Scope.Parameter> parameters,
            List<ArgumentContext> arguments) {
        Map<Scope.Parameter, ArgumentContext> given = new LinkedHashMap<>();
        Iterator<Scope.Parameter> order = parameters.values().stream().filter(p -> p.direction() != Scope.Direction.OUT).toList()
                .iterator();
        for (ArgumentContext a : arguments) {
            Scope.Parameter p = a.ID() != null ? parameters.get(Scope.key(a.ID().getText())) : order.hasNext() ? order.next() : null;
            boolean out = a.variable() != null;
            if (p == null || out != (p.direction() == Scope.Direction.OUT)) {
                throw Compilation.stop(a, out ? "'" + name + "' has no output '" + a.ID().getText() + "'."
                        : "'" + name + "' has no such input.", "It has: " + String.join(", ", parameters.values().stream()
                        .filter(x -> out == (x.direction() == Scope.Direction.OUT)).map(Scope.Parameter::name).toList()) + ".");
            }
            if (given.put(p, a) != null) {
                throw Compilation.stop(a, "'" + p.name() + "' is given twice.", "Remove one of them.");
            }
        }
        parameters.values().stream().filter(p -> p.direction() == Scope.Direction.IN_OUT && !given.containsKey(p)).findFirst()
                .ifPresent(p -> {
                    throw Compilation.stop(at, "'" + name + "' is given no variable for '" + p.name() + "'.",
                            "A VAR_IN_OUT needs a variable in each call.");
                });
        return given;
    }

    /** Binds or sets the parameters that go in. */
    private void pass(Map<Scope.Parameter, ArgumentContext> given, Scope inner) {
        given.forEach((p, a) -> {
            switch (p.direction()) {
                case OUT -> { }
                case IN_OUT -> {
                    Symbol.Place actual = expressions.place(a.expression());
                    if (actual == null || !actual.writable() || !fits(actual.type(), p.type())) {
                        throw Compilation.stop(a, "'" + p.name() + "' needs a variable of the type " + p.type().shown() + ".",
                                "Name one that can be set.");
                    }
                    inner.bind(p.name(), actual.index() == null || actual.index() instanceof Expr.Literal ? actual
                            : new Symbol.Place(actual.storage(), body.kept("place", actual.index()), true));
                }
                case IN -> input(p, a.expression(), inner);
            }
        });
    }

    private static boolean fits(DataType actual, DataType formal) {
        return actual.equals(formal) || actual instanceof DataType.Plain a && formal instanceof DataType.Plain f && a.type() == f.type()
                || actual instanceof DataType.Block a && formal instanceof DataType.Block f && a.tree() == f.tree();
    }

    private void input(Scope.Parameter p, ExpressionContext value, Scope inner) {
        var place = (Symbol.Place) inner.find(p.name());
        var target = new Symbol.Place(place.storage(), place.index(), true);
        if (p.edge() == 0) {
            body.assign(target, value);
            return;
        }
        var was = (Symbol.Place) inner.find(p.name() + " was");
        Expr now = body.kept("level", expressions.condition(value));
        Expr before = expressions.load(was);
        body.store(target, p.edge() > 0 ? now.and(before.not()) : now.not().and(before));
        body.store(was, now);
    }

    private void block(ParserRuleContext at, OfBlock b, List<ArgumentContext> arguments) {
        Scope inner = b.scope();
        if (inner.index() != null && !(inner.index() instanceof Expr.Literal)) {
            inner = inner.at(body.kept("instance", inner.index()));
        }
        String type = b.tree().name.getText();
        var given = given(at, type, inner.parameters(), arguments);
        pass(given, inner);
        body.add(new Stmt.Group(type, body(b.tree(), inner), body.origin()));
        for (var e : given.entrySet()) {
            if (e.getKey().direction() == Scope.Direction.OUT) {
                output(e.getValue(), (Symbol.Place) inner.find(e.getKey().name()));
            }
        }
    }

    private List<Stmt> body(FunctionBlockContext tree, Scope inner) {
        return compilation.deeper(tree, tree.name, () -> tree.chart() != null
                ? new ChartWriter(compilation, inner, tree.chart(), body.locals()).statements()
                : new BodyCompiler(compilation, inner, body.locals(), tree).body(tree.statements()));
    }

    private void output(ArgumentContext a, Symbol.Place from) {
        if (!(expressions.resolve(a.variable()) instanceof Symbol.Place target) || !target.writable()) {
            throw Compilation.stop(a, "'" + a.variable().getText() + "' cannot be set.", "Name an output or a VAR.");
        }
        switch (target.storage()) {
            case Storage.Cell _, Storage.Located _ when from.type() instanceof DataType.Plain p -> takeOver(a, new Symbol.Typed(
                    expressions.load(from), p.type()));
            case Storage.Text t when from.storage() instanceof Storage.Text f -> new Strings(expressions, body)
                    .copy(Strings.piece(t, target.index()), Strings.piece(f, from.index()));
            default -> {
                if (!target.type().equals(from.type())) {
                    throw Compilation.stop(a, "The output is a " + from.type().shown() + ".", "Name a variable of this type.");
                }
                body.copy(target.storage(), target.index(), from.storage(), from.index(), 1, a);
            }
        }
    }

    private void takeOver(ArgumentContext a, Symbol.Typed value) {
        if (!(expressions.resolve(a.variable()) instanceof Symbol.Place target) || !target.writable()
                || !(target.type() instanceof DataType.Plain p)) {
            throw Compilation.stop(a, "'" + a.variable().getText() + "' cannot be set.", "Name an output or a VAR.");
        }
        body.store(target, expressions.to(value, p.type(), a.getStart()).expr());
    }

    /** Writes a function or method in place: its variables begin anew, its result is a variable of its name. */
    private Symbol.Place inline(ParserRuleContext at, String shown, String name, List<VarBlockContext> blocks, TypeSpecContext resultType,
            StatementsContext statements, Scope outer, FunctionBlockContext self, List<ArgumentContext> arguments) {
        return compilation.deeper(statements, at.getStart(), () -> {
            var inner = new Scope(outer);
            Symbol.Place result = null;
            if (resultType != null) {
                DataType type = compilation.types().of(resultType, compilation.everywhere());
                result = new Symbol.Place(fresh(type, name, null), true);
                inner.add(name, result);
            }
            blocks.forEach(b -> b.declaration().forEach(d -> declare(inner, b, d)));
            var given = given(at, shown, inner.parameters(), arguments);
            pass(given, inner);
            body.add(new Stmt.Group(name, new BodyCompiler(compilation, inner, body.locals(), self).body(statements), body.origin()));
            given.forEach((p, a) -> {
                if (p.direction() == Scope.Direction.OUT) {
                    output(a, (Symbol.Place) inner.find(p.name()));
                }
            });
            return result;
        });
    }

    private void declare(Scope inner, VarBlockContext block, StructuredTextParser.DeclarationContext d) {
        int kind = block.kind.getType();
        DataType type = compilation.types().of(d, inner);
        for (var id : d.ID()) {
            String name = id.getText();
            Scope.Direction direction = switch (kind) {
                case StructuredTextParser.VAR_INPUT -> Scope.Direction.IN;
                case StructuredTextParser.VAR_OUTPUT -> Scope.Direction.OUT;
                case StructuredTextParser.VAR_IN_OUT -> Scope.Direction.IN_OUT;
                default -> null;
            };
            if (direction != null) {
                inner.parameter(new Scope.Parameter(name, direction, type, 0));
            }
            if (direction == Scope.Direction.IN_OUT) {
                continue;
            }
            if (type instanceof DataType.Block) {
                throw Compilation.stop(d, "A function has no instances of function blocks.", "Use a function block instead.");
            }
            Symbol s = kind == StructuredTextParser.VAR_EXTERNAL ? compilation.everywhere().find(name)
                    : new Symbol.Place(fresh(type, name, d), block.CONSTANT().isEmpty());
            if (s == null) {
                throw Compilation.stop(d, "There is no global variable '" + name + "'.", "Declare it in VAR_GLOBAL.");
            }
            if (!inner.add(name, s)) {
                compilation.mistake(id.getSymbol(), "There is a variable '" + name + "' already.", "Choose another name.");
            }
        }
    }

    /** A variable that begins anew here. */
    private Storage fresh(DataType type, String name, StructuredTextParser.DeclarationContext d) {
        if (type instanceof DataType.Block) {
            throw Compilation.stop(d, "A function block cannot be declared here.", "Declare it in the function block.");
        }
        var initial = new InitialValues(expressions).of(type, d == null ? null : d.initializer());
        return Memory.allocate(type, name, 1, initial, (n, t, values) -> {
            if (values.length == 1) {
                Slot s = body.local(n, t);
                body.set(s, Expr.of(t, values[0]));
                return s;
            }
            Slot s = body.localArray(n, t, values.length);
            begin(s, values);
            return s;
        });
    }

    private void begin(Slot s, double[] values) {
        List<Integer> other = new ArrayList<>();
        for (int i = 0; i < values.length; i++) {
            if (values[i] != values[0]) {
                other.add(i);
            }
        }
        Slot i = body.local("i", Type.INT32);
        body.add(new Stmt.Repeat(i, values.length, List.of(new Stmt.Store(s, Expr.read(i), Expr.of(s.type(), values[0]), body.origin())),
                body.origin()));
        other.forEach(k -> body.add(new Stmt.Store(s, Expr.of(Type.INT32, k), Expr.of(s.type(), values[k]), body.origin())));
    }
}
