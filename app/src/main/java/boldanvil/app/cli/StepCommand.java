package boldanvil.app.cli;

import boldanvil.core.bench.StepCheck;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.quantity.Units;
import java.nio.file.Path;
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
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import tools.jackson.databind.json.JsonMapper;

/** Checks the step of continuous parts. */
@Command(name = "step", mixinStandardHelpOptions = true, description = "Runs a rig as models with its steps and with half of them, and "
        + "prints the deviation of each tap, what a step costs, and which step this machine keeps. Exit 1 when a tap deviates more than "
        + "allowed.")
final class StepCommand implements Callable<Integer> {
    @Parameters(paramLabel = "PROJECT", description = "The project's folder.")
    private Path project;

    @Option(names = "--rig", required = true, description = "The rig.")
    private String rig;

    @Option(names = "--for", required = true, paramLabel = "TIME", description = "Simulated time of each run, such as 20ms.")
    private String duration;

    @Option(names = "--set", paramLabel = "PART.TUNABLE=VALUE@TIME", description = "Changes a tunable at a time; may be repeated.")
    private List<String> sets = new ArrayList<>();

    @Option(names = "--within", paramLabel = "SHARE", defaultValue = "0.01",
            description = "Largest root mean square deviation allowed, as a share of the range of the tap. Default ${DEFAULT-VALUE}.")
    private double within;

    @Mixin
    private JsonOption json;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() throws Exception {
        var read = ProjectReader.read(project);
        Rig chosen = Texts.rig(read, rig);
        var changes = sets.stream().map(s -> Texts.change(s, read)).toList();
        var check = StepCheck.of(read, chosen, Texts.nanos("--for", duration) / 1e9, changes);
        if (json.isJson()) {
            spec.commandLine().getOut().println(json(check));
        } else {
            print(check);
        }
        return check.taps().stream().allMatch(t -> t.share() <= within) ? 0 : 1;
    }

    private void print(StepCheck check) {
        var out = spec.commandLine().getOut();
        out.printf("%-24s %10s %12s %10s %10s %10s %10s %12s%n", "part", "step µs", "operations", "RAM byte", "table byte", "mean µs",
                "longest µs", "keeps µs");
        check.costs().forEach((part, c) -> out.printf(Locale.ROOT, "%-24s %10.4g %12.4g %10d %10d %10.3g %10.3g %12.3g%n", part,
                c.counted().stepSeconds() * 1e6, c.counted().operations(), c.counted().stateBytes(), c.counted().tableBytes(),
                c.mean() * 1e6, c.longest() * 1e6, c.shortest() * 1e6));
        out.printf("%n%-44s %8s %14s %10s %14s %10s%n", "tap, step against half of it", "unit", "largest", "at s", "RMS", "of range");
        for (var t : check.taps()) {
            var unit = Units.orOne(t.unit());
            out.printf(Locale.ROOT, "%-44s %8s %14.4g %10.4f %14.4g %9.4f%%%n", t.tap(), t.unit(), unit.differenceFromSi(t.largest()),
                    t.seconds(), unit.differenceFromSi(t.rms()), t.share() * 100);
        }
        var worst = check.worst();
        if (worst != null) {
            out.printf(Locale.ROOT, "%s deviates most, by %.4f %% of its range; allowed are %.4f %%.%n", worst.tap(), worst.share() * 100,
                    within * 100);
        }
    }

    private static String json(StepCheck check) {
        Map<String, Object> result = new LinkedHashMap<>();
        result.put("parts", check.costs().entrySet().stream().map(e -> {
            var c = e.getValue();
            Map<String, Object> row = new LinkedHashMap<>();
            row.put("part", e.getKey());
            row.put("step", c.counted().stepSeconds());
            row.put("operations", c.counted().operations());
            row.put("stateBytes", c.counted().stateBytes());
            row.put("tableBytes", c.counted().tableBytes());
            row.put("mean", c.mean());
            row.put("longest", c.longest());
            row.put("shortestStep", c.shortest());
            return row;
        }).toList());
        result.put("taps", check.taps().stream().map(t -> {
            var unit = Units.orOne(t.unit());
            Map<String, Object> row = new LinkedHashMap<>();
            row.put("tap", t.tap());
            row.put("unit", t.unit());
            row.put("largest", Double.isFinite(t.largest()) ? unit.differenceFromSi(t.largest()) : null);
            row.put("at", t.seconds());
            row.put("rms", Double.isFinite(t.rms()) ? unit.differenceFromSi(t.rms()) : null);
            row.put("share", Double.isFinite(t.share()) ? t.share() : null);
            return row;
        }).toList());
        return new JsonMapper().writeValueAsString(result);
    }
}
