package boldanvil.core.network;

import java.util.Map;
import java.util.TreeMap;
import java.util.function.BiConsumer;

/** A linear form: a constant, and variables of a network with their factors. Immutable. */
public final class Form {
    /** Nothing. */
    public static final Form ZERO = new Form(Map.of(), 0);

    private final Map<Variable, Double> factors;
    private final double constant;

    private Form(Map<Variable, Double> factors, double constant) {
        this.factors = factors;
        this.constant = constant;
    }

    /** A constant, SI. */
    public static Form of(double constant) {
        return new Form(Map.of(), constant);
    }

    static Form of(Variable v) {
        return new Form(Map.of(v, 1.0), 0);
    }

    public Form plus(Form other) {
        return plus(other, 1);
    }

    public Form minus(Form other) {
        return plus(other, -1);
    }

    private Form plus(Form other, double factor) {
        Map<Variable, Double> sum = new TreeMap<>(factors);
        other.factors.forEach((v, k) -> sum.merge(v, factor * k, Double::sum));
        sum.values().removeIf(k -> k == 0);
        return new Form(sum, constant + factor * other.constant);
    }

    public Form times(double factor) {
        return ZERO.plus(this, factor);
    }

    public double constant() {
        return constant;
    }

    /** Whether it depends on nothing. */
    public boolean isConstant() {
        return factors.isEmpty();
    }

    void forEach(BiConsumer<Variable, Double> action) {
        factors.forEach(action);
    }
}
