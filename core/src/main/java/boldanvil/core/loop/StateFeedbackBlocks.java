package boldanvil.core.loop;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.Wire;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.quantity.Rescaled;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.ejml.simple.SimpleMatrix;

/** A state feedback with its estimator as blocks: a subsystem that drives the wire for which it was designed. */
public final class StateFeedbackBlocks {
    private static final String NAME = "state feedback";
    private static final int DIGITS = 8;
    /** Samples in which the integral follows when the output is limited. */
    private static final int TRACKING = 10;
    private static final double COLUMN = 150;
    private static final double ROW = 90;

    private final StateFeedback f;
    private Sheet sheet;

    private StateFeedbackBlocks(StateFeedback f, String sheetId) {
        this.f = f;
        sheet = Sheet.empty(sheetId);
    }

    /**
     * Puts the controller on the sheet of a wire, in place of what drives it.
     *
     * @param outputs of the plant as the controller reads them, on the same sheet
     * @param reference what the first output follows, on the same sheet; empty for a tunable of its own
     * @param low limits of what is given to the wire, SI; infinite for none
     * @throws NoSolutionException when an output is on another sheet, or the sheet is that of an own block
     */
    public static Project put(Project p, Cut cut, StateFeedback f, List<Cut> outputs, Optional<Cut> reference, double low, double high) {
        cut.requirePartSheet();
        List<Cut> all = new ArrayList<>(outputs);
        reference.ifPresent(all::add);
        all.stream().filter(o -> !o.sheet().equals(cut.sheet())).findFirst().ifPresent(o -> {
            throw new NoSolutionException("The output '" + o.label(p) + "' is on another sheet than the wire.",
                    "Choose outputs on the sheet '" + cut.path() + "', such as inlets and terminals.");
        });
        var blocks = new StateFeedbackBlocks(f, p.freshSheetId(cut.sheet(), NAME));
        List<String> inputs = blocks.draw(low, high);
        Sheet around = p.sheet(cut.sheet()).orElseThrow();
        Block at = around.block(cut.block()).orElseThrow();
        List<Wire> opened = around.wires().stream().filter(cut::opens).toList();
        String id = around.freshId();
        Map<String, String> settings = new LinkedHashMap<>(Map.of("sheet", blocks.sheet.id()));
        if (at.settings().containsKey("sample time")) {
            settings.put("sample time", at.settings().get("sample time"));
        }
        Sheet next = around.add(Block.of(id, "subsystem", around.freshName(NAME), at.x(), Sheet.onGrid(lowest(around) + 80),
                settings));
        next = next.redriven(opened, id, "u");
        for (int o = 0; o < outputs.size(); o++) {
            next = next.add(new Wire(outputs.get(o).block(), outputs.get(o).port(), id, inputs.get(o + 1)));
        }
        if (reference.isPresent()) {
            next = next.add(new Wire(reference.get().block(), reference.get().port(), id, inputs.getFirst()));
        } else {
            String own = next.freshId();
            next = next.add(Block.of(own, "tunable", next.freshName("reference"), at.x() - COLUMN, Sheet.onGrid(lowest(around) + 80),
                    Map.of("value", text(f.plant().values()[0])))).add(new Wire(own, "y", id, inputs.getFirst()));
        }
        Sheet changed = next;
        return p.add(cut.sheet(), blocks.sheet).change(cut.sheet(), _ -> changed);
    }

    private static double lowest(Sheet s) {
        return s.blocks().stream().mapToDouble(Block::y).max().orElse(0);
    }

    /** Draws the controller; gives the names of its inlets, the reference first. */
    private List<String> draw(double low, double high) {
        Plant plant = f.plant();
        int m = plant.system().outputs();
        List<String> inlets = new ArrayList<>(List.of("r"));
        List<String> measured = new ArrayList<>();
        String r = less(add("inlet", "r", 0, 0, Map.of()), "r", plant.values()[0], 0);
        for (int o = 0; o < m; o++) {
            String name = m == 1 ? "y" : "y" + (o + 1);
            inlets.add(name);
            measured.add(less(add("inlet", name, 0, 2 + 2 * o, Map.of()), name, plant.values()[o], 2 + 2 * o));
        }
        String y = measured.getFirst();
        if (m > 1) {
            y = add("join", "y", 3, 2, Map.of("inputs", Integer.toString(m)));
            for (int o = 0; o < m; o++) {
                wire(measured.get(o), y, "u" + (o + 1));
            }
        }
        var system = plant.system();
        String estimator = add("observer", "estimator", 4, 2.6, Map.of("A", rows(system.a()), "B", rows(system.b()), "C", rows(system.c()),
                "L", rows(f.l()), "x0", zeros(system.states())));
        wire(y, estimator, "y");
        String k = add("matrix", "K", 5, 2.8, Map.of("K", rows(f.k())));
        sheet = sheet.add(new Wire(estimator, "x", k, "u"));
        List<String> added = new ArrayList<>();
        String signs = "-";
        String integral = null;
        String error = null;
        if (f.integral() != 0) {
            error = add("sum", "error", 3, 0, Map.of("signs", "+-+"));
            wire(r, error, "u1");
            wire(measured.getFirst(), error, "u2");
            integral = add("accumulator", "integral", 4, 0, Map.of());
            wire(error, integral, "u");
            String gain = add("gain", "ki", 5, 0, Map.of("k", text(f.integral())));
            wire(integral, gain, "u");
            added.add(gain);
            signs += "+";
        }
        if (f.reference() != 0) {
            String gain = add("gain", "N", 5, 0.8, Map.of("k", text(f.reference())));
            wire(r, gain, "u");
            added.add(gain);
            signs += "+";
        }
        if (plant.input() != 0) {
            added.add(add("constant", "u0", 5, 1.5, Map.of("value", text(plant.input()))));
            signs += "+";
        }
        String u = k;
        String wanted = add("sum", "wanted", 6, 1, Map.of("signs", signs.length() > 1 ? signs : "-+"));
        wire(u, wanted, "u1");
        for (int i = 0; i < added.size(); i++) {
            wire(added.get(i), wanted, "u" + (i + 2));
        }
        if (added.isEmpty()) {
            wire(add("constant", "u0", 5, 1.5, Map.of("value", "0")), wanted, "u2");
        }
        limited(wanted, estimator, error, low, high);
        return inlets;
    }

    /** The limit, what follows from it for estimator and integral, and the outlet. */
    private void limited(String wanted, String estimator, String error, double low, double high) {
        String given = wanted;
        if (Double.isFinite(low) || Double.isFinite(high)) {
            given = add("saturation", "limit", 7, 1, Map.of("low", text(low), "high", text(high)));
            wire(wanted, given, "u");
        }
        wire(given, add("outlet", "u", 9, 1, Map.of()), "u");
        wire(f.plant().input() == 0 ? given : less(given, "given", f.plant().input(), 4.2), estimator, "u");
        if (error != null) {
            String back;
            if (given.equals(wanted)) {
                back = add("constant", "no limit", 2, 1, Map.of("value", "0"));
            } else {
                String cut = add("sum", "cut off", 8, 3, Map.of("signs", "+-"));
                wire(given, cut, "u1");
                wire(wanted, cut, "u2");
                double tracking = TRACKING * f.plant().system().period();
                back = add("gain", "anti-windup", 6, 5.2, Map.of("k", text(1 / (f.integral() * tracking))));
                wire(cut, back, "u");
                // Only what was cut off a sample before can change the integral now.
                String late = add("delay", "a sample before", 4, 5.2, Map.of());
                wire(back, late, "u");
                back = late;
            }
            wire(back, error, "u3");
        }
    }

    /** A signal less its value at the operating point. */
    private String less(String from, String name, double value, double row) {
        if (value == 0) {
            return from;
        }
        String at = add("constant", name + "0", 1, row + 1, Map.of("value", text(value)));
        String sum = add("sum", name + " − " + name + "0", 2, row, Map.of("signs", "+-"));
        wire(from, sum, "u1");
        wire(at, sum, "u2");
        return sum;
    }

    private String add(String type, String name, double column, double row, Map<String, String> settings) {
        String id = sheet.freshId();
        sheet = sheet.add(Block.of(id, type, sheet.freshName(name), Sheet.onGrid(column * COLUMN), Sheet.onGrid(row * ROW), settings));
        return id;
    }

    private void wire(String from, String to, String port) {
        String type = sheet.block(from).orElseThrow().type();
        sheet = sheet.add(new Wire(from, type.equals("observer") ? "x" : "y", to, port));
    }

    private static String text(double v) {
        return Rescaled.number(v, DIGITS);
    }

    private static String rows(SimpleMatrix m) {
        List<String> rows = new ArrayList<>();
        for (int i = 0; i < m.getNumRows(); i++) {
            List<String> row = new ArrayList<>();
            for (int j = 0; j < m.getNumCols(); j++) {
                row.add(text(m.get(i, j)));
            }
            rows.add("[" + String.join(", ", row) + "]");
        }
        return "[" + String.join(", ", rows) + "]";
    }

    private static String zeros(int n) {
        return "[" + String.join(", ", java.util.Collections.nCopies(n, "0")) + "]";
    }
}
