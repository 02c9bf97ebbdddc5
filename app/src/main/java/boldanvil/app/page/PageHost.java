package boldanvil.app.page;

import boldanvil.app.model.Navigator;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.SheetEdits;
import boldanvil.app.model.SweepSession;
import boldanvil.app.model.TrialSession;
import boldanvil.app.model.Workspace;
import boldanvil.app.widget.Theme;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import java.util.concurrent.Executor;
import java.util.function.Consumer;
import java.util.function.Supplier;
import javafx.application.Platform;

/** What a page gets from the window it is in. */
public interface PageHost {
    Workspace workspace();

    RigSession session();

    SweepSession sweeps();

    TrialSession trials();

    Navigator navigator();

    SheetEdits edits();

    Theme theme();

    /** What is kept for the next time. */
    Memory memory();

    /** The rig that is chosen; empty while there is none. */
    String rig();

    /** Reads and compares files. */
    Executor background();

    /** Routes wires and paints drawings. */
    Executor drawing();

    /** Brings a page to the front. */
    void show(Page page);

    /** Brings the page that owns a place to the front and selects the place. */
    void show(Place place);

    /** Brings the page that owns the place of a finding to the front, with the values at its instant and why they were so. */
    void showInstant(Finding f);

    /** Shows a short message in the status line. */
    void showMessage(String text);

    /** Does something; a finding is shown in the status line. */
    default void attempt(Runnable action) {
        try {
            action.run();
        } catch (FindingException e) {
            showMessage(e.findings().getFirst().toString());
        }
    }

    /** As below, with nothing to do in the end. */
    default <T> void workOut(Supplier<T> work, Consumer<T> done) {
        workOut(work, done, () -> { });
    }

    /**
     * Works something out in the background.
     *
     * @param done gets the result, on the window's thread; a finding is shown in the status line instead
     * @param after is run there in the end, in either case
     */
    default <T> void workOut(Supplier<T> work, Consumer<T> done, Runnable after) {
        background().execute(() -> {
            Runnable end;
            try {
                T result = work.get();
                end = () -> done.accept(result);
            } catch (FindingException e) {
                end = () -> showMessage(e.findings().getFirst().toString());
            }
            Runnable shown = end;
            Platform.runLater(() -> {
                attempt(shown);
                after.run();
            });
        });
    }
}
