package boldanvil.app.pages;

import boldanvil.app.page.PageHost;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Variables;
import java.util.Optional;
import javafx.scene.Node;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.SplitPane;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.GridPane;
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
