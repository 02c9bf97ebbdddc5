package boldanvil.core.bench;

import boldanvil.core.control.ControlClient;
import boldanvil.core.finding.FindingException;
import boldanvil.core.user.Log;
import java.util.Map;

/** A bench process as a run holds it: one of its own, or one that was there before. */
interface BenchLink extends AutoCloseable {
    ControlClient control();

    /** The secret of the process, from which the keys to its devices follow. */
    String token();

    /** Ends the process at once, as pulling the plug would. */
    void kill();

    /** Leaves the process running. */
    default void leave() {
        try {
            control().ask("detach", Map.of());
        } catch (FindingException e) {
            Log.ignored(BenchLink.class, e, "The bench process has already ended.");
        }
        control().close();
    }

    @Override
    void close();
}
