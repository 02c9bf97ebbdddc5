package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Slot;
import java.util.List;

/** What a name stands for. */
sealed interface Symbol {
    /**
     * A single value in memory.
     *
     * @param writable whether the text may assign to it
     */
    record Variable(Slot slot, TextType type, boolean writable) implements Symbol {}

    /** Something that can only be read: an input, a constant, the flag of a step. */
    record Value(Typed value) implements Symbol {}

    /** Bounds of one dimension of an array. */
    record Bounds(int low, int high) {
        int size() {
            return high - low + 1;
        }
    }

    /** An array in memory; of one element, an ordinary slot. */
    record Array(Slot slot, TextType type, List<Bounds> bounds, boolean writable) implements Symbol {}

    /** An instance of a function block. */
    record Instance(StructuredTextParser.FunctionBlockContext type, Scope scope) implements Symbol {}

    /** An expression with its type; a literal number without type prefix adapts to what it meets. */
    record Typed(Expr expr, TextType type, boolean plain) {
        Typed(Expr expr, TextType type) {
            this(expr, type, false);
        }

        boolean isLiteral() {
            return expr instanceof Expr.Literal;
        }
    }
}
