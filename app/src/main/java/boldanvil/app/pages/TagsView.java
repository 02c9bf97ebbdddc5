package boldanvil.app.pages;

import javafx.scene.Node;

/** One view of the Tags page. */
interface TagsView {
    Node node();

    /** Shows another part, or the same after a change of the project. */
    void load();

    /** Called several times a second while the view is on show. */
    default void poll() { }
}
