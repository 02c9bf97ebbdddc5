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
import java.util.Locale;
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

    private static final BodyCompiler.Locals LOCALS = new BodyCompiler.Locals() {
        @Override
        public Slot make(String name, Type type) {
            return Slot.of(name, Slot.Role.LOCAL, type);
        }

        @Override
        public Slot array(String name, Type type, int length) {
            return Slot.array(name, Slot.Role.LOCAL, type, new double[Math.max(2, length)], name);
        }
    };

    /** @param name an identifier unique in the program */
    Function compile(String name) {
        if (!(compilation.types().of(tree.result, scope) instanceof DataType.Plain result)) {
            throw Compilation.stop(tree, "The function gives no single value.", "Use an elementary type.");
        }
        Type type = result.type().type();
        Slot value = LOCALS.make("result", type);
        scope.add(tree.name.getText(), new Symbol.Place(new Storage.Cell(value, result), true));
        body.add(new Stmt.Assign(value, Expr.of(type, result.initial()), origin));
        for (var block : tree.varBlock()) {
            for (DeclarationContext d : block.declaration()) {
                compilation.guarded(() -> {
                    DataType t = compilation.types().of(d, scope);
                    d.ID().forEach(id -> compilation.guarded(() -> declare(block, d, id, t)));
                });
            }
        }
        types.add(result.type());
        compilation.signature(tree.name.getText(), types);
        body.addAll(new BodyCompiler(compilation, scope, LOCALS).body(tree.statements()));
        return new Function(name, parameters, body, Expr.read(value));
    }

    private void declare(StructuredTextParser.VarBlockContext block, DeclarationContext d, TerminalNode id, DataType type) {
        String name = id.getText();
        var compiler = new BodyCompiler(compilation, scope, LOCALS);
        Symbol s;
        if (block.kind.getType() == StructuredTextParser.VAR_INPUT) {
            var t = (DataType.Plain) type;
            Slot p = LOCALS.make(name.toLowerCase(Locale.ROOT), t.type().type());
            parameters.add(p);
            types.add(t.type());
            s = new Symbol.Place(new Storage.Cell(p, t), true);
        } else if (type instanceof DataType.Plain t) {
            Expr initial = d.initializer() == null ? Expr.of(t.type().type(), t.initial())
                    : compiler.converted(d.initializer().expression(), t.type());
            if (!block.CONSTANT().isEmpty()) {
                s = new Symbol.Value(new Symbol.Typed(initial, t.type()));
            } else {
                Slot v = LOCALS.make(name + "_v", t.type().type());
                body.addAll(compiler.written());
                body.add(new Stmt.Assign(v, initial, origin));
                s = new Symbol.Place(new Storage.Cell(v, t), true);
            }
        } else {
            var initial = new InitialValues(compiler.expressions()).of(type, d.initializer());
            s = new Symbol.Place(Memory.allocate(type, name, 1, initial, (n, t, values) -> begun(n, t, values)), true);
        }
        if (!scope.add(name, s)) {
            compilation.mistake(id.getSymbol(), "There is a variable '" + name + "' already.", "Choose another name.");
        }
    }

    /** A local with its values; arrays of locals begin with zeros, so only others are set. */
    private Slot begun(String name, Type type, double[] values) {
        Slot s = values.length == 1 ? LOCALS.make(name + "_v", type) : LOCALS.array(name, type, values.length);
        for (int i = 0; i < values.length; i++) {
            if (values[i] != 0 || !s.isArray()) {
                body.add(Memory.store(s, s.isArray() ? Expr.of(Type.INT32, i) : null, Expr.of(type, values[i]), origin));
            }
        }
        return s;
    }
}
