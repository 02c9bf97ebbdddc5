package boldanvil.core.text;

import boldanvil.core.program.Expr;

/** What a name stands for. */
sealed interface Symbol {
    /** Something that can only be read: an input, a constant, the flag of a step. */
    record Value(Typed value) implements Symbol {}

    /**
     * A variable, or a part of one.
     *
     * @param index which element of its slots it is; null for the first
     * @param writable whether the text may assign to it
     */
    record Place(Storage storage, Expr index, boolean writable) implements Symbol {
        Place(Storage storage, boolean writable) {
            this(storage, null, writable);
        }

        DataType type() {
            return storage.type();
        }
    }

    /** The step of a chart, with X and T. */
    record Step(Scope scope) implements Symbol {}

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
