package boldanvil.core.identify;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Variable;
import boldanvil.core.edit.VariableValues;
import boldanvil.core.quantity.Rescaled;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** Values that were found, written into the project's variables. */
public final class TakenOver {
    private static final String WORDS = "identified from ";

    private TakenOver() {}

    /** The values by the names of the variables, SI. */
    public static Map<String, Double> values(Estimate e) {
        Map<String, Double> all = new LinkedHashMap<>();
        e.values().forEach(v -> all.put(v.name(), v.value()));
        return all;
    }

    /**
     * The project with the values, and in the note of each variable the run and the bound.
     *
     * @param run its name for people
     */
    public static Project in(Project p, Estimate e, String run) {
        var found = values(e);
        Project next = VariableValues.with(p, found, Rescaled.SHORT);
        return next.withVariables(next.variables().stream().map(v -> found.containsKey(v.name()) ? noted(v, e.value(v.name()), run) : v)
                .toList());
    }

    /** What is written: the variable, its text before and after. */
    public static List<String> lines(Project before, Project after) {
        return before.variables().stream().flatMap(v -> after.variables().stream().filter(w -> w.name().equals(v.name()) && !w.equals(v))
                .map(w -> v.name() + ":  " + v.value() + "  →  " + w.value() + "   (" + w.note() + ")")).toList();
    }

    private static Variable noted(Variable v, Estimate.Value e, String run) {
        String before = v.note().replaceFirst("(; )?" + WORDS + ".*", "");
        String note = (before.isEmpty() ? "" : before + "; ") + String.format(Locale.ROOT, "%s%s, ± %.2g %%", WORDS, run,
                100 * e.bound() / Math.abs(e.value()));
        return new Variable(v.name(), v.value(), note, v.unit(), v.group());
    }
}
