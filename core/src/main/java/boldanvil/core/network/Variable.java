package boldanvil.core.network;

/**
 * A variable of a network.
 *
 * @param kind what it is
 * @param number among those of its kind, from 0
 */
record Variable(Kind kind, int number) implements Comparable<Variable> {
    /** What there is. */
    enum Kind {
        /** Potential of a net. */
        POTENTIAL,
        /** Flow through a branch, or an element's own unknown. */
        UNKNOWN,
        /** Rate of change of what is stored. */
        RATE,
        /** A signal from outside. */
        INPUT,
        /** Value of a function that is not linear. */
        FUNCTION
    }

    @Override
    public int compareTo(Variable o) {
        return kind == o.kind ? Integer.compare(number, o.number) : kind.compareTo(o.kind);
    }
}
