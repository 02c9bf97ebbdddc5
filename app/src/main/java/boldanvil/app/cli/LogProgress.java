package boldanvil.app.cli;

import boldanvil.core.bench.Progress;
import java.io.PrintWriter;

/** Prints the steps of a piece of work, and its log when asked to. */
record LogProgress(PrintWriter out, boolean verbose) implements Progress {
    @Override
    public void step(String name) {
        out.println("· " + name);
        out.flush();
    }

    @Override
    public void share(double done) { }

    @Override
    public void log(String line) {
        if (verbose) {
            out.println("    " + line);
        }
    }

    @Override
    public boolean cancelled() {
        return Thread.currentThread().isInterrupted();
    }
}
