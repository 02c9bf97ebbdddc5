package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Type;
import boldanvil.core.text.StructuredTextParser.DeclarationContext;
import boldanvil.core.text.StructuredTextParser.EnumerationContext;
import boldanvil.core.text.StructuredTextParser.StructureContext;
import boldanvil.core.text.StructuredTextParser.TypeDeclarationContext;
import boldanvil.core.text.StructuredTextParser.TypeSpecContext;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.antlr.v4.runtime.ParserRuleContext;

/** The types a text knows: elementary ones, its own, and function blocks. */
final class Types {
    private final Compilation compilation;
    private final Map<String, TypeDeclarationContext> declared = new LinkedHashMap<>();
    private final Map<String, DataType> known = new HashMap<>();
    private final Map<String, Map<String, Long>> enumerations = new HashMap<>();
    private final Set<String> making = new HashSet<>();

    Types(Compilation compilation) {
        this.compilation = compilation;
    }

    void declare(TypeDeclarationContext t) {
        String name = t.name.getText();
        if (TextType.named(name) != null || declared.putIfAbsent(Scope.key(name), t) != null || compilation.functionBlock(name) != null) {
            compilation.mistake(t.name, "The name '" + name + "' is already used.", "Choose another one.");
        }
    }

    /** Looks at all declared types, used or not, so that values of enumerations are known everywhere. */
    void all() {
        declared.values().forEach(t -> compilation.guarded(() -> named(t)));
    }

    Compilation compilation() {
        return compilation;
    }

    boolean isDeclared(String name) {
        return declared.containsKey(Scope.key(name));
    }

    /** The type with a name; null where there is none. */
    DataType named(String name) {
        TextType elementary = TextType.named(name);
        if (elementary != null && compilation.takes(elementary)) {
            return new DataType.Plain(elementary);
        }
        var own = declared.get(Scope.key(name));
        if (own != null) {
            return named(own);
        }
        var fb = compilation.functionBlock(name);
        return fb == null ? null : new DataType.Block(fb);
    }

    private DataType named(TypeDeclarationContext t) {
        String key = Scope.key(t.name.getText());
        DataType before = known.get(key);
        if (before != null) {
            return before;
        }
        if (!making.add(key)) {
            throw Compilation.stop(t, "The type '" + t.name.getText() + "' contains itself.", "Remove the member.");
        }
        try {
            var scope = compilation.everywhere();
            DataType made = t.structure() != null ? structure(t.name.getText(), t.structure(), scope)
                    : t.enumeration() != null ? enumeration(t.name.getText(), t.enumeration(), scope) : of(t.typeSpec(), scope);
            if (made instanceof DataType.Plain p) {
                double initial = t.initializer() == null ? p.initial() : values(scope).of(p, t.initializer()).get("")[0];
                made = new DataType.Plain(t.name.getText(), p.type(), p.low(), p.high(), initial);
            } else if (t.initializer() != null) {
                throw Compilation.stop(t.initializer(), "A type of several values takes no initial value here.",
                        "Write the value where a variable is declared, or at the members.");
            }
            known.put(key, made);
            return made;
        } finally {
            making.remove(key);
        }
    }

    private InitialValues values(Scope scope) {
        return new InitialValues(new BodyCompiler(compilation, scope, null).expressions());
    }

    /** The type of a declaration. */
    DataType of(DeclarationContext d, Scope scope) {
        if (d.enumeration() != null) {
            return enumeration("enumeration", d.enumeration(), scope);
        }
        return d.structure() != null ? structure("structure", d.structure(), scope) : of(d.typeSpec(), scope);
    }

    DataType of(TypeSpecContext t, Scope scope) {
        if (t.ARRAY() != null) {
            var bounds = bounds(t, scope);
            DataType element = of(t.typeSpec(), scope);
            if (bounds.stream().mapToLong(DataType.Bounds::size).reduce(1, (a, b) -> a * b) * element.cells() > Memory.LARGEST) {
                throw Compilation.stop(t, "The array would have more than " + Memory.LARGEST + " values.", "Make it smaller.");
            }
            return new DataType.Row(bounds, element);
        }
        String name = t.ID().getText();
        if (name.equalsIgnoreCase("STRING") || name.equalsIgnoreCase("WSTRING")) {
            long length = t.length == null ? DataType.Chars.USUAL : whole(t.length, scope);
            if (length < 1 || length > DataType.Chars.MOST) {
                throw Compilation.stop(t, "A string has 1 to " + DataType.Chars.MOST + " characters, not " + length + ".",
                        "Choose another length.");
            }
            return new DataType.Chars(name.equalsIgnoreCase("WSTRING"), (int) length);
        }
        DataType type = named(name);
        if (type == null) {
            throw Compilation.stop(t, "There is no type '" + name + "'.",
                    "Use an elementary type, a type of this text, or a function block of this text or the standard.");
        }
        if (t.length != null) {
            throw Compilation.stop(t, "Only a string has a length.", "Remove the brackets, or write ARRAY [1..n] OF " + name + ".");
        }
        return t.range().isEmpty() ? type : subrange(t, name, type, scope);
    }

    private DataType subrange(TypeSpecContext t, String name, DataType type, Scope scope) {
        var r = t.range(0);
        if (!(type instanceof DataType.Plain p) || !p.type().isInteger()) {
            throw Compilation.stop(t, "A range needs an integer type, not " + name + ".", "Use INT, DINT and the like.");
        }
        long low = whole(r.expression(0), scope);
        long high = whole(r.expression(1), scope);
        if (high < low || low < p.type().type().least() || high > p.type().type().greatest()) {
            throw Compilation.stop(r, "The range " + low + ".." + high + (high < low ? " is empty." : " does not fit into " + name + "."),
                    "Write its bounds from low to high.");
        }
        return new DataType.Plain(name + "(" + low + ".." + high + ")", p.type(), low, high, low);
    }

    private long whole(StructuredTextParser.ExpressionContext e, Scope scope) {
        return new BodyCompiler(compilation, scope, null).expressions().whole(e);
    }

    private List<DataType.Bounds> bounds(TypeSpecContext t, Scope scope) {
        List<DataType.Bounds> bounds = new ArrayList<>();
        long size = 1;
        for (var r : t.range()) {
            int low = (int) whole(r.expression(0), scope);
            int high = (int) whole(r.expression(1), scope);
            size *= Math.max(1, (long) high - low + 1);
            if (high < low || size > Memory.LARGEST) {
                throw Compilation.stop(r, "The array would have " + (high < low ? "no" : "more than " + Memory.LARGEST) + " elements.",
                        "Write its bounds from low to high.");
            }
            bounds.add(new DataType.Bounds(low, high));
        }
        return bounds;
    }

    private DataType structure(String name, StructureContext s, Scope scope) {
        Map<String, DataType.Field> fields = new LinkedHashMap<>();
        for (DeclarationContext d : s.declaration()) {
            DataType type = of(d, scope);
            if (contains(type)) {
                throw Compilation.stop(d, "A structure cannot contain a function block.", "Declare the function block beside it.");
            }
            var initial = values(scope).of(type, d.initializer());
            for (var id : d.ID()) {
                if (fields.putIfAbsent(Scope.key(id.getText()), new DataType.Field(id.getText(), type, initial)) != null) {
                    compilation.mistake(id.getSymbol(), "There is a member '" + id.getText() + "' already.", "Choose another name.");
                }
            }
        }
        if (fields.isEmpty()) {
            throw Compilation.stop(s, "The structure has no members.", "Declare one.");
        }
        return new DataType.Structure(name, fields);
    }

    private static boolean contains(DataType t) {
        return t instanceof DataType.Block || t instanceof DataType.Row r && contains(r.element());
    }

    private DataType enumeration(String name, EnumerationContext e, Scope scope) {
        TextType base = e.base == null ? TextType.DINT : TextType.named(e.base.getText());
        if (base == null || !base.isInteger()) {
            throw Compilation.stop(e, "The values of an enumeration are integers.", "Write an integer type before the bracket, or none.");
        }
        Map<String, Long> values = new LinkedHashMap<>();
        long next = 0;
        for (var v : e.enumerator()) {
            next = v.expression() == null ? next : whole(v.expression(), scope);
            if (next < base.type().least() || next > base.type().greatest()) {
                throw Compilation.stop(v, next + " does not fit into " + base + ".", "Choose a smaller number.");
            }
            if (values.putIfAbsent(Scope.key(v.ID().getText()), next) != null) {
                compilation.mistake(v.getStart(), "There is a value '" + v.ID().getText() + "' already.", "Choose another name.");
            }
            // The first enumeration with a value of this name is meant where the type is not written before it.
            compilation.everywhere().add(v.ID().getText(), new Symbol.Value(new Symbol.Typed(Expr.of(base.type(),
                    next), base)));
            next++;
        }
        enumerations.put(Scope.key(name), values);
        long low = values.values().stream().mapToLong(Long::longValue).min().orElse(0);
        long high = values.values().stream().mapToLong(Long::longValue).max().orElse(0);
        return new DataType.Plain(name, base, low, high, values.values().iterator().next());
    }

    /** A value written with its type, such as {@code Lamp#red}. */
    Symbol.Typed named(ParserRuleContext at, String text) {
        String type = text.substring(0, text.indexOf('#'));
        String value = text.substring(text.indexOf('#') + 1);
        var found = isDeclared(type) ? named(type) : null;
        Long number = enumerations.getOrDefault(Scope.key(type), Map.of()).get(Scope.key(value));
        if (number == null || !(found instanceof DataType.Plain p)) {
            throw Compilation.stop(at, "There is no value '" + text + "'.", isDeclared(type) ? "Use one of: "
                    + String.join(", ", enumerations.getOrDefault(Scope.key(type), Map.of()).keySet()) + "."
                    : "Declare the enumeration '" + type + "' in TYPE … END_TYPE.");
        }
        Type carried = p.type().type();
        return new Symbol.Typed(Expr.of(carried, number), p.type());
    }

    /** Values of the enumerations by type and name, for whoever shows them. */
    Map<String, Map<String, Long>> enumerations() {
        return enumerations;
    }
}
