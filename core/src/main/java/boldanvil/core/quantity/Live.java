package boldanvil.core.quantity;

import java.util.function.DoubleBinaryOperator;
import java.util.function.DoubleSupplier;
import java.util.function.DoubleUnaryOperator;

/**
 * A value that changes, with its kind.
 *
 * @param value gives its present value, SI
 * @param dimension its kind; null for a bare number, which takes the kind that is wanted where it is used
 */
public record Live(DoubleSupplier value, Dimension dimension) {
    static Live bare(double value) {
        return new Live(() -> value, null);
    }

    static Live of(Quantity q) {
        return new Live(q::value, q.dimension());
    }

    /** Its present value, SI. */
    public double now() {
        return value.getAsDouble();
    }

    Live mapped(DoubleUnaryOperator how, Dimension kind) {
        return new Live(() -> how.applyAsDouble(value.getAsDouble()), kind);
    }

    Live with(Live other, DoubleBinaryOperator how, Dimension kind) {
        return new Live(() -> how.applyAsDouble(value.getAsDouble(), other.value.getAsDouble()), kind);
    }
}
