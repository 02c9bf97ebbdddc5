package boldanvil.core.edit;

import boldanvil.core.diagram.Project;
import boldanvil.core.quantity.Rescaled;
import boldanvil.core.quantity.Variables;
import java.util.Map;

/** Projects with other values of some variables. */
public final class VariableValues {
    private VariableValues() {}

    /**
     * The project with values for some of its variables; numbers keep their units, formulas are multiplied.
     *
     * @param values SI, by the name of the variable
     * @param digits of the numbers that are written, {@link Rescaled#SHORT} or {@link Rescaled#EXACT}
     */
    public static Project with(Project project, Map<String, Double> values, int digits) {
        var now = Variables.resolve(project.variableTexts()).values();
        return project.withVariables(project.variables().stream().map(v -> values.containsKey(v.name()) && now.containsKey(v.name())
                ? v.valued(Rescaled.text(v.value(), now.get(v.name()).value(), values.get(v.name()), digits)) : v).toList());
    }
}
