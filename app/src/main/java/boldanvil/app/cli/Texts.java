package boldanvil.app.cli;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Variables;
import boldanvil.core.simulate.Addresses;
import boldanvil.core.simulate.Change;
import java.util.Map;

/** Reads values that are on the command line. */
final class Texts {
    private Texts() {}

    /** A time such as {@code 4s} or {@code 250 ms} in nanoseconds. */
    static long nanos(String option, String text) {
        double seconds = number(option, text, Map.of(), "s");
        if (!(seconds >= 0 && seconds <= 1e6)) {
            throw FindingException.of(option, "A time of " + seconds + " s is out of range.", "Choose 0 to 1,000,000 s.");
        }
        return Math.round(seconds * 1e9);
    }

    /** A rig by its name; the first one where none is given. */
    static Rig rig(Project project, String name) {
        if (name == null) {
            return project.rigs().stream().findFirst().orElseThrow(() -> FindingException.of(Place.rig(""), "The project has no rig.",
                    "Add a rig to the project."));
        }
        return project.rig(name).orElseThrow(() -> FindingException.of(Place.rig(name), "There is no rig '" + name + "'.",
                "Name one of the project's rigs."));
    }

    /** A variable with its limits, {@code name=low:high}; SI. */
    record Limits(String variable, double low, double high) {}

    static Limits limits(String option, String text, Map<String, Quantity> variables) {
        int equals = text.indexOf('=');
        int colon = text.lastIndexOf(':');
        if (equals < 1 || colon < equals) {
            throw FindingException.of(option, "'" + text + "' has no limits.", "Write VARIABLE=LOW:HIGH, such as R=0.5:2.");
        }
        return new Limits(text.substring(0, equals).strip(), number(option, text.substring(equals + 1, colon), variables, ""),
                number(option, text.substring(colon + 1), variables, ""));
    }

    /** An expression with units and project variables. */
    static double number(String option, String text, Map<String, Quantity> variables, String unit) {
        try {
            return Formula.evaluate(text, variables, unit);
        } catch (FormulaException e) {
            throw FindingException.of(option, "'" + text + "': " + e.getMessage(),
                    "Write a value with its unit, such as " + (unit.equals("s") ? "250 ms" : "3 "
                    + (unit.isEmpty() ? "mm" : unit)) + ".");
        }
    }

    /** An expression with units, of a kind that is not known yet. */
    static Quantity quantity(String option, String text) {
        try {
            return Formula.quantity(text, Map.of());
        } catch (FormulaException e) {
            throw FindingException.of(option, "'" + text + "': " + e.getMessage(), "Write a value with its unit, such as 3 mm.");
        }
    }

    /** A planned change, {@code part.tunable=value@time}. */
    static Change change(String text, Project project) {
        int equals = text.indexOf('=');
        int at = text.lastIndexOf('@');
        if (equals < 0 || at >= 0 && at < equals) {
            throw FindingException.of("--set", "'" + text + "' has no value.", "Write part.tunable=value@time.");
        }
        var variables = Variables.resolve(project.variableTexts()).values();
        String value = at < 0 ? text.substring(equals + 1) : text.substring(equals + 1, at);
        String address = text.substring(0, equals).strip();
        var tunable = Addresses.tunable(LoweredSystem.of(project).orThrow(), address).tunable();
        return new Change(address, number("--set", value, variables, tunable.slot().unit()),
                at < 0 ? 0 : nanos("--set", text.substring(at + 1)));
    }
}
