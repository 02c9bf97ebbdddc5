package boldanvil.app.sheet;

import boldanvil.app.model.SheetEdits;
import boldanvil.app.widget.PopupCard;
import boldanvil.core.diagram.Mark;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.TextArea;
import javafx.scene.control.TextField;
import javafx.scene.layout.VBox;
import javafx.stage.Popup;

/** The text of a note or the title of a frame, and the file it leads to. */
final class MarkCard {
    private MarkCard() {}

    static void show(SheetCanvas canvas, SheetEdits edits, Mark m) {
        boolean note = m.kind() == Mark.Kind.NOTE;
        var text = new TextArea(m.text());
        text.setId("mark-text");
        text.setPrefRowCount(note ? 6 : 1);
        text.setPrefColumnCount(28);
        text.setWrapText(true);
        var link = new TextField(m.link());
        link.setId("mark-link");
        link.setPromptText("docs/drive.pdf");
        var ok = new Button("OK");
        ok.setId("mark-ok");
        ok.getStyleClass().add("primary");
        var popup = new Popup[1];
        ok.setOnAction(_ -> {
            edits.change(canvas.ref(), m.saying(text.getText().strip()).linked(link.getText().strip()));
            popup[0].hide();
        });
        popup[0] = PopupCard.below(canvas, new VBox(6, new Label(note ? "Text" : "Title"), text,
                new Label("Link to a file of the project"), link,
                ok));
        text.requestFocus();
    }
}
