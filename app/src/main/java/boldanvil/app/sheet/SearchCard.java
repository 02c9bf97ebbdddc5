package boldanvil.app.sheet;

import boldanvil.app.model.Figures;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.PopupCard;
import boldanvil.core.edit.Search;
import boldanvil.core.finding.FindingException;
import java.util.List;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.TextField;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;

/** Finds a text in all sheets, texts and variables, and replaces it. */
final class SearchCard extends VBox {
    private final PageHost host;
    private final TextField wanted = new TextField();
    private final TextField with = new TextField();
    private final CheckBox matchCase = new CheckBox("Match case");
    private final CheckBox words = new CheckBox("Whole words");
    private final ListView<Search.Hit> list = new ListView<>();
    private final Label count = new Label();

    private SearchCard(PageHost host) {
        super(6);
        this.host = host;
        wanted.setId("search-text");
        wanted.setPromptText("Find");
        wanted.textProperty().addListener(_ -> refresh());
        with.setId("search-with");
        with.setPromptText("Replace with");
        matchCase.setOnAction(_ -> refresh());
        words.setOnAction(_ -> refresh());
        list.setId("search-list");
        list.setPrefSize(560, 300);
        list.setCellFactory(_ -> new Cell());
        list.getSelectionModel().selectedItemProperty().addListener((_, _, h) -> {
            if (h != null) {
                host.show(h.place());
            }
        });
        count.getStyleClass().addAll("small", "faint");
        var one = new Button("Replace");
        one.setId("search-replace");
        one.setOnAction(_ -> {
            Search.Hit h = list.getSelectionModel().getSelectedItem();
            if (h != null) {
                replace(List.of(h));
            }
        });
        var all = new Button("Replace all");
        all.setId("search-replace-all");
        all.setOnAction(_ -> replace(List.copyOf(list.getItems())));
        var options = new HBox(10, matchCase, words, count);
        options.setAlignment(Pos.CENTER_LEFT);
        getChildren().addAll(wanted, options, list, new HBox(6, with, one, all));
        refresh();
    }

    static void show(Node owner, PageHost host) {
        var card = new SearchCard(host);
        PopupCard.below(owner, card);
        card.wanted.requestFocus();
    }

    private Search search() {
        return new Search(wanted.getText(), matchCase.isSelected(), words.isSelected());
    }

    private void refresh() {
        list.getItems().setAll(wanted.getText().isEmpty() ? List.of() : search().in(host.workspace().project()));
        count.setText(wanted.getText().isEmpty() ? "" : Figures.count(list.getItems().size(), "place"));
    }

    private void replace(List<Search.Hit> hits) {
        try {
            host.workspace().edit("replace '" + wanted.getText() + "'", p -> search().replace(p, hits, with.getText()));
        } catch (FindingException e) {
            host.showMessage(e.findings().getFirst().toString());
        }
        refresh();
    }

    private static final class Cell extends ListCell<Search.Hit> {
        @Override
        protected void updateItem(Search.Hit h, boolean empty) {
            super.updateItem(h, empty);
            if (empty || h == null) {
                setGraphic(null);
                return;
            }
            var place = new Label(h.place().text() + "  ·  " + Search.words(h));
            place.getStyleClass().addAll("small", "faint");
            setGraphic(new VBox(0, place, new Label(h.text())));
        }
    }
}
