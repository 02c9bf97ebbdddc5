package boldanvil.app.model;

import boldanvil.core.files.ProjectLock;
import java.io.IOException;
import java.nio.file.Path;

/** Another process that has the right to write a project, until it is closed. */
public final class OtherProcess implements AutoCloseable {
    private final Process process;

    public OtherProcess(Path project) throws IOException {
        process = new ProcessBuilder(Path.of(System.getProperty("java.home"), "bin", "java").toString(), "-cp",
                System.getProperty("java.class.path"),
                OtherProcess.class.getName(), project.toString()).redirectError(ProcessBuilder.Redirect.INHERIT).start();
        if (process.getInputStream().read() != '!') {
            throw new IOException("the other process does not have the right to write");
        }
    }

    public long pid() {
        return process.pid();
    }

    @Override
    public void close() {
        process.destroyForcibly().onExit().join();
    }

    public static void main(String[] args) throws IOException {
        try (var _ = ProjectLock.tryTake(Path.of(args[0]), "the other").orElseThrow()) {
            System.out.print("!");
            System.out.flush();
            System.in.read();
        }
    }
}
