package boldanvil.core.bench;

/** Is informed of the progress of longer work, on the thread that does it. */
public interface Progress {
    /** A step begins; the one before it has succeeded. */
    void step(String name);

    /** How much of the present step is done, 0 to 1. */
    void share(double done);

    /** A line for the log. */
    void log(String line);

    /** Whether to give up; asked often. */
    boolean cancelled();

    /** Takes note of nothing and never gives up. */
    Progress NONE = new Progress() {
        @Override
        public void step(String name) { }

        @Override
        public void share(double done) { }

        @Override
        public void log(String line) { }

        @Override
        public boolean cancelled() {
            return false;
        }
    };
}
