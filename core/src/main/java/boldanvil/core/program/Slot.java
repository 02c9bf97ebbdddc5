package boldanvil.core.program;

import java.util.Objects;

/** A typed place for one value, or for an array of values of one type. Slots are equal only to themselves. */
public final class Slot {
    /** What a slot is for. */
    public enum Role {
        /** Set from outside before {@code sample} and {@code step}. */
        INPUT,
        /** Read from outside afterwards. */
        OUTPUT,
        /** Computed again in each step and visible to measurement. */
        SIGNAL,
        /** Computed and used within one procedure; not visible. */
        LOCAL,
        /** Keeps its value from step to step. */
        STATE,
        /** Integrated by the solver. */
        CONTINUOUS,
        /** Carries a value from one task to another. */
        LATCH,
        /** A parameter that may change while running. */
        TUNABLE
    }

    private final String name;
    private final Role role;
    private final Type type;
    private final double[] initial;
    private final String path;
    private final String unit;
    private final Member member;

    /**
     * A slot's place in a structure.
     *
     * @param struct name of the structure, an identifier
     * @param name name within it, an identifier
     */
    public record Member(String struct, String name) {}

    /**
     * @param name an identifier, unique in its program
     * @param initial value after {@code init}
     * @param path the diagram place it belongs to
     * @param unit how its value is shown; empty for a pure number
     */
    public Slot(String name, Role role, Type type, double initial, String path, String unit) {
        this(name, role, type, new double[] {initial}, path, unit, null);
    }

    private Slot(String name, Role role, Type type, double[] initial, String path, String unit, Member member) {
        this.name = Objects.requireNonNull(name, "name");
        this.role = Objects.requireNonNull(role, "role");
        this.type = Objects.requireNonNull(type, "type");
        this.initial = initial.clone();
        for (int i = 0; i < this.initial.length; i++) {
            this.initial[i] = type.convert(initial[i]);
        }
        this.path = Objects.requireNonNull(path, "path");
        this.unit = Objects.requireNonNull(unit, "unit");
        this.member = member;
    }

    /** An array of two or more values. */
    public static Slot array(String name, Role role, Type type, double[] initial, String path) {
        if (initial.length < 2) {
            throw new IllegalArgumentException("An array needs two values.");
        }
        return new Slot(name, role, type, initial, path, "", null);
    }

    /** A slot that starts at zero. */
    public static Slot of(String name, Role role, Type type) {
        return new Slot(name, role, type, 0, name, "");
    }

    public String name() {
        return name;
    }

    public Role role() {
        return role;
    }

    public Type type() {
        return type;
    }

    /** The value after {@code init}; of an array, that of its first element. */
    public double initial() {
        return initial[0];
    }

    public double initial(int element) {
        return initial[element];
    }

    /** Number of elements; 1 for a single value. */
    public int length() {
        return initial.length;
    }

    public boolean isArray() {
        return initial.length > 1;
    }

    /** Size in memory, in bytes. */
    public int bytes() {
        return type.bytes() * initial.length;
    }

    public String path() {
        return path;
    }

    public String unit() {
        return unit;
    }

    /** Whether the slot is part of the memory of an instance, as opposed to a local of one procedure. */
    public boolean inMemory() {
        return role != Role.LOCAL;
    }

    /** The same slot in another role; used when a signal turns out to be local. */
    public Slot as(Role other) {
        return new Slot(name, other, type, initial, path, unit, member);
    }

    /** The same slot within a structure; those of one structure have one role. */
    public Slot within(Member place) {
        return new Slot(name, role, type, initial, path, unit, place);
    }

    /** Its place in a structure; null for none. */
    public Member member() {
        return member;
    }

    @Override
    public String toString() {
        return name + ":" + type.label();
    }
}
