package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Type;
import boldanvil.core.text.StructuredTextParser.ExpressionContext;
import boldanvil.core.text.StructuredTextParser.VariableContext;
import java.util.ArrayList;
import java.util.List;
import org.antlr.v4.runtime.ParserRuleContext;

/** Finds what a name with its dots and indices stands for. */
final class Variables {
    private final Compilation compilation;
    private final Scope scope;
    private final Expressions expressions;
    private final BodyCompiler body;

    Variables(Compilation compilation, Scope scope, Expressions expressions, BodyCompiler body) {
        this.compilation = compilation;
        this.scope = scope;
        this.expressions = expressions;
        this.body = body;
    }

    /** @param count how many of the dots and indices are followed */
    Symbol resolve(VariableContext v, int count) {
        if (v.ADDRESS() != null) {
            return direct(v);
        }
        String name = v.ID().getText();
        Symbol s = scope.find(name);
        if (s == null) {
            throw Compilation.stop(v, "There is no variable '" + name + "'.", "Declare it between VAR and END_VAR, or correct the name.");
        }
        for (int i = 0; i < count; i++) {
            var sel = v.selector(i);
            if (sel.PARTIAL() != null) {
                if (i + 1 < v.selector().size()) {
                    throw Compilation.stop(v, "A bit has no members.", "Remove what is behind it.");
                }
                return s;
            }
            if (sel.index() != null) {
                List<ExpressionContext> indices = new ArrayList<>(sel.index().expression());
                while (i + 1 < count && v.selector(i + 1).index() != null) {
                    indices.addAll(v.selector(++i).index().expression());
                }
                s = element(v, name, s, indices);
            } else {
                s = member(v, name, s, sel.ID().getText());
                name = sel.ID().getText();
            }
        }
        return s;
    }

    private Symbol direct(VariableContext v) {
        String text = v.ADDRESS().getText();
        var a = Address.parse(text);
        if (a == null) {
            throw Compilation.stop(v, "'" + text + "' is not an address.", "Write such as %IX0.3, %QW2 or %MD4.");
        }
        TextType type = switch (a.bits()) {
            case 1 -> TextType.BOOL;
            case 8 -> TextType.BYTE;
            case 16 -> TextType.WORD;
            case 32 -> TextType.DWORD;
            default -> throw Compilation.stop(v, "A direct address has up to 32 bits here.", "Declare a variable of its type AT " + text
                    + ".");
        };
        var storage = Declarer.place(compilation, v, a, new DataType.Plain(type));
        return new Symbol.Place(storage, a.area() != 'I');
    }

    private Symbol member(VariableContext v, String name, Symbol s, String member) {
        Symbol found = null;
        switch (s) {
            case Symbol.Step step -> found = step.scope().find(member);
            case Symbol.Place p when p.storage() instanceof Storage.Fields f -> {
                var m = f.members().get(Scope.key(member));
                found = m == null ? null : new Symbol.Place(m, p.index(), p.writable());
            }
            case Symbol.Place p when p.storage() instanceof Storage.Instance i -> {
                // Only what the function block itself declares, not what it knows from outside.
                found = i.scope().symbols().containsKey(Scope.key(member)) ? i.scope().at(p.index()).find(member) : null;
                var parameter = i.scope().parameters().get(Scope.key(member));
                if (found instanceof Symbol.Place q && parameter != null && parameter.direction() == Scope.Direction.IN) {
                    found = new Symbol.Place(q.storage(), q.index(), true);
                }
                found = found instanceof Symbol.Value ? null : found;
            }
            default -> throw Compilation.stop(v, "'" + name + "' has no members.", "Remove the dot and the name after it.");
        }
        if (found == null) {
            throw Compilation.stop(v, "'" + name + "' has no '" + member + "'.", "Use one of its " + (s instanceof Symbol.Place p
                    && p.storage() instanceof Storage.Fields f ? "members: " + String.join(", ", f.type().fields().values().stream()
                    .map(DataType.Field::name).toList()) + "." : "inputs or outputs."));
        }
        return found;
    }

    /** An element; an index out of bounds raises a fault and takes the nearest element of its dimension. */
    private Symbol element(VariableContext v, String name, Symbol s, List<ExpressionContext> indices) {
        if (!(s instanceof Symbol.Place p) || !(p.storage() instanceof Storage.Row)) {
            throw Compilation.stop(v, "'" + name + "' is not an array.", "Remove the index.");
        }
        Symbol.Place here = p;
        int next = 0;
        while (next < indices.size()) {
            if (!(here.storage() instanceof Storage.Row row) || row.type().bounds().size() > indices.size() - next) {
                int dimensions = here.storage() instanceof Storage.Row row ? next + row.type().bounds().size() : next;
                throw Compilation.stop(v, "The array has " + dimensions + " dimensions, but " + indices.size() + " indices are given.",
                        "Enter one index for each dimension.");
            }
            Expr place = here.index();
            for (var bounds : row.type().bounds()) {
                Expr i = index(indices.get(next++), bounds);
                place = place == null ? i : place.times(Expr.of(Type.INT32, bounds.size())).plus(i);
            }
            here = new Symbol.Place(row.element(), place, here.writable());
        }
        return here;
    }

    private Expr index(ExpressionContext e, DataType.Bounds bounds) {
        var index = expressions.value(e, TextType.DINT);
        if (!index.type().isInteger()) {
            throw Compilation.stop(e, "An index is a whole number, not a " + index.type() + ".", "Convert it.");
        }
        Expr i = index.expr().as(Type.INT32);
        var low = Expr.of(Type.INT32, bounds.low());
        var high = Expr.of(Type.INT32, bounds.high());
        if (i instanceof Expr.Literal l) {
            if (l.value() < bounds.low() || l.value() > bounds.high()) {
                throw Compilation.stop(e, "The index " + (long) l.value() + " is outside " + bounds.low() + ".." + bounds.high() + ".",
                        "Correct it, or make the array larger.");
            }
        } else {
            i = body.kept("index", i);
            expressions.raise(i.lt(low).or(i.gt(high)), Fault.INDEX);
            i = i.clamp(low, high);
        }
        return i.minus(low);
    }

    /** The value of a single variable. */
    static Expr load(Symbol.Place p) {
        return p.storage() instanceof Storage.Located l ? Memory.load(l, p.index())
                : Memory.load(((Storage.Cell) p.storage()).slot(), p.index());
    }

    /** The part of a variable that a name ends with, such as {@code %X3}; null for the whole. */
    static String partial(VariableContext v) {
        if (v.selector().isEmpty() || v.selector().getLast().PARTIAL() == null) {
            return null;
        }
        String text = v.selector().getLast().PARTIAL().getText();
        if (Character.toUpperCase(text.charAt(1)) != 'X' || text.length() > 4) {
            throw Compilation.stop(v, "Only single bits of a variable can be named, such as .%X3.", "Use a shift and a conversion.");
        }
        return text;
    }

    /** The variable one of whose bits is named. */
    Expr partial(ParserRuleContext at, Symbol.Place p, int bit) {
        if (!(p.type() instanceof DataType.Plain t) || !t.type().isInteger() || bit >= 8 * t.type().type().bytes()) {
            throw Compilation.stop(at, "'" + at.getStart().getText() + "' has no bit " + bit + ".", "Name a bit of an integer or a WORD.");
        }
        return load(p);
    }
}
