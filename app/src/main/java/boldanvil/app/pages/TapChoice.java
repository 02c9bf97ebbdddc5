package boldanvil.app.pages;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Supplier;
import javafx.scene.control.Button;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** One or more taps of a run: chosen from a list, each with a button that takes it away. */
final class TapChoice extends VBox {
    private final ComboBox<String> choice = new ComboBox<>();
    private final VBox rows = new VBox(2);
    private final List<String> chosen = new ArrayList<>();

    /** @param taps those there are now */
    TapChoice(String id, String prompt, Supplier<List<String>> taps) {
        super(3);
        choice.setId(id);
        choice.setPromptText(prompt);
        choice.setMaxWidth(Double.MAX_VALUE);
        choice.setOnShowing(_ -> choice.getItems().setAll(taps.get()));
        choice.setOnAction(_ -> {
            String tap = choice.getValue();
            if (tap != null) {
                add(tap);
                // The prompt comes back, so that another one can be added.
                javafx.application.Platform.runLater(() -> choice.setValue(null));
            }
        });
        getChildren().addAll(rows, choice);
    }

    void add(String tap) {
        if (!chosen.contains(tap)) {
            chosen.add(tap);
            draw();
        }
    }

    void clear() {
        chosen.clear();
        draw();
    }

    List<String> chosen() {
        return List.copyOf(chosen);
    }

    private void draw() {
        rows.getChildren().setAll(chosen.stream().map(tap -> {
            var name = new Label(tap);
            name.setTooltip(new Tooltip(tap));
            name.setMaxWidth(Double.MAX_VALUE);
            HBox.setHgrow(name, Priority.ALWAYS);
            var drop = new Button("✕");
            drop.getStyleClass().add("quiet");
            drop.setTooltip(new Tooltip("Take this tap away"));
            drop.setOnAction(_ -> {
                chosen.remove(tap);
                draw();
            });
            return new HBox(4, name, drop);
        }).toList());
    }
}
