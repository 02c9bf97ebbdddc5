package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Function;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import boldanvil.core.text.StructuredTextParser.DeclarationContext;
import boldanvil.core.text.StructuredTextParser.FunctionContext;
import java.util.ArrayList;
import java.util.List;
import org.antlr.v4.runtime.tree.TerminalNode;

/** A function of the text: it has inputs, locals that restart at each call, and one result of its own name. */
final class FunctionCompiler {
    private final Compilation compilation;
    private final FunctionContext tree;
    private final Scope scope;
    private final List<Slot> parameters = new ArrayList<>();
    private final List<TextType> types = new ArrayList<>();
    private final List<Stmt> body = new ArrayList<>();
    private final Origin origin;

    FunctionCompiler(Compilation compilation, FunctionContext tree) {
        this.compilation = compilation;
        this.tree = tree;
        this.scope = new Scope(compilation.everywhere());
        this.origin = compilation.host().origin();
    }

    /** @param name an identifier unique in the program */
    Function compile(String name) {
        TextType result = TextType.named(tree.ID(1).getText());
        if (result == null) {
            throw Compilation.stop(tree, "There is no type '" + tree.ID(1).getText() + "'.", "Use an elementary type.");
        }
        Slot value = local("result", result.type());
        scope.add(tree.name.getText(), new Symbol.Variable(value, result, true));
        body.add(new Stmt.Assign(value, Expr.of(result.type(), 0), origin));
        for (var block : tree.varBlock()) {
            for (DeclarationContext d : block.declaration()) {
                for (TerminalNode id : d.ID()) {
                    compilation.guarded(() -> declare(block, d, id));
                }
            }
        }
        types.add(result);
        compilation.signature(tree.name.getText(), types);
        body.addAll(new BodyCompiler(compilation, scope, FunctionCompiler::local).body(tree.statements()));
        return new Function(name, parameters, body, Expr.read(value));
    }

    private static Slot local(String name, Type type) {
        return Slot.of(name, Slot.Role.LOCAL, type);
    }

    private void declare(StructuredTextParser.VarBlockContext block, DeclarationContext d, TerminalNode id) {
        int kind = block.kind.getType();
        String name = id.getText();
        TextType t = TextType.named(d.typeSpec().ID().getText());
        if (t == null || kind == StructuredTextParser.VAR_OUTPUT) {
            throw Compilation.stop(d, t == null ? "A function has no instances of function blocks, and there is no type '"
                    + d.typeSpec().ID().getText() + "'." : "A function has one result and no outputs.", "Use a function block instead.");
        }
        Symbol s;
        if (d.typeSpec().ARRAY() != null) {
            var bounds = Declarer.bounds(compilation, scope, d);
            int size = Math.max(2, bounds.stream().mapToInt(Symbol.Bounds::size).reduce(1, Math::multiplyExact));
            s = new Symbol.Array(Slot.array(name, Slot.Role.LOCAL, t.type(), new double[size], name), t, bounds, true);
        } else if (kind == StructuredTextParser.VAR_INPUT) {
            Slot p = local(name.toLowerCase(java.util.Locale.ROOT), t.type());
            parameters.add(p);
            types.add(t);
            s = new Symbol.Variable(p, t, true);
        } else {
            var expressions = new BodyCompiler(compilation, scope, FunctionCompiler::local).expressions();
            Expr initial = d.initializer() == null ? Expr.of(t.type(), 0)
                    : expressions.to(expressions.value(d.initializer().expression(0), t), t, d.getStart()).expr();
            if (block.CONSTANT() != null) {
                s = new Symbol.Value(new Symbol.Typed(initial, t));
            } else {
                Slot v = local(name + "_v", t.type());
                body.add(new Stmt.Assign(v, initial, origin));
                s = new Symbol.Variable(v, t, true);
            }
        }
        if (!scope.add(name, s)) {
            compilation.mistake(id.getSymbol(), "There is a variable '" + name + "' already.", "Choose another name.");
        }
    }
}
