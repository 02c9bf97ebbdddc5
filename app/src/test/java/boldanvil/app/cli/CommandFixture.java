package boldanvil.app.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Path;
import org.junit.jupiter.api.io.TempDir;

/** Commands as they are typed, with what they print. */
abstract class CommandFixture {
    /** For the files of a test. */
    @TempDir
    Path folder;

    /** What the last command printed. */
    String out;

    /** What it printed about errors. */
    String err;

    int run(String... args) {
        var o = new StringWriter();
        var e = new StringWriter();
        int status = CommandLineMain.execute(new PrintWriter(o), new PrintWriter(e), args);
        out = o.toString();
        err = e.toString();
        assertThat(out + err).doesNotContain("\tat ").doesNotContain("Exception");
        return status;
    }

    String file(String name) {
        return folder.resolve(name).toString();
    }
}
