package boldanvil.app.pages;

import boldanvil.core.peripheral.Fact;
import boldanvil.core.board.ClockTree;
import boldanvil.core.diagram.Patch;
import boldanvil.core.peripheral.BoardSetup;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Consumer;
import javafx.geometry.HPos;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.TextField;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.VBox;

/** The clock tree: the source, and for each clock what is asked and what its dividers reach. */
final class ClockCard extends VBox {
    private static final String BEST = "automatic";

    private final Consumer<Map<String, String>> asked;

    /** @param asked is given what is asked for when that changes */
    ClockCard(Consumer<Map<String, String>> asked) {
        super(4);
        this.asked = asked;
    }

    void show(BoardSetup setup) {
        getChildren().clear();
        var title = new Label("Clocks");
        title.getStyleClass().add("section");
        var source = new ChoiceBox<String>();
        source.setId("clock-source");
        source.getItems().add(BEST);
        source.getItems().addAll(setup.board().clock().sources().stream().map(ClockTree.Source::name).toList());
        source.setValue(setup.patch().clock().getOrDefault(Patch.SOURCE, BEST));
        source.valueProperty().addListener((_, _, v) -> ask(setup, Patch.SOURCE, v.equals(BEST) ? "" : v));
        var way = new Label(setup.clock().words());
        way.getStyleClass().addAll("small", "mono");
        way.setWrapText(true);
        var grid = new GridPane();
        grid.setHgap(8);
        grid.setVgap(3);
        String[] titles = {"", "asked", "reached MHz", "error ppm"};
        for (int i = 0; i < titles.length; i++) {
            var l = new Label(titles[i]);
            l.getStyleClass().addAll("faint", "small");
            grid.add(l, i, 0);
        }
        int y = 1;
        for (var d : setup.clock().domains().entrySet()) {
            var field = new TextField(setup.patch().clock().getOrDefault(d.getKey(), ""));
            field.setId("clock-" + d.getKey());
            field.setPromptText(Fact.sig(d.getValue().asked() / 1e6) + " MHz");
            field.setPrefWidth(84);
            Runnable commit = () -> ask(setup, d.getKey(), field.getText().strip());
            field.setOnAction(_ -> commit.run());
            field.focusedProperty().addListener((_, _, now) -> {
                if (!now) {
                    commit.run();
                }
            });
            var reached = new Label(Fact.sig(d.getValue().hertz() / 1e6));
            var off = new Label(Fact.sig(Math.rint(d.getValue().ppm())));
            for (var l : java.util.List.of(reached, off)) {
                l.getStyleClass().addAll("mono", "small");
                GridPane.setHalignment(l, HPos.RIGHT);
            }
            if (Math.abs(d.getValue().ppm()) > 1000) {
                off.getStyleClass().add("warning");
            }
            var name = new Label(d.getKey());
            name.getStyleClass().add("small");
            grid.addRow(y++, name, field, reached, off);
        }
        getChildren().addAll(title, source, way, grid);
    }

    private void ask(BoardSetup setup, String key, String text) {
        var next = new LinkedHashMap<>(setup.patch().clock());
        if (text.isEmpty()) {
            next.remove(key);
        } else {
            next.put(key, text);
        }
        if (!next.equals(setup.patch().clock())) {
            asked.accept(next);
        }
    }
}
