package boldanvil.core.bench;

import boldanvil.core.control.BenchHost;
import boldanvil.core.control.ControlClient;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.user.Log;

/** A bench process started by this one; it ends when this one does. */
final class BenchProcess implements BenchLink {
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
        token = StandinProcess.secret();
        process = StandinProcess.start("bench process", BenchHost::mainClass, token);
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
        String text = StandinProcess.firstLine(process, "bench process", START_SECONDS);
        try {
            if (text != null && text.startsWith("READY ")) {
                return Integer.parseInt(text.substring("READY ".length()).strip());
            }
        } catch (NumberFormatException e) {
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
