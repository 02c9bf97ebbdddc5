package boldanvil.core.evidence;

import boldanvil.core.escape.Escape;
import boldanvil.core.finding.Finding;
import boldanvil.core.trial.StepResult;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/**
 * Trials as build servers read them: XML as JUnit's and Maven's reports are written. A trial on a rig is a suite, each expectation in it a
 * case; what could not be run is an error, an unanswered question is skipped.
 */
public final class JUnitReport {
    private JUnitReport() {}

    /** The suite of one trial; the file is to be named {@code TEST-<name>.xml}. */
    public static String suite(TrialRecord r) {
        return "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n" + body(r);
    }

    /** All suites in one file. */
    public static String suites(List<TrialRecord> records) {
        var text = new StringBuilder("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<testsuites>\n");
        records.forEach(r -> text.append(body(r)));
        return text.append("</testsuites>\n").toString();
    }

    /** Name of a suite: project, trial and rig, as packages and classes are named. */
    public static String name(TrialRecord r) {
        return plain(r.made().getOrDefault("project", "project")) + "." + plain(r.trial().name()) + "." + plain(r.rig());
    }

    private static String plain(String name) {
        return name.replaceAll("[^A-Za-z0-9_-]+", "_");
    }

    private static String body(TrialRecord r) {
        List<StepResult> cases = r.expectations();
        long failures = cases.stream().filter(s -> s.state() == StepResult.State.FAILED).count();
        long skipped = cases.stream().filter(s -> s.state() == StepResult.State.UNANSWERED).count();
        List<Finding> errors = r.findings().stream().filter(Finding::isError).toList();
        var text = new StringBuilder(String.format(Locale.ROOT,
                "<testsuite name=\"%s\" tests=\"%d\" failures=\"%d\" errors=\"%d\" skipped=\"%d\" time=\"%.3f\" timestamp=\"%s\">\n",
                Escape.xml(name(r)), cases.size() + errors.size(), failures, errors.size(), skipped, r.wallSeconds(),
                Escape.xml(r.started().replace("Z", ""))));
        text.append("  <properties>\n");
        Map<String, String> properties = new LinkedHashMap<>(r.made());
        properties.put("trial", r.trial().title());
        properties.put("rig", r.rig());
        properties.put("covers", String.join(" ", r.trial().covers()));
        properties.put("simulated seconds", Double.toString(r.seconds()));
        properties.forEach((k, v) -> text.append("    <property name=\"").append(Escape.xml(k)).append("\" value=\"").append(Escape.xml(v))
                .append("\"/>\n"));
        text.append("  </properties>\n");
        int n = 0;
        for (StepResult s : cases) {
            String name = ++n + ": " + s.text() + (s.requirements().isEmpty() ? "" : " [" + String.join(", ", s.requirements()) + "]");
            text.append(String.format(Locale.ROOT, "  <testcase classname=\"%s\" name=\"%s\" time=\"%.6f\"", Escape.xml(name(r)),
                    Escape.xml(name), Math.max(0, s.to() - s.from())));
            text.append(switch (s.state()) {
                case FAILED -> ">\n    <failure message=\"" + Escape.xml(s.words()) + "\" type=\"expectation\">line " + s.line() + " of "
                        + Escape.xml(s.trial()) + ", at " + s.to() + " s</failure>\n  </testcase>\n";
                case UNANSWERED -> ">\n    <skipped message=\"" + Escape.xml(s.words()) + "\"/>\n  </testcase>\n";
                default -> "/>\n";
            });
        }
        for (Finding f : errors) {
            text.append("  <testcase classname=\"").append(Escape.xml(name(r))).append("\" name=\"").append(++n).append(": ")
                    .append(Escape.xml(f.place().text())).append("\" time=\"0\">\n    <error message=\"").append(Escape.xml(f.cause()))
                    .append("\" type=\"finding\">").append(Escape.xml(f.cure())).append("</error>\n  </testcase>\n");
        }
        return text.append("</testsuite>\n").toString();
    }
}
