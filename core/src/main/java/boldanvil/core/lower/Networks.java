package boldanvil.core.lower;

import boldanvil.core.diagram.Block;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.lower.FlatBlock.Source;
import boldanvil.core.network.Assembly;
import boldanvil.core.network.Domain;
import boldanvil.core.network.Joined;
import boldanvil.core.network.Network;
import boldanvil.core.network.Reduction;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Type;
import boldanvil.core.stock.Accept;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Elements;
import boldanvil.core.stock.Emitter;
import boldanvil.core.stock.Face;
import boldanvil.core.stock.Family;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/**
 * Puts blocks in the place of network elements: one for each state, one for each output, and one for the position of the switches where
 * there are any. What depends on what is then as exact as the solved equations are, so that the order of blocks and loops need no special
 * case.
 */
final class Networks {
    /** A contact of an element. */
    record Pin(FlatBlock block, String contact) {}

    /** States of a network with exact steps, whose factors grow with the square; larger ones without switches go to the part's solver. */
    private static final int MOST_EXACT = 40;

    /** Networks that were solved lately. A change elsewhere in a part, and another rig, need not solve them again. */
    private static final Map<String, Network> SOLVED = Collections.synchronizedMap(new LinkedHashMap<>(64, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Network> eldest) {
            return size() > 64;
        }
    });

    private final Joined<Pin> nets;
    private final Resolver resolver;
    private final List<Finding> findings;
    private final Map<Source, Source> replaced = new HashMap<>();
    private final List<FlatBlock> made = new ArrayList<>();

    private Networks(Joined<Pin> nets, Resolver resolver, List<Finding> findings) {
        this.nets = nets;
        this.resolver = resolver;
        this.findings = findings;
    }

    /**
     * Replaces the elements among some blocks.
     *
     * @param nets which contacts are one net
     */
    static void replace(List<FlatBlock> blocks, Joined<Pin> nets, Resolver resolver, List<Finding> findings) {
        List<FlatBlock> elements = blocks.stream().filter(f -> f.type().role() == BlockType.Role.ELEMENT).toList();
        if (elements.isEmpty()) {
            return;
        }
        blocks.removeAll(elements);
        var networks = new Networks(nets, resolver, findings);
        networks.build(elements);
        blocks.addAll(networks.made);
        for (FlatBlock f : blocks) {
            for (int i = 0; i < f.sources().size(); i++) {
                f.connect(i, networks.replaced.getOrDefault(f.source(i), f.source(i)));
            }
        }
    }

    /** Elements that are joined, directly or through others, are one network. */
    private void build(List<FlatBlock> elements) {
        Map<Pin, Integer> numbers = new HashMap<>();
        Map<Integer, Domain> domains = new HashMap<>();
        Map<FlatBlock, Map<String, Integer>> places = new LinkedHashMap<>();
        Joined<Integer> networks = new Joined<>();
        boolean fits = true;
        for (FlatBlock f : elements) {
            Map<String, Integer> mine = new LinkedHashMap<>();
            for (Face.Contact c : f.face().contacts()) {
                int net = numbers.computeIfAbsent(nets.root(new Pin(f, c.name())), _ -> numbers.size());
                mine.put(c.name(), net);
                fits &= fits(f, c, domains.putIfAbsent(net, c.domain()));
                networks.join(net, mine.values().iterator().next());
            }
            places.put(f, mine);
            fits &= f.type().parameters().stream().allMatch(p -> !p.isNumeric() || resolver.values(f, p.name()) != null);
        }
        if (!fits) {
            return;
        }
        Map<Integer, List<FlatBlock>> members = new LinkedHashMap<>();
        places.forEach((f, mine) -> members.computeIfAbsent(networks.root(mine.values().iterator().next()), _ -> new ArrayList<>()).add(f));
        members.values().forEach(m -> network(m, places));
    }

    private boolean fits(FlatBlock f, Face.Contact c, Domain other) {
        if (other == null || other == c.domain()) {
            return true;
        }
        findings.add(Finding.error(Place.sheet(f.path(), c.name()), "The contact is " + c.domain().label() + ", but its net is "
                + other.label() + ".", "Join contacts of one domain, or put a machine or a transformer of the two between them."));
        return false;
    }

    private void network(List<FlatBlock> members, Map<FlatBlock, Map<String, Integer>> places) {
        Map<Assembly.Signal, Source> signals = new HashMap<>();
        Map<String, FlatBlock> byPath = new LinkedHashMap<>();
        for (FlatBlock f : members) {
            byPath.put(f.path(), f);
            for (int i = 0; i < f.face().inputs().size(); i++) {
                signals.put(new Assembly.Signal(f.path(), f.face().inputs().get(i).name()), f.source(i));
            }
        }
        String key = key(members, places);
        Network known = SOLVED.get(key);
        if (known == null) {
            List<Finding> mine = new ArrayList<>();
            var assembly = new Assembly(mine);
            members.forEach(f -> assembly.add(new Assembly.Placed(f.path(), places.get(f), measured(f), energy(f)),
                    p -> resolver.values(f, p),
                    p -> f.settings().text(p), e -> f.type().state(e)));
            assembly.close();
            known = Reduction.solve(assembly).orElse(null);
            findings.addAll(mine);
            if (known != null && mine.isEmpty()) {
                SOLVED.put(key, known);
            }
        }
        if (known != null) {
            new Blocks(known, byPath, signals).make();
        }
    }

    /** All that the equations of a network follow from, as text. */
    private String key(List<FlatBlock> members, Map<FlatBlock, Map<String, Integer>> places) {
        StringBuilder key = new StringBuilder();
        for (FlatBlock f : members) {
            key.append(f.path()).append('|').append(f.type().id()).append(places.get(f)).append(f.face().outputs());
            f.type().parameters().forEach(p -> key.append('|').append(p.isNumeric() ? Arrays.toString(resolver.values(f, p.name()))
                    : f.settings().text(p.name())));
            key.append('\n');
        }
        return key.toString();
    }

    private static Assembly.Energy energy(FlatBlock f) {
        return f.face().outputs().contains(Elements.ENERGY) ? new Assembly.Energy(Elements.ENERGY, f.face().contacts().stream()
                .filter(c -> c.domain() == Domain.THERMAL).map(Face.Contact::name).collect(Collectors.toSet())) : null;
    }

    /** The outputs with quantities of contacts that an element has. */
    private static Map<String, Assembly.Measured> measured(FlatBlock f) {
        Map<String, Assembly.Measured> all = new LinkedHashMap<>();
        for (Face.Contact c : f.face().contacts()) {
            if (f.face().outputs().contains(Elements.flow(c))) {
                all.put(c.name(), new Assembly.Measured(Elements.potential(c), Elements.flow(c)));
            }
        }
        return all;
    }

    /** The blocks of one network: one with all states, one for the position of the switches, and one for each output. */
    private final class Blocks {
        private final Network network;
        private final Map<String, FlatBlock> elements;
        private final Map<Assembly.Signal, Source> signals;
        private final int count;
        private final int columns;
        /** Made by the block that is emitted first. */
        private NetworkSwitches.Memory memory;
        private FlatBlock states;
        /** Gives the position of the switches, and the functions. */
        private FlatBlock settled;

        Blocks(Network network, Map<String, FlatBlock> elements, Map<Assembly.Signal, Source> signals) {
            this.network = network;
            this.elements = elements;
            this.signals = signals;
            count = network.states().size();
            columns = network.columns();
        }

        void make() {
            String first = count > 0 ? network.states().getFirst().path() : elements.keySet().iterator().next();
            Face all = inputs(gates(Face.NONE, false), false);
            for (int i = 0; i < count; i++) {
                all = all.out("x" + i);
            }
            Face stored = all;
            if (count > 0 || !network.carriers().isEmpty()) {
                Face timed = duties(stored);
                for (int i = 0; i < network.functions().size() && isSolved(); i++) {
                    timed = timed.later("f" + i, Accept.REAL, true);
                }
                Face whole = timed;
                states = block(first, whole, network(whole).does(e -> states(e, first)));
                List<Source> sources = new ArrayList<>(gateSources());
                sources.addAll(inputSources());
                network.carriers().forEach(c -> sources.add(signals.get(c.duty())));
                connect(states, sources);
            }
            if (!network.switches().isEmpty() || !network.functions().isEmpty()) {
                settle();
            }
            for (int i = 0; i < network.outputs().size(); i++) {
                output(i);
            }
        }

        private void settle() {
            Face f = inputs(gates(Face.NONE, true), true);
            for (int i = 0; i < count; i++) {
                f = f.optional("x" + i, Accept.REAL);
            }
            Face whole = f.out("position");
            for (int i = 0; i < network.functions().size(); i++) {
                whole = whole.out("f" + i);
            }
            for (int i = 0; i < network.inputs().size(); i++) {
                whole = isSignal(i) ? whole : whole.out("alone" + i);
            }
            String path = network.switches().isEmpty() ? network.functions().getFirst().path() : network.switches().getFirst().path();
            settled = block(path, whole, network(whole).types((output, _, _, real) -> output == 0 ? Type.INT32 : real).does(this::settled));
            List<Source> sources = new ArrayList<>(gateSources());
            sources.addAll(inputSources());
            for (int i = 0; i < count; i++) {
                sources.add(new Source(states, i));
            }
            connect(settled, sources);
            if (isSolved()) {
                for (int i = 0; i < network.functions().size(); i++) {
                    states.connect(states.face().inputs().size() - network.functions().size() + i, settled("f" + i));
                }
            }
        }

        private BlockType.Builder network(Face face) {
            return BlockType.named("network", "Network", Family.PHYSICAL).face(face).real().continuousOnly();
        }

        private FlatBlock block(String path, Face face, BlockType type) {
            FlatBlock element = elements.get(path);
            Block b = element.block();
            var f = new FlatBlock(path, Block.of(b.id(), type.id(), b.name(), b.x(), b.y(), Map.of()), type, 0, element.variables(),
                    element.group());
            f.inherit(element.sampleTime());
            made.add(f);
            return f;
        }

        private void connect(FlatBlock f, List<Source> sources) {
            for (int i = 0; i < sources.size(); i++) {
                f.connect(i, sources.get(i));
            }
        }

        private Face duties(Face f) {
            Face next = f;
            for (int i = 0; i < network.carriers().size(); i++) {
                next = next.later("duty" + i, Accept.REAL, true);
            }
            return next;
        }

        private Face gates(Face f, boolean direct) {
            Face next = f;
            for (int i = 0; i < network.switches().size(); i++) {
                if (network.switches().get(i).gate() != null) {
                    next = direct ? next.optional("gate" + i, Accept.LOGIC) : next.later("gate" + i, Accept.LOGIC, true);
                }
            }
            return next;
        }

        private Face inputs(Face f, boolean direct) {
            Face next = f;
            for (int i = 0; i < network.inputs().size(); i++) {
                if (isSignal(i)) {
                    next = direct ? next.optional("u" + i, Accept.REAL) : next.later("u" + i, Accept.REAL, true);
                }
            }
            return next;
        }

        private List<Source> gateSources() {
            List<Source> all = new ArrayList<>();
            network.switches().stream().filter(s -> s.gate() != null).forEach(s -> all.add(signals.get(s.gate())));
            return all;
        }

        private List<Source> inputSources() {
            List<Source> all = new ArrayList<>();
            network.inputs().stream().filter(i -> i.signal() != null).forEach(i -> all.add(signals.get(i.signal())));
            return all;
        }

        private boolean isSignal(int input) {
            return network.inputs().get(input).signal() != null;
        }

        /** Whether the solver of the part goes on with the states. */
        private boolean isSolved() {
            return count > MOST_EXACT && network.switches().isEmpty();
        }

        private NetworkSwitches switches(Emitter e, String prefix, List<Expr> x) {
            List<Expr> u = new ArrayList<>();
            for (int i = 0; i < network.inputs().size(); i++) {
                u.add(isSignal(i) ? e.in("u" + i) : null);
            }
            List<Expr> gates = new ArrayList<>();
            for (int i = 0; i < network.switches().size(); i++) {
                gates.add(network.switches().get(i).gate() == null ? null : e.in("gate" + i));
            }
            return new NetworkSwitches(network, e, prefix, x, u, gates, memory(e));
        }

        private NetworkSwitches.Memory memory(Emitter e) {
            if (memory == null) {
                List<Slot> kept = new ArrayList<>();
                List<Slot> directions = new ArrayList<>();
                for (Network.Switch s : network.switches()) {
                    String name = s.path().substring(s.path().lastIndexOf('/') + 1);
                    kept.add(s.how().isOwn() ? e.state(name + " conducts", Type.BOOL, 0) : null);
                    directions.add(s.how().isOwn() && s.how().own().directed() ? e.state(name + " direction", e.real(), 1) : null);
                }
                List<NetworkSwitches.Phase> phases = new ArrayList<>();
                for (int i = 0; i < network.carriers().size(); i++) {
                    var c = network.carriers().get(i);
                    phases.add(new NetworkSwitches.Phase(e.state("phase_" + (i + 1), Type.FLOAT64, (1 - c.phase()) % 1),
                            e.state("duty_" + (i + 1), e.real(), 0), e.state("started_" + (i + 1), Type.BOOL, 0),
                            e.state("edge_" + (i + 1), Type.FLOAT64, 1)));
                }
                List<Slot> functions = new ArrayList<>();
                List<Slot> rates = new ArrayList<>();
                for (int i = 0; i < network.functions().size(); i++) {
                    functions.add(e.state("function_" + (i + 1), e.real(), 0));
                    rates.add(e.state("rate_" + (i + 1), e.real(), 0));
                }
                List<Slot> used = new ArrayList<>();
                for (int i = 0; i < inputSources().size(); i++) {
                    used.add(e.state("used_" + (i + 1), e.real(), 0));
                }
                for (int i = 0; i < gateSources().size(); i++) {
                    used.add(e.state("gate_" + (i + 1), Type.BOOL, 0));
                }
                boolean changes = !network.switches().isEmpty() && network.functions().stream().anyMatch(Network.Function::isPower);
                memory = new NetworkSwitches.Memory(kept, directions, phases, functions, rates, e.state("position", Type.INT32, -1), used,
                        changes ? e.state("settled", Type.INT32, -1) : null, changes ? e.state("fresh", Type.BOOL, 0) : null);
            }
            return memory;
        }

        private void states(Emitter e, String first) {
            boolean solved = isSolved();
            List<Slot> x = new ArrayList<>();
            for (int i = 0; i < count; i++) {
                String path = network.states().get(i).path();
                // Named after the element that stores it; the block itself has the name of the first.
                String name = path.equals(first) ? "stored" : path.substring(path.lastIndexOf('/') + 1) + " stored";
                double initial = network.states().get(i).initial();
                x.add(solved ? e.integrated(name, initial) : e.state(name, e.real(), initial));
                e.output("x" + i, Expr.read(x.getLast()));
            }
            if (solved) {
                derivatives(e, x);
                return;
            }
            int steps = Math.max(1, (int) Math.ceil(e.tick() / e.solverStep() - 1e-9));
            new NetworkSteps(network, e, switches(e, "step_", x.stream().map(Expr::read).toList())).advance(x, e.tick() / steps, steps)
                    .forEach(e::after);
        }

        /** The rates of a large network, of which each depends on few states, for the solver of the part. */
        private void derivatives(Emitter e, List<Slot> x) {
            List<Expr> at = new ArrayList<>(x.stream().map(Expr::read).toList());
            for (int i = 0; i < network.inputs().size(); i++) {
                at.add(e.in("u" + i));
            }
            for (int i = 0; i < network.functions().size(); i++) {
                at.add(e.in("f" + i));
            }
            at.add(Expr.of(e.real(), 1));
            for (int i = 0; i < count; i++) {
                e.derivative(x.get(i), NetworkSwitches.row(e, "", List.of(network.positions().getFirst().rates()[i]), null, at));
            }
        }

        private void settled(Emitter e) {
            List<Expr> x = new ArrayList<>();
            for (int i = 0; i < count; i++) {
                x.add(e.in("x" + i));
            }
            var switches = switches(e, "", x);
            // Where a solver changes the states, they are others each time.
            if (isSolved()) {
                switches.settle().forEach(e::add);
            } else {
                switches.notice().forEach(e::add);
                switches.settleWhereOpen().forEach(e::add);
            }
            e.output("position", Expr.read(memory(e).position()));
            for (int i = 0; i < network.functions().size(); i++) {
                e.output("f" + i, Expr.read(memory(e).functions().get(i)));
            }
            for (int i = 0; i < network.inputs().size(); i++) {
                if (!isSignal(i)) {
                    e.output("alone" + i, switches.input(i));
                }
            }
        }

        /** Where the value of a column comes from. */
        private Source source(int column) {
            if (column < count) {
                return new Source(states, column);
            }
            if (column >= network.firstFunction()) {
                return settled("f" + (column - network.firstFunction()));
            }
            int input = column - count;
            return isSignal(input) ? signals.get(network.inputs().get(input).signal()) : settled("alone" + input);
        }

        private Source settled(String port) {
            return new Source(settled, settled.face().outputs().indexOf(port));
        }

        private void output(int number) {
            var signal = network.outputs().get(number);
            List<double[]> rows = network.positions().stream().map(p -> p.outputs()[number]).toList();
            boolean switched = rows.stream().anyMatch(r -> !Arrays.equals(r, rows.getFirst()));
            Face f = switched ? Face.NONE.in("position", Type.INT32) : Face.NONE;
            List<Source> sources = new ArrayList<>();
            if (switched) {
                sources.add(new Source(settled, 0));
            }
            List<Integer> used = new ArrayList<>();
            for (int c = 0; c < columns - 1; c++) {
                int column = c;
                if (rows.stream().anyMatch(r -> r[column] != 0)) {
                    used.add(c);
                    f = f.optional("c" + c, Accept.REAL);
                    sources.add(source(c));
                }
            }
            Face face = f.out(signal.port());
            FlatBlock element = elements.get(signal.path());
            FlatBlock made = block(signal.path(), face, network(face).does(e -> {
                List<Expr> at = new ArrayList<>();
                for (int c = 0; c < columns - 1; c++) {
                    at.add(used.contains(c) ? e.in("c" + c) : Expr.of(e.real(), 0));
                }
                at.add(Expr.of(e.real(), 1));
                e.output(signal.port(), NetworkSwitches.row(e, "", rows, switched ? e.in("position") : null, at));
            }));
            connect(made, sources);
            replaced.put(new Source(element, element.face().outputs().indexOf(signal.port())), new Source(made, 0));
        }
    }
}
