package boldanvil.app.shell;

import boldanvil.app.model.Examples.Example;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.function.BiFunction;
import javafx.geometry.Insets;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.RadioButton;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleGroup;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import javafx.stage.DirectoryChooser;

/** Name, place and template of a new project in one form. */
final class NewProjectCard extends VBox {
    private final TextField name = new TextField("My project");
    private final TextField place = new TextField();
    private final Label folder = new Label();
    private final Label wrong = new Label();

    /** Makes a project of a template. */
    interface Maker {
        /** @return what is wrong; empty when it was made */
        String make(Example template, String name, Path folder);
    }

    /**
     * @param templates what to choose from; the first is chosen
     * @param suggested name of the project
     * @param into the folder in which the project's folder is made
     */
    NewProjectCard(String title, List<Example> templates, String suggested, Path into, Maker maker, Runnable close) {
        super(10);
        setPadding(new Insets(14));
        setPrefWidth(520);
        var heading = new Label(title);
        heading.getStyleClass().add("heading");
        name.setId("new-name");
        name.setText(suggested);
        place.setId("new-place");
        place.setText(into.toString());
        var choose = new Button("Choose …");
        choose.setOnAction(_ -> choose());
        HBox.setHgrow(place, javafx.scene.layout.Priority.ALWAYS);
        var form = new GridPane();
        form.setHgap(10);
        form.setVgap(8);
        form.addRow(0, new Label("Name"), name);
        form.addRow(1, new Label("Place"), new HBox(6, place, choose));
        form.addRow(2, new Label("Folder"), folder);
        GridPane.setHgrow(name, javafx.scene.layout.Priority.ALWAYS);
        folder.getStyleClass().add("mono");
        name.textProperty().addListener(_ -> refresh());
        place.textProperty().addListener(_ -> refresh());
        var group = new ToggleGroup();
        var choices = new VBox(4);
        for (Example t : templates) {
            var b = new RadioButton(t.title());
            b.setUserData(t);
            b.setToggleGroup(group);
            b.setId("template-" + t.id());
            var lesson = new Label(t.lesson());
            lesson.getStyleClass().addAll("small", "faint");
            lesson.setPadding(new Insets(0, 0, 0, 26));
            lesson.setWrapText(true);
            lesson.setMinHeight(Region.USE_PREF_SIZE);
            choices.getChildren().addAll(b, lesson);
        }
        group.selectToggle(group.getToggles().getFirst());
        wrong.setWrapText(true);
        wrong.getStyleClass().addAll("small", "bad");
        var make = new Button("Create");
        make.setId("new-create");
        make.getStyleClass().add("primary");
        make.setDefaultButton(true);
        make.setOnAction(_ -> {
            String refusal = target((n, f) -> maker.make((Example) group.getSelectedToggle().getUserData(), n, f));
            wrong.setText(refusal);
            if (refusal.isEmpty()) {
                close.run();
            }
        });
        var cancel = new Button("Cancel");
        cancel.setOnAction(_ -> close.run());
        getChildren().addAll(heading, form);
        if (templates.size() > 1) {
            var from = new Label("Begin with");
            from.getStyleClass().add("section");
            getChildren().addAll(from, choices);
        }
        var rig = new Label("The rig desk simulates everything on this machine; press Run to start it.");
        rig.getStyleClass().addAll("small", "faint");
        getChildren().addAll(rig, new HBox(8, make, cancel), wrong);
        refresh();
    }

    private void choose() {
        var chooser = new DirectoryChooser();
        chooser.setTitle("Choose where the project's folder is made");
        var chosen = chooser.showDialog(getScene().getWindow());
        if (chosen != null) {
            place.setText(chosen.toString());
        }
    }

    private void refresh() {
        folder.setText(target((_, f) -> f.toString()));
    }

    /** Does something with the name and the folder that was typed, or says what is wrong with them. */
    private String target(BiFunction<String, Path, String> use) {
        String text = name.getText().strip();
        String id = text.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]+", "-").replaceAll("^-|-$", "");
        try {
            Path into = Path.of(place.getText().strip());
            return id.isEmpty() ? "Enter a name with letters or digits." : !into.isAbsolute()
                    ? "Enter a place that begins at the root folder."
                    : use.apply(text, into.resolve(id));
        } catch (InvalidPathException e) {
            return "The place is not a folder name: " + e.getReason() + ".";
        }
    }
}
