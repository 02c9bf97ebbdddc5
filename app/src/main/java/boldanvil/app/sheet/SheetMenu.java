package boldanvil.app.sheet;

import boldanvil.app.page.Command;
import java.util.List;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.MenuItem;
import javafx.scene.control.SeparatorMenuItem;
import javafx.scene.input.MouseEvent;

/** The menu at a place of the sheet. */
final class SheetMenu {
    private SheetMenu() {}

    /** @param groups commands, with a line between the groups */
    static void show(SheetCanvas canvas, MouseEvent e, List<List<Command>> groups) {
        var menu = new ContextMenu();
        menu.setId("sheet-menu");
        for (List<Command> group : groups) {
            if (!menu.getItems().isEmpty()) {
                menu.getItems().add(new SeparatorMenuItem());
            }
            group.forEach(c -> menu.getItems().add(item(c)));
        }
        menu.show(canvas, e.getScreenX(), e.getScreenY());
    }

    private static MenuItem item(Command c) {
        var item = new MenuItem(c.name());
        item.setAccelerator(c.key());
        item.setOnAction(_ -> c.action().run());
        return item;
    }
}
