package boldanvil.app.shell;

import boldanvil.app.model.Examples;
import boldanvil.app.model.Examples.Example;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Consumer;
import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.image.Image;
import javafx.scene.image.ImageView;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Region;
import javafx.scene.layout.TilePane;
import javafx.scene.layout.VBox;

/** What the window shows while no project is open: recent projects, examples, and how to begin a new one. */
final class StartPane extends ScrollPane {
    private static final double PICTURE_WIDTH = 216;
    private static final double PICTURE_HEIGHT = 102;

    private final VBox recent = new VBox(4);
    private final Consumer<Path> open;
    private final Consumer<Path> forget;

    /** What can be done here. */
    interface Actions {
        void newProject();

        void openFolder();

        void open(Path folder);

        void forget(Path folder);

        void example(Example e);

        void walk();
    }

    StartPane(Actions actions) {
        open = actions::open;
        forget = actions::forget;
        setId("start");
        setFitToWidth(true);
        getStyleClass().add("start");
        var create = new Button("New project");
        create.setId("start-new");
        create.getStyleClass().add("primary");
        create.setOnAction(_ -> actions.newProject());
        var folder = new Button("Open folder …");
        folder.setId("start-open");
        folder.setOnAction(_ -> actions.openFolder());
        var walk = new Button("First walk");
        walk.setId("start-walk");
        walk.setOnAction(_ -> actions.walk());
        var left = new VBox(10, heading("Begin"), create, folder, walk, heading("Recent projects"), recent);
        left.setPrefWidth(300);
        left.setMinWidth(260);
        var cards = new TilePane(14, 14);
        cards.setPrefColumns(3);
        cards.setTileAlignment(Pos.TOP_LEFT);
        for (Example e : Examples.all()) {
            cards.getChildren().add(card(e, actions));
        }
        var hint = new Label("Opening an example makes a copy that is yours.");
        hint.getStyleClass().add("faint");
        var right = new VBox(10, heading("Examples"), hint, cards);
        var both = new HBox(36, left, right);
        both.setPadding(new Insets(28));
        var name = new Label("Bold Anvil");
        name.getStyleClass().add("start-title");
        var what = new Label("Draw a controller, simulate it, put it on a device, drive it live.");
        what.getStyleClass().add("faint");
        var top = new VBox(2, name, what);
        top.setPadding(new Insets(26, 28, 0, 28));
        setContent(new VBox(top, both));
    }

    private static Label heading(String text) {
        var l = new Label(text);
        l.getStyleClass().add("heading");
        return l;
    }

    private static Region card(Example e, Actions actions) {
        var title = new Label(e.title());
        title.getStyleClass().add("strong");
        var lesson = new Label(e.lesson());
        lesson.setWrapText(true);
        lesson.setMinHeight(USE_PREF_SIZE);
        lesson.getStyleClass().addAll("small", "faint");
        var take = new Button("Open a copy …");
        take.setId("example-" + e.id());
        take.setOnAction(_ -> actions.example(e));
        var box = new VBox(6, picture(e), title, lesson, take);
        box.getStyleClass().add("card");
        box.setPrefWidth(PICTURE_WIDTH + 22);
        box.setMaxWidth(PICTURE_WIDTH + 22);
        box.setAlignment(Pos.TOP_LEFT);
        return box;
    }

    private static Region picture(Example e) {
        var frame = new HBox();
        frame.setMinHeight(PICTURE_HEIGHT);
        try (InputStream in = e.open().orElse(null)) {
            if (in != null) {
                var view = new ImageView(new Image(in));
                view.setFitWidth(PICTURE_WIDTH);
                view.setPreserveRatio(true);
                view.setSmooth(true);
                frame.getChildren().add(view);
            }
        } catch (IOException x) {
            boldanvil.core.user.Log.ignored(StartPane.class, x, "The picture of an example cannot be read.");
        }
        return frame;
    }

    /** Shows these folders as recent projects. */
    void show(List<Path> folders) {
        recent.getChildren().clear();
        if (folders.isEmpty()) {
            var none = new Label("Projects you open appear here.");
            none.getStyleClass().add("faint");
            recent.getChildren().add(none);
        }
        for (Path f : folders) {
            boolean there = Files.exists(f.resolve("project.json"));
            var link = new Hyperlink(String.valueOf(f.getFileName()));
            link.setDisable(!there);
            link.setOnAction(_ -> open.accept(f));
            var where = new Label(there ? String.valueOf(f.getParent()) : "no longer at " + f.getParent());
            where.getStyleClass().addAll("small", there ? "faint" : "warning");
            where.setWrapText(true);
            var row = new VBox(0, link, where);
            if (!there) {
                var remove = new Hyperlink("Remove from the list");
                remove.getStyleClass().add("small");
                remove.setOnAction(_ -> forget.accept(f));
                row.getChildren().add(remove);
            }
            recent.getChildren().add(row);
        }
    }
}
