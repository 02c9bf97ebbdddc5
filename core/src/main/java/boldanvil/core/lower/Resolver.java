package boldanvil.core.lower;

import boldanvil.core.diagram.Part;
import boldanvil.core.finding.Finding;
import boldanvil.core.program.Type;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.stock.Accept;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Face;
import boldanvil.core.stock.Parameter;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;

/** Finds sample times, parameter values and types. */
public final class Resolver {
    /** The setting every block may have besides its type's parameters. */
    public static final String SAMPLE_TIME = "sample time";
    /** The text for blocks that are computed by the solver. */
    public static final String CONTINUOUS = "continuous";

    private static final double LONGEST = 3600;

    private final Map<String, Double> variables;
    private final List<Finding> findings;
    private final Type real;
    private final Map<FlatBlock, Map<String, double[]>> values = new IdentityHashMap<>();

    Resolver(Part part, Map<String, Double> variables, List<Finding> findings) {
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

    void resolve(List<FlatBlock> blocks) {
        for (FlatBlock f : blocks) {
            parameters(f);
            rate(f);
        }
        types(blocks);
        blocks.forEach(this::checkTypes);
    }

    private void parameters(FlatBlock f) {
        Map<String, double[]> found = new java.util.HashMap<>();
        values.put(f, found);
        for (Parameter p : f.type().parameters()) {
            String text = f.settings().text(p.name());
            switch (p.kind()) {
                case REAL, LIST -> {
                    double[] v = numbers(f, p, text);
                    if (v != null) {
                        found.put(p.name(), v);
                    }
                }
                case CHOICE -> {
                    if (!p.choices().contains(text)) {
                        findings.add(Finding.error(f.path() + " · " + p.name(), "'" + text + "' is not one of its choices.",
                                "Choose one of: " + String.join(", ", p.choices()) + "."));
                    }
                }
                case TEXT -> { }
            }
        }
    }

    private double[] numbers(FlatBlock f, Parameter p, String text) {
        String place = f.path() + " · " + p.name();
        double[] v;
        try {
            v = p.kind() == Parameter.Kind.LIST ? Formula.evaluateList(text, variables)
                    : new double[] {Formula.evaluate(text, variables)};
        } catch (FormulaException e) {
            findings.add(Finding.error(place, e.getMessage(), text.isBlank() ? "Enter a value."
                    : "Correct '" + text + "', or define what it names among the project's variables."));
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

    private void rate(FlatBlock f) {
        BlockType type = f.type();
        if (type.role() == BlockType.Role.CONSTANT) {
            f.rate(FlatBlock.CONSTANT);
            return;
        }
        String text = f.inheritedSampleTime();
        if (type.continuousOnly() || text.equals(CONTINUOUS)) {
            if (type.discreteOnly()) {
                findings.add(Finding.error(f.path(), type.title() + " works from sample to sample, but its surroundings are "
                        + "continuous.", "Give the block, its subsystem or its part a sample time."));
            }
            f.rate(FlatBlock.CONTINUOUS);
            return;
        }
        f.rate(nanos(f.path() + " · " + SAMPLE_TIME, text));
    }

    /** A time text in whole nanoseconds; 1 ms, with a finding, where it cannot be read. */
    long nanos(String place, String text) {
        try {
            double seconds = Formula.evaluate(text, variables);
            long nanos = Math.round(seconds * 1e9);
            if (seconds > LONGEST || nanos < 1_000) {
                findings.add(Finding.error(place, "A sample time of " + seconds + " s cannot be kept.",
                        "Choose one between 1 µs and one hour."));
            } else if (Math.abs(nanos - seconds * 1e9) > 1e-3) {
                findings.add(Finding.error(place, "The sample time " + text + " is no whole number of nanoseconds.",
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
        Map<FlatBlock, List<FlatBlock>> readers = new IdentityHashMap<>();
        for (FlatBlock f : blocks) {
            for (var s : f.sources()) {
                if (s != null) {
                    readers.computeIfAbsent(s.block(), _ -> new ArrayList<>()).add(f);
                }
            }
        }
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

    private void propagate(ArrayDeque<FlatBlock> waiting, Map<FlatBlock, List<FlatBlock>> readers) {
        while (!waiting.isEmpty()) {
            FlatBlock f = waiting.poll();
            if (f.face().outputs().isEmpty() || f.outputType(0) != null) {
                continue;
            }
            List<Type> inputs = new ArrayList<>();
            for (int i = 0; i < f.face().inputs().size(); i++) {
                inputs.add(f.face().inputs().get(i).accept() == Accept.LOGIC ? null : f.inputType(i));
            }
            Type t = f.type().typeOf(inputs, f.settings(), real);
            if (t != null) {
                for (int o = 0; o < f.face().outputs().size(); o++) {
                    f.outputType(o, t);
                }
                waiting.addAll(readers.getOrDefault(f, List.of()));
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
            String place = f.path() + " · " + in.name();
            if (!in.accept().takes(t)) {
                findings.add(Finding.error(place, "It takes " + in.accept().words() + ", but the wire carries " + t.label() + ".",
                        in.accept() == Accept.LOGIC ? "Put a Compare block in between." : "Put a Convert block in between."));
            } else if (in.accept() != Accept.LOGIC) {
                if (common != null && common != t) {
                    findings.add(Finding.error(place, "It carries " + t.label() + ", but input " + first + " carries "
                            + common.label() + ".", "Put a Convert block in front of one of them."));
                } else {
                    common = t;
                    first = in.name();
                }
            }
        }
    }
}
