package boldanvil.core.loop;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.linear.StateSpace;
import boldanvil.core.lower.Names;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Rescaled;
import boldanvil.core.quantity.Variables;
import boldanvil.core.stock.OwnBlocks;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Stock;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.hipparchus.complex.Complex;

/**
 * The block whose gains set a loop: a PID controller or a gain, at the wire where the loop is opened or beside it.
 *
 * @param path diagram path of its sheet
 * @param gains values of its gains by the names of the parameters, SI
 * @param filter time constant of the derivative's filter, in seconds
 * @param ideal whether kp multiplies all three
 */
public record Controller(SheetRef sheet, String path, String block, String name, boolean isPid, Map<String, Double> gains, double filter,
        boolean ideal) {
    private static final List<String> PIDS = List.of("pid", "two-degree pid");
    private static final int FARTHEST = 8;

    public Controller {
        gains = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(gains));
    }

    /**
     * The controller of a loop: the block the wire comes from, one before it whose value only limits or delays pass on, or the next one.
     */
    public static Optional<Controller> of(Project p, Cut cut) {
        Optional<Sheet> sheet = p.sheet(cut.sheet());
        if (sheet.isEmpty() || OwnBlock.holds(cut.sheet().sheet())) {
            return Optional.empty();
        }
        Sheet s = sheet.get();
        Set<String> seen = new HashSet<>();
        String at = cut.block();
        for (int i = 0; i < FARTHEST && at != null && seen.add(at); i++) {
            var found = s.block(at).flatMap(b -> at(p, cut, b));
            if (found.isPresent()) {
                return found;
            }
            String now = at;
            List<Wire> into = s.wires().stream().filter(w -> !w.isNet() && w.to().equals(now)).toList();
            at = into.size() == 1 ? into.getFirst().from() : null;
        }
        List<Wire> next = s.wires().stream().filter(cut::opens).toList();
        return next.size() == 1 ? s.block(next.getFirst().to()).flatMap(b -> at(p, cut, b)) : Optional.empty();
    }

    private static Optional<Controller> at(Project p, Cut cut, Block b) {
        boolean pid = PIDS.contains(b.type());
        if (!pid && !b.type().equals("gain")) {
            return Optional.empty();
        }
        Map<String, Double> gains = new LinkedHashMap<>();
        for (String name : pid ? List.of("kp", "ki", "kd") : List.of("k")) {
            double v = value(p, cut.path(), b, name);
            if (!Double.isFinite(v)) {
                return Optional.empty();
            }
            gains.put(name, v);
        }
        boolean ideal = pid && settings(b).text("form").equals("ideal");
        return Optional.of(new Controller(cut.sheet(), cut.path(), b.id(), b.name(), pid, gains, pid ? value(p, cut.path(), b, "tf") : 0,
                ideal));
    }

    private static Settings settings(Block b) {
        return new Settings(Stock.find(b.type()).orElseThrow(), b.settings());
    }

    /** The value of a parameter; NaN where it cannot be computed, or is a list. */
    private static double value(Project p, String path, Block b, String parameter) {
        try {
            var variables = OwnBlocks.scopeAt(p, path, Variables.resolve(p.variableTexts()).values());
            return Formula.quantity(settings(b).text(parameter), variables).value();
        } catch (FormulaException e) {
            return Double.NaN;
        }
    }

    /** The response of a controller with some gains at a frequency in rad/s, sampled with a period in seconds. */
    public Complex response(Map<String, Double> with, double omega, double period) {
        return at(with, new Complex(0, omega * period).exp(), period);
    }

    /** The same at any point z. */
    Complex at(Map<String, Double> with, Complex z, double period) {
        if (!isPid) {
            return new Complex(with.get("k"), 0);
        }
        Complex sum = new Complex(with.get("kp"), 0);
        double scale = ideal ? with.get("kp") : 1;
        return sum.add(integral(z, period).multiply(scale * with.get("ki"))).add(derivative(z, period).multiply(scale * with.get("kd")));
    }

    /**
     * A PID controller that is on no sheet.
     *
     * @param gains kp, ki and kd, SI
     * @param filter time constant of the derivative's filter, in seconds
     */
    public static Controller free(Map<String, Double> gains, double filter) {
        return new Controller(null, "", "", "controller", true, gains, filter, false);
    }

    /** Whether it is a block of a project. */
    public boolean isOnSheet() {
        return sheet != null;
    }

    /** The controller with some gains as a sampled system. */
    public StateSpace system(Map<String, Double> with, double period) {
        if (!isPid) {
            return StateSpace.gain(with.get("k"), period);
        }
        double scale = ideal ? with.get("kp") : 1;
        var sum = StateSpace.gain(with.get("kp"), period);
        if (with.get("ki") != 0) {
            sum = sum.plus(StateSpace.transfer(new double[] {scale * with.get("ki") * period}, new double[] {1, -1}, period));
        }
        if (with.get("kd") != 0) {
            double k = scale * with.get("kd") / filter;
            sum = sum.plus(StateSpace.transfer(new double[] {k, -k}, new double[] {1, period / filter - 1}, period));
        }
        return sum;
    }

    /** The integral of forward Euler, T / (z − 1). */
    static Complex integral(Complex z, double period) {
        return new Complex(period, 0).divide(z.subtract(1));
    }

    /** The filtered derivative, (z − 1) / tf / (z − 1 + T / tf). */
    Complex derivative(Complex z, double period) {
        Complex change = z.subtract(1);
        return change.divide(change.add(period / filter)).divide(filter);
    }

    /** Gains times a factor; of an ideal form only the one that multiplies all. */
    public Map<String, Double> scaled(Map<String, Double> some, double factor) {
        Map<String, Double> all = new LinkedHashMap<>(some);
        all.replaceAll((name, v) -> ideal && !name.equals("kp") ? v : v * factor);
        return all;
    }

    /** The addresses of the gains in the running program, where they may be changed while it runs. */
    public Map<String, Double> addressed(Map<String, Double> values) {
        Map<String, Double> all = new LinkedHashMap<>();
        values.forEach((gain, v) -> all.put(Names.addressOf(path + "/" + name + "/" + gain), v));
        return all;
    }

    /**
     * A text that is written anew.
     *
     * @param where the variable, or the block's parameter
     */
    public record Writing(String where, String before, String after) {}

    /**
     * A project with other gains.
     *
     * @param writings what was written to get there
     */
    public record Sent(Project project, List<Writing> writings) {}

    /**
     * Gives the gains other values, in the variables they come from or in the block itself. A formula is kept and multiplied; a variable
     * that follows from one that was written already is written only where its value is still another one.
     */
    public Sent send(Project p, Map<String, Double> values) {
        List<Writing> writings = new java.util.ArrayList<>();
        Project next = p;
        for (var wanted : values.entrySet()) {
            Block b = next.sheet(sheet).orElseThrow().block(block).orElseThrow();
            double now = value(next, path, b, wanted.getKey());
            double target = wanted.getValue();
            if (Math.abs(now - target) <= 1e-9 * Math.max(Math.abs(target), 1e-300)) {
                continue;
            }
            String text = settings(b).text(wanted.getKey());
            var variable = next.variables().stream().filter(v -> v.name().equals(text.strip())).findFirst();
            if (variable.isPresent()) {
                String after = Rescaled.text(variable.get().value(), now, target, Rescaled.SHORT);
                writings.add(new Writing(variable.get().name(), variable.get().value(), after));
                next = next.withVariables(next.variables().stream().map(v -> v == variable.get() ? v.valued(after) : v).toList());
            } else {
                String after = Rescaled.text(text, now, target, Rescaled.SHORT);
                writings.add(new Writing(path + "/" + name + " " + wanted.getKey(), text, after));
                next = next.change(sheet, s -> s.change(block, c -> c.with(wanted.getKey(), after)));
            }
        }
        return new Sent(next, List.copyOf(writings));
    }
}
