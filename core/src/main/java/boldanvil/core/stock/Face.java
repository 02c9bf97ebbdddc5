package boldanvil.core.stock;

import boldanvil.core.diagram.Side;
import boldanvil.core.network.Domain;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * The ports of a block: inputs, outputs, and contacts, which have no direction.
 *
 * @param contacts what nets join
 */
public record Face(List<In> inputs, List<String> outputs, List<Contact> contacts) {
    /**
     * A port without direction, at which two quantities meet, such as a voltage and a current.
     *
     * @param side where the block has it
     * @param domain what the two quantities are; nets join contacts of one domain
     */
    public record Contact(String name, Side side, Domain domain) {}

    /**
     * An input.
     *
     * @param direct whether an output depends on it within the same step
     * @param optional whether it may stay unconnected
     * @param exact the one type it takes; null where {@code accept} decides
     */
    public record In(String name, Accept accept, boolean direct, boolean optional, Type exact) {
        public In(String name, Accept accept, boolean direct, boolean optional) {
            this(name, accept, direct, optional, null);
        }

        public boolean takes(Type t) {
            return exact == null ? accept.takes(t) : t == exact;
        }

        /** Whether it shares its type with other inputs. */
        public boolean isCommon() {
            return exact == null && accept.isCommon();
        }

        /** What it takes, in words. */
        public String words() {
            return exact == null ? accept.words() : exact.label();
        }
    }

    public static final Face NONE = new Face(List.of(), List.of(), List.of());

    public Face {
        inputs = List.copyOf(inputs);
        outputs = List.copyOf(outputs);
        contacts = List.copyOf(contacts);
    }

    public Face(List<In> inputs, List<String> outputs) {
        this(inputs, outputs, List.of());
    }

    public Face in(String name, Accept accept) {
        return with(new In(name, accept, true, false));
    }

    /** An input that only later outputs depend on. */
    public Face later(String name, Accept accept) {
        return with(new In(name, accept, false, false));
    }

    /** An input of one type. */
    public Face in(String name, Type exact) {
        return with(new In(name, exact == Type.BOOL ? Accept.LOGIC : Accept.OWN, true, false, exact));
    }

    /** An input that may stay open; it then reads as zero or false. */
    public Face optional(String name, Accept accept) {
        return with(new In(name, accept, true, true));
    }

    /** An input that only later outputs depend on, and that may stay open. */
    public Face later(String name, Accept accept, boolean optional) {
        return with(new In(name, accept, false, optional));
    }

    public Face out(String name) {
        var next = new ArrayList<>(outputs);
        next.add(name);
        return new Face(inputs, next, contacts);
    }

    public Face contact(String name, Side side, Domain domain) {
        var next = new ArrayList<>(contacts);
        next.add(new Contact(name, side, domain));
        return new Face(inputs, outputs, next);
    }

    private Face with(In in) {
        var next = new ArrayList<>(inputs);
        next.add(in);
        return new Face(next, outputs, contacts);
    }

    public boolean hasContact(String name) {
        return contact(name).isPresent();
    }

    public Optional<Contact> contact(String name) {
        return contacts.stream().filter(c -> c.name().equals(name)).findFirst();
    }

    public Optional<In> input(String name) {
        return inputs.stream().filter(i -> i.name().equals(name)).findFirst();
    }
}
