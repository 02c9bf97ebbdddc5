package boldanvil.core.lower;

import boldanvil.core.diagram.Part;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.program.Type;
import boldanvil.core.quantity.Dimension;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Accept;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Face;
import boldanvil.core.stock.Parameter;
import boldanvil.core.stock.Structure;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;

/** Finds sample times, parameter values and types. */
final class Resolver {

    private static final double LONGEST = 3600;
    private static final long SHORTEST_NANOS = 100;
    private static final int MAX_WIDTH = 1000;

    private final Map<String, Quantity> variables;
    private final List<Finding> findings;
    private final Type real;
    private final Map<FlatBlock, Map<String, double[]>> values = new IdentityHashMap<>();
    private final Map<FlatBlock, Map<String, Dimension>> kinds = new IdentityHashMap<>();

    Resolver(Part part, Map<String, Quantity> variables, List<Finding> findings) {
        this.variables = variables;
        this.findings = findings;
        this.real = Type.labelled(part.real());
    }

    Type real() {
        return real;
    }

    /** The values of a numeric parameter, SI; null when it could not be read. */
    double[] values(FlatBlock f, String parameter) {
        return values.get(f).get(parameter);
    }

    /** Number of rows of a matrix parameter. */
    int rows(FlatBlock f, String parameter) {
        return Formula.rows(f.settings().text(parameter), f.variables());
    }

    void resolve(List<FlatBlock> blocks) {
        for (FlatBlock f : blocks) {
            if (!values.containsKey(f)) {
                parameters(f);
            }
            rate(f);
        }
        types(blocks);
        widths(blocks);
        for (FlatBlock f : blocks) {
            checkTypes(f);
            checkWidths(f);
        }
        checkGroups(blocks);
    }

    /** Reads the values of a block's parameters. */
    void parameters(FlatBlock f) {
        Map<String, double[]> found = new java.util.HashMap<>();
        values.put(f, found);
        for (Parameter p : f.type().parameters()) {
            String text = f.settings().text(p.name());
            switch (p.kind()) {
                case REAL, REALS, LIST -> {
                    double[] v = numbers(f, p, text);
                    if (v != null) {
                        found.put(p.name(), v);
                    }
                }
                case CHOICE -> {
                    String given = f.settings().given(p.name());
                    if (!p.choices().contains(given)) {
                        findings.add(Finding.error(Place.sheet(f.path(), p.name()),
                                "'" + (given.length() > 40 ? given.substring(0, 40) + "…" : given) + "' is not one of its choices.",
                                "Choose one of: " + String.join(", ", p.choices()) + "."));
                    }
                }
                case TEXT, SOURCE -> { }
            }
        }
    }

    private double[] numbers(FlatBlock f, Parameter p, String text) {
        Place place = Place.sheet(f.path(), p.name());
        double[] v;
        try {
            String unit = p.unit(f.settings());
            var all = p.kind() != Parameter.Kind.REAL ? Formula.quantities(text, f.variables())
                    : List.of(Formula.quantity(text, f.variables()));
            boolean own = p.isInOwnUnit();
            v = all.stream().mapToDouble(q -> own && !q.fits(unit) ? q.value() : q.in(unit)).toArray();
            if (own && !all.stream().allMatch(q -> q.fits(unit))) {
                findings.add(Finding.warning(place, "It is " + all.getFirst().dimension()
                        .label() + ", which does not match the block's unit; " + unit + " would.",
                        "Correct the block's unit, or that of the value."));
            }
            note(f, p, unit, all);
        } catch (FormulaException e) {
            findings.add(Finding.error(place, e.getMessage(), text.isBlank() ? "Enter a value."
                    : "Correct '" + text + "', or define what it names among the project's variables."));
            return null;
        }
        if (v.length == 0 && p.kind() == Parameter.Kind.REALS) {
            findings.add(Finding.error(place, "The list has no value.", "Enter one value, or one for each element."));
            return null;
        }
        for (double x : v) {
            if (Double.isNaN(x) || x < p.minimum() || x > p.maximum()) {
                findings.add(Finding.error(place, "The value " + x + " is outside " + p.minimum() + " to " + p.maximum() + ".",
                        "Enter a value within these limits."));
                return null;
            }
        }
        return v;
    }

    /** Remembers what kind a parameter's values are of, where that is known. */
    private void note(FlatBlock f, Parameter p, String unit, List<Quantity> all) {
        Dimension d = Dimension.of(unit).orElse(null);
        for (Quantity q : all) {
            d = d == null ? q.dimension() : d;
        }
        if (d != null) {
            kinds.computeIfAbsent(f, _ -> new java.util.HashMap<>()).put(p.name(), d);
        }
    }

    /** What kind a parameter's values are of; null where that is not known. */
    Dimension kind(FlatBlock f, String parameter) {
        return kinds.getOrDefault(f, Map.of()).get(parameter);
    }

    /** What kinds the values of a list are of; null for each bare number. */
    Dimension[] kinds(FlatBlock f, String parameter) {
        try {
            return Formula.quantities(f.settings().text(parameter), f.variables()).stream().map(Quantity::dimension)
                    .toArray(Dimension[]::new);
        } catch (FormulaException _) {
            // Reported where the values are read.
            return new Dimension[0];
        }
    }

    private void rate(FlatBlock f) {
        BlockType type = f.type();
        if (type.role() == BlockType.Role.CONSTANT) {
            f.rate(FlatBlock.CONSTANT);
            return;
        }
        String text = f.sampleTime().text();
        if (type.continuousOnly() || text.equals(Settings.CONTINUOUS)) {
            if (type.discreteOnly()) {
                findings.add(Finding.error(Place.sheet(f.path()), type.title() + " needs a sample time, but it is in a continuous part.",
                        "Set a sample time for the block, its subsystem or its part."));
            }
            f.rate(FlatBlock.CONTINUOUS);
            return;
        }
        f.rate(nanos(Place.sheet(f.path(), Settings.SAMPLE_TIME), text, f.sampleTime().variables()));
    }

    /** A time text in whole nanoseconds; 1 ms, with a finding, where it cannot be read. */
    long nanos(Place place, String text) {
        return nanos(place, text, variables);
    }

    private long nanos(Place place, String text, Map<String, Quantity> variables) {
        try {
            double seconds = Formula.evaluate(text, variables, "s");
            long nanos = Math.round(seconds * 1e9);
            if (seconds > LONGEST || nanos < SHORTEST_NANOS) {
                findings.add(Finding.error(place, "A sample time of " + seconds + " s is not possible.",
                        "Choose one between 100 ns and one hour."));
            } else if (Math.abs(nanos - seconds * 1e9) > 1e-3) {
                findings.add(Finding.error(place, "The sample time " + text + " is not a whole number of nanoseconds.",
                        "Round it to nanoseconds."));
            } else {
                return nanos;
            }
        } catch (FormulaException e) {
            findings.add(Finding.error(place, e.getMessage(), "Enter a time such as 100 us, or 'continuous'."));
        }
        return 1_000_000;
    }

    /** Forward inference from sources; what stays open in a loop of delays becomes real. */
    private void types(List<FlatBlock> blocks) {
        var readers = readers(blocks);
        var waiting = new ArrayDeque<>(blocks);
        propagate(waiting, readers);
        for (FlatBlock f : blocks) {
            for (int o = 0; o < f.face().outputs().size(); o++) {
                if (f.outputType(o) == null) {
                    f.outputType(o, real);
                    waiting.addAll(readers.getOrDefault(f, List.of()));
                    propagate(waiting, readers);
                }
            }
        }
    }

    private static Map<FlatBlock, List<FlatBlock>> readers(List<FlatBlock> blocks) {
        Map<FlatBlock, List<FlatBlock>> readers = new IdentityHashMap<>();
        for (FlatBlock f : blocks) {
            for (var s : f.sources()) {
                if (s != null) {
                    readers.computeIfAbsent(s.block(), _ -> new ArrayList<>()).add(f);
                }
            }
        }
        return readers;
    }

    private void propagate(ArrayDeque<FlatBlock> waiting, Map<FlatBlock, List<FlatBlock>> readers) {
        while (!waiting.isEmpty()) {
            FlatBlock f = waiting.poll();
            List<Type> inputs = new ArrayList<>();
            for (int i = 0; i < f.face().inputs().size(); i++) {
                inputs.add(f.face().inputs().get(i).isCommon() ? f.inputType(i) : null);
            }
            boolean changed = false;
            for (int o = 0; o < f.face().outputs().size(); o++) {
                Type t = f.outputType(o) == null ? f.type().typeOf(o, inputs, f.settings(), real) : null;
                if (t != null) {
                    f.outputType(o, t);
                    changed = true;
                }
            }
            if (changed) {
                waiting.addAll(readers.getOrDefault(f, List.of()));
            }
        }
    }

    /** Numbers of elements only grow while they spread, and so settle; what stays open in a loop of delays is one. */
    private void widths(List<FlatBlock> blocks) {
        var readers = readers(blocks);
        spread(new ArrayDeque<>(blocks), readers);
        for (FlatBlock f : blocks) {
            for (int o = 0; o < f.face().outputs().size(); o++) {
                if (f.knownWidth(o) == 0) {
                    f.width(o, 1);
                    spread(new ArrayDeque<>(readers.getOrDefault(f, List.of())), readers);
                }
            }
        }
    }

    private void spread(ArrayDeque<FlatBlock> waiting, Map<FlatBlock, List<FlatBlock>> readers) {
        while (!waiting.isEmpty()) {
            FlatBlock f = waiting.poll();
            List<Integer> inputs = new ArrayList<>();
            f.sources().forEach(s -> inputs.add(s == null ? 1 : s.block().knownWidth(s.output())));
            boolean changed = false;
            for (int o = 0; o < f.face().outputs().size(); o++) {
                int n = Math.min(MAX_WIDTH, f.type().widthOf(o, inputs, f.settings(), p -> values(f, p) == null ? 1 : values(f, p).length));
                if (n > f.knownWidth(o)) {
                    f.width(o, n);
                    changed = true;
                }
            }
            if (changed) {
                waiting.addAll(readers.getOrDefault(f, List.of()));
            }
        }
    }

    private void checkWidths(FlatBlock f) {
        if (!f.type().isElementwise()) {
            return;
        }
        int widest = 1;
        for (int i = 0; i < f.sources().size(); i++) {
            var s = f.source(i);
            int n = s == null ? 1 : s.block().width(s.output());
            if (n > 1 && widest > 1 && n != widest) {
                findings.add(Finding.error(Place.sheet(f.path(), f.face().inputs().get(i).name()), "A vector of " + n
                        + " elements is combined with one of " + widest + ".", "Make both the same length, or pick elements."));
            }
            widest = Math.max(widest, n);
        }
        for (Parameter p : f.type().parameters()) {
            int n = p.kind() == Parameter.Kind.REALS && values(f, p.name()) != null ? values(f, p.name()).length : 1;
            if (n > 1 && widest > 1 && n != widest) {
                findings.add(Finding.error(Place.sheet(f.path(), p.name()),
                        "A list of " + n + " values is combined with a vector of " + widest
                        + " elements.", "Enter one value, or one for each element."));
            }
        }
        var role = f.type().role();
        if (widest > 1 && (role == BlockType.Role.OUTLET || role == BlockType.Role.TERMINAL)) {
            findings.add(Finding.error(Place.sheet(f.path()), "A vector of " + widest + " elements is connected to a port of the part.",
                    "Split it, and add a port for each element."));
        }
    }

    private void checkGroups(List<FlatBlock> blocks) {
        Map<Group, FlatBlock> first = new IdentityHashMap<>();
        for (FlatBlock f : blocks) {
            for (Group g = f.group(); g != null; g = g.parent()) {
                if (!g.isConditional() || f.rateNanos() == FlatBlock.CONSTANT) {
                    continue;
                }
                FlatBlock other = first.putIfAbsent(g, f);
                if (f.rateNanos() == FlatBlock.CONTINUOUS) {
                    findings.add(Finding.error(Place.sheet(f.path()), "A continuous block is inside a subsystem that does not run always.",
                            "Set a sample time for the subsystem, or let it run always."));
                } else if (other != null && other.rateNanos() != f.rateNanos()) {
                    findings.add(Finding.error(Place.sheet(f.path()), "Its sample time differs from that of '" + other.path()
                            + "', and both are inside a subsystem that does not run always.",
                            "Use one sample time for all blocks of the subsystem."));
                } else if (other == null && g.control() != null) {
                    var s = g.control();
                    if (s.block().outputType(s.output()) != Type.BOOL || s.block().width(s.output()) != 1) {
                        findings.add(Finding.error(Place.sheet(g.path(), Structure.CONTROL),
                                "The input needs a logic value, but the wire carries "
                                + s.block().outputType(s.output()).label() + ".", "Insert a Compare block."));
                    }
                }
            }
        }
    }

    private void checkTypes(FlatBlock f) {
        Type common = null;
        String first = null;
        for (int i = 0; i < f.face().inputs().size(); i++) {
            Face.In in = f.face().inputs().get(i);
            Type t = f.inputType(i);
            if (t == null) {
                continue;
            }
            Place place = Place.sheet(f.path(), in.name());
            if (!in.takes(t)) {
                findings.add(Finding.error(place, "The input needs " + in.words() + ", but the wire carries " + t.label() + ".",
                        in.accept() == Accept.LOGIC ? "Insert a Compare block." : "Insert a Type conversion block."));
            } else if (in.isCommon()) {
                if (common != null && common != t) {
                    findings.add(Finding.error(place, "It carries " + t.label() + ", but input " + first + " carries "
                            + common.label() + ".", "Insert a Type conversion block before one of them."));
                } else {
                    common = t;
                    first = in.name();
                }
            }
        }
    }
}
