package boldanvil.app.cli;

import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Units;
import boldanvil.core.runs.RunNote;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.transfer.RunImport;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.regex.Pattern;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Puts a recording of another tool among the runs of a project. */
@Command(name = "import", mixinStandardHelpOptions = true,
        description = "Imports a recording of another tool, CSV or HDF5, as a run of a project. "
        + "Without --map it lists the columns.")
final class ImportCommand implements Callable<Integer> {
    private static final Pattern MAP = Pattern.compile("(.+)=([^\\[*]+)(?:\\[([^]]*)])?(?:\\*(.+))?");

    @Parameters(index = "0", paramLabel = "FILE", description = "The recording.")
    private Path file;

    @Parameters(index = "1", paramLabel = "PROJECT", description = "The project's folder.")
    private Path project;

    @Option(names = "--time", paramLabel = "COLUMN[*FACTOR]", description =
            "The time column, and the seconds that one of its units stands for. Default: the column that looks like time.")
    private String time;

    @Option(names = "--step", paramLabel = "TIME", description = "Time between two rows, if there is no time column.")
    private String step;

    @Option(names = "--map", paramLabel = "COLUMN=TAP[UNIT]*FACTOR", description =
            "A column to import, its tap name, its unit and, if needed, its factor to SI; may be repeated.")
    private List<String> maps = new ArrayList<>();

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        var contents = RunImport.look(file);
        var out = spec.commandLine().getOut();
        if (maps.isEmpty()) {
            contents.columns().forEach(c -> out.println(c + (contents.time() >= 0 && contents.columns().get(contents.time()).equals(c)
                    ? "   (the time)" : "")));
            return 0;
        }
        List<RunImport.Mapping> mappings = maps.stream().map(ImportCommand::mapping).toList();
        String column = step != null ? "" : time != null ? time.replaceAll("\\*[^*]*$", "") : contents.time() < 0 ? ""
                : contents.columns().get(contents.time());
        double factor = time != null && time.contains("*") ? Texts.number("--time", time.substring(time.lastIndexOf('*') + 1), Map.of(),
                "") : 1;
        var samples = RunImport.read(file, new RunImport.Plan(column, factor, step == null ? 0
                : Texts.number("--step", step, Map.of(), "s"), mappings));
        var note = RunNote.beginning("imported", Instant.now().toString(), 0, Map.of(), Map.of()).named(String.valueOf(file.getFileName()))
                .ended(samples.end(), List.of(), List.of());
        var entry = new RunShelf(project.resolve("runs")).save(note, samples, Map.of());
        out.println("Imported as " + entry.id() + ".");
        return 0;
    }

    private static RunImport.Mapping mapping(String text) {
        var m = MAP.matcher(text);
        if (!m.matches()) {
            throw FindingException.of("--map " + text, "It is not of the form COLUMN=TAP[UNIT]*FACTOR.",
                    "Write, for example, 'speed=drive.speed[rpm]'.");
        }
        String unit = m.group(3) == null ? "" : m.group(3);
        return new RunImport.Mapping(m.group(1), m.group(2).strip(), unit, m.group(4) == null ? Units.orOne(unit).factor()
                : Texts.number("--map", m.group(4), Map.of(), ""));
    }
}
