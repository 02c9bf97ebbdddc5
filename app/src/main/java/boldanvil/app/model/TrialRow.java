package boldanvil.app.model;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.trial.StepResult;
import boldanvil.core.trial.StepResult.State;
import boldanvil.core.trial.TrialReader;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/**
 * A line of a trial as a row of its table.
 *
 * @param line from 1
 * @param depth how many repetitions it is in
 * @param text without indentation and requirements
 * @param isStep whether something is done or expected; other lines are comments and the frame of repetitions
 * @param results what came of it, once for each time it was run
 * @param problem what is wrong with it; empty for nothing
 */
public record TrialRow(int line, int depth, String text, List<String> requirements, boolean isStep, List<StepResult> results,
        String problem) {
    public TrialRow {
        requirements = List.copyOf(requirements);
        results = List.copyOf(results);
    }

    /** The rows of a trial's text. */
    public static List<TrialRow> of(String name, String text, List<StepResult> results, List<Finding> findings) {
        List<TrialRow> rows = new ArrayList<>();
        int number = 0;
        int depth = 0;
        for (String raw : text.split("\\R", -1)) {
            int line = ++number;
            String plain = raw.strip();
            String verb = plain.split("\\s", 2)[0];
            if (plain.isEmpty() || TrialReader.HEADER.contains(verb)) {
                continue;
            }
            depth -= verb.equals("end") && depth > 0 ? 1 : 0;
            var at = TrialReader.divided(line, plain);
            boolean isStep = !plain.startsWith("#") && !plain.startsWith("|") && !verb.equals("repeat") && !verb.equals("end");
            rows.add(new TrialRow(line, depth, at.text(), at.requirements(),
                    isStep, results.stream().filter(r -> r.line() == line && r.trial().equals(name)).toList(),
                    findings.stream().filter(f -> f.place().equals(Place.trial(name, line))).map(Finding::cause).findFirst().orElse("")));
            depth += verb.equals("repeat") ? 1 : 0;
        }
        return rows;
    }

    /** The result that decides: the first failure, else what is under way, else the last. */
    public StepResult decisive() {
        return results.stream().filter(r -> r.state() == State.FAILED).findFirst()
                .or(() -> results.stream().filter(r -> r.state() == State.RUNNING).findFirst())
                .orElse(results.isEmpty() ? null : results.getLast());
    }

    /** The result in words. */
    public String result() {
        if (!problem.isEmpty()) {
            return "✕ wrong";
        }
        StepResult r = decisive();
        if (r == null || r.state() == State.WAITING) {
            return "";
        }
        String word = r.state().label();
        String mark = switch (r.state()) {
            case PASSED -> "✓ ";
            case FAILED -> "✕ ";
            case RUNNING -> "▸ ";
            case UNANSWERED -> "? ";
            default -> "";
        };
        long good = results.stream().filter(x -> x.state() == State.PASSED).count();
        return mark + word + (results.size() > 1 && good > 0 ? ", " + good + " of " + results.size() : "");
    }

    /** What was seen, or what is wrong. */
    public String seen() {
        StepResult r = decisive();
        return problem.isEmpty() ? r == null ? "" : r.words() : problem;
    }

    /** When it was decided; empty before. */
    public String at() {
        StepResult r = decisive();
        return r == null || Double.isNaN(r.to()) ? "" : String.format(Locale.ROOT, "%.4f", r.to());
    }
}
