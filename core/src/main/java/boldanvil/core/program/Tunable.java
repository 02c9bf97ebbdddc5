package boldanvil.core.program;

/**
 * A parameter that may change while running.
 *
 * @param name address without the part, such as {@code speed loop.pi.kp} or {@code target}
 * @param slot where its value is
 * @param path the block it belongs to
 * @param parameter the block's parameter
 * @param minimum least value allowed, SI
 * @param maximum greatest value allowed, SI
 */
public record Tunable(String name, Slot slot, String path, String parameter, double minimum, double maximum) {}
