package boldanvil.app.sheet;

import boldanvil.app.widget.PopupCard;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.OwnBlock.Parameter;
import boldanvil.core.quantity.Formula;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.TextArea;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import javafx.stage.Popup;

/** The form of an own block: what it is called, what its plate shows, and its parameters. */
final class OwnBlockCard {
    /** A parameter as a row of fields; it counts while it is chosen. */
    private record Row(CheckBox chosen, TextField name, TextField value, TextField unit, TextField note) {
        static Row of(Parameter p, boolean named) {
            var row = new Row(new CheckBox(), new TextField(p.name()), new TextField(p.value()), new TextField(p.unit()),
                    new TextField(p.note()));
            row.chosen.setSelected(true);
            row.name.setEditable(!named);
            row.name.setPrefColumnCount(7);
            row.value.setPrefColumnCount(7);
            row.unit.setPrefColumnCount(4);
            row.note.setPrefColumnCount(12);
            row.name.setPromptText("name");
            row.value.setPromptText("default");
            return row;
        }

        Parameter parameter() {
            return new Parameter(name.getText().strip(), value.getText().strip(), unit.getText().strip(), note.getText().strip());
        }
    }

    private final TextField title = new TextField();
    private final TextArea help = new TextArea();
    private final TextField caption = new TextField();
    private final TextField curve = new TextField();
    private final TextField from = new TextField();
    private final TextField to = new TextField();
    private final List<Row> rows = new ArrayList<>();
    private final GridPane parameters = new GridPane(4, 4);
    private final Label wrong = new Label();

    private OwnBlockCard(OwnBlock b) {
        title.setText(b.title());
        title.setId("own-title");
        help.setText(b.help());
        help.setPrefRowCount(3);
        help.setWrapText(true);
        help.setId("own-help");
        caption.setText(b.caption());
        caption.setId("own-caption");
        caption.setTooltip(new Tooltip("A parameter's name in braces stands for its value, as in  gain {Kp}."));
        curve.setText(b.curve());
        curve.setId("own-curve");
        curve.setPromptText("such as  min(max(Kp * u, -limit), limit)");
        from.setText(b.curveFrom().isEmpty() ? "-1" : b.curveFrom());
        to.setText(b.curveTo().isEmpty() ? "1" : b.curveTo());
        from.setPrefColumnCount(4);
        to.setPrefColumnCount(4);
        wrong.setWrapText(true);
        wrong.setMaxWidth(460);
        wrong.getStyleClass().addAll("small", "bad");
        parameters.addRow(0, new Label(""), small("Name"), small("Default"), small("Unit"), small("Note"));
        b.parameters().forEach(p -> add(Row.of(p, true)));
    }

    private static Label small(String text) {
        var l = new Label(text);
        l.getStyleClass().addAll("small", "faint");
        return l;
    }

    private void add(Row r) {
        rows.add(r);
        parameters.addRow(rows.size(), r.chosen(), r.name(), r.value(), r.unit(), r.note());
    }

    /**
     * @param about what the form shows at first; every parameter is chosen
     * @param take takes what was entered; returns what is wrong with it, or an empty text
     */
    static void show(Node owner, OwnBlock about, String action, Function<OwnBlock, String> take) {
        var card = new OwnBlockCard(about);
        var more = new Button("Add a parameter");
        more.setId("own-add-parameter");
        more.setOnAction(_ -> card.add(Row.of(new Parameter("", "", "", ""), false)));
        var ok = new Button(action);
        ok.setId("own-ok");
        ok.getStyleClass().add("primary");
        var scroll = new ScrollPane(card.parameters);
        scroll.setFitToWidth(true);
        scroll.setMaxHeight(190);
        var range = new HBox(4, card.curve, new Label("for u from"), card.from, new Label("to"), card.to);
        range.setAlignment(Pos.CENTER_LEFT);
        HBox.setHgrow(card.curve, javafx.scene.layout.Priority.ALWAYS);
        var box = new VBox(5, small("Title"), card.title, small("Description"), card.help, small("Text on the plate"), card.caption,
                small("Curve on the plate, a formula of u and the parameters"), range, small("Parameters"), scroll, more, card.wrong, ok);
        box.setPrefWidth(480);
        Popup[] popup = new Popup[1];
        ok.setOnAction(_ -> {
            String refusal = card.refusal();
            refusal = refusal.isEmpty() ? take.apply(card.block(about)) : refusal;
            if (refusal.isEmpty()) {
                popup[0].hide();
            } else {
                card.wrong.setText(refusal);
            }
        });
        popup[0] = PopupCard.below(owner, box);
        card.title.requestFocus();
        card.title.selectAll();
    }

    private List<Parameter> chosen() {
        return rows.stream().filter(r -> r.chosen().isSelected()).map(Row::parameter).filter(p -> !p.name().isEmpty()).toList();
    }

    /** What cannot be taken, or an empty text. */
    private String refusal() {
        for (Parameter p : chosen()) {
            if (!Formula.isName(p.name()) || p.name().equals("sheet") || p.name().equals("runs") || p.name().equals("u")) {
                return "'" + p.name() + "' cannot be the name of a parameter. Use letters, digits and underscores.";
            }
            if (p.value().isEmpty()) {
                return "Enter a default for '" + p.name() + "'.";
            }
        }
        boolean twice = chosen().stream().map(Parameter::name).distinct().count() < chosen().size();
        return twice ? "Two parameters have the same name." : title.getText().isBlank() ? "Enter a title." : "";
    }

    private OwnBlock block(OwnBlock about) {
        boolean drawn = !curve.getText().isBlank();
        return new OwnBlock(about.id(), title.getText().strip(), help.getText().strip(), caption.getText().strip(), curve.getText().strip(),
                drawn ? from.getText().strip() : "", drawn ? to.getText().strip() : "", chosen(), about.sheets());
    }
}
