package boldanvil.core.evidence;

import boldanvil.core.diagram.Project;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.report.Table;
import boldanvil.core.trial.StepResult;
import java.io.IOException;
import java.io.StringReader;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import org.apache.commons.csv.CSVFormat;

/**
 * Requirements and what trials show of them.
 *
 * @param texts by identifier
 */
public record Requirements(Map<String, String> texts) {
    /** The file of a project's requirements among its trials: CSV with an identifier and a text in each line. */
    public static final String FILE = "requirements.csv";
    private static final int MOST = 100_000;

    public Requirements {
        texts = java.util.Collections.unmodifiableMap(new LinkedHashMap<>(texts));
    }

    /** Whether and how a requirement was shown on a rig. */
    public enum State {
        PASSED("passed"), FAILED("failed"),
        /** An expectation for it was not decided. */
        OPEN("open"),
        NOT_COVERED("not covered");

        private final String label;

        State(String label) {
            this.label = label;
        }

        public String label() {
            return label;
        }
    }

    /** The requirements of some projects. */
    public static Requirements of(List<Project> projects) {
        Map<String, String> all = new LinkedHashMap<>();
        for (Project p : projects) {
            all.putAll(of(p.trials().getOrDefault(FILE, "")).texts());
        }
        return new Requirements(all);
    }

    /** @throws FindingException when the text is not CSV, or has lines without identifier */
    public static Requirements of(String csv) {
        Map<String, String> texts = new LinkedHashMap<>();
        try (var parser = CSVFormat.RFC4180.parse(new StringReader(csv))) {
            for (var line : parser) {
                String id = line.size() == 0 ? "" : line.get(0).strip();
                if (line.getRecordNumber() == 1 && id.equalsIgnoreCase("id") || line.size() == 1 && id.isEmpty()) {
                    continue;
                }
                if (!id.matches("[\\w.-]+") || texts.size() >= MOST) {
                    throw wrong("Line " + line.getRecordNumber() + " has no identifier: '" + id + "'.");
                }
                texts.put(id, line.size() > 1 ? line.get(1).strip() : "");
            }
        } catch (IOException | java.io.UncheckedIOException | IllegalStateException e) {
            throw wrong("The file is not CSV: " + e.getMessage() + ".");
        }
        return new Requirements(texts);
    }

    private static FindingException wrong(String cause) {
        return FindingException.of(Place.named("trials/" + FILE), cause,
                "Write an identifier of letters, digits, '.', '-' and '_', and a text, in each line.");
    }

    /** What records show of a requirement on a rig; the worst counts. */
    public static State state(String id, String rig, List<TrialRecord> records) {
        State state = State.NOT_COVERED;
        for (TrialRecord r : records) {
            if (!r.rig().equals(rig)) {
                continue;
            }
            if (r.trial().covers().contains(id)) {
                state = worse(state, switch (r.verdict()) {
                    case PASSED -> State.PASSED;
                    case FAILED -> State.FAILED;
                    case OPEN, ERROR -> State.OPEN;
                });
            }
            for (StepResult s : r.steps()) {
                if (s.requirements().contains(id)) {
                    state = worse(state, switch (s.state()) {
                        case PASSED, DONE -> State.PASSED;
                        case FAILED -> State.FAILED;
                        default -> State.OPEN;
                    });
                }
            }
        }
        return state;
    }

    private static State worse(State a, State b) {
        return a == State.FAILED || b == State.FAILED ? State.FAILED : a == State.OPEN || b == State.OPEN ? State.OPEN
                : a == State.PASSED || b == State.PASSED ? State.PASSED : State.NOT_COVERED;
    }

    /** Requirements down, rigs across; those that are named in trials only come last. */
    public Table matrix(List<TrialRecord> records) {
        List<String> rigs = records.stream().map(TrialRecord::rig).distinct().toList();
        Map<String, String> all = new LinkedHashMap<>(texts);
        var named = new TreeSet<String>();
        records.forEach(r -> {
            named.addAll(r.trial().covers());
            r.steps().forEach(s -> named.addAll(s.requirements()));
        });
        named.forEach(id -> all.putIfAbsent(id, ""));
        List<String> columns = new ArrayList<>(List.of("Requirement", "Text"));
        columns.addAll(rigs);
        columns.add("Trials");
        List<List<String>> rows = new ArrayList<>();
        all.forEach((id, text) -> {
            List<String> row = new ArrayList<>(List.of(id, text));
            rigs.forEach(rig -> row.add(state(id, rig, records).label()));
            row.add(String.join(", ", records.stream().filter(r -> r.trial().covers().contains(id)
                    || r.steps().stream().anyMatch(s -> s.requirements().contains(id))).map(r -> r.trial().name()).distinct().toList()));
            rows.add(row);
        });
        return new Table("Requirements", List.of(), columns, rows);
    }
}
