package boldanvil.core.text;

import java.util.List;

/** An expression of an element's equations. */
public sealed interface Term {
    /** Where it begins. */
    Spot at();

    /**
     * A place in a text.
     *
     * @param line from 1
     * @param column from 1
     */
    record Spot(int line, int column) {}

    /** A number. */
    record Number(double value, Spot at) implements Term {}

    /** A logic constant. */
    record Logic(boolean value, Spot at) implements Term {}

    /** What a name stands for. */
    record Name(ElementText.Symbol symbol, Spot at) implements Term {}

    /** @param function in capitals */
    record Call(String function, List<Term> arguments, Spot at) implements Term {}

    /** A minus or a NOT. */
    record Sign(String operator, Term of, Spot at) implements Term {}

    /** @param operator in capitals, {@code &} as AND */
    record Pair(Term left, String operator, Term right, Spot at) implements Term {
        /** Whether it compares two quantities by size. */
        public boolean isComparison() {
            return operator.startsWith("<") && !operator.equals("<>") || operator.startsWith(">");
        }
    }
}
