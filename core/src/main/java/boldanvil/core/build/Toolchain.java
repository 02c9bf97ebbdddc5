package boldanvil.core.build;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.user.TemporaryFiles;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.function.BooleanSupplier;

/** Programs of this machine: where they are, and how they end. */
public final class Toolchain {
    private static final long LIMIT_SECONDS = 120;

    private Toolchain() {}

    /** What a command printed and how it ended. */
    public record Outcome(int status, String output) {}

    /** Where a program is on the search path. */
    public static Optional<Path> find(String program) {
        String path = System.getenv().getOrDefault("PATH", "/usr/bin:/bin");
        for (String folder : path.split(java.io.File.pathSeparator)) {
            if (!folder.isEmpty() && Files.isExecutable(Path.of(folder, program))) {
                return Optional.of(Path.of(folder, program));
            }
        }
        return Optional.empty();
    }

    /**
     * Runs a command to its end.
     *
     * @param cancelled asked now and then; when it says true the command is ended
     */
    static Outcome run(List<String> command, Path folder, BooleanSupplier cancelled) {
        try {
            Path log = TemporaryFiles.file("tool", ".log");
            try {
                Process p = new ProcessBuilder(command).directory(folder.toFile()).redirectErrorStream(true)
                        .redirectOutput(log.toFile()).redirectInput(ProcessBuilder.Redirect.from(new java.io.File("/dev/null")))
                        .start();
                long end = System.nanoTime() + TimeUnit.SECONDS.toNanos(LIMIT_SECONDS);
                while (!p.waitFor(20, TimeUnit.MILLISECONDS)) {
                    if (cancelled.getAsBoolean() || System.nanoTime() > end) {
                        p.destroyForcibly().waitFor();
                        throw FindingException.of(Place.build(""), cancelled.getAsBoolean() ? "The build was cancelled."
                                : "The compiler took longer than " + LIMIT_SECONDS + " s.", "Build again.");
                    }
                }
                return new Outcome(p.exitValue(), Files.readString(log));
            } finally {
                Files.deleteIfExists(log);
            }
        } catch (IOException e) {
            throw FindingException.of(Place.build(""), "'" + command.getFirst() + "' cannot be run: " + e.getMessage() + ".",
                    "Check that it is installed.");
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw FindingException.of(Place.build(""), "The build was interrupted.", "Build again.");
        }
    }
}
