package boldanvil.core.lower;

import boldanvil.core.finding.Finding;
import boldanvil.core.program.Program;
import java.util.List;
import java.util.Optional;

/**
 * What became of a part.
 *
 * @param partId which part
 * @param program absent when a finding is an error
 * @param findings all errors and warnings
 * @param blocks the flattened blocks, for sample times and types on the sheet
 */
public record Lowered(String partId, Optional<Program> program, List<Finding> findings, List<FlatBlock> blocks) {
    public Lowered {
        findings = List.copyOf(findings);
        blocks = List.copyOf(blocks);
    }
}
