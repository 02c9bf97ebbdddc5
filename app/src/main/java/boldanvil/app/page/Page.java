package boldanvil.app.page;

import boldanvil.core.finding.Place;
import java.util.List;
import javafx.scene.Node;
import org.kordamp.ikonli.Ikon;

/** A page of the window. Everything the window knows of it is here. */
public interface Page {
    /** The name on the rail; it is also the name under which the last page of a project is remembered. */
    String name();

    Ikon icon();

    /** The key that goes to the page; empty for Alt with the next number. */
    default String key() {
        return "";
    }

    /** What the page shows; the same at each call. */
    Node node();

    /** Whether this page shows a place; its findings are counted beside its name. */
    default boolean owns(Place place) {
        return false;
    }

    /** Selects a place this page owns. The page is on show by then. */
    default void show(Place place) {}

    /**
     * Shows what was at a place this page owns at an instant of the last run.
     *
     * @return false where it cannot
     */
    default boolean show(Place place, double seconds) {
        return false;
    }

    /** The page was brought to the front. */
    default void shown() {}

    /** Another project was opened. */
    default void opened() {}

    /** Another rig was chosen. */
    default void rigChanged() {}

    /** Draws everything again, in the colours of the theme. */
    default void repaint() {}

    /** What can be done with this page from anywhere in the window. */
    default List<Command> commands() {
        return List.of();
    }
}
