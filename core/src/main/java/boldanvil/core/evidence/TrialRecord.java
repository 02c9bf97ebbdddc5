package boldanvil.core.evidence;

import boldanvil.core.coverage.Coverage;
import boldanvil.core.finding.Finding;
import boldanvil.core.samples.Series;
import boldanvil.core.trial.StepResult;
import boldanvil.core.trial.Trial;
import boldanvil.core.trial.Verdict;
import java.util.List;
import java.util.Map;

/**
 * A trial that was run, with what proves its verdict.
 *
 * @param rig it was run on
 * @param steps what came of each step, in the order in which they were run
 * @param findings what the rig reported, or why it could not be run
 * @param seconds simulated time
 * @param wallSeconds how long it took
 * @param started when, ISO 8601
 * @param exact whether time was simulated from end to end, so that the same build gives the same result again, bit for bit
 * @param courses signals that were looked at, SI, by name
 * @param made what made the run: hashes and versions by what they are of
 * @param coverage how much of the parts ran, by part; empty where that was not noted
 */
public record TrialRecord(Trial trial, String rig, Verdict verdict, List<StepResult> steps, List<Finding> findings, double seconds,
        double wallSeconds, String started, boolean exact, Map<String, Series> courses, Map<String, String> made,
        Map<String, Coverage> coverage) {
    public TrialRecord {
        steps = List.copyOf(steps);
        findings = List.copyOf(findings);
        courses = java.util.Collections.unmodifiableMap(new java.util.LinkedHashMap<>(courses));
        coverage = java.util.Collections.unmodifiableMap(new java.util.LinkedHashMap<>(coverage));
        made = java.util.Collections.unmodifiableMap(new java.util.LinkedHashMap<>(made));
    }

    /** Steps that expected something. */
    public List<StepResult> expectations() {
        return steps.stream().filter(s -> switch (s.state()) {
            case PASSED, FAILED, UNANSWERED -> true;
            default -> false;
        }).toList();
    }

    /** How many of its expectations passed. */
    public long passed() {
        return steps.stream().filter(s -> s.state() == StepResult.State.PASSED).count();
    }

    /** What went wrong, a line for each. */
    public List<String> failures() {
        List<String> all = new java.util.ArrayList<>(steps.stream().filter(s -> s.state() == StepResult.State.FAILED)
                .map(s -> "line " + s.line() + (s.trial().equals(trial.name()) ? "" : " of " + s.trial()) + ": " + s.text() + ": "
                        + s.words()).toList());
        findings.stream().filter(Finding::isError).forEach(f -> all.add(f.toString()));
        return all;
    }
}
