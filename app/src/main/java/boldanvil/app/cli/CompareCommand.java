package boldanvil.app.cli;

import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Units;
import boldanvil.core.runs.Comparison;
import boldanvil.core.samples.Samples;
import boldanvil.core.transfer.RunImport;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import tools.jackson.databind.json.JsonMapper;

/** Compares two recorded runs. */
@Command(name = "compare", mixinStandardHelpOptions = true, description = "Compares two recorded runs tap by tap. Exit 1 when a "
        + "deviation exceeds its tolerance or a tap is missing.")
final class CompareCommand implements Callable<Integer> {
    @Parameters(index = "0", paramLabel = "A", description = "The first run: CSV or HDF5.")
    private Path first;

    @Parameters(index = "1", paramLabel = "B", description = "The second run: CSV or HDF5.")
    private Path second;

    @Option(names = "--tolerance", paramLabel = "[TAP=]VALUE", description = "Largest deviation allowed, for one tap or for "
            + "all; may be repeated. Default 0.")
    private List<String> tolerances = new ArrayList<>();

    @Mixin
    private JsonOption json;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        Map<String, Quantity> given = new HashMap<>();
        for (String t : tolerances) {
            int equals = t.lastIndexOf('=');
            given.put(equals < 0 ? "*" : t.substring(0, equals).strip(), Texts.quantity("--tolerance", t.substring(equals + 1)));
        }
        var a = RunImport.open(first);
        given.keySet().stream().filter(k -> !k.equals("*") && a.indexOf(k) < 0).findFirst().ifPresent(k -> {
            throw FindingException.of("--tolerance", "The first run has no tap '" + k + "'.", "Name one of its taps.");
        });
        var comparison = Comparison.of(a, RunImport.open(second), limits(a, given));
        if (json.isJson()) {
            spec.commandLine().getOut().println(json(comparison));
        } else {
            print(comparison);
        }
        return comparison.passes() ? 0 : 1;
    }

    /** Tolerances in SI by tap; a bare number is in the unit of its tap. */
    private static Map<String, Double> limits(Samples run, Map<String, Quantity> given) {
        Map<String, Double> limits = new HashMap<>();
        for (var c : run.columns()) {
            Quantity q = given.getOrDefault(c.name(), given.get("*"));
            if (q != null) {
                var unit = Units.orOne(c.unit());
                boolean own = given.containsKey(c.name());
                if (own && !q.isBare() && Units.isUnit(c.unit()) && !c.unit().isEmpty() && !q.dimension().fits(unit.dimension())) {
                    throw FindingException.of("--tolerance " + c.name(), "It is " + q.dimension()
                            .label() + ", but the tap is in " + c.unit() + ".",
                            "Write a value in " + c.unit() + ".");
                }
                limits.put(c.name(), q.isBare() ? q.value() * unit.factor() : q.value());
            }
        }
        return limits;
    }

    private void print(Comparison c) {
        var out = spec.commandLine().getOut();
        out.printf("%-44s %8s %12s %10s %12s %12s  %s%n", "tap", "unit", "largest", "at s", "RMS", "tolerance", "first beyond");
        for (var r : c.rows()) {
            var unit = Units.orOne(r.unit());
            out.printf(Locale.ROOT, "%-44s %8s %12.4g %10.4f %12.4g %12.4g  %s%n", r.name(), r.unit(), unit.differenceFromSi(r.largest()),
                    r.largestAt(),
                    unit.differenceFromSi(r.rms()), unit.differenceFromSi(r.tolerance()), r.beyond().isPresent()
                    ? String.format(Locale.ROOT, "%.4f s", r.beyond().getAsDouble())
                            : r.compared() == 0 ? "no common instant" : r.missing() > 0 ? r.missing() + " samples not in both runs"
                            : "never");
        }
        c.onlyInFirst().forEach(n -> out.println(n + " is missing in the second run."));
        c.onlyInSecond().forEach(n -> out.println(n + " is missing in the first run."));
        boolean none = c.rows().stream().allMatch(r -> r.largest() == 0);
        out.println(!c.passes() ? "The runs deviate." : none ? "No deviation at all." : "All deviations are within tolerance.");
    }

    private static String json(Comparison c) {
        Map<String, Object> result = new LinkedHashMap<>();
        result.put("passes", c.passes());
        result.put("rows", c.rows().stream().map(r -> {
            Map<String, Object> row = new LinkedHashMap<>();
            row.put("tap", r.name());
            row.put("unit", r.unit());
            row.put("compared", r.compared());
            var unit = Units.orOne(r.unit());
            row.put("missing", r.missing());
            row.put("largest", Double.isFinite(r.largest()) ? unit.differenceFromSi(r.largest()) : null);
            row.put("largestAt", r.largestAt());
            row.put("rms", Double.isFinite(r.rms()) ? unit.differenceFromSi(r.rms()) : null);
            row.put("tolerance", unit.differenceFromSi(r.tolerance()));
            row.put("firstBeyond", r.beyond().isPresent() ? r.beyond().getAsDouble() : null);
            return row;
        }).toList());
        result.put("onlyInFirst", c.onlyInFirst());
        result.put("onlyInSecond", c.onlyInSecond());
        return new JsonMapper().writeValueAsString(result);
    }
}
