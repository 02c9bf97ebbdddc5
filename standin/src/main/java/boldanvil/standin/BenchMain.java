package boldanvil.standin;

import boldanvil.core.control.DeviceRegistry;
import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.Wire;
import boldanvil.core.finding.Finding;
import boldanvil.core.review.Review;
import boldanvil.core.user.Log;
import boldanvil.core.user.TemporaryFiles;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.TimeUnit;

/**
 * Entry of the bench process. It reads a token from its standard input, prints {@code READY port} and serves until its standard input ends,
 * that is until the process that started it is gone. Where that process has left its devices to themselves on purpose, they continue for
 * half an hour, in case someone connects to them again, unless someone ends them before; else they go to their safe state and end.
 */
public final class BenchMain {
    private static final long LINGER_NANOS = TimeUnit.MINUTES.toNanos(30);
    private static final long LOOK_MILLIS = 500;

    private BenchMain() {}

    /** Has the machine load what any project needs, such as units and the stock, while nobody has asked for anything yet. */
    private static void loadAhead() {
        var sheet = new Sheet("main", List.of(new Block("a", "sine", "a", 0, 0, Map.of("frequency", "50 Hz"), Set.of()),
                new Block("b", "analog in", "b", 0, 0, Map.of("sensitivity", "50 mV/A"), Set.of()),
                new Block("c", "tap", "c", 0, 0, Map.of("unit", "A"), Set.of())), List.of(new Wire("b", "y", "c", "u")));
        Review.of(Project.empty("ahead").withParts(List.of(new Part("ahead", "ahead", Part.Kind.CONTROLLER, "1 ms", "1 ms", "rk4",
                "float64", 0, 0, List.of(sheet)))));
    }

    /** Without its entry a process cannot be found again, but works. */
    private static void enter(DeviceRegistry.Entry entry) {
        try {
            DeviceRegistry.enter(entry);
        } catch (IOException e) {
            System.err.println("The bench process cannot be added to the device registry: " + e.getMessage());
        }
    }

    public static void main(String[] args) throws IOException, InterruptedException {
        Thread.setDefaultUncaughtExceptionHandler((_, e) -> {
            Log.failed(BenchMain.class, e);
            System.err.println("The bench process failed: " + Finding.reason(e) + ".");
        });
        Log.begin();
        TemporaryFiles.sweep();
        var in = new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
        String token = in.readLine();
        if (token == null || token.isBlank()) {
            System.err.println("The bench process needs a token on its standard input.");
            System.exit(2);
        }
        Thread.ofPlatform().daemon().name("load ahead").start(BenchMain::loadAhead);
        try (var server = new ControlServer(token.strip())) {
            enter(new DeviceRegistry.Entry(ProcessHandle.current().pid(), server.port(), token.strip()));
            System.out.println("READY " + server.port());
            System.out.flush();
            var parent = Thread.ofPlatform().daemon().name("parent").start(() -> {
                try {
                    while (in.readLine() != null) {
                        // Nothing else is said on this way; its end is what counts.
                    }
                } catch (IOException e) {
                    Log.ignored(BenchMain.class, e, "The standard input ended.");
                }
            });
            while (!server.awaitEnd(LOOK_MILLIS) && (parent.isAlive() || server.isWorthKeeping(LINGER_NANOS))) {
                server.listen();
            }
        }
        System.exit(0);
    }
}
