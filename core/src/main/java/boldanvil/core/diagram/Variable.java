package boldanvil.core.diagram;

/**
 * A named value that parameters may use.
 *
 * @param value an expression, such as {@code 20 kHz}
 * @param note what it is, for people
 */
public record Variable(String name, String value, String note) {}
