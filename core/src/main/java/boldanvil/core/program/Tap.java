package boldanvil.core.program;

/**
 * A signal that is recorded.
 *
 * @param name address without the part, such as {@code position}
 * @param slot where its value is
 * @param periodTicks how often it gets a new value, in base ticks
 * @param continuous whether it is computed by {@code sample} and not by {@code step}
 * @param unit SI unit of the signal, empty for a pure number
 */
public record Tap(String name, Slot slot, int periodTicks, boolean continuous, String unit) {}
