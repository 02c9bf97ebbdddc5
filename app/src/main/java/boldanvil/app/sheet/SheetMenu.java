package boldanvil.app.sheet;

import boldanvil.app.page.Command;
import java.util.List;
import java.util.Set;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.MenuItem;
import javafx.scene.control.SeparatorMenuItem;
import javafx.scene.input.MouseEvent;

/** The menu at a place of the sheet: the commands that fit what is there. */
final class SheetMenu {
    private static final Set<String> PAPER = Set.of("Paste", "Add a frame", "Add a note", "Lay out", "Fit the sheet to the window",
            "Parent sheet");
    private static final Set<String> WIRE = Set.of("Show the value of the selected wire", "Route the selected wires again", "Delete");
    private static final Set<String> ONE = Set.of("Show the selected block on the bench", "Show the selected block's code",
            "Dissolve the subsystem");

    private SheetMenu() {}

    static void show(SheetCanvas canvas, MouseEvent e, SheetCommands actions, List<Command> all) {
        var menu = new ContextMenu();
        menu.setId("sheet-menu");
        if (!canvas.selectedWires().isEmpty()) {
            all.stream().filter(c -> WIRE.contains(c.name())).forEach(c -> menu.getItems().add(item(c)));
        } else if (canvas.selection().isEmpty() && canvas.selectedMarks().isEmpty()) {
            all.stream().filter(c -> PAPER.contains(c.name())).forEach(c -> menu.getItems().add(item(c)));
        } else {
            actions.editing().forEach(c -> menu.getItems().add(item(c)));
            menu.getItems().add(new SeparatorMenuItem());
            all.stream().filter(c -> ONE.contains(c.name())).forEach(c -> menu.getItems().add(item(c)));
            menu.getItems().add(new SeparatorMenuItem());
            actions.arranging().stream().filter(c -> !PAPER.contains(c.name()) && !WIRE.contains(c.name()) && !ONE.contains(c.name()))
                    .forEach(c -> menu.getItems().add(item(c)));
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
