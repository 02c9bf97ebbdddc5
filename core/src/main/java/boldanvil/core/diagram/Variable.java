package boldanvil.core.diagram;

/**
 * A named value that parameters may use.
 *
 * @param value an expression, such as {@code 20 kHz}
 * @param note what it is, for people
 * @param unit in which its value is shown; empty for the basic unit
 * @param group the heading it is listed under; empty for none
 */
public record Variable(String name, String value, String note, String unit, String group) {
    public Variable(String name, String value, String note) {
        this(name, value, note, "", "");
    }

    public Variable named(String next) {
        return new Variable(next, value, note, unit, group);
    }

    public Variable valued(String next) {
        return new Variable(name, next, note, unit, group);
    }
}
