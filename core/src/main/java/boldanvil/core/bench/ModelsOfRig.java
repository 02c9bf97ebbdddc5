package boldanvil.core.bench;

import boldanvil.core.coverage.Instrumenter;
import boldanvil.core.coverage.Instrumenter.Instrumented;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.program.Program;
import boldanvil.core.review.Review;
import java.util.HashMap;
import java.util.Map;

/**
 * A rig whose parts all run as models, checked and compiled. It can be run many times, by several threads at once; each run has instances
 * of its own.
 *
 * @param review of the project as the rig has it
 * @param compiled by part
 * @param noting parts that note how much of them runs
 */
record ModelsOfRig(Review review, Rig rig, Map<String, JvmCompiler.Compiled> compiled, Map<String, Instrumented> noting) {
    ModelsOfRig {
        compiled = Map.copyOf(compiled);
        noting = Map.copyOf(noting);
    }

    /** @param coverage whether parts with discrete tasks note how much of them runs */
    static ModelsOfRig of(Review review, Rig rig, boolean coverage) {
        Map<String, JvmCompiler.Compiled> compiled = new HashMap<>();
        Map<String, Instrumented> noting = new HashMap<>();
        for (String part : review.system().parts().keySet()) {
            Program program = review.system().program(part).orElseThrow();
            if (coverage && !program.tasks().isEmpty()) {
                noting.put(part, Instrumenter.of(program));
            }
            compiled.put(part, JvmCompiler.compile(noting.containsKey(part) ? noting.get(part).program() : program));
        }
        return new ModelsOfRig(review, rig, compiled, noting);
    }

    /** @throws boldanvil.core.finding.FindingException when the project has errors, or no such rig */
    static ModelsOfRig of(Project project, String rig) {
        var review = Review.of(project.rig(rig).map(project::as).orElse(project)).orThrow();
        return of(review, review.rig(rig), false);
    }

    Instance instance(String part) {
        return compiled.get(part).instantiate();
    }
}
