package boldanvil.app.cli;

import boldanvil.core.diagram.Project;
import boldanvil.core.edit.VariableValues;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.files.ProjectWriter;
import boldanvil.core.finding.FindingException;
import boldanvil.core.identify.BlackBox;
import boldanvil.core.identify.Estimate;
import boldanvil.core.identify.GreyBox;
import boldanvil.core.identify.MeasuredResponse;
import boldanvil.core.identify.Record;
import boldanvil.core.identify.TakenOver;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.StateSpace;
import boldanvil.core.linear.Zeros;
import boldanvil.core.quantity.Rescaled;
import boldanvil.core.quantity.Variables;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.samples.Samples;
import boldanvil.core.simulate.Intervention;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import org.hipparchus.complex.Complex;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Models and values from recorded runs. */
@Command(name = "identify", mixinStandardHelpOptions = true, description = "Finds a model from a recorded run: a difference equation, a "
        + "process with delay, states, a frequency response; or values of variables for which the project itself comes nearest to the run. "
        + "Exit 1 when the fit is below what is demanded.")
final class IdentifyCommand implements Callable<Integer> {
    private static final Map<String, BlackBox> MODELS = Map.of("first", BlackBox.FIRST, "second", BlackBox.SECOND, "oe",
            BlackBox.OUTPUT_ERROR, "arx", BlackBox.EQUATION_ERROR, "states", BlackBox.STATES);

    @Parameters(paramLabel = "RUN", description = "A run's folder, or a file of samples: CSV or HDF5.")
    private Path run;

    @Option(names = "--in", paramLabel = "TAP", description = "The input; with --free several taps whose records drive the project.")
    private List<String> inputs = new ArrayList<>();

    @Option(names = "--out", required = true, paramLabel = "TAP", description = "The output; with --free several.")
    private List<String> outputs = new ArrayList<>();

    @Option(names = "--model", paramLabel = "MODEL", defaultValue = "oe:2,2,1",
            description = "arx:NA,NB,DELAY, oe:POLES,NB,DELAY, first, second "
            + "(with delay), states:ORDER (0 chooses it), response:STRETCHES. Default ${DEFAULT-VALUE}.")
    private String model;

    @Option(names = "--project", description = "The project, for --free.")
    private Path project;

    @Option(names = "--rig", description = "The rig whose values hold; default: the first one.")
    private String rig;

    @Option(names = "--free", paramLabel = "VARIABLE=LOW:HIGH", description = "A variable that is found within limits; may be repeated.")
    private List<String> free = new ArrayList<>();

    @Option(names = "--set", paramLabel = "PART.TUNABLE=VALUE@TIME",
            description = "A change during the run, where the run does not know it.")
    private List<String> sets = new ArrayList<>();

    @Option(names = "--from", paramLabel = "TIME", description = "First instant that counts.")
    private String from;

    @Option(names = "--to", paramLabel = "TIME", description = "Last instant that counts.")
    private String to;

    @Option(names = "--every", paramLabel = "TIME", description = "Sample time of the model; default: that of the input.")
    private String every;

    @Option(names = "--remove", paramLabel = "WHAT", defaultValue = "offset",
            description = "offset, drift or nothing. Default ${DEFAULT-VALUE}.")
    private String remove;

    @Option(names = "--least-fit", paramLabel = "SHARE", description = "Least fit that is demanded, such as 0.9.")
    private Double leastFit;

    @Option(names = "--check", paramLabel = "RUN", description = "A second run on which the fit is computed too.")
    private Path check;

    @Option(names = "--write", description = "Write the values into the project's variables, with the run and the bound as their note.")
    private boolean write;

    @Mixin
    private JsonOption json;

    @Spec
    private CommandSpec spec;

    /** What was found, for both kinds of output. */
    private record Result(Estimate estimate, StateSpace system, double fit, Map<String, Object> more) {}

    @Override
    public Integer call() throws Exception {
        try (Samples samples = RecordedRun.open(run)) {
            Result r = free.isEmpty() ? blackBox(samples) : greyBox(samples);
            if (json.isJson()) {
                json.print(values(r));
            } else {
                print(r);
            }
            return leastFit != null && !(r.fit() >= leastFit) ? 1 : 0;
        } catch (NoSolutionException e) {
            throw FindingException.of(run.toString(), e.getMessage(), e.cure());
        }
    }

    private double begin(Samples samples) {
        return from == null ? samples.begin() : Texts.number("--from", from, Map.of(), "s");
    }

    private double end(Samples samples) {
        return to == null ? samples.end() : Texts.number("--to", to, Map.of(), "s");
    }

    private Record record(Samples samples) {
        if (inputs.size() != 1 || outputs.size() != 1) {
            throw FindingException.of("--in", "A model has one input and one output.", "Name one tap with --in and one with --out.");
        }
        Record r = every == null ? Record.of(samples, inputs.getFirst(), outputs.getFirst(), begin(samples), end(samples))
                : Record.of(samples, inputs.getFirst(), outputs.getFirst(), begin(samples), end(samples),
                        Texts.number("--every", every, Map.of(), "s"));
        return switch (remove) {
            case "offset" -> r.withoutOffset();
            case "drift" -> r.withoutDrift();
            case "nothing" -> r;
            default -> throw FindingException.of("--remove", "'" + remove + "' cannot be removed.", "Write offset, drift or nothing.");
        };
    }

    private Result blackBox(Samples samples) {
        String kind = model.contains(":") ? model.substring(0, model.indexOf(':')) : model;
        int[] numbers = numbers(kind);
        Record r = record(samples);
        if (kind.equals("response")) {
            var m = MeasuredResponse.of(r, numbers[0]);
            Map<String, Object> rows = new LinkedHashMap<>();
            rows.put("omega", m.omega());
            rows.put("decibels", Arrays.stream(m.response()).mapToDouble(c -> 20 * Math.log10(c.norm())).toArray());
            rows.put("degrees", Arrays.stream(m.response()).mapToDouble(c -> Math.toDegrees(c.getArgument())).toArray());
            rows.put("coherence", m.coherence());
            return new Result(null, null, Double.NaN, rows);
        }
        var found = MODELS.get(kind).of(r, numbers);
        Map<String, Object> more = new LinkedHashMap<>();
        if (found.delay() > 0) {
            more.put("delay", found.delay());
        }
        if (found.singular().length > 0) {
            more.put("singular", found.singular());
        }
        return new Result(found.estimate().orElse(null), found.system(), found.fit(), more);
    }

    private FindingException unknown() {
        return FindingException.of("--model", "'" + model + "' is not a model.",
                "Write arx:2,2,1, oe:2,2,1, first, second, states:2 or response:8.");
    }

    private int[] numbers(String kind) {
        boolean response = kind.equals("response");
        if (!response && !MODELS.containsKey(kind)) {
            throw unknown();
        }
        int wanted = response ? 1 : MODELS.get(kind).defaults().length;
        String text = model.contains(":") ? model.substring(model.indexOf(':') + 1) : "";
        try {
            int[] all = text.isEmpty() ? new int[0] : Arrays.stream(text.split(",")).mapToInt(s -> Integer.parseInt(s.strip())).toArray();
            boolean fits = all.length == wanted && Arrays.stream(all).allMatch(v -> v >= 0 && v <= 60);
            if (!fits || wanted == 3 && (all[0] < 1 || all[1] < 1)) {
                throw unknown();
            }
            return all;
        } catch (NumberFormatException e) {
            throw unknown();
        }
    }

    private Result greyBox(Samples samples) throws Exception {
        if (project == null) {
            throw FindingException.of("--project", "Free variables need a project.", "Name the project's folder with --project.");
        }
        Project read = ProjectReader.read(project);
        Project as = read.as(Texts.rig(read, rig));
        var variables = Variables.resolve(read.variableTexts()).values();
        List<GreyBox.Free> all = new ArrayList<>();
        for (String f : free) {
            var limits = Texts.limits("--free", f, variables);
            all.add(new GreyBox.Free(limits.variable(), limits.low(), limits.high()));
        }
        var estimate = GreyBox.fit(as, all, recorded(samples, run, read));
        Map<String, Object> more = new LinkedHashMap<>();
        Project with = VariableValues.with(as, TakenOver.values(estimate), Rescaled.EXACT);
        more.put("fits", fits(with, recorded(samples, run, read)));
        if (check != null) {
            try (Samples second = RecordedRun.open(check)) {
                more.put("checked", fits(with, recorded(second, check, read)));
            }
        }
        if (write) {
            ProjectWriter.write(TakenOver.in(read, estimate, run.toAbsolutePath().normalize().getFileName().toString()), project);
        }
        return new Result(estimate, null, estimate.fit(), more);
    }

    private static Map<String, Double> fits(Project with, GreyBox.Recorded recorded) {
        Map<String, Double> all = new LinkedHashMap<>();
        GreyBox.predictions(with, recorded).forEach(p -> all.put(p.tap(), p.fit()));
        return all;
    }

    private GreyBox.Recorded recorded(Samples samples, Path folder, Project read) {
        List<Intervention> changes = new ArrayList<>();
        if (Files.exists(folder.resolve("run.json"))) {
            Path place = folder.toAbsolutePath().normalize();
            new RunShelf(place.getParent()).list().stream().filter(e -> e.folder().equals(place)).findFirst()
                    .ifPresent(e -> changes.addAll(e.note().interventions()));
        }
        sets.forEach(s -> changes.add(Intervention.set(Texts.change(s, read))));
        return new GreyBox.Recorded(samples, inputs, outputs, begin(samples), end(samples), changes);
    }

    private void print(Result r) {
        var out = spec.commandLine().getOut();
        if (r.estimate() != null) {
            out.printf("%-16s %14s %14s%n", "value", "found", "± 95 %");
            r.estimate().values().forEach(v -> out.printf(Locale.ROOT, "%-16s %14.6g %14.3g%n", v.name(), v.value(), v.bound()));
            out.printf(Locale.ROOT, "%nfit %.2f %%, residuals %s (p = %.3g)%n", r.fit() * 100, r.estimate().white().isWhite() ? "white"
                    : "not white",
                    r.estimate().white().probability());
            r.estimate().warnings().forEach(out::println);
        } else if (Double.isFinite(r.fit())) {
            out.printf(Locale.ROOT, "fit %.2f %%%n", r.fit() * 100);
        }
        if (r.system() != null) {
            out.println("poles " + texts(r.system().poles()));
            Zeros z = Zeros.of(r.system());
            out.println("zeros " + texts(z.zeros()));
            out.printf(Locale.ROOT, "gain at rest %.6g%n", r.system().gainAtRest());
        }
        if (r.more().get("omega") instanceof double[] omega) {
            out.printf("%12s %10s %10s %10s%n", "rad/s", "dB", "°", "coherence");
            double[] db = (double[]) r.more().get("decibels");
            double[] degrees = (double[]) r.more().get("degrees");
            double[] coherence = (double[]) r.more().get("coherence");
            for (int i = 0; i < omega.length; i++) {
                out.printf(Locale.ROOT, "%12.5g %10.3f %10.2f %10.4f%n", omega[i], db[i], degrees[i], coherence[i]);
            }
        }
        for (String name : List.of("fits", "checked")) {
            if (r.more().get(name) instanceof Map<?, ?> fits) {
                fits.forEach((tap, v) -> out.printf(Locale.ROOT, "%s %s: %.2f %%%n", name.equals("fits") ? "fit of"
                        : "on the second run, fit of", tap,
                        (Double) v * 100));
            }
        }
    }

    private static String texts(Complex[] all) {
        return all.length == 0 ? "none" : String.join("  ", Arrays.stream(all).map(c -> c.getImaginaryPart() == 0
                ? String.format(Locale.ROOT, "%.6g", c.getRealPart()) : String.format(Locale.ROOT, "%.6g%+.6gj", c.getRealPart(),
                c.getImaginaryPart())).toList());
    }

    private static Map<String, Object> values(Result r) {
        Map<String, Object> all = new LinkedHashMap<>();
        if (r.estimate() != null) {
            all.put("values", r.estimate().values().stream().map(v -> Map.of("name", v.name(), "value", v.value(), "bound", v.bound()))
                    .toList());
            all.put("correlation", r.estimate().correlation());
            all.put("white", r.estimate().white().isWhite());
            all.put("whiteProbability", r.estimate().white().probability());
            all.put("warnings", r.estimate().warnings());
        }
        all.put("fit", Double.isFinite(r.fit()) ? r.fit() : null);
        if (r.system() != null) {
            all.put("period", r.system().period());
            all.put("poles", Arrays.stream(r.system().poles()).map(p -> List.of(p.getRealPart(), p.getImaginaryPart())).toList());
        }
        all.putAll(r.more());
        return all;
    }
}
