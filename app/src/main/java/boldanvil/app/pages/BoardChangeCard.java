package boldanvil.app.pages;

import boldanvil.core.finding.Place;
import boldanvil.core.patch.BoardChange;
import java.util.function.UnaryOperator;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;

/** What the change to another board would bring, before it is made. */
final class BoardChangeCard extends VBox {
    /**
     * @param title of the other board
     * @param unit the unit of a terminal, by its name
     * @param make changes to the board
     * @param keep keeps the present board
     */
    BoardChangeCard(BoardChange plan, String title, UnaryOperator<String> unit, Runnable make, Runnable keep) {
        super(5);
        getStyleClass().add("card");
        setId("board-change");
        var heading = new Label("Differences on " + title);
        heading.getStyleClass().add("strong");
        getChildren().add(heading);
        for (var r : plan.rows()) {
            var l = new Label(r.terminal() + ":  " + (r.from().isEmpty() ? "not assigned" : r.from()) + "  →  "
                    + (r.to().isEmpty() ? "not assigned" : r.to())
                    + (r.values().isEmpty() ? "" : "\n      " + String.join("; ", r.values()).replace("units", unit.apply(r.terminal()))));
            l.setWrapText(true);
            l.getStyleClass().add("small");
            if (r.to().isEmpty()) {
                l.getStyleClass().add("bad");
            }
            getChildren().add(l);
        }
        plan.findings().forEach(f -> {
            var l = new Label((f.place() instanceof Place.Patch p && !p.terminal().isEmpty() ? p.terminal() : f.place().text()) + ":  "
                    + f.cause() + " " + f.cure());
            l.setWrapText(true);
            l.getStyleClass().addAll("small", f.isError() ? "bad" : "warning");
            getChildren().add(l);
        });
        var change = new Button("Change to " + title);
        change.setId("change-board");
        change.getStyleClass().add("primary");
        change.setOnAction(_ -> make.run());
        var stay = new Button("Keep the board");
        stay.setOnAction(_ -> keep.run());
        getChildren().add(new HBox(8, change, stay));
    }
}
