package boldanvil.core.program;

/** A constant array. Tables are equal only to themselves. */
public final class Table {
    private final String name;
    private final Type type;
    private final double[] values;

    /**
     * @param name an identifier, unique in its program
     * @param values at least one
     */
    public Table(String name, Type type, double[] values) {
        if (values.length == 0) {
            throw new IllegalArgumentException("A table needs a value.");
        }
        this.name = name;
        this.type = type;
        this.values = values.clone();
    }

    public String name() {
        return name;
    }

    public Type type() {
        return type;
    }

    public int size() {
        return values.length;
    }

    public double value(int i) {
        return type.convert(values[i]);
    }
}
