package boldanvil.core.stock;

import boldanvil.core.program.TerminalKind;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import java.util.function.Function;

/** Everything there is to say about a kind of block, stated once; see the package page. */
public final class BlockType {
    /** Special roles that lowering must know of; every other block is {@link #ORDINARY}. */
    public enum Role { ORDINARY, CONSTANT, SUBSYSTEM, INLET, OUTLET, TERMINAL, TAP }

    /** How the type of an output follows from the types of the inputs. */
    @FunctionalInterface
    public interface Typing {
        /**
         * @param inputs types by input order; null where not yet known or not connected
         * @param settings the block's parameters
         * @param real the part's real type
         * @return the type, or null while it cannot be known
         */
        Type of(List<Type> inputs, Settings settings, Type real);
    }

    private final String id;
    private final String title;
    private final Family family;
    private final List<Parameter> parameters;
    private final Function<Settings, Face> face;
    private final Function<Settings, String> says;
    private final Typing typing;
    private final Consumer<Emitter> behaviour;
    private final String help;
    private final Role role;
    private final TerminalKind terminal;
    private final boolean continuousOnly;
    private final boolean discreteOnly;

    private BlockType(Builder b) {
        id = b.id;
        title = b.title;
        family = b.family;
        parameters = List.copyOf(b.parameters);
        face = b.face;
        says = b.says;
        typing = b.typing;
        behaviour = b.behaviour;
        help = b.help;
        role = b.role;
        terminal = b.terminal;
        continuousOnly = b.continuousOnly;
        discreteOnly = b.discreteOnly;
    }

    static Builder named(String id, String title, Family family) {
        return new Builder(id, title, family);
    }

    /** The name in project files. */
    public String id() {
        return id;
    }

    /** The name people see. */
    public String title() {
        return title;
    }

    public Family family() {
        return family;
    }

    public List<Parameter> parameters() {
        return parameters;
    }

    /** @throws IllegalArgumentException when there is no such parameter */
    public Parameter parameter(String name) {
        for (Parameter p : parameters) {
            if (p.name().equals(name)) {
                return p;
            }
        }
        throw new IllegalArgumentException(id + " has no parameter " + name);
    }

    public boolean hasParameter(String name) {
        return parameters.stream().anyMatch(p -> p.name().equals(name));
    }

    /** The ports a block with these settings has. */
    public Face face(Settings s) {
        return face.apply(s);
    }

    /** What the plate reads under its title. */
    public String says(Settings s) {
        return says.apply(s);
    }

    /** What it computes, with formula and source. */
    public String help() {
        return help;
    }

    public Role role() {
        return role;
    }

    /** The kind of peripheral a terminal stands for; null for other blocks. */
    public TerminalKind terminal() {
        return terminal;
    }

    /** Whether it can only run in the continuous part. */
    public boolean continuousOnly() {
        return continuousOnly;
    }

    /** Whether it needs a sample time. */
    public boolean discreteOnly() {
        return discreteOnly;
    }

    public Type typeOf(List<Type> inputs, Settings s, Type real) {
        return typing.of(inputs, s, real);
    }

    public void emit(Emitter e) {
        behaviour.accept(e);
    }

    /** Collects what there is to say. */
    static final class Builder {
        private final String id;
        private final String title;
        private final Family family;
        private final List<Parameter> parameters = new ArrayList<>();
        private Function<Settings, Face> face = _ -> Face.NONE;
        private Function<Settings, String> says = _ -> "";
        private Typing typing = (inputs, _, _) -> first(inputs);
        private Consumer<Emitter> behaviour = _ -> { };
        private String help = "";
        private Role role = Role.ORDINARY;
        private TerminalKind terminal;
        private boolean continuousOnly;
        private boolean discreteOnly;

        private Builder(String id, String title, Family family) {
            this.id = id;
            this.title = title;
            this.family = family;
        }

        /** A note of what it computes: formula, meaning of ports, source. */
        Builder help(String text) {
            help = text.strip();
            return this;
        }

        Builder with(Parameter... some) {
            parameters.addAll(List.of(some));
            return this;
        }

        Builder face(Face fixed) {
            return face(_ -> fixed);
        }

        Builder face(Function<Settings, Face> how) {
            face = how;
            return this;
        }

        /** The plate's text; {@code {name}} stands for a parameter's text. */
        Builder says(String template) {
            return says(s -> {
                String text = template;
                for (Parameter p : parameters) {
                    text = text.replace("{" + p.name() + "}", s.text(p.name()));
                }
                return text;
            });
        }

        Builder says(Function<Settings, String> how) {
            says = how;
            return this;
        }

        Builder type(Typing how) {
            typing = how;
            return this;
        }

        Builder type(Type fixed) {
            return type((_, _, _) -> fixed);
        }

        /** The output has the part's real type. */
        Builder real() {
            return type((_, _, real) -> real);
        }

        Builder role(Role special) {
            role = special;
            return this;
        }

        Builder terminal(TerminalKind kind) {
            terminal = kind;
            return role(Role.TERMINAL);
        }

        Builder continuousOnly() {
            continuousOnly = true;
            return this;
        }

        Builder discreteOnly() {
            discreteOnly = true;
            return this;
        }

        BlockType does(Consumer<Emitter> how) {
            behaviour = how;
            return new BlockType(this);
        }

        private static Type first(List<Type> inputs) {
            for (Type t : inputs) {
                if (t != null) {
                    return t;
                }
            }
            return null;
        }
    }
}
