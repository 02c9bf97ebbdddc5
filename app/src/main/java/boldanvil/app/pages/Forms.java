package boldanvil.app.pages;

import boldanvil.app.page.PageHost;
import boldanvil.app.widget.ConfirmCard;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Variables;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import javafx.scene.Node;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.SplitPane;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;

/** What the forms beside the curves of the Loop page have in common. */
final class Forms {
    private Forms() {}

    static Label section(String text) {
        var l = new Label(text);
        l.getStyleClass().add("section");
        return l;
    }

    static Label heading(String text) {
        var l = new Label(text);
        l.getStyleClass().add("heading");
        return l;
    }

    static Label faint(String text) {
        var l = new Label(text);
        l.getStyleClass().add("faint");
        l.setWrapText(true);
        return l;
    }

    /** A text of any length. */
    static Label line(String text) {
        var l = new Label(text);
        l.setWrapText(true);
        l.setMinHeight(Region.USE_PREF_SIZE);
        return l;
    }

    /** Where it is said what is being done, or why it cannot be done. */
    static Label message(String id) {
        var l = line("");
        l.setId(id);
        l.getStyleClass().add("small");
        return l;
    }

    /** A choice of what there is when it is opened. */
    static ComboBox<String> choice(String id, String prompt, Supplier<List<String>> items) {
        var box = new ComboBox<String>();
        box.setId(id);
        box.setPromptText(prompt);
        box.setMaxWidth(Double.MAX_VALUE);
        box.setOnShowing(_ -> {
            String before = box.getValue();
            box.getItems().setAll(items.get());
            box.setValue(before);
        });
        return box;
    }

    /**
     * Shows what would be written, and writes it when that is confirmed.
     *
     * @param verb on the button
     * @param what is written: gains, values
     */
    static void confirm(Node near, String verb, String what, List<String> lines, Runnable write) {
        Map<String, Runnable> ways = new LinkedHashMap<>();
        ways.put(verb, write);
        ways.put("Cancel", () -> { });
        ConfirmCard.show(near.getScene().getWindow(), "Write these " + what + "? One undo takes all back.\n\n" + String.join("\n", lines),
                ways);
    }

    static TextField field(String id, String text, String tip) {
        var f = new TextField(text);
        f.setId(id);
        f.setPrefColumnCount(7);
        f.setTooltip(new Tooltip(tip));
        return f;
    }

    /** Labels and what belongs to them, one below the other. */
    static GridPane grid(Object... pairs) {
        var grid = new GridPane();
        grid.setHgap(8);
        grid.setVgap(4);
        for (int i = 0; i < pairs.length; i += 2) {
            grid.addRow(i / 2, new Label((String) pairs[i]), (Node) pairs[i + 1]);
        }
        return grid;
    }

    /** A form on the left of what it is about. */
    static SplitPane beside(VBox form, Node what) {
        form.getStyleClass().add("side");
        var side = new ScrollPane(form);
        side.setFitToWidth(true);
        side.setMinWidth(270);
        side.getStyleClass().add("side-column");
        var all = new SplitPane(side, what);
        SplitPane.setResizableWithParent(side, false);
        all.setDividerPositions(0.27);
        return all;
    }

    /** Shows or hides a node, with the place it takes. */
    static void show(Node node, boolean on) {
        node.setVisible(on);
        node.setManaged(on);
    }

    /** What a field comes to, SI, with the project's variables; empty after a message where it cannot be computed. */
    static Optional<Double> number(PageHost host, TextField f) {
        try {
            return Optional.of(Formula.quantity(f.getText().replace('−', '-'),
                    Variables.resolve(host.workspace().project().variableTexts()).values()).value());
        } catch (FormulaException e) {
            host.showMessage("'" + f.getText() + "' cannot be computed: " + e.getMessage());
            return Optional.empty();
        }
    }
}
