package boldanvil.core.farm;

import boldanvil.core.finding.Finding;
import java.io.Serializable;
import java.util.List;

/**
 * What a worker answers.
 *
 * @param work hash of what it was asked to run
 * @param outcome of the run; null when there are findings, or nothing was to be run
 * @param findings why it cannot do this
 */
record Answer(String work, Serializable outcome, List<Finding> findings) implements Serializable {}
