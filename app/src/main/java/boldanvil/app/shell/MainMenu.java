package boldanvil.app.shell;

import boldanvil.app.page.Command;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import java.util.function.Supplier;
import javafx.scene.control.Menu;
import javafx.scene.control.MenuBar;
import javafx.scene.control.MenuItem;

/** All commands in groups, each with its key. */
final class MainMenu extends MenuBar {
    private static final List<String> ORDER = List.of("Project", "Edit", "View", "Sheet", "Build", "Rig", "Bench");

    /**
     * @param recent folders of recent projects, newest first; asked whenever the menu opens
     */
    MainMenu(List<Command> commands, Supplier<List<Path>> recent, Consumer<Path> open) {
        setId("main-menu");
        Map<String, Menu> menus = new LinkedHashMap<>();
        ORDER.forEach(name -> menus.put(name, menu(name)));
        for (Command c : commands) {
            menus.computeIfAbsent(c.group(), MainMenu::menu).getItems().add(item(c));
        }
        // Help comes last, as everywhere.
        Menu help = menus.remove("Help");
        getMenus().addAll(menus.values().stream().filter(m -> !m.getItems().isEmpty()).toList());
        if (help != null) {
            getMenus().add(help);
        }
        Menu project = menus.get("Project");
        Menu before = new Menu("Open recent");
        before.setId("open-recent");
        project.getItems().add(Math.min(2, project.getItems().size()), before);
        project.setOnShowing(_ -> {
            before.getItems().setAll(recent.get().stream().map(p -> recent(p, open)).toList());
            before.setDisable(before.getItems().isEmpty());
        });
    }

    private static Menu menu(String name) {
        var m = new Menu(name);
        m.setId("menu-" + name.toLowerCase(java.util.Locale.ROOT));
        return m;
    }

    private static MenuItem item(Command c) {
        var i = new MenuItem(c.name());
        i.setAccelerator(c.key());
        i.setOnAction(_ -> c.action().run());
        return i;
    }

    private static MenuItem recent(Path folder, Consumer<Path> open) {
        var i = new MenuItem(folder.getFileName() + "   " + folder.getParent());
        i.setMnemonicParsing(false);
        i.setOnAction(_ -> open.accept(folder));
        return i;
    }
}
