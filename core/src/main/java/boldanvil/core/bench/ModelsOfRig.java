package boldanvil.core.bench;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.review.Review;
import java.util.HashMap;
import java.util.Map;

/**
 * A rig whose parts all run as models, checked and compiled. It can be run many times, by several threads at once; each run has instances
 * of its own.
 *
 * @param review of the project as the rig has it
 * @param compiled by part
 */
record ModelsOfRig(Review review, Rig rig, Map<String, JvmCompiler.Compiled> compiled) {
    ModelsOfRig {
        compiled = Map.copyOf(compiled);
    }

    static ModelsOfRig of(Review review, Rig rig) {
        Map<String, JvmCompiler.Compiled> compiled = new HashMap<>();
        for (String part : review.system().parts().keySet()) {
            compiled.put(part, JvmCompiler.compile(review.system().program(part).orElseThrow()));
        }
        return new ModelsOfRig(review, rig, compiled);
    }

    /** @throws boldanvil.core.finding.FindingException when the project has errors, or no such rig */
    static ModelsOfRig of(Project project, String rig) {
        var review = Review.of(project.rig(rig).map(project::as).orElse(project)).orThrow();
        return of(review, review.rig(rig));
    }

    Instance instance(String part) {
        return compiled.get(part).instantiate();
    }
}
