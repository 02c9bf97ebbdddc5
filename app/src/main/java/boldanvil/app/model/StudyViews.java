package boldanvil.app.model;

import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Unit;
import boldanvil.core.quantity.Units;
import boldanvil.core.study.Criterion;
import boldanvil.core.study.Proportion;
import boldanvil.core.study.RunTable;
import boldanvil.core.study.Sensitivity;
import boldanvil.core.study.Way;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalDouble;

/** What the pictures of many runs show. */
public final class StudyViews {
    /** Lines of a grid that have a name of their own. */
    private static final int MOST_LINES = 6;

    private StudyViews() {}

    /** A way to look at many runs. */
    public enum View {
        CURVES("Curves"), SCATTER("Scatter"), HISTOGRAM("Histogram"), PARALLEL("Parallel axes"), PASS_MAP("Pass map"),
        SENSITIVITY("Sensitivity");

        private final String label;

        View(String label) {
            this.label = label;
        }

        public String label() {
            return label;
        }
    }

    /** The view that suits points that were chosen in a way. */
    public static View usual(Way way) {
        return switch (way) {
            case GRID -> View.CURVES;
            case SENSITIVITY -> View.SENSITIVITY;
            default -> View.SCATTER;
        };
    }

    /** Points of one colour; joined where they follow each other on a grid. */
    public record Line(String name, double[] x, double[] y, boolean joined) {}

    /** A value in the unit people read it in. */
    public static double shown(RunTable table, int column, double si) {
        return Units.fromSi(table.columns().get(column).unit(), si);
    }

    /** All values of a column in the unit people read them in. */
    public static double[] shown(RunTable table, int column) {
        Unit unit = Units.orOne(table.columns().get(column).unit());
        return Arrays.stream(table.values(column)).map(unit::fromSi).toArray();
    }

    /**
     * One result over the first value that varies, a line for each combination of the others.
     *
     * @param grid whether the points are all combinations; else they are one cloud
     */
    public static List<Line> lines(RunTable table, boolean grid, int result) {
        List<Integer> varied = table.indices(true);
        double[] x = shown(table, varied.getFirst());
        double[] y = shown(table, result);
        Map<String, List<Integer>> groups = new LinkedHashMap<>();
        for (int run = 0; run < Math.min(x.length, y.length); run++) {
            var key = new StringBuilder();
            for (int i = 1; i < varied.size() && grid; i++) {
                var column = table.columns().get(varied.get(i));
                key.append(i == 1 ? "" : ", ").append(Figures.shortName(column.name())).append(" = ")
                        .append(figure(table.value(run, varied.get(i)), column.unit()));
            }
            groups.computeIfAbsent(key.toString(), _ -> new ArrayList<>()).add(run);
        }
        List<Line> lines = new ArrayList<>();
        groups.forEach((name, runs) -> lines.add(new Line(groups.size() > MOST_LINES ? "" : name,
                runs.stream().mapToDouble(r -> x[r]).toArray(), runs.stream().mapToDouble(r -> y[r]).toArray(), grid)));
        return lines;
    }

    /** The value a text states for a column, SI; a bare number is in the unit of the column. */
    public static OptionalDouble limit(String text, RunTable.Column column) {
        try {
            return OptionalDouble.of(Formula.evaluate(text, Map.of(), column.unit()));
        } catch (FormulaException e) {
            return OptionalDouble.empty();
        }
    }

    /** What the runs show about a result, in a sentence. */
    public static String verdict(RunTable table, Way way, int result, Criterion criterion) {
        double[] values = table.values(result);
        int n = values.length;
        String unit = table.columns().get(result).unit();
        if (n == 0) {
            return "";
        }
        var text = new StringBuilder();
        if (criterion != null) {
            int good = 0;
            for (boolean b : criterion.of(table)) {
                good += b ? 1 : 0;
            }
            text.append(String.format(Locale.ROOT, "%,d of %,d runs keep the limit (%.2f %%).", good, n, 100.0 * good / n));
            if (way.isDrawn()) {
                var p = Proportion.of(good, n);
                text.append(String.format(Locale.ROOT, " Of all values in these ranges: %.2f to %.2f %%, confidence 95 %%.", 100 * p.low(),
                        100 * p.high()));
            }
            text.append(' ');
        }
        int least = -1;
        int greatest = -1;
        for (int i = 0; i < n; i++) {
            if (Double.isFinite(values[i])) {
                least = least < 0 || values[i] < values[least] ? i : least;
                greatest = greatest < 0 || values[i] > values[greatest] ? i : greatest;
            }
        }
        if (least >= 0) {
            text.append("Least ").append(figure(values[least], unit)).append(" in run ").append(least + 1).append(", greatest ")
                    .append(figure(values[greatest], unit)).append(" in run ").append(greatest + 1).append('.');
        }
        return text.toString();
    }

    private static String figure(double si, String unit) {
        return Figures.text(Units.fromSi(unit, si)) + (unit.isEmpty() ? "" : " " + unit);
    }

    /** How much each value contributes; empty where the points do not say. */
    public static List<Sensitivity.Index> indices(RunTable table, Way way, int result) {
        return way != Way.SENSITIVITY ? List.of() : Sensitivity.of(table.indices(true).stream().map(i -> table.columns().get(i).name())
                .toList(), table.values(result));
    }
}
