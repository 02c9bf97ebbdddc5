package boldanvil.core.lower;

import boldanvil.core.finding.Finding;
import boldanvil.core.program.Program;
import boldanvil.core.program.Type;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What became of a part.
 *
 * @param partId which part
 * @param program absent when a finding is an error
 * @param findings all errors and warnings
 * @param outputs types of the outputs by path of their block and name of the port; for what is shown on the sheet
 */
public record Lowered(String partId, Optional<Program> program, List<Finding> findings, Map<String, Map<String, Type>> outputs) {
    public Lowered {
        findings = List.copyOf(findings);
        outputs = Map.copyOf(outputs);
    }
}
