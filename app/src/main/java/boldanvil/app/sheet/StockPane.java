package boldanvil.app.sheet;

import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Part;
import boldanvil.core.edit.BlockFinder;
import boldanvil.core.sheet.Ink;
import boldanvil.core.sheet.Pen;
import boldanvil.core.sheet.SheetPainter;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.OwnBlocks;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Stock;
import boldanvil.core.stock.Values;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import javafx.event.EventHandler;
import javafx.geometry.Point2D;
import javafx.scene.canvas.Canvas;
import javafx.scene.control.ContextMenu;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.MenuItem;
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

        void own(OwnBlock block, Point2D place);
    }

    /** A row: a family's heading, a block type, perhaps that of an own block, or a kind of part. */
    private record Row(String heading, BlockType type, Part.Kind part, OwnBlock own) {
        Row(String heading, BlockType type, Part.Kind part) {
            this(heading, type, part, null);
        }

        static Row of(OwnBlock own) {
            return new Row("", OwnBlocks.type(own), null, own);
        }

        boolean canBeTaken() {
            return type != null || part != null;
        }

        String text() {
            return type != null ? type.title() : part == Part.Kind.CONTROLLER ? "Controller" : part == Part.Kind.PLANT ? "Plant" : heading;
        }
    }

    private static final int RECENT = 5;
    private static final double PICTURE_WIDTH = 48;
    private static final double PICTURE_HEIGHT = 28;

    private final TextField search = new TextField();
    private final ListView<Row> list = new ListView<>();
    private final Taker taker;
    private final StockUse use;
    private final Supplier<BlockFinder> finder;
    private final Supplier<Theme> theme;
    private final EventHandler<MouseEvent> released = this::released;
    private List<OwnBlock> own = List.of();
    private Row pressed;
    private boolean parts;

    /**
     * @param use favourites and what was used lately
     * @param finder finds blocks for the open sheet
     */
    StockPane(Taker taker, StockUse use, Supplier<BlockFinder> finder, Supplier<Theme> theme) {
        super(6);
        this.taker = taker;
        this.use = use;
        this.finder = finder;
        this.theme = theme;
        getStyleClass().add("side");
        setPrefWidth(178);
        setMinWidth(140);
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
        getChildren().addAll(search, list);
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
        if (row != null && row.own() != null) {
            taker.own(row.own(), place);
        } else if (row != null && row.type() != null) {
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

    /** Offers own blocks as well. */
    void offer(List<OwnBlock> blocks) {
        if (!own.equals(blocks)) {
            own = List.copyOf(blocks);
            fill();
        }
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
        if (text.isBlank()) {
            section(rows, "Favourites", use.favourites());
            section(rows, "Used lately", use.recent().subList(0, Math.min(RECENT, use.recent().size())));
            if (!own.isEmpty()) {
                rows.add(new Row("Own blocks", null, null));
                own.forEach(b -> rows.add(Row.of(b)));
            }
            String family = "";
            for (BlockType t : Stock.all()) {
                if (!t.family().title().equals(family)) {
                    family = t.family().title();
                    rows.add(new Row(family, null, null));
                }
                rows.add(new Row("", t, null));
            }
        } else {
            String wanted = text.toLowerCase(Locale.ROOT).strip();
            own.stream().filter(b -> b.title().toLowerCase(Locale.ROOT).contains(wanted)).forEach(b -> rows.add(Row.of(b)));
            finder.get().find(text).forEach(t -> rows.add(new Row("", t, null)));
        }
        list.getItems().setAll(rows);
    }

    private static void section(List<Row> rows, String title, List<String> ids) {
        var types = ids.stream().map(Stock::find).flatMap(Optional::stream).toList();
        if (!types.isEmpty()) {
            rows.add(new Row(title, null, null));
            types.forEach(t -> rows.add(new Row("", t, null)));
        }
    }

    /** Draws the pictures again, in the colours of the theme. */
    void repaint() {
        list.refresh();
    }

    /** The picture of a type with its usual parameters. */
    private Canvas picture(BlockType t) {
        var canvas = new Canvas(PICTURE_WIDTH, PICTURE_HEIGHT);
        var picture = t.picture(new Values(new Settings(t, Map.of()), Map.of()));
        var g = canvas.getGraphicsContext2D();
        g.setFill(theme.get().colour(Ink.of(t.family())));
        g.fillRect(0, 3, 3, PICTURE_HEIGHT - 6);
        var pen = new CanvasPen(g, theme.get());
        if (picture.isEmpty()) {
            String text = pen.fit(t.summary(new Settings(t, Map.of())), Pen.Lettering.MONO, 10, PICTURE_WIDTH - 9);
            pen.text(text, 7 + (PICTURE_WIDTH - 7) / 2, PICTURE_HEIGHT / 2, 0.5, Pen.Lettering.MONO, 10, Ink.INK);
        } else {
            new SheetPainter(pen, 1).draw(picture, 9, 3, PICTURE_WIDTH - 11, PICTURE_HEIGHT - 6);
        }
        return canvas;
    }

    private final class Cell extends ListCell<Row> {
        Cell() {
            setOnMouseClicked(e -> {
                if (e.getClickCount() == 2) {
                    take(getItem(), null);
                }
            });
            setOnMousePressed(_ -> pressed = getItem());
            setWrapText(true);
            setPrefWidth(100);
        }

        private ContextMenu favourite(BlockType type) {
            var item = new MenuItem(use.favourites().contains(type.id()) ? "Remove from the favourites" : "Add to the favourites");
            item.setOnAction(_ -> {
                use.toggle(type);
                fill();
            });
            return new ContextMenu(item);
        }

        @Override
        protected void updateItem(Row row, boolean empty) {
            super.updateItem(row, empty);
            getStyleClass().remove("section");
            setTooltip(null);
            setGraphic(null);
            setContextMenu(null);
            if (empty || row == null) {
                setText(null);
            } else if (!row.canBeTaken()) {
                setText(row.text());
                getStyleClass().add("section");
            } else if (row.type() == null) {
                setText(row.text());
            } else {
                setText(row.text());
                setGraphic(picture(row.type()));
                setContextMenu(row.own() == null ? favourite(row.type()) : null);
                var tip = new Tooltip(row.own() != null && row.type().help().isBlank() ? "An own block without a description."
                        : row.type().help());
                tip.setWrapText(true);
                tip.setMaxWidth(340);
                setTooltip(tip);
            }
        }
    }
}
