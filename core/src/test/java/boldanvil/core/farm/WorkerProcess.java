package boldanvil.core.farm;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** A worker in a process of its own, which a test can kill. */
final class WorkerProcess implements AutoCloseable {
    private final Process process;

    private WorkerProcess(Process process) {
        this.process = process;
    }

    static WorkerProcess start(Path key, int port, int join) throws IOException {
        List<String> command = new ArrayList<>(List.of(Path.of(System.getProperty("java.home"), "bin", "java").toString()));
        // The worker needs the same opened packages as this process.
        java.lang.management.ManagementFactory.getRuntimeMXBean().getInputArguments().stream().filter(a -> a.startsWith("--add-opens"))
                .forEach(command::add);
        command.addAll(List.of("-XX:+UseSerialGC", "-XX:TieredStopAtLevel=1", "--sun-misc-unsafe-memory-access=allow", "-cp",
                System.getProperty("java.class.path"), WorkerProcess.class.getName(), key.toString(), Integer.toString(port),
                Integer.toString(join)));
        Process p = new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.DISCARD).start();
        return new WorkerProcess(p);
    }

    /** Waits until it can be reached. */
    WorkerProcess ready() throws IOException {
        String line = process.inputReader().readLine();
        if (!"ready".equals(line)) {
            throw new IOException("the worker said: " + line);
        }
        return this;
    }

    /** Ends it as a power failure would. */
    void kill() {
        process.destroyForcibly();
    }

    @Override
    public void close() {
        kill();
    }

    /** Arguments: key file, port, port of a worker to join or 0. */
    public static void main(String[] args) throws IOException {
        String host = "127.0.0.1";
        try (var _ = Worker.start(FarmKey.read(Path.of(args[0])), host, Integer.parseInt(args[1]),
                args[2].equals("0") ? List.of() : List.of(host + ":" + args[2]), 1)) {
            System.out.println("ready");
            while (System.in.read() >= 0) {
                // Until the input ends.
            }
        } catch (RuntimeException e) {
            System.out.println(e.getMessage());
        }
        System.exit(0);
    }
}
