package boldanvil.benchmarks;

import boldanvil.core.c.CGenerator;
import boldanvil.core.diagram.Part;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.program.Program;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.RandomSheets;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Set;

/** Programs to measure, and their C with a main program around it. */
final class Programs {
    private static final Set<String> EVERYDAY = Set.of("constant", "gain", "sum", "product", "minmax", "abs", "compare", "threshold",
            "logic", "switch",
            "latch", "edge", "saturation", "deadzone", "ratelimit", "delay", "accumulator", "pid", "derivative", "transfer in z",
            "function", "lookup");

    private Programs() {}

    /** A part of a project, computed in float64 whatever it says, so that all are measured alike. */
    static Program part(String project, String part) throws IOException {
        var read = ProjectReader.read(Path.of(project)).change(part, p -> new Part(p.id(), p.title(), p.kind(), p.sampleTime(), p.step(),
                p.solver(), "float64", p.x(), p.y(),
                p.sheets()));
        return LoweredSystem.of(read).orThrow().program(part).orElseThrow();
    }

    static Program random(int blocks) {
        return sheet(blocks).program();
    }

    /** A discrete random sheet in float64 of about as many blocks. */
    static PartBuilder sheet(int blocks) {
        return RandomSheets.part(seed(), blocks);
    }

    /** One of the blocks most controllers are made of. */
    static PartBuilder everyday(int blocks) {
        return RandomSheets.part(seed(), blocks, EVERYDAY);
    }

    /** A seed that makes a discrete part in float64. */
    private static long seed() {
        for (long seed = 1;; seed++) {
            var part = RandomSheets.part(seed, 30).part();
            if (part.kind() == Part.Kind.CONTROLLER && part.real().equals("float64")) {
                return seed;
            }
        }
    }

    /** Writes the C of a program and a main program that runs some ticks with changing inputs; {@code body} may print. */
    static void write(Path folder, Program p, String main) throws IOException {
        Files.createDirectories(folder);
        for (GeneratedFile f : CGenerator.C99.generate(p)) {
            Files.writeString(folder.resolve(f.name()), f.text());
        }
        Files.writeString(folder.resolve("main.c"), main);
    }

    static String run(Path folder, List<String> command) throws IOException {
        Process process = new ProcessBuilder(command).directory(folder.toFile()).redirectErrorStream(true).start();
        String text = new String(process.getInputStream().readAllBytes());
        try {
            if (process.waitFor() != 0) {
                throw new IOException(String.join(" ", command) + ":\n" + text);
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        return text;
    }
}
