package boldanvil.core.user;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class LogTest {
    @TempDir
    private Path folder;

    /** Runs a program of its own, since the log of a process stays where it was opened. */
    private String write(String... arguments) throws IOException, InterruptedException {
        List<String> command = new ArrayList<>(List.of(Path.of(System.getProperty("java.home"), "bin", "java").toString(), "-cp",
                System.getProperty("java.class.path"),
                "-D" + UserFolder.PROPERTY + "=" + folder, Writer.class.getName()));
        command.addAll(List.of(arguments));
        var process = new ProcessBuilder(command).redirectErrorStream(true).start();
        String printed = new String(process.getInputStream().readAllBytes());
        assertThat(process.waitFor()).as(printed).isZero();
        return printed;
    }

    private List<Path> files() throws IOException {
        try (var all = Files.list(folder.resolve("logs"))) {
            return all.filter(f -> f.toString().endsWith(".log")).toList();
        }
    }

    @Test
    void anExceptionIsOneLineAndAMistakeHasItsStackTrace() throws Exception {
        assertThat(write("1")).isEmpty();
        assertThat(files()).hasSize(1);
        List<String> lines = Files.readAllLines(files().getFirst());
        assertThat(lines.getFirst()).contains("INFO boldanvil.core.user.LogTest$Writer: The file stays. java.io.IOException: in use");
        assertThat(lines.get(1)).contains("SEVERE boldanvil.core.user.LogTest$Writer: This failed.");
        assertThat(lines.get(2)).isEqualTo("java.lang.IllegalStateException: a mistake");
        assertThat(lines.get(3)).contains("at boldanvil.core.user.LogTest$Writer.main");
    }

    @Test
    void theFilesAreReusedInTurn() throws Exception {
        write("20000");
        assertThat(files()).hasSize(4).allSatisfy(f -> assertThat(Files.size(f)).isLessThan(600_000));
    }

    @Test
    void whatLibrariesReportDoesNotReachTheConsole() throws Exception {
        assertThat(write("library")).isEmpty();
        assertThat(Files.readString(files().getFirst())).contains("WARNING some.library: careful");
    }

    /** Writes into the log. */
    public static final class Writer {
        private Writer() {}

        public static void main(String[] args) {
            Log.begin();
            if (args[0].equals("library")) {
                org.slf4j.LoggerFactory.getLogger("some.library").warn("careful");
                return;
            }
            for (int i = 0; i < Integer.parseInt(args[0]); i++) {
                Log.ignored(Writer.class, new IOException("in use"), "The file stays.");
                Log.failed(Writer.class, new IllegalStateException("a mistake"));
            }
        }
    }
}
