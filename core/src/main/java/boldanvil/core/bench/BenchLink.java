package boldanvil.core.bench;

import boldanvil.core.link.ControlClient;

/** A bench process as a run holds it: one of its own, or one that was there before. */
interface BenchLink extends AutoCloseable {
    ControlClient control();

    /** Ends the process at once, as pulling the plug would. */
    void kill();

    /** Lets the process go on by itself. */
    void leave();

    @Override
    void close();
}
