package boldanvil.core.replay;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Places;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Tap;
import boldanvil.core.program.Tunable;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Variables;
import boldanvil.core.replay.Node.Cause;
import boldanvil.core.stock.OwnBlocks;
import boldanvil.core.stock.Parameter;
import boldanvil.core.stock.Settings;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;

/**
 * Why a wire had its value at an instant: the blocks that had a part in it in the tick of that instant, by way of values or by deciding
 * which value it is, and those that had none. What came from an earlier tick can be followed with {@link #back}.
 */
public final class Why {
    /** The part something had in a value. */
    public enum Part {
        /** The value was computed from it. */
        VALUE,
        /** It decided what the value was computed from: a limit, a switch, a condition. */
        CHOICE;

        Part stronger(Part other) {
            return this == VALUE ? this : other;
        }
    }

    /**
     * A block that had a part.
     *
     * @param path diagram path
     * @param value its output, SI
     * @param words what it did then
     * @param isKept whether its value, or a part of it, came from an earlier tick
     */
    public record Step(String path, Part part, double value, String words, boolean isKept) {}

    /** What is known of a block while steps are collected. */
    private static final class Seen {
        private Part role = Part.CHOICE;
        private double value = Double.NaN;
        private final Map<Slot, Part> causes = new IdentityHashMap<>();
        private final Map<Double, Part> constants = new LinkedHashMap<>();
        private final List<Tunable> tunables = new ArrayList<>();
        private Slot kept;

        void add(Cause c) {
            if (c.node().isConstant()) {
                constants.merge(c.node().value(), c.role(), Part::stronger);
            } else {
                causes.merge(c.node().slot(), c.role(), Part::stronger);
            }
        }

        /** Whether its value was computed from parameters alone. */
        boolean isConstant() {
            return kept == null && causes.values().stream().noneMatch(r -> r == Part.VALUE);
        }
    }

    private final Replay replay;
    private final Project project;
    private final String part;
    private final long tick;
    private final double value;
    private final Map<String, Seen> seen = new LinkedHashMap<>();
    /** Paths of the blocks that used each slot. */
    private final Map<Slot, Map<String, Part>> users = new IdentityHashMap<>();
    private final List<Step> steps = new ArrayList<>();
    /** Values of the wires that carry a constant, by the slots of their taps. */
    private final Map<Slot, Double> constants;

    private Why(Replay replay, String part, long tick, Node target, Map<Slot, Double> constants) {
        this.replay = replay;
        this.constants = constants;
        this.part = part;
        this.tick = tick;
        project = replay.taps().project();
        value = target.value();
        collect(target);
        var variables = Variables.resolve(project.variableTexts()).values();
        seen.forEach((path, s) -> Places.find(project, path).filter(p -> !p.block().type().equals("tap"))
                .ifPresent(p -> steps.add(step(path, p, s, parameters(path, p.block(), variables)))));
    }

    /** Why the output of a block had its value; empty where the wire carries none. */
    static Optional<Why> of(Replay replay, SheetRef ref, String path, String block, String port, double at) {
        String address = replay.taps().address(new WireTaps.Source(ref, block, port), path);
        Slot slot = address == null ? null : replay.slots(address).stream().findFirst().orElse(null);
        if (slot == null) {
            return Optional.empty();
        }
        long tick = replay.tickAt(at);
        var traced = replay.trace(tick, false);
        return Optional.of(new Why(replay, ref.part(), tick, traced.get(ref.part()).node(slot), constants(traced)));
    }

    /** A tap has a slot of its own where the wire carries a constant. */
    private static Map<Slot, Double> constants(Map<String, Tracer> traced) {
        Map<Slot, Double> all = new IdentityHashMap<>();
        traced.values().forEach(t -> t.program().taps().stream().map(Tap::slot)
                .filter(s -> WireTaps.isTap(s.path())).forEach(s -> all.put(s, t.node(s).value())));
        return all;
    }

    private void collect(Node target) {
        var waiting = new ArrayDeque<Cause>();
        waiting.add(new Cause(target, Part.VALUE));
        Map<Node, Part> done = new IdentityHashMap<>();
        while (!waiting.isEmpty()) {
            Cause c = waiting.poll();
            Node n = c.node();
            Part known = done.get(n);
            if (n.isConstant() || known == Part.VALUE || known == c.role()) {
                continue;
            }
            done.put(n, c.role());
            String path = n.path() == null ? n.slot().path() : n.path();
            Seen s = seen.computeIfAbsent(path, _ -> new Seen());
            s.role = s.role.stronger(c.role());
            s.value = Double.isNaN(s.value) ? n.value() : s.value;
            if (n.isBefore()) {
                var tunable = replay.tunable(n.slot());
                if (tunable.isPresent()) {
                    s.tunables.add(tunable.get());
                } else if (s.kept == null) {
                    s.kept = n.slot();
                }
            }
            for (Cause next : n.causes()) {
                s.add(next);
                if (next.node().slot() != null) {
                    users.computeIfAbsent(next.node().slot(), _ -> new LinkedHashMap<>()).merge(path, next.role(), Part::stronger);
                }
                waiting.add(c.role() == Part.VALUE ? next : next.deciding());
            }
        }
    }

    private Step step(String path, Places.Place place, Seen s, Map<Double, String> named) {
        String output = replay.feeds().standsFor(path);
        if (!output.equals(path)) {
            return new Step(output, s.role, s.value, "measured", false);
        }
        List<String> words = new ArrayList<>();
        List<String> parameters = s.constants.entrySet().stream().filter(e -> e.getValue() == Part.VALUE)
                .map(e -> named.get(e.getKey() + 0.0)).filter(Objects::nonNull).distinct().toList();
        if (!parameters.isEmpty()) {
            words.add((s.isConstant() ? "set by " : "with ") + String.join(", ", parameters));
        }
        s.tunables.stream().map(t -> t.parameter().isEmpty() ? "live value" : "live parameter " + t.parameter()).distinct()
                .forEach(words::add);
        List<String> deciding = new ArrayList<>();
        List<String> idle = new ArrayList<>();
        var sheet = project.sheet(place.sheet()).orElseThrow();
        String around = path.substring(0, path.lastIndexOf('/'));
        for (Wire w : sheet.wires()) {
            if (w.to().equals(place.block().id()) && !w.isNet()) {
                String name = sheet.block(w.from()).map(Block::name).orElse(w.from());
                var role = role(place.sheet(), around, w, path);
                if (role.isEmpty()) {
                    idle.add(name);
                } else if (role.get() == Part.CHOICE) {
                    deciding.add(name);
                }
            }
        }
        if (!deciding.isEmpty()) {
            words.add("decided by " + String.join(", ", deciding));
        }
        if (s.kept != null) {
            words.add("from an earlier instant");
        }
        if (!idle.isEmpty()) {
            words.add("no part: " + String.join(", ", idle));
        }
        return new Step(path, s.role, s.value, String.join("; ", words), s.kept != null);
    }

    /** The parameters of a block as they were typed, by their values. */
    private Map<Double, String> parameters(String path, Block block, Map<String, Quantity> variables) {
        var type = OwnBlocks.type(project.library(), block).orElse(null);
        if (type == null) {
            return Map.of();
        }
        Map<Double, String> found = new HashMap<>();
        var settings = new Settings(type, block.settings());
        var scope = OwnBlocks.scopeAt(project, path.substring(0, path.lastIndexOf('/')), variables);
        for (Parameter p : type.parameters()) {
            if (p.kind() == Parameter.Kind.REAL || p.kind() == Parameter.Kind.REALS) {
                try {
                    String text = settings.text(p.name());
                    found.putIfAbsent(Formula.evaluate(text, scope, p.unit(settings)) + 0.0, p.name() + " = " + text);
                } catch (FormulaException e) {
                    // A list of values has no single one to compare with.
                }
            }
        }
        return found;
    }

    /** The instant of the tick, in seconds. */
    public double seconds() {
        return tick * replay.tickNanos() / 1e9;
    }

    /** The value that is explained, SI. */
    public double value() {
        return value;
    }

    /** Blocks that had a part, nearest first. */
    public List<Step> steps() {
        return List.copyOf(steps);
    }

    /**
     * The part a wire had.
     *
     * @param ref sheet of the wire; null for the system sheet
     * @param path diagram path of the sheet
     * @return empty where it had none
     */
    public Optional<Part> part(SheetRef ref, String path, Wire w) {
        if (ref == null) {
            var out = replay.system().program(w.from()).flatMap(p -> p.port(w.fromPort()));
            return out.flatMap(o -> used(Set.of(o.slot()), user -> isWithin(user, w.to())));
        }
        var sheet = project.sheet(ref).orElse(null);
        var to = sheet == null ? null : sheet.block(w.to()).orElse(null);
        return to == null ? Optional.empty() : role(ref, path, w, path + "/" + to.name());
    }

    /** The part a block had, or one within it; empty where it had none. */
    public Optional<Part> part(String path) {
        return steps.stream().filter(s -> isWithin(s.path(), path)).map(Step::part).min(Part::compareTo);
    }

    /** Whether a block, or one within it, had a part. */
    public boolean involves(String path) {
        return part(path).isPresent();
    }

    private Optional<Part> role(SheetRef ref, String path, Wire w, String consumer) {
        String address = replay.taps().address(new WireTaps.Source(ref, w.from(), w.fromPort()), path);
        if (address == null) {
            return Optional.empty();
        }
        Set<Slot> slots = Collections.newSetFromMap(new IdentityHashMap<>());
        slots.addAll(replay.slots(address));
        String type = Places.find(project, consumer).map(p -> p.block().type()).orElse("");
        boolean leaves = type.equals("outlet") && path.contains("/");
        boolean passes = type.equals("label") || type.equals("bundle");
        boolean constant = !slots.isEmpty() && constants.keySet().containsAll(slots);
        if (constant) {
            // The value stands in the formula of the block itself.
            return seen.entrySet().stream().filter(e -> isWithin(e.getKey(), consumer))
                    .flatMap(e -> slots.stream().map(x -> e.getValue().constants.get(constants.get(x)))).filter(Objects::nonNull)
                    .min(Part::compareTo);
        }
        return used(slots, user -> leaves ? !user.startsWith(path + "/") : passes || isWithin(user, consumer));
    }

    private Optional<Part> used(Set<Slot> slots, Predicate<String> by) {
        return slots.stream().flatMap(s -> users.getOrDefault(s, Map.of()).entrySet().stream()).filter(u -> by.test(u.getKey()))
                .map(Map.Entry::getValue).min(Part::compareTo);
    }

    private static boolean isWithin(String path, String of) {
        return path.equals(of) || path.startsWith(of + "/");
    }

    /**
     * Why a block had a value that came from an earlier tick: explained at the last tick in which it changed.
     *
     * @param path of a step that is kept
     * @return empty when it has not changed since the start
     */
    public Optional<Why> back(String path) {
        Slot slot = seen.get(path).kept;
        String holder = path.contains("/") ? path.substring(0, path.indexOf('/')) : part;
        var source = replay.source(holder, slot);
        long last = replay.lastChange(source.part(), source.slot(), tick);
        if (last < 0) {
            return Optional.empty();
        }
        var traced = replay.trace(last, true);
        return Optional.of(new Why(replay, source.part(), last, traced.get(source.part()).node(source.slot()), constants(traced)));
    }
}
