package boldanvil.app.widget;

import javafx.scene.Node;
import javafx.scene.Parent;
import javafx.scene.layout.Region;
import javafx.stage.Popup;
import javafx.stage.Window;

/** Popups are windows of their own: they wear the colours and fonts of their owner only if they are given them. */
public final class PopupCard {
    private PopupCard() {}

    /** Gives a popup's content the look of the window it belongs to. */
    public static void dress(Region box, Window owner) {
        Parent root = owner.getScene().getRoot();
        box.getStyleClass().add("popup-card");
        box.getStylesheets().addAll(root.getStylesheets());
        box.getStyleClass().addAll(root.getStyleClass());
    }

    /** Shows a card below a node, inside the window. */
    public static Popup below(Node owner, Region box) {
        var popup = new Popup();
        dress(box, owner.getScene().getWindow());
        popup.getContent().add(box);
        popup.setAutoHide(true);
        // A click beside the card is meant for what lies there.
        popup.setConsumeAutoHidingEvents(false);
        var bounds = owner.localToScreen(owner.getBoundsInLocal());
        var window = owner.getScene().getWindow();
        popup.show(window, bounds.getMinX(), bounds.getMaxY() + 4);
        popup.setX(Math.max(window.getX() + 4, Math.min(popup.getX(), window.getX() + window.getWidth() - box.getWidth() - 8)));
        return popup;
    }
}
