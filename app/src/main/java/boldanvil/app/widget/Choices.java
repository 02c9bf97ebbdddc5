package boldanvil.app.widget;

import java.util.List;
import javafx.scene.control.ChoiceBox;

/** What choices have in common. */
public final class Choices {
    private Choices() {}

    /** Offers some items; what was chosen stays so where it is among them, else the first is chosen. */
    public static void offer(ChoiceBox<String> box, List<String> items) {
        if (!items.equals(List.copyOf(box.getItems()))) {
            offer(box, items, box.getValue());
        }
    }

    /** @param wanted what is chosen where it is among the items; null for nothing */
    public static void offer(ChoiceBox<String> box, List<String> items, String wanted) {
        box.getItems().setAll(items);
        box.setValue(wanted != null && items.contains(wanted) ? wanted : items.isEmpty() ? null : items.getFirst());
    }
}
