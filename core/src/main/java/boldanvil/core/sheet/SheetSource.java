package boldanvil.core.sheet;

import boldanvil.core.diagram.Project;
import boldanvil.core.finding.Finding;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Variables;
import boldanvil.core.review.Review;
import java.util.List;
import java.util.Map;

/**
 * What a sheet is drawn from.
 *
 * @param system the lowered parts, for types; may be of an earlier state of the project
 * @param findings places with one are marked
 * @param variables values of the project's variables, SI
 */
public record SheetSource(Project project, LoweredSystem system, List<Finding> findings, Map<String, Quantity> variables) {
    public SheetSource {
        findings = List.copyOf(findings);
    }

    public static SheetSource of(Project project, LoweredSystem system, List<Finding> findings) {
        return new SheetSource(project, system, findings, Variables.resolve(project.variableTexts()).values());
    }

    /** A project with what its review found. */
    public static SheetSource of(Review review) {
        return of(review.project(), review.system(), review.findings());
    }
}
