package boldanvil.core.study;

/** Gets how far a study is, on any thread. */
public interface StudyListener {
    void done(int runs, int all);

    /** Whether no further run is to begin. */
    default boolean cancelled() {
        return false;
    }

    /** Something about where the runs are done, such as that a worker was lost; one sentence. */
    default void note(String sentence) { }
}
