package boldanvil.core.text;

import boldanvil.core.text.StructuredTextParser.FunctionBlockContext;
import java.util.List;
import java.util.Map;

/** A type of the language: elementary, or made of others. */
sealed interface DataType {
    /**
     * A single value: an elementary type, a subrange of one, or an enumeration.
     *
     * @param name as it is shown
     * @param low least value of a subrange; greater than {@code high} where there is none
     * @param initial value of a variable that is given none
     */
    record Plain(String name, TextType type, long low, long high, double initial) implements DataType {
        Plain(TextType type) {
            this(type.name(), type, 1, 0, 0);
        }

        boolean isLimited() {
            return low <= high;
        }
    }

    /** A string of up to {@code capacity} characters. */
    record Chars(boolean wide, int capacity) implements DataType {
        /** What a STRING without a length holds. */
        static final int USUAL = 80;
        static final int MOST = 1_000;
    }

    /** Bounds of one dimension of an array. */
    record Bounds(int low, int high) {
        int size() {
            return high - low + 1;
        }
    }

    /** An array. */
    record Row(List<Bounds> bounds, DataType element) implements DataType {
        int size() {
            return bounds.stream().mapToInt(Bounds::size).reduce(1, Math::multiplyExact);
        }
    }

    /**
     * A structure.
     *
     * @param fields by key, in the order of their declaration
     */
    record Structure(String name, Map<String, Field> fields) implements DataType {}

    /**
     * A member of a structure.
     *
     * @param initial values in the beginning, see {@link InitialValues}
     */
    record Field(String name, DataType type, Map<String, double[]> initial) {}

    /** A function block. */
    record Block(FunctionBlockContext tree) implements DataType {}

    /** Number of single values it has. */
    default long cells() {
        return switch (this) {
            case Plain _ -> 1;
            case Chars c -> c.capacity() + 1L;
            case Row r -> r.size() * r.element().cells();
            case Structure s -> s.fields().values().stream().mapToLong(f -> f.type().cells()).sum();
            case Block _ -> 1;
        };
    }

    /** The type as a declaration names it. */
    default String shown() {
        return switch (this) {
            case Plain p -> p.name();
            case Chars c -> (c.wide() ? "WSTRING[" : "STRING[") + c.capacity() + "]";
            case Row r -> "ARRAY[" + String.join(", ", r.bounds().stream().map(b -> b.low() + ".." + b.high()).toList()) + "] OF "
                    + r.element().shown();
            case Structure s -> s.name();
            case Block b -> b.tree().name.getText();
        };
    }
}
