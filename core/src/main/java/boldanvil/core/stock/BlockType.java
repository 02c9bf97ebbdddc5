package boldanvil.core.stock;

import boldanvil.core.diagram.Side;
import boldanvil.core.network.Element;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.program.Type;
import boldanvil.core.text.Mistake;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.ToIntFunction;

/** Everything there is to say about a kind of block, stated once; see the package page. */
public final class BlockType {
    /** Special roles that lowering must know of; every other block is {@link #ORDINARY}. */
    public enum Role {
        ORDINARY, CONSTANT, SUBSYSTEM, INLET, OUTLET, TERMINAL, TAP, ELEMENT, LABEL, LABELLED, BUNDLE, FIELD, CONTACT;

        /** Whether the block only says where wires lead, and computes nothing. */
        public boolean isRouting() {
            return ordinal() >= LABEL.ordinal();
        }
    }


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

    /** How the types of several outputs follow, where they differ. */
    @FunctionalInterface
    public interface OutputTyping {
        /** As {@link Typing#of}, for the output with a number from 0. */
        Type of(int output, List<Type> inputs, Settings settings, Type real);
    }

    /** How many elements an output has. */
    @FunctionalInterface
    public interface Shaping {
        /**
         * @param output number of the output, from 0
         * @param inputs elements by input order; 0 where not yet known, 1 where not connected
         * @param lengths number of values of a list parameter
         * @return the number, or 0 while it cannot be known
         */
        int of(int output, List<Integer> inputs, Settings settings, ToIntFunction<String> lengths);
    }

    private final String id;
    private final List<String> formerIds;
    private final Map<String, String> formerParameters;
    private final String title;
    private final Family family;
    private final List<Parameter> parameters;
    private final Function<Settings, Face> face;
    private final Function<Settings, String> summary;
    private final Function<Values, Picture> picture;
    private final OutputTyping typing;
    private final Shaping shaping;
    private final Consumer<Emitter> behaviour;
    private final Consumer<Element> equations;
    private final String help;
    private final Role role;
    private final Function<Settings, TerminalKind> terminal;
    private final Function<Settings, List<TerminalPin>> pins;
    private final boolean continuousOnly;
    private final boolean rounding;
    private final Limits limits;
    private final boolean discreteOnly;
    private final String beforeFirst;
    private final Function<Settings, List<Mistake>> mistakes;
    private final Consumer<UnitFlow> units;

    private BlockType(Builder b) {
        id = b.id;
        formerIds = List.copyOf(b.formerIds);
        formerParameters = Map.copyOf(b.formerParameters);
        title = b.title;
        family = b.family;
        parameters = List.copyOf(b.parameters);
        face = b.face;
        summary = b.summary;
        picture = b.picture;
        typing = b.typing;
        shaping = b.shaping;
        behaviour = b.behaviour;
        equations = b.equations;
        help = b.help;
        role = b.role;
        terminal = b.terminal;
        pins = b.pins;
        continuousOnly = b.continuousOnly;
        rounding = b.rounding;
        limits = b.limits;
        discreteOnly = b.discreteOnly;
        beforeFirst = b.beforeFirst;
        mistakes = b.mistakes;
        units = b.units;
    }

    public static Builder named(String id, String title, Family family) {
        return new Builder(id, title, family);
    }

    /** The name in project files. */
    public String id() {
        return id;
    }

    /** Names it had in project files of former versions; these files keep opening, and keep the name when they are saved. */
    public List<String> formerIds() {
        return formerIds;
    }

    /** Names that parameters had in project files of former versions, with the present ones. */
    public Map<String, String> formerParameters() {
        return formerParameters;
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
    public String summary(Settings s) {
        return summary.apply(s);
    }

    /** What the plate shows of a block with these values; {@link Picture#NONE} where words say it as fast. */
    public Picture picture(Values v) {
        return picture.apply(v);
    }

    /** What it computes, with formula and source. */
    public String help() {
        return help;
    }

    public Role role() {
        return role;
    }

    /** The kind of peripheral a terminal with these settings stands for; null for other blocks. */
    public TerminalKind terminal(Settings s) {
        return terminal.apply(s);
    }

    /** The outer sides of an inlet, outlet or terminal. */
    public List<TerminalPin> pins(Settings s) {
        return pins.apply(s);
    }

    /** Whether it can only run in the continuous part. */
    public boolean continuousOnly() {
        return continuousOnly;
    }

    /** Whether it rounds on purpose, so that over many steps it lets a signal through as it is. */
    public boolean isRounding() {
        return rounding;
    }

    /**
     * What holds a value of a block.
     *
     * @param low name of the parameter or input with the lower limit
     * @param high of the upper one
     */
    public record Limits(String low, String high) {}

    /** The limits of its first output, or of its inputs where it has none; empty where nothing is limited. */
    public Optional<Limits> limits() {
        return Optional.ofNullable(limits);
    }

    /** Whether it needs a sample time. */
    public boolean discreteOnly() {
        return discreteOnly;
    }

    /** What is wrong with the form of its text, so that its ports may not be what they should; empty for blocks without one. */
    public List<Mistake> mistakes(Settings s) {
        return mistakes.apply(s);
    }

    /** States what kinds of quantities the block's signals are. */
    public void units(UnitFlow flow) {
        units.accept(flow);
    }

    /** The parameter with the value an input has until the first one of a slower task arrives; empty for 0. */
    public String beforeFirst() {
        return beforeFirst;
    }

    public Type typeOf(int output, List<Type> inputs, Settings s, Type real) {
        return typing.of(output, inputs, s, real);
    }

    /** Whether the block works on each element of its inputs alone; its behaviour is then stated for one. */
    public boolean isElementwise() {
        return shaping == null;
    }

    /** How many elements an output has. */
    public int widthOf(int output, List<Integer> inputs, Settings s, ToIntFunction<String> lengths) {
        if (shaping != null) {
            return shaping.of(output, inputs, s, lengths);
        }
        int width = inputs.isEmpty() ? 1 : 0;
        for (int n : inputs) {
            width = Math.max(width, n);
        }
        for (Parameter p : parameters) {
            if (p.kind() == Parameter.Kind.REALS) {
                width = Math.max(width, lengths.applyAsInt(p.name()));
            }
        }
        return width;
    }

    public void emit(Emitter e) {
        behaviour.accept(e);
    }

    /** States the equations of an element of a network. */
    public void state(Element e) {
        equations.accept(e);
    }

    /** Collects what there is to say. */
    public static final class Builder {
        private final String id;
        private final String title;
        private final Family family;
        private final List<String> formerIds = new ArrayList<>();
        private final Map<String, String> formerParameters = new HashMap<>();
        private final List<Parameter> parameters = new ArrayList<>();
        private Function<Settings, Face> face = _ -> Face.NONE;
        private Function<Settings, String> summary = _ -> "";
        private Function<Values, Picture> picture = _ -> Picture.NONE;
        private OutputTyping typing = (_, inputs, _, _) -> first(inputs);
        private Shaping shaping;
        private Consumer<Emitter> behaviour = _ -> { };
        private Consumer<Element> equations = _ -> { };
        private String help = "";
        private Role role = Role.ORDINARY;
        private Function<Settings, TerminalKind> terminal = _ -> null;
        private Function<Settings, List<TerminalPin>> pins = _ -> List.of();
        private boolean continuousOnly;
        private boolean rounding;
        private Limits limits;
        private boolean discreteOnly;
        private String beforeFirst = "";
        private Function<Settings, List<Mistake>> mistakes = _ -> List.of();
        private Consumer<UnitFlow> units = _ -> { };
        private final Map<String, String> signals = new HashMap<>();

        private Builder(String id, String title, Family family) {
            this.id = id;
            this.title = title;
            this.family = family;
        }

        /** A note of what it computes: formula, meaning of ports, source. */
        public Builder help(String text) {
            help = text.strip();
            return this;
        }

        /** @param ids names in project files of former versions */
        public Builder formerly(String... ids) {
            formerIds.addAll(List.of(ids));
            return this;
        }

        /** @param name name of a parameter in project files of former versions */
        public Builder formerParameter(String name, String present) {
            formerParameters.put(name, present);
            return this;
        }

        public Builder with(Parameter... some) {
            parameters.addAll(List.of(some));
            return this;
        }

        public Builder face(Face fixed) {
            return face(_ -> fixed);
        }

        public Builder face(Function<Settings, Face> how) {
            face = how;
            return this;
        }

        /** The plate's text; {@code {name}} stands for a parameter's text. */
        public Builder summary(String template) {
            return summary(s -> {
                String text = template;
                for (Parameter p : parameters) {
                    text = text.replace("{" + p.name() + "}", s.text(p.name()));
                }
                return text;
            });
        }

        public Builder summary(Function<Settings, String> how) {
            summary = how;
            return this;
        }

        /** What the plate shows as a picture, from the parameters of the block. */
        public Builder picture(Function<Values, Picture> how) {
            picture = how;
            return this;
        }

        public Builder type(Typing how) {
            typing = (_, inputs, s, real) -> how.of(inputs, s, real);
            return this;
        }

        public Builder types(OutputTyping how) {
            typing = how;
            return this;
        }

        /** The block makes and takes vectors as a whole. */
        public Builder shape(Shaping how) {
            shaping = how;
            return this;
        }

        public Builder type(Type fixed) {
            return type((_, _, _) -> fixed);
        }

        /** The output has the part's real type. */
        public Builder real() {
            return type((_, _, real) -> real);
        }

        public Builder role(Role special) {
            role = special;
            return this;
        }

        public Builder terminal(TerminalKind kind, TerminalPin... outer) {
            return terminal(_ -> kind, _ -> List.of(outer));
        }

        public Builder terminal(Function<Settings, TerminalKind> kind, Function<Settings, List<TerminalPin>> outer) {
            terminal = kind;
            pins = outer;
            return role(Role.TERMINAL);
        }

        /** A port of the part on its own sheet. */
        public Builder port(Role inletOrOutlet) {
            pins = _ -> List.of(inletOrOutlet == Role.INLET ? TerminalPin.in("", null, "") : TerminalPin.out("", null, ""));
            return role(inletOrOutlet);
        }

        /** It rounds on purpose, as a quantiser does. */
        Builder rounding() {
            rounding = true;
            return this;
        }

        /** Its first output, or its inputs where it has none, are held between two values. */
        Builder limits(String low, String high) {
            limits = new Limits(low, high);
            return this;
        }

        public Builder continuousOnly() {
            continuousOnly = true;
            return this;
        }

        public Builder discreteOnly() {
            discreteOnly = true;
            return this;
        }

        /** @param rule what kinds of quantities the signals are */
        public Builder units(Consumer<UnitFlow> rule) {
            units = rule;
            return this;
        }

        /** @param how what is wrong with the form of the block's text */
        public Builder mistakes(Function<Settings, List<Mistake>> how) {
            mistakes = how;
            return this;
        }

        /** @param parameter what an input is until the first value of a slower task arrives */
        public Builder beforeFirst(String parameter) {
            beforeFirst = parameter;
            return this;
        }

        /** The unit of a signal that an element takes. */
        Builder signal(String input, String unit) {
            signals.put(input, unit);
            return this;
        }

        /**
         * It can have a contact at which it gives off what it loses; call it behind {@code face}.
         *
         * @param side where that contact is
         */
        Builder warming(Side side) {
            parameters.add(Elements.HEATING);
            Function<Settings, Face> cold = face;
            return face(s -> Elements.warming(cold.apply(s), s, side));
        }

        /** An element of a physical network, which is part of the continuous part. */
        public BlockType element(Consumer<Element> how) {
            // Without settings: with all contacts it can have.
            Face drawn = face.apply(null);
            return element(how, f -> Elements.units(f, family, drawn.contacts(), signals));
        }

        /** @param rule what kinds of quantities its signals are */
        BlockType element(Consumer<Element> how, Consumer<UnitFlow> rule) {
            equations = how;
            units = rule;
            parameters.add(Elements.MEASURE);
            Function<Settings, Face> drawn = face;
            face = s -> Elements.measured(drawn.apply(s), s);
            return role(Role.ELEMENT).real().continuousOnly().does(_ -> { });
        }

        public BlockType does(Consumer<Emitter> how) {
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
