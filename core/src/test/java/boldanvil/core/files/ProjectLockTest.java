package boldanvil.core.files;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

@Timeout(60)
class ProjectLockTest {
    @TempDir
    private Path folder;

    /** A process that takes the right to write, says whether it has it, and waits. */
    static final class Other {
        private Other() {}

        public static void main(String[] args) throws IOException {
            var lock = ProjectLock.tryTake(Path.of(args[0]), "another window");
            System.out.println(lock.isPresent() ? "has it" : "refused");
            System.in.read();
        }
    }

    private Process other() throws IOException {
        return new ProcessBuilder(Path.of(System.getProperty("java.home"), "bin", "java").toString(), "-XX:TieredStopAtLevel=1", "-cp",
                System.getProperty("java.class.path"),
                Other.class.getName(), folder.toString()).redirectError(ProcessBuilder.Redirect.INHERIT).start();
    }

    @Test
    void oneProcessHasTheRightAndItsNameIsSaid() throws Exception {
        var first = other();
        assertThat(first.inputReader().readLine()).isEqualTo("has it");
        assertThat(ProjectLock.tryTake(folder, "this")).isEmpty();
        assertThat(ProjectLock.owner(folder)).isEqualTo("another window, process " + first.pid());
        var second = other();
        assertThat(second.inputReader().readLine()).isEqualTo("refused");
        second.destroyForcibly().onExit().join();
        first.destroyForcibly().onExit().join();
        // The right of a killed process is free; what it left behind does not matter.
        try (var lock = ProjectLock.tryTake(folder, "this").orElseThrow()) {
            assertThat(lock).isNotNull();
            var third = other();
            assertThat(third.inputReader().readLine()).isEqualTo("refused");
            third.destroyForcibly().onExit().join();
        }
        assertThat(folder).isEmptyDirectory();
    }

    @Test
    void withinOneProcessItIsShared() {
        var a = ProjectLock.tryTake(folder, "a").orElseThrow();
        var b = ProjectLock.tryTake(folder.resolve("."), "b").orElseThrow();
        a.close();
        assertThat(folder.resolve(".lock")).exists();
        b.close();
        assertThat(folder.resolve(".lock")).doesNotExist();
    }

    @Test
    void whereNothingCanBeWrittenNobodyHasIt() throws IOException {
        assertThat(ProjectLock.tryTake(folder.resolve("none"), "x")).isEmpty();
        Files.createSymbolicLink(folder.resolve(".lock"), folder.resolve("elsewhere"));
        assertThat(ProjectLock.tryTake(folder, "x")).as("a link is not followed").isEmpty();
        assertThat(folder.resolve("elsewhere")).doesNotExist();
        assertThat(ProjectLock.owner(folder)).isEqualTo("another program");
    }
}
