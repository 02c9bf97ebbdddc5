package boldanvil.app.sheet;

import boldanvil.core.diagram.Part;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Stock;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import javafx.event.EventHandler;
import javafx.geometry.Point2D;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.input.KeyCode;
import javafx.scene.input.MouseEvent;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** The shelf of block types: type to find, drag to the sheet, or Enter to put one in the middle. */
public final class StockPane extends VBox {
    /** Gets what is taken from the stock. A place is in scene coordinates; null stands for anywhere. */
    public interface Taker {
        void block(BlockType type, Point2D place);

        void part(Part.Kind kind, Point2D place);
    }

    /** A row: a family's heading, a block type, or a kind of part. */
    private record Row(String heading, BlockType type, Part.Kind part) {
        boolean canBeTaken() {
            return type != null || part != null;
        }

        String text() {
            return type != null ? type.title() : part == Part.Kind.CONTROLLER ? "Controller" : part == Part.Kind.PLANT ? "Plant" : heading;
        }
    }

    private final TextField search = new TextField();
    private final ListView<Row> list = new ListView<>();
    private final Taker taker;
    private final EventHandler<MouseEvent> released = this::released;
    private Row pressed;
    private boolean parts;

    public StockPane(Taker taker) {
        super(6);
        this.taker = taker;
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
            if (e.getCode() == KeyCode.ENTER) {
                take(list.getSelectionModel().getSelectedItem(), null);
            }
        });
        // Wherever the pointer is let go, the scene hears of it.
        sceneProperty().addListener((_, old, now) -> {
            if (old != null) {
                old.removeEventFilter(MouseEvent.MOUSE_RELEASED, released);
            }
            if (now != null) {
                now.addEventFilter(MouseEvent.MOUSE_RELEASED, released);
            }
        });
        setVgrow(list, Priority.ALWAYS);
        getChildren().addAll(heading, search, list);
        fill();
    }

    /** A row that was pressed and is let go outside the list has been dragged there. */
    private void released(MouseEvent e) {
        Row row = pressed;
        pressed = null;
        if (row != null && !list.getLayoutBounds().contains(list.sceneToLocal(e.getSceneX(), e.getSceneY()))) {
            take(row, new Point2D(e.getSceneX(), e.getSceneY()));
        }
    }

    private void chooseFirst() {
        list.getItems().stream().filter(Row::canBeTaken).findFirst().ifPresent(r -> take(r, null));
    }

    private void take(Row row, Point2D place) {
        if (row != null && row.type() != null) {
            taker.block(row.type(), place);
        } else if (row != null && row.part() != null) {
            taker.part(row.part(), place);
        }
    }

    /** Offers parts, for the system sheet, or blocks. */
    public void showParts(boolean on) {
        if (on != parts) {
            parts = on;
            search.setPromptText(on ? "Type to find a part" : "Type to find a block");
            fill();
        }
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
        if (parts) {
            for (Part.Kind kind : Part.Kind.values()) {
                var row = new Row("", null, kind);
                if (row.text().toLowerCase(Locale.ROOT).contains(text.toLowerCase(Locale.ROOT).strip())) {
                    rows.add(row);
                }
            }
            list.getItems().setAll(rows);
            return;
        }
        String family = "";
        for (BlockType t : text.isBlank() ? Stock.all() : matching(text)) {
            if (text.isBlank() && !t.family().title().equals(family)) {
                family = t.family().title();
                rows.add(new Row(family, null, null));
            }
            rows.add(new Row("", t, null));
        }
        list.getItems().setAll(rows);
    }

    private final class Cell extends ListCell<Row> {
        Cell() {
            setOnMouseClicked(e -> {
                if (e.getClickCount() == 2) {
                    take(getItem(), null);
                }
            });
            setOnMousePressed(_ -> pressed = getItem());
        }

        @Override
        protected void updateItem(Row row, boolean empty) {
            super.updateItem(row, empty);
            getStyleClass().remove("section");
            setTooltip(null);
            if (empty || row == null) {
                setText(null);
            } else if (!row.canBeTaken()) {
                setText(row.text());
                getStyleClass().add("section");
            } else if (row.type() == null) {
                setText(row.text());
            } else {
                setText(row.text());
                var tip = new Tooltip(row.type().help());
                tip.setWrapText(true);
                tip.setMaxWidth(340);
                setTooltip(tip);
            }
        }
    }
}
