package boldanvil.app;

import boldanvil.app.cli.CommandLineMain;
import boldanvil.core.user.Log;
import boldanvil.core.user.TemporaryFiles;
import java.io.PrintStream;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;

/** Entry of the application. It does not extend Application, so that JavaFX may lie on the class path. */
public final class Main {
    private Main() {}

    public static void main(String[] args) {
        var out = new PrintWriter(new PrintStream(new java.io.FileOutputStream(java.io.FileDescriptor.out), false,
                StandardCharsets.UTF_8), false);
        var err = new PrintWriter(System.err, true, StandardCharsets.UTF_8);
        Log.begin();
        TemporaryFiles.sweep();
        System.exit(CommandLineMain.execute(out, err, args));
    }
}
