package boldanvil.core.farm;

import boldanvil.core.bench.Sweep;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.evidence.TrialRunner;
import boldanvil.core.evidence.TrialStudy;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.study.PointRun;
import boldanvil.core.study.PointSource;
import boldanvil.core.study.RunTable;
import boldanvil.core.study.RunTable.Column;
import boldanvil.core.study.StudyListener;
import java.io.Serializable;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import java.util.function.Function;

/** A study whose results are kept as a table, to be looked at or to guide the choice of the next points. */
public final class TableStudy {
    /**
     * What is run at each point.
     *
     * @param trial its name; empty for a run of the rig alone
     * @param endNanos simulated time of a run without trial
     * @param buildFolder where files that a trial on code or devices needs go
     * @param units of what varies, for people; a name that is missing has none
     */
    public record Order(Project project, String rig, String trial, long endNanos, Path buildFolder, Map<String, String> units) {
        public Order {
            units = Map.copyOf(units);
        }
    }

    private final Order order;
    private final Crew crew;
    private final StudyListener listener;
    private final Consumer<RunTable> begun;
    private final String goal;
    /** Runs before the first with results: the columns are not known yet. */
    private final List<Row> early = new ArrayList<>();
    private volatile RunTable table;

    private record Row(Map<String, Double> point, List<Column> results, double[] values, String note) {}

    private TableStudy(Order order, Crew crew, String goal, StudyListener listener, Consumer<RunTable> begun) {
        this.order = order;
        this.crew = crew;
        this.goal = goal;
        this.listener = listener;
        this.begun = begun;
    }

    /**
     * Runs all points.
     *
     * @param goal label of the result that guides the source, such as {@code drive.position maximum}; empty where it needs none
     * @param begun gets the table as soon as its columns are known; it grows until this returns
     * @throws FindingException when the rig cannot be run at all, no run had a result, or there is no such goal
     */
    public static RunTable run(Order order, PointSource source, String goal, Crew crew, StudyListener listener, Consumer<RunTable> begun) {
        var study = new TableStudy(order, crew, goal, listener, begun);
        if (order.trial().isEmpty()) {
            study.each(source, Work.sweep(order.project(), order.rig(), order.endNanos()),
                    Sweep.runs(order.project(), order.rig(), order.endNanos()), Integer.MAX_VALUE, Sweep.Outcome.class, TableStudy::row);
        } else {
            var options = new TrialRunner.Options(order.buildFolder(), Map.of(), false, false);
            boolean isAllModels = order.project().rig(order.rig()).stream().noneMatch(Rig::needsBench);
            study.each(source, Work.trial(order.project(), order.trial(), order.rig(), Map.of()),
                    TrialStudy.runs(order.project(), order.trial(), order.rig(), options), isAllModels ? Integer.MAX_VALUE : 1,
                    TrialStudy.Outcome.class, o -> row(order.trial(), o));
        }
        if (study.table == null) {
            throw FindingException.of(Place.rig(order.rig()), "No run had a result."
                    + study.early.stream().map(r -> " " + r.note()).findFirst().orElse(""), "Choose other values.");
        }
        return study.table;
    }

    private <T extends Serializable> void each(PointSource source, Work work, PointRun<T> here, int mostHere, Class<T> type,
            Function<T, Row> rows) {
        double[] goals = {};
        int done = 0;
        for (var points = source.next(goals); !points.isEmpty() && !listener.cancelled(); points = source.next(goals)) {
            int before = done;
            List<Row> batch = new ArrayList<>();
            crew.each(work, here, mostHere, points, new Later(before, source.all()), type, o -> {
                Row r = rows.apply(o);
                batch.add(r);
                add(r);
            });
            if (batch.size() < points.size()) {
                return;
            }
            done += points.size();
            goals = goals(batch);
        }
    }

    private double[] goals(List<Row> batch) {
        if (goal.isEmpty() || table == null) {
            double[] none = new double[batch.size()];
            Arrays.fill(none, Double.NaN);
            return none;
        }
        int column = table.find(goal).orElseThrow(this::noGoal);
        int first = table.size() - batch.size();
        double[] goals = new double[batch.size()];
        for (int i = 0; i < goals.length; i++) {
            goals[i] = table.value(first + i, column);
        }
        return goals;
    }

    private FindingException noGoal() {
        var labels = table.indices(false).stream().map(i -> table.columns().get(i).label()).toList();
        return FindingException.of("goal", "There is no result '" + goal + "'.", "Results are: " + String.join(", ", labels) + ".");
    }

    private void add(Row r) {
        if (table != null) {
            table.add(values(r), r.note());
            return;
        }
        early.add(r);
        if (!r.results().isEmpty()) {
            List<Column> columns = new ArrayList<>(r.point().keySet().stream()
                    .map(n -> new Column(n, "", order.units().getOrDefault(n, ""), true)).toList());
            columns.addAll(r.results());
            table = new RunTable(columns);
            early.forEach(e -> table.add(values(e), e.note()));
            begun.accept(table);
        }
    }

    private double[] values(Row r) {
        double[] values = new double[table.columns().size()];
        Arrays.fill(values, Double.NaN);
        int at = 0;
        for (double v : r.point().values()) {
            values[at++] = v;
        }
        // A run that failed on its way has no results, or those of other signals than the first.
        for (int i = 0; i < r.values().length; i++) {
            int to = table.columns().indexOf(r.results().get(i));
            if (to >= 0) {
                values[to] = r.values()[i];
            }
        }
        return values;
    }

    private static String note(List<Finding> findings) {
        return findings.isEmpty() ? "" : findings.getFirst().toString();
    }

    private static Row row(Sweep.Outcome o) {
        return new Row(o.point(), Sweep.columns(o.courses()), Sweep.values(o.courses()), note(o.findings()));
    }

    private static Row row(String trial, TrialStudy.Outcome o) {
        List<Column> columns = new ArrayList<>(List.of(new Column(trial, "passed", "", false), new Column(trial, "failures", "", false)));
        columns.addAll(Sweep.columns(o.courses()));
        double[] courses = Sweep.values(o.courses());
        double[] values = new double[columns.size()];
        values[0] = o.isPassed() ? 1 : 0;
        values[1] = o.failures().size();
        System.arraycopy(courses, 0, values, 2, courses.length);
        return new Row(o.point(), columns, values, o.failures().isEmpty() ? "" : o.failures().getFirst());
    }

    /** Counts on from the batches before. */
    private final class Later implements StudyListener {
        private final int before;
        private final int all;

        Later(int before, int all) {
            this.before = before;
            this.all = all;
        }

        @Override
        public void done(int runs, int ofBatch) {
            listener.done(before + runs, all);
        }

        @Override
        public boolean cancelled() {
            return listener.cancelled();
        }

        @Override
        public void note(String sentence) {
            listener.note(sentence);
        }
    }
}
