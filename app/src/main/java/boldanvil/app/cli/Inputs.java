package boldanvil.app.cli;

import boldanvil.core.user.Log;
import java.io.IOException;

/** The input of a command that runs until it ends. */
final class Inputs {
    private Inputs() {}

    /** Returns when the input has ended; what is typed means nothing. */
    static void untilEnd() {
        try {
            while (System.in.read() >= 0) {
                // Its end is what counts.
            }
        } catch (IOException e) {
            Log.ignored(Inputs.class, e, "The input ended.");
        }
    }
}
