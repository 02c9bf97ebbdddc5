package boldanvil.core.bench;

import boldanvil.core.diagram.Places;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Variable;
import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.Units;
import boldanvil.core.review.Review;
import boldanvil.core.simulate.Addresses;
import java.util.ArrayList;
import java.util.List;

/** Where a tunable's value differs between the project, the build and the device, and how to bring them together. */
public final class Values {
    /**
     * One tunable.
     *
     * @param project what the project says now, SI; NaN when it has it no more
     * @param built what was built into the program that runs
     * @param device what the device has now
     */
    public record Row(String address, String unit, double project, double built, double device) {
        public boolean differs() {
            return project != device;
        }
    }

    private Values() {}

    /** Compares every tunable of a run with the project as it is now. Asks the device. */
    public static List<Row> compare(Review now, LiveRun run) {
        List<Row> rows = new ArrayList<>();
        run.review().system().parts().keySet().forEach(part ->
                run.review().system().program(part).orElseThrow().tunables().forEach(t -> {
                    String address = part + "." + t.name();
                    double project = now.system().program(part).flatMap(p -> p.tunable(t.name()))
                            .map(x -> x.slot().initial()).orElse(Double.NaN);
                    rows.add(new Row(address, t.slot().unit(), project, t.slot().initial(), run.get(address)));
                }));
        return rows;
    }

    /**
     * The project with a tunable's value taken over from the device. Where the parameter is just a variable, the variable
     * gets the value: it is its home.
     */
    public static Project copyToProject(Project project, Review review, String address, double value) {
        var t = Addresses.tunable(review.system(), address).tunable();
        var place = Places.find(project, t.path()).orElseThrow(() -> FindingException.of(address,
                "Its block is no longer on the sheet.", "Undo its deletion, or start the rig again."));
        var block = place.block();
        String text = block.settings().getOrDefault(t.parameter(), "");
        String number = text(value, t.slot().unit(), t.slot().type() == boldanvil.core.program.Type.BOOL);
        if (Formula.isName(text) && project.variables().stream().anyMatch(v -> v.name().equals(text.strip()))) {
            return project.withVariables(project.variables().stream().map(v -> v.name().equals(text.strip())
                    ? new Variable(v.name(), number, v.note()) : v).toList());
        }
        return project.change(place.sheet(), s -> s.change(block.id(), b -> b.with(t.parameter(), number)));
    }

    private static String text(double value, String unit, boolean logic) {
        if (logic) {
            return value != 0 ? "on" : "off";
        }
        boolean written = Units.isUnit(unit) && !unit.isEmpty() && !unit.startsWith("1");
        double shown = written ? Units.fromSi(unit, value) : value;
        // The shortest text that is this value again; where none in the unit is, the value in SI.
        if (written && Units.toSi(unit, shown) != value && Units.toSi(unit, rounded(shown)) != value) {
            String si = Units.orOne(unit).dimension().unit();
            return number(value) + (si.isEmpty() || si.startsWith("1") ? "" : " " + si);
        }
        shown = written && Units.toSi(unit, rounded(shown)) == value ? rounded(shown) : shown;
        return written ? number(shown) + " " + unit : number(shown);
    }

    /** To twelve significant digits, which removes what conversion adds. */
    private static double rounded(double v) {
        return Double.isFinite(v) ? new java.math.BigDecimal(v).round(new java.math.MathContext(12)).doubleValue() : v;
    }

    private static String number(double v) {
        return v == Math.rint(v) && Math.abs(v) < 1e9 ? Long.toString((long) v) : Double.toString(v);
    }
}
