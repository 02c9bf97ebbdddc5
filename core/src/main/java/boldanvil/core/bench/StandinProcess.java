package boldanvil.core.bench;

import boldanvil.core.control.BenchHost;
import boldanvil.core.control.DeviceRegistry;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.user.Log;
import boldanvil.core.user.UserFolder;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.Function;

/** How the stand-ins are started as processes of their own. */
final class StandinProcess {
    /** System property with the class path of the process; without it, this process's own is used. */
    static final String CLASS_PATH = "boldanvil.bench.classpath";

    private StandinProcess() { }

    /** A secret for one process. */
    static String secret() {
        byte[] bytes = new byte[16];
        new SecureRandom().nextBytes(bytes);
        return HexFormat.of().formatHex(bytes);
    }

    /**
     * Starts a process and gives it its settings in a line of text.
     *
     * @param name of what is started, as findings have it
     * @param mainClass which class of the stand-ins is started
     * @throws FindingException when it cannot be started
     */
    static Process start(String name, Function<BenchHost, String> mainClass, String settings) {
        var host = BenchHost.installed().orElseThrow(() -> FindingException.of(Place.bench(""), "The stand-ins are not installed.",
                "Check the installation; models run without them."));
        // The quick compiler suffices for the few microseconds of a tick; the thorough one would take a core from the
        // ticks for seconds, just when they begin to keep pace with the wall clock.
        List<String> command = new ArrayList<>(List.of(Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-XX:+UseSerialGC", "-XX:TieredStopAtLevel=1", "-Xshare:auto", "--enable-native-access=ALL-UNNAMED",
                "--sun-misc-unsafe-memory-access=allow"));
        for (String own : List.of(DeviceRegistry.FOLDER, UserFolder.PROPERTY, "java.io.tmpdir")) {
            if (System.getProperty(own) != null) {
                command.add("-D" + own + "=" + System.getProperty(own));
            }
        }
        command.addAll(List.of("-cp", System.getProperty(CLASS_PATH, System.getProperty("java.class.path")), mainClass.apply(host)));
        try {
            Process process = new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.DISCARD).start();
            process.getOutputStream().write((settings + "\n").getBytes(StandardCharsets.UTF_8));
            process.getOutputStream().flush();
            return process;
        } catch (IOException e) {
            throw FindingException.of(Place.bench(""), "The " + name + " cannot be started: " + e.getMessage() + ".",
                    "Check the installation.");
        }
    }

    /**
     * Waits for the first line a process writes.
     *
     * @param name of what was started, as the log has it
     * @return the line; null where none came in time
     */
    static String firstLine(Process process, String name, int seconds) {
        var line = CompletableFuture.supplyAsync(() -> {
            try {
                return new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8)).readLine();
            } catch (IOException e) {
                return null;
            }
        });
        try {
            return line.get(seconds, TimeUnit.SECONDS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (ExecutionException | TimeoutException e) {
            Log.ignored(StandinProcess.class, e, "The " + name + " did not start; a finding follows.");
        }
        return null;
    }
}
