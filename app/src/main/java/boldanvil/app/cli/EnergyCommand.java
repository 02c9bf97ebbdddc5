package boldanvil.app.cli;

import boldanvil.core.bench.EnergyBalance;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.FindingException;
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

/** Says where the energy of physical networks goes. */
@Command(name = "energy", mixinStandardHelpOptions = true,
        description = "Runs a rig as models and prints what each element of its networks "
        + "takes in: losses, stored energy and, below zero, supply. Exit 1 when the balance is off by more than allowed.")
final class EnergyCommand implements Callable<Integer> {
    @Parameters(paramLabel = "PROJECT", description = "The project's folder.")
    private Path project;

    @Option(names = "--rig", required = true, description = "The rig.")
    private String rig;

    @Option(names = "--from", paramLabel = "TIME", defaultValue = "0s", description =
            "Instant from which energy counts. Default: the start.")
    private String from;

    @Option(names = "--to", required = true, paramLabel = "TIME", description = "End of the run, such as 200ms.")
    private String to;

    @Option(names = "--set", paramLabel = "PART.TUNABLE=VALUE@TIME", description = "Changes a tunable at a time; may be repeated.")
    private List<String> sets = new ArrayList<>();

    @Option(names = "--within", paramLabel = "SHARE", defaultValue = "0.001",
            description = "Largest error of the balance, as a share of what is supplied. Default ${DEFAULT-VALUE}.")
    private double within;

    @Mixin
    private JsonOption json;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() throws Exception {
        var read = ProjectReader.read(project);
        Rig chosen = Texts.rig(read, rig);
        double begin = Texts.nanos("--from", from) / 1e9;
        double end = Texts.nanos("--to", to) / 1e9;
        if (end <= begin) {
            throw FindingException.of("--to " + to, "The end is not after the beginning.", "Choose a later one.");
        }
        var balance = EnergyBalance.of(read, chosen, begin, end, sets.stream().map(s -> Texts.change(s, read)).toList());
        if (json.isJson()) {
            json(balance);
        } else {
            print(balance);
        }
        return balance.error() <= within ? 0 : 1;
    }

    private void print(EnergyBalance b) {
        var out = spec.commandLine().getOut();
        out.printf("%-44s %14s %14s %12s%n", "element", "energy J", "mean power W", "of supplied");
        for (var r : b.active()) {
            out.printf(Locale.ROOT, "%-44s %14.6g %14.6g %11.3f%%%n", r.path(), r.joules(), r.watts(), b.share(r) * 100);
        }
        out.printf(Locale.ROOT, "Supplied: %.6g J. The balance is off by %.2g %% of that.%n", b.supplied(), b.error() * 100);
    }

    private void json(EnergyBalance b) {
        Map<String, Object> result = new LinkedHashMap<>();
        result.put("from", b.from());
        result.put("to", b.to());
        result.put("supplied", b.supplied());
        result.put("error", b.error());
        result.put("elements", b.rows().stream().map(r -> {
            Map<String, Object> row = new LinkedHashMap<>();
            row.put("element", r.path());
            row.put("joules", r.joules());
            row.put("watts", r.watts());
            row.put("share", b.share(r));
            return row;
        }).toList());
        spec.commandLine().getOut().println(new JsonMapper().writeValueAsString(result));
    }
}
