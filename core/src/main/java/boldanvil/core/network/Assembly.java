package boldanvil.core.network;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;

/** Collects the equations of the elements of one network, and the balance of flows in each net. */
public final class Assembly {
    /** Switches beyond, there are too many positions to solve each ahead. */
    public static final int MOST_SWITCHES = 10;

    /**
     * What an element has for others.
     *
     * @param path diagram path
     * @param nets net of each contact by its name; contacts that are joined have the same number
     * @param measured outputs with the quantities of contacts, by the contact's name
     * @param energy output with the energy the element has taken in; null for none
     */
    public record Placed(String path, Map<String, Integer> nets, Map<String, Measured> measured, Energy energy) {}

    /**
     * An output with an energy.
     *
     * @param heat contacts at which the flow itself is the power
     */
    public record Energy(String port, Set<String> heat) {}

    /** Outputs with the potential of a contact and the flow into it. */
    public record Measured(String potential, String flow) {}

    /** A signal of an element. */
    public record Signal(String path, String port) {}

    /**
     * A switch.
     *
     * @param carrier number of the carrier that switches it; −1 for none
     */
    record Switch(String path, int number, Element.Switching how, int carrier, Form alone) implements Element.Switch {}

    /**
     * What comes from outside of the equations.
     *
     * @param signal null for a switch
     * @param alone number of the switch that is on without its gate while this is 1, and 0 else; −1 for a signal
     */
    public record Input(Signal signal, int alone) {}

    /**
     * A function of forms.
     *
     * @param isPower whether it is a power, which is huge for an instant where a current is interrupted
     */
    record Function(String path, Element.Curve curve, List<Form> arguments, boolean isPower) {}

    /** A period that repeats, with a duty that is taken at its beginning. */
    public record Carrier(String path, Signal duty, double period, double phase) {}

    /** An equation: a form that is zero, or one of two, by the position of a switch. */
    record Equation(String path, Form form, int switched, Form otherwise) {
        /** @param on the switches that are on, one bit for each */
        Form at(int on) {
            return switched < 0 || (on >> switched & 1) != 0 ? form : otherwise;
        }
    }

    /**
     * Something stored.
     *
     * @param shadow whether it follows from what other elements store
     */
    record State(String path, Form stored, double initial, boolean shadow) {}

    /** An output. */
    record Output(Signal signal, Form form) {}

    private final List<Finding> findings;
    private final List<Equation> equations = new ArrayList<>();
    private final List<State> states = new ArrayList<>();
    private final List<Input> inputs = new ArrayList<>();
    private final List<Function> functions = new ArrayList<>();
    private final List<Output> outputs = new ArrayList<>();
    private final List<Switch> switches = new ArrayList<>();
    private final List<Carrier> carriers = new ArrayList<>();
    private final Map<Integer, Form> potentials = new LinkedHashMap<>();
    private final Map<Integer, Form> balances = new HashMap<>();
    private final Map<Integer, Set<String>> members = new LinkedHashMap<>();
    /** How many contacts each net joins. */
    private final Map<Integer, Integer> contacts = new HashMap<>();
    /** Elements that give off heat into each net. */
    private final Map<Integer, Set<String>> heats = new HashMap<>();
    /** Nets with a branch between them. */
    private final Joined<Integer> reach = new Joined<>();
    private final Set<Integer> grounded = new LinkedHashSet<>();
    private final Set<Integer> references = new LinkedHashSet<>();
    private int unknowns;

    /** @param findings gets what is wrong */
    public Assembly(List<Finding> findings) {
        this.findings = findings;
    }

    /**
     * Adds an element.
     *
     * @param value values of its parameters
     * @param text texts of its parameters
     */
    public void add(Placed element, java.util.function.Function<String, double[]> value, UnaryOperator<String> text,
            Consumer<Element> states) {
        element.nets().values().forEach(n -> {
            potential(n);
            contacts.merge(n, 1, Integer::sum);
            members.computeIfAbsent(n, _ -> new LinkedHashSet<>()).add(element.path());
        });
        var stating = new Stating(element, value, text);
        states.accept(stating);
        stating.measure();
    }

    /** Checks that every net is held by a reference, and adds the balance of flows of each net. */
    public void close() {
        Map<Integer, List<Integer>> islands = new LinkedHashMap<>();
        potentials.keySet().forEach(n -> islands.computeIfAbsent(reach.root(n), _ -> new ArrayList<>()).add(n));
        Set<Integer> held = new LinkedHashSet<>();
        grounded.forEach(n -> held.add(reach.root(n)));
        islands.forEach((root, nets) -> {
            if (!held.contains(root)) {
                Set<String> names = new LinkedHashSet<>();
                nets.forEach(n -> names.addAll(members.get(n)));
                findings.add(Finding.error(Place.sheet(names.iterator().next()),
                        "No reference holds the potential of " + named(names) + ".",
                        "Connect a Ground, or the reference of the domain, to one of its nets."));
            }
        });
        potentials.keySet().forEach(n -> {
            boolean idle = heats.getOrDefault(n, Set.of()).size() == contacts.get(n);
            if (idle) {
                findings.add(Finding.error(Place.sheet(heats.get(n).iterator().next()), "The heat contact of " + named(heats.get(n))
                        + " leads nowhere.", "Connect it to a Heat capacity, a Thermal resistance or an Ambient temperature, "
                        + "or choose 'no' for 'heat contact'."));
            }
            equations.add(new Equation(members.get(n).iterator().next(), idle ? potential(n) : balances.getOrDefault(n, Form.ZERO), -1,
                    null));
        });
    }

    /** Names of a few elements, for a sentence. */
    static String named(Set<String> paths) {
        List<String> names = paths.stream().map(p -> "'" + p.substring(p.lastIndexOf('/') + 1) + "'").distinct().toList();
        return String.join(", ", names.subList(0, Math.min(6, names.size()))) + (names.size() > 6 ? " and " + (names.size() - 6) + " more"
                : "");
    }

    private Form potential(int net) {
        return potentials.computeIfAbsent(net, _ -> Form.of(new Variable(Variable.Kind.POTENTIAL, potentials.size())));
    }

    private final class Stating implements Element {
        private final Placed element;
        private final java.util.function.Function<String, double[]> value;
        private final UnaryOperator<String> text;
        private final Map<String, Form> signals = new HashMap<>();
        private final Map<String, Form> flows = new LinkedHashMap<>();

        /** Gives the quantities of the contacts that are measured. */
        void measure() {
            element.measured().forEach((contact, ports) -> {
                output(ports.potential(), Assembly.this.potential(net(contact)));
                output(ports.flow(), flows.getOrDefault(contact, Form.ZERO));
            });
            if (element.energy() != null) {
                Form taken = unknown();
                equation(rate(taken, 0).minus(power()));
                output(element.energy().port(), taken);
            }
        }

        /** The power into all contacts. */
        private Form power() {
            List<Form> pairs = new ArrayList<>();
            Form heat = Form.ZERO;
            for (var f : flows.entrySet()) {
                if (element.energy().heat().contains(f.getKey())) {
                    heat = heat.plus(f.getValue());
                } else {
                    pairs.add(Assembly.this.potential(net(f.getKey())));
                    pairs.add(f.getValue());
                }
            }
            return pairs.isEmpty() ? heat : heat.plus(power(Element::products, pairs.toArray(Form[]::new)));
        }

        Stating(Placed element, java.util.function.Function<String, double[]> value, UnaryOperator<String> text) {
            this.element = element;
            this.value = value;
            this.text = text;
        }

        @Override
        public double value(String parameter) {
            return value.apply(parameter)[0];
        }

        @Override
        public double[] list(String parameter) {
            return value.apply(parameter).clone();
        }

        @Override
        public String text(String parameter) {
            return text.apply(parameter);
        }

        @Override
        public Branch branch(String from, String to) {
            int a = net(from);
            Form through = unknown();
            balances.merge(a, through, Form::plus);
            flows.merge(from, through, Form::plus);
            if (to.isEmpty()) {
                grounded.add(a);
                return new Branch(potential(a), through);
            }
            int b = net(to);
            balances.merge(b, through.times(-1), Form::plus);
            flows.merge(to, through.times(-1), Form::plus);
            reach.join(a, b);
            return new Branch(potential(a).minus(potential(b)), through);
        }

        private int net(String contact) {
            Integer n = element.nets().get(contact);
            if (n == null) {
                throw new IllegalArgumentException("There is no contact '" + contact + "'.");
            }
            return n;
        }

        @Override
        public void reference(String contact) {
            // A second reference of the same net adds nothing.
            if (references.add(net(contact))) {
                equation(branch(contact, "").across());
            }
        }

        @Override
        public Form input(String port) {
            return signals.computeIfAbsent(port, _ -> input(new Input(new Signal(element.path(), port), -1)));
        }

        private Form input(Input i) {
            inputs.add(i);
            return Form.of(new Variable(Variable.Kind.INPUT, inputs.size() - 1));
        }

        @Override
        public Form unknown() {
            return Form.of(new Variable(Variable.Kind.UNKNOWN, unknowns++));
        }

        @Override
        public Form rate(Form stored, double initial) {
            return rate(new State(element.path(), stored, initial, false));
        }

        @Override
        public Form rate(Form following) {
            return rate(new State(element.path(), following, 0, true));
        }

        private Form rate(State s) {
            states.add(s);
            return Form.of(new Variable(Variable.Kind.RATE, states.size() - 1));
        }

        @Override
        public void equation(Form zero) {
            equations.add(new Equation(element.path(), zero, -1, null));
        }

        @Override
        public Switch switched(Switching how) {
            int carrier = -1;
            if (how.pulse() != null) {
                var c = new Carrier(element.path(), new Signal(element.path(), how.pulse().duty()), how.pulse().period(),
                        how.pulse().phase());
                if (!carriers.contains(c)) {
                    carriers.add(c);
                }
                carrier = carriers.indexOf(c);
            }
            int number = switches.size();
            boolean both = how.isOwn() && (how.own().directed() || how.isGated() && how.rule() == Rule.EITHER);
            var s = new Assembly.Switch(element.path(), number, how, carrier, both ? input(new Input(null, number)) : Form.ZERO);
            switches.add(s);
            return s;
        }

        @Override
        public void equation(Switch by, Form on, Form off) {
            equations.add(new Equation(element.path(), on, ((Assembly.Switch) by).number(), off));
        }

        @Override
        public Form function(Curve curve, Form... arguments) {
            return function(curve, false, arguments);
        }

        private Form power(Curve curve, Form... arguments) {
            return function(curve, true, arguments);
        }

        @Override
        public void loses(Curve power, Form... arguments) {
            if (element.nets().containsKey(HEAT)) {
                heats.computeIfAbsent(net(HEAT), _ -> new LinkedHashSet<>()).add(element.path());
                equation(branch(HEAT, "").through().plus(power(power, arguments)));
            }
        }

        private Form function(Curve curve, boolean isPower, Form... arguments) {
            functions.add(new Function(element.path(), curve, List.of(arguments), isPower));
            return Form.of(new Variable(Variable.Kind.FUNCTION, functions.size() - 1));
        }

        @Override
        public void output(String port, Form form) {
            outputs.add(new Output(new Signal(element.path(), port), form));
        }

        @Override
        public void problem(String cause, String cure) {
            findings.add(Finding.error(Place.sheet(element.path()), cause, cure));
        }
    }

    List<Equation> equations() {
        return equations;
    }

    List<State> states() {
        return states;
    }

    List<Input> inputs() {
        return inputs;
    }

    List<Function> functions() {
        return functions;
    }

    List<Output> outputs() {
        return outputs;
    }

    List<Switch> switches() {
        return switches;
    }

    List<Carrier> carriers() {
        return carriers;
    }

    int potentials() {
        return potentials.size();
    }

    int unknowns() {
        return unknowns;
    }

    List<Finding> findings() {
        return findings;
    }
}
