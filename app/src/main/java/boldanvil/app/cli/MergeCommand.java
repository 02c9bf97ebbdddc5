package boldanvil.app.cli;

import boldanvil.core.files.SafeFile;
import boldanvil.core.study.Shards;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;

/** Puts the shards of a sweep together. */
@Command(name = "merge", mixinStandardHelpOptions = true,
        description = "Puts files of 'sweep --shard' together, each run once, and says which "
        + "run is missing.")
final class MergeCommand implements Callable<Integer> {
    /** Longest file of a shard, in bytes. */
    private static final long MOST_BYTES = 512L << 20;

    @Parameters(paramLabel = "FILE", arity = "1..*", description = "Files of all shards.")
    private List<Path> files = new ArrayList<>();

    @Option(names = "--out", paramLabel = "FILE", description = "Where to write; standard output if omitted.")
    private Path out;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() throws IOException {
        Map<String, List<String>> lines = new LinkedHashMap<>();
        for (Path f : files) {
            lines.put(f.toString(), SafeFile.text(f, MOST_BYTES).lines().toList());
        }
        List<String> merged = Shards.merged(lines);
        if (out == null) {
            merged.forEach(spec.commandLine().getOut()::println);
            spec.commandLine().getOut().flush();
        } else {
            Files.write(out, merged);
        }
        return 0;
    }
}
