package boldanvil.core.bench;

import boldanvil.core.control.BenchHost;
import boldanvil.core.control.ControlClient;
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

/** A bench process started by this one; it ends when this one does. */
final class BenchProcess implements BenchLink {
    /** System property with the class path of the bench process; without it, this process's own is used. */
    static final String CLASS_PATH = "boldanvil.bench.classpath";
    private static final int START_SECONDS = 30;

    private final Process process;
    private final String token;
    private volatile ControlClient control;
    private volatile boolean closing;
    private volatile boolean left;

    /**
     * Starts the process; it comes up while other things are done, see {@link #connect}.
     *
     * @param onLost called when the process ends without being closed
     */
    BenchProcess(Runnable onLost) {
        var host = BenchHost.installed().orElseThrow(() -> FindingException.of(Place.bench(""), "The stand-ins are not installed.",
                "Check the installation; models run without them."));
        byte[] secret = new byte[16];
        new SecureRandom().nextBytes(secret);
        token = HexFormat.of().formatHex(secret);
        try {
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
            command.addAll(List.of("-cp", System.getProperty(CLASS_PATH, System.getProperty("java.class.path")), host.mainClass()));
            process = new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.DISCARD).start();
            process.getOutputStream().write((token + "\n").getBytes(StandardCharsets.UTF_8));
            process.getOutputStream().flush();
        } catch (IOException e) {
            throw FindingException.of(Place.bench(""), "The bench process cannot be started: " + e.getMessage() + ".",
                    "Check the installation.");
        }
        process.onExit().thenRun(() -> {
            if (!closing) {
                onLost.run();
            }
        });
    }

    /** Waits until the process is there, and greets it. */
    void connect() {
        control = new ControlClient(port(), token, 30_000);
    }

    private int port() {
        var line = CompletableFuture.supplyAsync(() -> {
            try {
                return new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8)).readLine();
            } catch (IOException e) {
                return null;
            }
        });
        try {
            String text = line.get(START_SECONDS, TimeUnit.SECONDS);
            if (text != null && text.startsWith("READY ")) {
                return Integer.parseInt(text.substring("READY ".length()).strip());
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (ExecutionException | TimeoutException | NumberFormatException e) {
            Log.ignored(BenchProcess.class, e, "The bench process did not start; a finding follows.");
        }
        process.destroyForcibly();
        throw FindingException.of(Place.bench(""), "The bench process did not start.", "Check the installation, then try again.");
    }

    @Override
    public ControlClient control() {
        return control;
    }

    @Override
    public String token() {
        return token;
    }

    @Override
    public void kill() {
        process.destroyForcibly();
    }

    @Override
    public void leave() {
        closing = true;
        left = true;
        BenchLink.super.leave();
    }

    @Override
    public void close() {
        closing = true;
        if (left) {
            return;
        }
        var client = control;
        if (client != null) {
            client.close();
        }
        process.destroyForcibly();
    }
}
