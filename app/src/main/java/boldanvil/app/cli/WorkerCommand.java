package boldanvil.app.cli;

import boldanvil.core.farm.FarmKey;
import boldanvil.core.farm.Worker;
import boldanvil.core.finding.FindingException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.Spec;

/** Does runs for studies of others. */
@Command(name = "worker", mixinStandardHelpOptions = true, description = "Waits for runs of 'sweep --workers' and 'trial --vary --workers' "
        + "and does them, until the input ends. Only holders of the same key file are served.")
final class WorkerCommand implements Callable<Integer> {
    /** The key, or a new one. */
    static final class Key {
        @Option(names = "--key", paramLabel = "FILE", description = "The key file; the same on every machine.")
        private Path file;

        @Option(names = "--new-key", paramLabel = "FILE", description = "Creates a key file, and ends.")
        private Path fresh;
    }

    @ArgGroup(multiplicity = "1")
    private Key key;

    @Option(names = "--listen", paramLabel = "ADDRESS", defaultValue = "127.0.0.1",
            description = "Address of this machine on which it is reached. Default: from this machine only.")
    private String listen;

    @Option(names = "--port", defaultValue = "" + Worker.PORT,
            description = "Port on which it is found; messages use the port that is 100 higher. Default ${DEFAULT-VALUE}.")
    private int port;

    @Option(names = "--join", paramLabel = "HOST:PORT", split = ",",
            description = "Other workers. Connected workers serve a study together.")
    private List<String> join = new ArrayList<>();

    @Option(names = "--threads", description = "Runs at the same time; default all cores.")
    private int threads = Runtime.getRuntime().availableProcessors();

    @Option(names = "--for", paramLabel = "TIME", description = "How long it works; without it, until the input ends.")
    private String time;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() throws InterruptedException {
        var out = spec.commandLine().getOut();
        if (key.fresh != null) {
            out.println("Key " + FarmKey.create(key.fresh) + " is in " + key.fresh + ". Copy it to each machine, and show it to nobody.");
            out.flush();
            return 0;
        }
        if (port < 1024 || port > 65_535 - 100) {
            throw FindingException.of("--port", port + " is not a port that can be used.", "Choose one from 1024 to 65435.");
        }
        var read = FarmKey.read(key.file);
        try (var worker = Worker.start(read, listen, port, join, Math.max(1, threads))) {
            out.println("Worker on " + listen + ":" + port + ", " + Math.max(1, threads) + " runs at a time, key " + read);
            out.flush();
            var end = Thread.ofVirtual().start(time == null ? Inputs::untilEnd : sleep(Texts.nanos("--for", time)));
            while (end.isAlive()) {
                if (!worker.isAlive()) {
                    throw FindingException.of("worker", "The connection to the other workers was lost for long.", "Start it again.");
                }
                Thread.sleep(200);
            }
        }
        return 0;
    }

    private static Runnable sleep(long nanos) {
        return () -> {
            try {
                Thread.sleep(nanos / 1_000_000);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        };
    }
}
