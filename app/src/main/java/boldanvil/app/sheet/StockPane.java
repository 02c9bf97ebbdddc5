package boldanvil.app.sheet;

import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Stock;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Consumer;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.input.KeyCode;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** The shelf of block types: type to find, drag to the sheet, or Enter to put one in the middle. */
public final class StockPane extends VBox {
    /** Where a dragged block was dropped, in scene coordinates. */
    public interface Drop {
        void at(BlockType type, double sceneX, double sceneY);
    }

    /** A row: a family's heading or a type. */
    private record Row(String heading, BlockType type) {}

    private final TextField search = new TextField();
    private final ListView<Row> list = new ListView<>();
    private final Drop drop;
    private final Consumer<BlockType> choose;

    /**
     * @param drop takes a block dropped somewhere in the window
     * @param choose takes a block chosen by key or double click
     */
    public StockPane(Drop drop, Consumer<BlockType> choose) {
        super(6);
        this.drop = drop;
        this.choose = choose;
        getStyleClass().add("side");
        setPrefWidth(178);
        setMinWidth(140);
        var heading = new Label("Stock");
        heading.getStyleClass().add("heading");
        search.setPromptText("Type to find a block");
        search.setId("stock-search");
        search.textProperty().addListener(_ -> fill());
        search.setOnAction(_ -> chooseFirst());
        search.setOnKeyPressed(e -> {
            if (e.getCode() == KeyCode.DOWN) {
                list.requestFocus();
                list.getSelectionModel().selectFirst();
            }
        });
        list.setId("stock-list");
        list.setCellFactory(_ -> new Cell());
        list.setOnKeyPressed(e -> {
            var row = list.getSelectionModel().getSelectedItem();
            if (e.getCode() == KeyCode.ENTER && row != null && row.type() != null) {
                choose.accept(row.type());
            }
        });
        setVgrow(list, Priority.ALWAYS);
        getChildren().addAll(heading, search, list);
        fill();
    }

    private void chooseFirst() {
        list.getItems().stream().filter(r -> r.type() != null).findFirst().ifPresent(r -> choose.accept(r.type()));
    }

    /** Types whose title, id or help has every word of the text. */
    static List<BlockType> matching(String text) {
        List<BlockType> found = new ArrayList<>();
        for (BlockType t : Stock.all()) {
            String all = (t.title() + " " + t.id() + " " + t.family().title() + " " + t.help()).toLowerCase(Locale.ROOT);
            boolean every = true;
            for (String word : text.toLowerCase(Locale.ROOT).strip().split("\\s+")) {
                every &= all.contains(word);
            }
            if (every) {
                found.add(t);
            }
        }
        String start = text.toLowerCase(Locale.ROOT).strip();
        found.sort(java.util.Comparator.comparing(t -> !t.title().toLowerCase(Locale.ROOT).startsWith(start)));
        return found;
    }

    private void fill() {
        List<Row> rows = new ArrayList<>();
        String text = search.getText();
        String family = "";
        for (BlockType t : text.isBlank() ? Stock.all() : matching(text)) {
            if (text.isBlank() && !t.family().title().equals(family)) {
                family = t.family().title();
                rows.add(new Row(family, null));
            }
            rows.add(new Row("", t));
        }
        list.getItems().setAll(rows);
    }

    private final class Cell extends ListCell<Row> {
        Cell() {
            setOnMouseClicked(e -> {
                if (e.getClickCount() == 2 && getItem() != null && getItem().type() != null) {
                    choose.accept(getItem().type());
                }
            });
            setOnMouseDragged(_ -> {
                if (getItem() != null && getItem().type() != null) {
                    getScene().setCursor(javafx.scene.Cursor.CLOSED_HAND);
                }
            });
            setOnMouseReleased(e -> {
                getScene().setCursor(null);
                if (getItem() != null && getItem().type() != null && !e.isStillSincePress()) {
                    drop.at(getItem().type(), e.getSceneX(), e.getSceneY());
                }
            });
        }

        @Override
        protected void updateItem(Row row, boolean empty) {
            super.updateItem(row, empty);
            getStyleClass().remove("section");
            setTooltip(null);
            if (empty || row == null) {
                setText(null);
            } else if (row.type() == null) {
                setText(row.heading());
                getStyleClass().add("section");
            } else {
                setText(row.type().title());
                var tip = new Tooltip(row.type().help());
                tip.setWrapText(true);
                tip.setMaxWidth(340);
                setTooltip(tip);
            }
        }
    }
}
