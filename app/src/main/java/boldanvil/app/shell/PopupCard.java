package boldanvil.app.shell;

import javafx.scene.Parent;
import javafx.scene.layout.Region;
import javafx.stage.Window;

/** Popups are windows of their own: they wear the colours and fonts of their owner only if they are given them. */
final class PopupCard {
    private PopupCard() {}

    static void dress(Region box, Window owner) {
        Parent root = owner.getScene().getRoot();
        box.getStyleClass().add("popup-card");
        box.getStylesheets().addAll(root.getStylesheets());
        box.getStyleClass().addAll(root.getStyleClass());
    }
}
