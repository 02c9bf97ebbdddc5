package boldanvil.core.simulate;

/**
 * A tunable that gets another value at an instant of the run.
 *
 * @param address full address, such as {@code controller.target}
 * @param value new value, SI
 * @param atNanos simulated time of the change
 */
public record Change(String address, double value, long atNanos) {}
