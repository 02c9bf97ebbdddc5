package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Slot;
import boldanvil.core.text.StructuredTextParser.DeclarationContext;
import boldanvil.core.text.StructuredTextParser.ExpressionContext;
import boldanvil.core.text.StructuredTextParser.VarBlockContext;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.antlr.v4.runtime.tree.TerminalNode;

/** Makes the variables of a function block. */
final class Declarer {
    private static final int LARGEST_ARRAY = 100_000;

    private final Compilation compilation;
    private final Scope scope;
    private final String prefix;
    private final Map<String, Symbol.Variable> outputs = new LinkedHashMap<>();
    private Set<String> transients = Set.of();

    Declarer(Compilation compilation, Scope scope, String prefix) {
        this.compilation = compilation;
        this.scope = scope;
        this.prefix = prefix;
    }

    Map<String, Symbol.Variable> outputs() {
        return outputs;
    }

    /** The variables of the block itself: its inputs are what arrives at the ports. */
    void block(StructuredTextParser.UnitContext unit) {
        if (unit.statements() != null) {
            transients = Transients.of(unit.statements());
        }
        unit.varBlock().forEach(v -> declare(v, true));
    }

    /** The variables of an instance within a text. */
    void instance(StructuredTextParser.FunctionBlockContext fb) {
        fb.varBlock().forEach(v -> declare(v, false));
    }

    private void declare(VarBlockContext block, boolean outermost) {
        int kind = block.kind.getType();
        for (DeclarationContext d : block.declaration()) {
            for (TerminalNode id : d.ID()) {
                compilation.guarded(() -> {
                    Symbol s = symbol(d, id, kind, block.CONSTANT() != null, outermost);
                    if (s != null && !scope.add(id.getText(), s)) {
                        compilation.mistake(id.getSymbol(), "There is a variable '" + id.getText() + "' already.", "Choose another name.");
                    }
                });
            }
        }
    }

    private Symbol symbol(DeclarationContext d, TerminalNode id, int kind, boolean constant, boolean outermost) {
        String name = id.getText();
        String typeName = d.typeSpec().ID().getText();
        TextType t = TextType.named(typeName);
        if (t == null) {
            var fb = compilation.functionBlock(typeName);
            if (fb == null || kind != StructuredTextParser.VAR || d.typeSpec().ARRAY() != null) {
                throw Compilation.stop(d.typeSpec(), fb == null ? "There is no type '" + typeName + "'."
                        : "A function block can only be declared in VAR.",
                        "Use an elementary type, or a function block of this text or the standard.");
            }
            return compilation.instance(fb, prefix + name, id.getSymbol());
        }
        if (d.typeSpec().ARRAY() != null) {
            return array(d, name, t, kind, constant);
        }
        Symbol.Typed initial = initial(d, t);
        if (constant) {
            if (d.initializer() == null) {
                throw Compilation.stop(d, "The constant '" + name + "' has no value.", "Write := and a value behind its type.");
            }
            return new Symbol.Value(initial);
        }
        if (kind == StructuredTextParser.VAR_INPUT && outermost) {
            return new Symbol.Value(new Symbol.Typed(compilation.host().input(name), t));
        }
        double value = ((Expr.Literal) initial.expr()).value();
        Slot slot = transients.contains(Scope.key(name)) ? compilation.host().local(prefix + name, t.type())
                : compilation.host().state(prefix + name, t.type(), value);
        var v = new Symbol.Variable(slot, t, kind != StructuredTextParser.VAR_INPUT);
        if (kind == StructuredTextParser.VAR_INPUT) {
            scope.inputs.put(Scope.key(name), v);
        } else if (kind == StructuredTextParser.VAR_OUTPUT) {
            outputs.put(name, v);
        }
        return v;
    }

    private Symbol array(DeclarationContext d, String name, TextType t, int kind, boolean constant) {
        if (kind != StructuredTextParser.VAR) {
            throw Compilation.stop(d, "An array cannot be an input or output.",
                    "Give each element an input, or join and split vectors outside.");
        }
        List<Symbol.Bounds> bounds = bounds(compilation, scope, d);
        int size = bounds.stream().mapToInt(Symbol.Bounds::size).reduce(1, Math::multiplyExact);
        double[] values = new double[size];
        if (d.initializer() != null) {
            List<ExpressionContext> given = d.initializer().expression();
            if (given.size() > size) {
                throw Compilation.stop(d.initializer(), given.size() + " values are given for " + size + " elements.",
                        "Remove some of them.");
            }
            for (int i = 0; i < given.size(); i++) {
                values[i] = ((Expr.Literal) constant(given.get(i), t).expr()).value();
            }
        }
        var host = compilation.host();
        Slot slot = size == 1 ? host.state(prefix + name, t.type(), values[0]) : host.array(prefix + name, t.type(), values);
        return new Symbol.Array(slot, t, bounds, !constant);
    }

    static List<Symbol.Bounds> bounds(Compilation compilation, Scope scope, DeclarationContext d) {
        List<Symbol.Bounds> bounds = new ArrayList<>();
        var expressions = new BodyCompiler(compilation, scope, null).expressions();
        long size = 1;
        for (var r : d.typeSpec().range()) {
            int low = (int) expressions.whole(r.expression(0));
            int high = (int) expressions.whole(r.expression(1));
            size *= Math.max(1, (long) high - low + 1);
            if (high < low || size > LARGEST_ARRAY) {
                throw Compilation.stop(r, "The array would have " + (high < low ? "no" : "more than " + LARGEST_ARRAY) + " elements.",
                        "Write its bounds from low to high.");
            }
            bounds.add(new Symbol.Bounds(low, high));
        }
        return bounds;
    }

    private Symbol.Typed initial(DeclarationContext d, TextType t) {
        if (d.initializer() == null) {
            return new Symbol.Typed(Expr.of(t.type(), 0), t);
        }
        if (d.initializer().expression().size() != 1) {
            throw Compilation.stop(d.initializer(), "A single value is needed here.", "Enter one value, or declare an array.");
        }
        return constant(d.initializer().expression(0), t);
    }

    private Symbol.Typed constant(ExpressionContext e, TextType t) {
        var expressions = new BodyCompiler(compilation, scope, null).expressions();
        var value = expressions.to(expressions.value(e, t), t, e.getStart());
        if (!value.isLiteral()) {
            throw Compilation.stop(e, "This is not a constant.", "An initial value consists of literals and constants.");
        }
        return value;
    }

}
