package boldanvil.app.page;

import boldanvil.app.model.Navigator;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.SheetEdits;
import boldanvil.app.model.SweepSession;
import boldanvil.app.model.Workspace;
import boldanvil.app.widget.Theme;
import boldanvil.core.finding.Place;
import java.util.concurrent.Executor;

/** What a page gets from the window it is in. */
public interface PageHost {
    Workspace workspace();

    RigSession session();

    SweepSession sweeps();

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

    /** Shows a short message in the status line. */
    void showMessage(String text);
}
