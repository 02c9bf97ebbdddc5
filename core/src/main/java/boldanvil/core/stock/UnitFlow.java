package boldanvil.core.stock;

import boldanvil.core.quantity.Dimension;

/**
 * Through which a block type states what kinds of quantities its signals are: what must be alike, and what follows for its outputs. Kinds
 * that are not known are null; rules that meet one leave their result open.
 */
public interface UnitFlow {
    /** The kind at an input. */
    Dimension in(String port);

    /** The kind of a parameter's value; null for a bare number. */
    Dimension param(String name);

    /** The kinds of the values of a parameter that is a list; null for each bare number. Empty where it cannot be read. */
    Dimension[] params(String name);

    /** Reports that the kinds within a block's text do not fit. */
    void wrong(String parameter, String cause, String cure);

    /** The text of a parameter. */
    String text(String parameter);

    /** Names of all inputs. */
    String[] inputs();

    /** States the kind of an output; null states nothing. */
    void out(String port, Dimension d);

    /** Inputs and parameters that must be of one kind, which is returned. Where they are not, it is reported. */
    Dimension alike(String... names);

    /** An input or parameter that must be of a kind, for example because another one decides it. Null demands nothing. */
    void must(String name, Dimension d);

    /** Product of two kinds. */
    static Dimension times(Dimension a, Dimension b) {
        return a == null || b == null ? null : a.times(b);
    }

    /** Quotient of two kinds. */
    static Dimension over(Dimension a, Dimension b) {
        return a == null || b == null ? null : a.over(b);
    }

    /** A kind to a power. */
    static Dimension power(Dimension a, double n) {
        return a == null ? null : a.power(n);
    }
}
