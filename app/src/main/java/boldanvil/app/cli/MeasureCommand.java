package boldanvil.app.cli;

import boldanvil.core.measure.Measurement;
import boldanvil.core.measure.Spectrum;
import boldanvil.core.measure.StepMetrics;
import boldanvil.core.quantity.Units;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** Measures signals of a recorded run. */
@Command(name = "measure", mixinStandardHelpOptions = true,
        description = "Measures signals of a recorded run: mean, RMS, minimum, maximum, frequency, duty cycle, "
        + "distortion; with --steps how a signal follows a set-point.")
final class MeasureCommand implements Callable<Integer> {
    @Mixin
    private RecordedRun run;

    @Option(names = "--steps", paramLabel = "DEMAND=RESPONSE", description = "Measures the response of one tap to each step of another.")
    private String steps;

    @Mixin
    private JsonOption json;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        try (Samples samples = run.open()) {
            double a = run.begin(samples);
            double b = run.end(samples);
            return steps == null ? signals(samples, a, b) : steps(samples, a, b);
        }
    }

    private int signals(Samples samples, double a, double b) {
        List<Map<String, Object>> rows = new ArrayList<>();
        for (String name : run.taps(samples)) {
            Series s = samples.series(samples.indexOf(name), a, b);
            var m = Measurement.of(s).in(Units.orOne(s.unit()));
            Map<String, Object> row = new LinkedHashMap<>();
            row.put("tap", name);
            row.put("unit", s.unit());
            put(row, "mean", m.mean());
            put(row, "rms", m.rms());
            put(row, "rippleRms", m.rippleRms());
            put(row, "minimum", m.least());
            put(row, "maximum", m.greatest());
            put(row, "frequency", m.frequency());
            put(row, "duty", m.duty());
            put(row, "distortion", m.frequency() * m.seconds() > 2 ? Spectrum.distortion(s, m.frequency(), 40) : Double.NaN);
            rows.add(row);
        }
        print(rows);
        return 0;
    }

    private int steps(Samples samples, double a, double b) {
        String[] both = steps.split("=", 2);
        var names = RecordedRun.named(samples, List.of(both));
        Series demand = samples.series(samples.indexOf(names.getFirst()), a, b);
        Series response = samples.series(samples.indexOf(names.getLast()), a, b);
        List<Map<String, Object>> rows = new ArrayList<>();
        for (var m : StepMetrics.all(demand, response, StepMetrics.BAND)) {
            Map<String, Object> row = new LinkedHashMap<>();
            put(row, "at", m.start());
            var unit = Units.orOne(response.unit());
            row.put("unit", response.unit());
            put(row, "from", unit.fromSi(m.from()));
            put(row, "to", unit.fromSi(m.to()));
            put(row, "riseTime", m.riseTime());
            put(row, "settlingTime", m.settlingTime());
            put(row, "overshoot", m.overshootShare());
            put(row, "peak", unit.fromSi(m.peak()));
            put(row, "finalError", unit.differenceFromSi(m.finalError()));
            rows.add(row);
        }
        print(rows);
        return 0;
    }

    private static void put(Map<String, Object> row, String key, double v) {
        row.put(key, Double.isFinite(v) ? v : null);
    }

    private void print(List<Map<String, Object>> rows) {
        var out = spec.commandLine().getOut();
        if (json.isJson()) {
            json.print(rows);
            return;
        }
        if (rows.isEmpty()) {
            out.println("No signal can be measured.");
            return;
        }
        rows.getFirst().keySet().forEach(k -> out.printf(k.equals("tap") ? "%-40s" : k.equals("unit") ? "%-8s" : "%14s", k));
        out.println();
        for (var row : rows) {
            row.forEach((k, v) -> {
                if (v instanceof Double d) {
                    out.printf(Locale.ROOT, "%14.6g", d);
                } else {
                    out.printf(k.equals("tap") ? "%-40s" : k.equals("unit") ? "%-8s" : "%14s", v == null ? "–" : v);
                }
            });
            out.println();
        }
    }
}
