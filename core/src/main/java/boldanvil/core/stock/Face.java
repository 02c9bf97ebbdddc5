package boldanvil.core.stock;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** The ports of a block. */
public record Face(List<In> inputs, List<String> outputs) {
    /**
     * An input.
     *
     * @param direct whether an output depends on it within the same step
     * @param optional whether it may stay unconnected
     */
    public record In(String name, Accept accept, boolean direct, boolean optional) {}

    public static final Face NONE = new Face(List.of(), List.of());

    public Face {
        inputs = List.copyOf(inputs);
        outputs = List.copyOf(outputs);
    }

    public Face in(String name, Accept accept) {
        return with(new In(name, accept, true, false));
    }

    /** An input that only later outputs depend on. */
    public Face later(String name, Accept accept) {
        return with(new In(name, accept, false, false));
    }

    /** An input that may stay open; it then reads as zero or false. */
    public Face optional(String name, Accept accept) {
        return with(new In(name, accept, true, true));
    }

    public Face out(String name) {
        var next = new ArrayList<>(outputs);
        next.add(name);
        return new Face(inputs, next);
    }

    private Face with(In in) {
        var next = new ArrayList<>(inputs);
        next.add(in);
        return new Face(next, outputs);
    }

    public Optional<In> input(String name) {
        return inputs.stream().filter(i -> i.name().equals(name)).findFirst();
    }
}
