package boldanvil.app.pages;

import boldanvil.app.model.TagBindings;
import boldanvil.app.widget.Theme;
import boldanvil.core.tags.ByteLayout;
import boldanvil.core.tags.ByteLayout.Area;
import boldanvil.core.tags.ByteLayout.Piece;
import boldanvil.core.tags.ByteLayout.Row;
import java.util.List;
import javafx.geometry.VPos;
import javafx.scene.Node;
import javafx.scene.canvas.Canvas;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import javafx.scene.text.TextAlignment;

/** How the tags of a PLC lie in the bytes of its inputs, outputs, memory and registers. */
final class BytesView implements TagsView {
    private static final double LABEL = 108;
    private static final double ROW = 46;

    private final TagsPage page;
    private final ComboBox<String> area = new ComboBox<>();
    private final Label words = Forms.message("bytes-words");
    private final ListView<Row> rows = new ListView<>();
    private final VBox node;
    private List<Area> areas = List.of();

    BytesView(TagsPage page) {
        this.page = page;
        area.setId("bytes-area");
        area.valueProperty().addListener((_, _, _) -> fill());
        rows.setId("bytes-rows");
        rows.setCellFactory(_ -> new Cell());
        rows.setFixedCellSize(ROW);
        var hint = new Label("No tag has an address in the bytes of the PLC. Give tags direct addresses such as %MW4, or registers such as "
                + "holding 100, in the view 'Bindings'.");
        hint.setWrapText(true);
        rows.setPlaceholder(hint);
        VBox.setVgrow(rows, Priority.ALWAYS);
        node = new VBox(8, TagsPage.bar(new Label("Area"), area, words), rows);
    }

    @Override
    public Node node() {
        return node;
    }

    @Override
    public void load() {
        areas = TagBindings.of(page.host().workspace().review(), page.host().rig(), page.part()).map(b -> ByteLayout.of(b.table()))
                .orElse(List.of());
        String before = area.getValue();
        List<String> names = areas.stream().map(Area::name).toList();
        area.getItems().setAll(names);
        area.setValue(names.contains(before) ? before : names.isEmpty() ? null : names.getFirst());
        fill();
    }

    private Area shown() {
        return areas.stream().filter(a -> a.name().equals(area.getValue())).findFirst().orElse(null);
    }

    private void fill() {
        Area a = shown();
        rows.getItems().setAll(a == null ? List.of() : ByteLayout.rows(a));
        long twice = a == null ? 0 : a.fields().stream().filter(ByteLayout.Field::overlaps).count();
        words.setText(a == null ? "" : a.fields().size() + " tags" + (twice == 0 ? "; none overlaps another."
                : "; " + twice + " overlap (hatched)."));
    }

    /** One row: the number of its first unit, and a box for each tag. */
    private final class Cell extends ListCell<Row> {
        private final Canvas canvas = new Canvas(10, ROW);

        Cell() {
            widthProperty().addListener(_ -> draw());
        }

        @Override
        protected void updateItem(Row row, boolean empty) {
            super.updateItem(row, empty);
            setGraphic(empty || row == null ? null : canvas);
            draw();
        }

        private void draw() {
            Row row = getItem();
            Area a = shown();
            double width = Math.min(1180, getListView() == null ? getWidth() : getListView().getWidth()) - 24;
            if (row == null || a == null || width < 2 * LABEL) {
                return;
            }
            canvas.setWidth(width);
            GraphicsContext g = canvas.getGraphicsContext2D();
            Theme theme = page.host().theme();
            g.clearRect(0, 0, width, ROW);
            g.setTextBaseline(VPos.CENTER);
            g.setTextAlign(TextAlignment.LEFT);
            g.setFont(Theme.mono(12));
            g.setFill(theme.ink());
            g.fillText(a.unit() + " " + row.first(), 0, ROW / 2);
            double bit = (width - LABEL) / (row.units() * a.bitsPerUnit());
            boolean divided = row.units() == 1 && a.bitsPerUnit() > 1;
            int step = divided ? 1 : a.bitsPerUnit();
            g.setStroke(theme.rule());
            for (int i = 0; i <= row.units() * a.bitsPerUnit(); i += step) {
                g.strokeLine(LABEL + i * bit, 4, LABEL + i * bit, ROW - 4);
            }
            for (Piece p : row.pieces()) {
                // Bit 7 of a byte stands left, as in every manual.
                int from = divided ? a.bitsPerUnit() - p.to() : p.from();
                piece(g, theme, p, LABEL + from * bit, (p.to() - p.from()) * bit);
            }
        }

        private void piece(GraphicsContext g, Theme theme, Piece p, double x, double width) {
            boolean twice = p.field().overlaps();
            g.setFill(theme.card());
            g.fillRect(x + 2, 4, width - 4, ROW - 8);
            g.save();
            g.beginPath();
            g.rect(x + 2, 4, width - 4, ROW - 8);
            g.clip();
            if (twice) {
                g.setStroke(theme.amber());
                for (double d = -ROW; d < width; d += 9) {
                    g.strokeLine(x + d, ROW, x + d + ROW, 0);
                }
            }
            g.setFill(theme.ink());
            g.setFont(Theme.sans(12));
            g.fillText(p.field().tag().name(), x + 8, ROW / 2 - 8);
            g.setFill(theme.faint());
            g.setFont(Theme.sans(11));
            g.fillText(p.field().tag().type() + "  " + p.field().tag().address() + (p.field().order().isEmpty() ? "" : ", "
                    + p.field().order()), x + 8, ROW / 2 + 9);
            g.restore();
            g.setStroke(twice ? theme.amber() : theme.steel());
            g.strokeRect(x + 2.5, 4.5, width - 5, ROW - 9);
        }
    }
}
