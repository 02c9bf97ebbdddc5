package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.text.StructuredTextParser.ArrayValueContext;
import boldanvil.core.text.StructuredTextParser.ExpressionContext;
import boldanvil.core.text.StructuredTextParser.InitializerContext;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.antlr.v4.runtime.Token;

/**
 * The values variables begin with: for each single value of a type, by its path such as {@code .position.x}, as many numbers as it has
 * elements.
 */
final class InitialValues {
    private final Expressions expressions;

    InitialValues(Expressions expressions) {
        this.expressions = expressions;
    }

    /** @param given null where the declaration gives no value */
    Map<String, double[]> of(DataType t, InitializerContext given) {
        return switch (t) {
            case DataType.Plain p -> Map.of("", new double[] {given == null ? p.initial() : constant(p, single(given))});
            case DataType.Chars c -> Map.of("", given == null ? new double[c.capacity() + 1] : characters(c, given));
            case DataType.Row r -> row(r, given);
            case DataType.Structure s -> structure(s, given);
            case DataType.Block _ -> Map.of();
        };
    }

    private static ExpressionContext single(InitializerContext given) {
        if (given.expression() == null) {
            throw Compilation.stop(given, "A single value is needed here.", "Enter one value, or declare an array.");
        }
        return given.expression();
    }

    /** A constant as the type takes it. */
    double constant(DataType.Plain p, ExpressionContext e) {
        Token at = e.getStart();
        var value = expressions.to(expressions.value(e, p.type()), p.type(), at);
        if (!(value.expr() instanceof Expr.Literal l)) {
            if (p.type().type().isWide()) {
                throw Compilation.stop(e, "The number has too many digits for an initial value.",
                        "Assign it in the program, such as IF FIRST_SCAN THEN ….");
            }
            throw Compilation.stop(e, "This is not a constant.", "An initial value consists of literals and constants.");
        }
        if (p.isLimited() && (l.value() < p.low() || l.value() > p.high())) {
            throw Compilation.stop(e, "The value is outside " + p.low() + ".." + p.high() + ".", "Correct it, or widen the range.");
        }
        return l.value();
    }

    private double[] characters(DataType.Chars c, InitializerContext given) {
        var e = single(given);
        String text = Strings.literal(e);
        if (text == null) {
            throw Compilation.stop(e, "This is not a constant text.", "Write a text in quotes.");
        }
        if (text.length() > c.capacity()) {
            throw Compilation.stop(e, "The text has " + text.length() + " characters, but there is room for " + c.capacity() + ".",
                    "Declare a longer string, such as STRING[" + text.length() + "].");
        }
        double[] codes = new double[c.capacity() + 1];
        for (int i = 0; i < text.length(); i++) {
            codes[i] = text.charAt(i);
        }
        return codes;
    }

    private Map<String, double[]> row(DataType.Row r, InitializerContext given) {
        int size = r.size();
        List<Map<String, double[]>> parts = new ArrayList<>();
        if (given != null) {
            if (given.arrayValue().isEmpty()) {
                throw Compilation.stop(given, "An array is given one value.", "Write its values in square brackets.");
            }
            given.arrayValue().forEach(e -> add(r, e, parts));
            if (parts.size() > size) {
                throw Compilation.stop(given, parts.size() + " values are given for " + size + " elements.", "Remove some of them.");
            }
        }
        var usual = of(r.element(), null);
        while (parts.size() < size) {
            parts.add(usual);
        }
        Map<String, double[]> all = new LinkedHashMap<>();
        usual.forEach((path, one) -> {
            double[] joined = new double[one.length * size];
            for (int i = 0; i < size; i++) {
                System.arraycopy(parts.get(i).get(path), 0, joined, i * one.length, one.length);
            }
            all.put(path, joined);
        });
        return all;
    }

    private void add(DataType.Row r, ArrayValueContext e, List<Map<String, double[]>> parts) {
        var value = of(r.element(), e.initializer());
        int count = 1;
        if (e.count != null) {
            String digits = e.count.getText().replace("_", "");
            count = digits.length() > 7 ? Integer.MAX_VALUE : Integer.parseInt(digits);
        }
        if (count > r.size() - parts.size()) {
            throw Compilation.stop(e, "More values are given than the array has elements.", "Remove some of them.");
        }
        for (int i = 0; i < count; i++) {
            parts.add(value);
        }
    }

    private Map<String, double[]> structure(DataType.Structure s, InitializerContext given) {
        Map<String, double[]> all = new LinkedHashMap<>();
        s.fields().forEach((key, f) -> f.initial().forEach((path, v) -> all.put("." + key + path, Arrays.copyOf(v, v.length))));
        if (given == null) {
            return all;
        }
        if (given.memberValue().isEmpty()) {
            throw Compilation.stop(given, "A structure is given one value.", "Write its members in brackets, such as (x := 1, y := 2).");
        }
        for (var m : given.memberValue()) {
            String key = Scope.key(m.ID().getText());
            var f = s.fields().get(key);
            if (f == null) {
                throw Compilation.stop(m, "'" + s.name() + "' has no member '" + m.ID().getText() + "'.", "Use one of: "
                        + String.join(", ", s.fields().values().stream().map(DataType.Field::name).toList()) + ".");
            }
            of(f.type(), m.initializer()).forEach((path, v) -> all.put("." + key + path, v));
        }
        return all;
    }
}
