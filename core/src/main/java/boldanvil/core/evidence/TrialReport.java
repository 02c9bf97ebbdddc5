package boldanvil.core.evidence;

import boldanvil.core.finding.Finding;
import boldanvil.core.report.PdfBook;
import boldanvil.core.report.Plot;
import boldanvil.core.report.PlotFile;
import boldanvil.core.report.Table;
import boldanvil.core.trial.StepResult;
import boldanvil.core.trial.StepResult.State;
import boldanvil.core.trial.Verdict;
import freemarker.template.Configuration;
import freemarker.template.TemplateException;
import freemarker.template.TemplateExceptionHandler;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** Trials that were run, as a report for people: HTML in one file that opens without network, or PDF. */
public final class TrialReport {
    /** Charts of one trial, those of failures first. */
    private static final int MOST_CHARTS = 40;

    private final String title;
    private final List<TrialRecord> records;
    private final Requirements requirements;

    /**
     * @param title of the report
     * @param requirements of the project; may be empty
     */
    public TrialReport(String title, List<TrialRecord> records, Requirements requirements) {
        this.title = title;
        this.records = List.copyOf(records);
        this.requirements = requirements;
    }

    public String title() {
        return title;
    }

    /** The report as HTML. */
    public String html() {
        var how = new Configuration(Configuration.VERSION_2_3_34);
        how.setClassForTemplateLoading(TrialReport.class, "/boldanvil/core/evidence");
        how.setDefaultEncoding("UTF-8");
        how.setLocale(Locale.ROOT);
        how.setTemplateExceptionHandler(TemplateExceptionHandler.RETHROW_HANDLER);
        how.setLogTemplateExceptions(false);
        Map<String, Object> model = new LinkedHashMap<>();
        model.put("title", title);
        model.put("summary", counts(records));
        model.put("overview", overview());
        Table matrix = requirements.matrix(records);
        model.put("requirements", matrix.rows().isEmpty() ? "" : matrix);
        Table coverage = CoverageReport.table(records);
        model.put("coverage", coverage.rows().isEmpty() ? "" : coverage);
        List<Map<String, Object>> trials = new ArrayList<>();
        for (int i = 0; i < records.size(); i++) {
            trials.add(trial(records.get(i), i));
        }
        model.put("trials", trials);
        try (var out = new StringWriter()) {
            how.getTemplate("report.ftlh").process(model, out);
            return out.toString();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (TemplateException e) {
            throw new IllegalStateException(e);
        }
    }

    private Map<String, Object> trial(TrialRecord r, int number) {
        Map<String, Object> one = new LinkedHashMap<>();
        one.put("heading", heading(r));
        one.put("title", r.trial().title());
        one.put("verdict", r.verdict().label());
        one.put("facts", facts(r));
        one.put("steps", r.steps().isEmpty() ? "" : steps(r));
        one.put("findings", r.findings().stream().map(Finding::toString).toList());
        List<String> charts = new ArrayList<>();
        for (Plot p : plots(r)) {
            charts.add(PlotFile.svg(p, "t" + number + "p" + charts.size() + "c"));
        }
        one.put("charts", charts);
        return one;
    }

    /** Writes the report as PDF into a book. */
    public void add(PdfBook book) throws IOException {
        book.add(overview());
        Table matrix = requirements.matrix(records);
        if (!matrix.rows().isEmpty()) {
            book.add(matrix);
        }
        Table coverage = CoverageReport.table(records);
        if (!coverage.rows().isEmpty()) {
            book.add(coverage);
        }
        for (TrialRecord r : records) {
            book.add(steps(r));
            for (Plot p : plots(r)) {
                PlotFile.add(p, book);
            }
        }
    }

    private static String heading(TrialRecord r) {
        return r.made().getOrDefault("project", "") + " · " + r.trial().name() + " on " + r.rig();
    }

    /** How many trials there are of each verdict, in words. */
    public static String counts(List<TrialRecord> records) {
        List<String> words = new ArrayList<>();
        for (Verdict v : Verdict.values()) {
            long n = records.stream().filter(r -> r.verdict() == v).count();
            if (n > 0) {
                words.add(n + " " + v.label());
            }
        }
        return records.size() + (records.size() == 1 ? " trial: " : " trials: ") + String.join(", ", words);
    }

    private Table overview() {
        List<List<String>> rows = new ArrayList<>();
        for (TrialRecord r : records) {
            rows.add(List.of(r.trial().name(), r.rig(), r.verdict().label(), r.passed() + " of " + r.expectations().size(),
                    seconds(r.seconds()),
                    seconds(r.wallSeconds()), r.exact() ? "simulated" : "wall clock, another run may differ"));
        }
        return new Table(title, List.of(counts(records)), List.of("Trial", "Rig", "Verdict", "Expectations", "Simulated", "Took", "Time"),
                rows);
    }

    private static String seconds(double s) {
        return String.format(Locale.ROOT, "%.3f s", s);
    }

    private static List<String> facts(TrialRecord r) {
        List<String> facts = new ArrayList<>();
        facts.add("started: " + r.started());
        facts.add("simulated: " + seconds(r.seconds()) + (r.exact() ? "; the same build gives the same result again, bit for bit"
                : "; in step with the wall clock, another run may differ"));
        r.made().forEach((k, v) -> facts.add(k + ": " + v));
        if (!r.trial().covers().isEmpty()) {
            facts.add("covers: " + String.join(", ", r.trial().covers()));
        }
        return facts;
    }

    private static Table steps(TrialRecord r) {
        List<String> notes = new ArrayList<>(List.of(r.trial().title(), "verdict: " + r.verdict().label()));
        notes.addAll(facts(r));
        r.findings().forEach(f -> notes.add(f.toString()));
        List<List<String>> rows = new ArrayList<>();
        for (StepResult s : r.steps()) {
            rows.add(List.of((s.trial().equals(r.trial().name()) ? "" : s.trial() + " ") + s.line(), s.text(),
                    String.join(", ", s.requirements()), s.state().label(), Double.isNaN(s.to()) ? "" : seconds(s.to()), s.words()));
        }
        return new Table(heading(r), notes, List.of("Line", "Step", "Requirements", "Result", "At", "Seen"), rows);
    }

    private static List<Plot> plots(TrialRecord r) {
        return r.expectations().stream().sorted(Comparator.comparing(s -> s.state() != State.FAILED)).limit(MOST_CHARTS)
                .flatMap(s -> Traces.around(r, s).stream()).toList();
    }
}
