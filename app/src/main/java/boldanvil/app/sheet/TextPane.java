package boldanvil.app.sheet;

import boldanvil.app.model.SheetEdits;
import boldanvil.app.model.Workspace;
import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Parameter;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Stock;
import boldanvil.core.text.Chart;
import java.io.File;
import java.io.IOException;
import java.nio.charset.MalformedInputException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Supplier;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.Tooltip;
import javafx.scene.input.KeyCode;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import javafx.stage.FileChooser;

/** Where the text of a block is written; it lies over the sheet. What is wrong stands below, and leads to its line. */
final class TextPane extends BorderPane {

    /** Bytes of a file that can be loaded; more would make the text slow to handle. */
    private static final long LONGEST = 2_000_000;

    private final Workspace workspace;
    private final SheetEdits edits;
    private final Label title = new Label();
    private final Label kind = new Label();
    private final Label caret = new Label();
    /** Made when the first text is opened. */
    private SourceArea source;
    private final VBox wrong = new VBox(2);
    private final ChartPane chart;
    private final ToggleButton asChart = new ToggleButton("Chart");
    private SheetRef ref;
    private String id = "";
    private String parameter = "";
    private String place = "";

    /** @param active names of the active steps of the mode chart at a diagram path */
    TextPane(Workspace workspace, SheetEdits edits, Supplier<Theme> theme, Function<String, Set<String>> active) {
        this.workspace = workspace;
        this.edits = edits;
        chart = new ChartPane(theme, () -> active.apply(place), this::replace);
        setId("text-pane");
        getStyleClass().add("text-pane");
        title.getStyleClass().add("heading");
        kind.getStyleClass().add("faint");
        caret.getStyleClass().addAll("small", "mono", "faint");
        var check = new Button("Check");
        check.setId("text-check");
        check.setOnAction(_ -> commit());
        var load = new Button("Load a file");
        load.setId("text-load");
        load.setTooltip(new Tooltip("Replaces this text by that of a file"));
        load.setOnAction(_ -> {
            var chooser = new FileChooser();
            chooser.setTitle("Load a text");
            File from = chooser.showOpenDialog(getScene().getWindow());
            if (from != null) {
                load(from.toPath());
            }
        });
        asChart.setId("text-chart");
        asChart.setOnAction(_ -> showAs(asChart.isSelected()));
        var close = new Button("Back to the sheet");
        close.setId("text-close");
        close.setOnAction(_ -> close());
        var gap = new Region();
        HBox.setHgrow(gap, Priority.ALWAYS);
        var top = new HBox(10, title, kind, gap, caret, asChart, load, check, close);
        top.setAlignment(Pos.CENTER_LEFT);
        top.getStyleClass().add("text-pane-bar");
        wrong.getStyleClass().add("text-pane-bar");
        setTop(top);
        setBottom(wrong);
        setVisible(false);
        workspace.onChange(this::refresh);
    }

    private SourceArea source() {
        if (source == null) {
            source = new SourceArea();
            var area = source.area();
            area.caretPositionProperty().addListener((_, _, _) -> caret.setText("line " + (area.getCurrentParagraph() + 1) + ", column "
                    + (area.getCaretColumn() + 1)));
            area.focusedProperty().addListener((_, _, now) -> {
                if (!now) {
                    commit();
                }
            });
            area.setOnKeyPressed(e -> {
                if (e.getCode() == KeyCode.ENTER && e.isShortcutDown()) {
                    commit();
                    e.consume();
                } else if (e.getCode() == KeyCode.ESCAPE) {
                    close();
                    e.consume();
                }
            });
        }
        return source;
    }

    /** Takes the text after an edit of the chart. */
    private void replace(String text) {
        source().replace(text);
        commit();
        chart.show(text);
    }

    /** Shows the text as a chart, or as it is written. */
    void showAs(boolean picture) {
        asChart.setSelected(picture);
        if (picture) {
            commit();
            chart.show(source().text());
        }
        setCenter(picture ? chart : source());
    }

    /** Draws the chart again, as when another step is active. */
    void repaint() {
        if (isVisible() && asChart.isSelected()) {
            chart.paint();
        }
    }

    /** The parameter of a block that is a text of several lines. */
    static Optional<Parameter> text(BlockType type) {
        return type.parameters().stream().filter(p -> p.kind() == Parameter.Kind.SOURCE).findFirst();
    }

    /** Opens the text of a block; {@code path} is the sheet's diagram path. */
    void open(SheetRef sheet, String path, Block b) {
        BlockType type = Stock.find(b.type()).orElseThrow();
        ref = sheet;
        id = b.id();
        parameter = text(type).orElseThrow().name();
        place = path + "/" + b.name();
        title.setText(b.name());
        kind.setText(type.title());
        source().open(new Settings(type, b.settings()).text(parameter));
        setVisible(true);
        boolean isChart = Chart.of(source().text()).isPresent();
        asChart.setVisible(isChart);
        asChart.setManaged(isChart);
        showAs(isChart);
        refresh();
        if (!isChart) {
            source().area().requestFocus();
        }
    }

    void close() {
        if (isVisible()) {
            commit();
            setVisible(false);
        }
    }

    /** Puts a file's text in the place of what is there; it can be undone. */
    void load(Path file) {
        try {
            if (Files.size(file) > LONGEST) {
                showMessage(file.getFileName() + " is larger than " + LONGEST / 1_000_000 + " MB. Shorten it.");
                return;
            }
            source().replace(Files.readString(file));
            commit();
            source().area().requestFocus();
        } catch (MalformedInputException e) {
            showMessage(file.getFileName() + " is not a text in UTF-8. Save it as one.");
        } catch (IOException e) {
            showMessage(file.getFileName() + " cannot be read: " + e.getMessage() + ". Choose another file.");
        }
    }

    private void showMessage(String text) {
        var label = new Label(text);
        label.setId("text-said");
        label.setWrapText(true);
        label.getStyleClass().addAll("small", "bad");
        wrong.getChildren().setAll(label);
    }

    private Optional<Block> block() {
        return ref == null ? Optional.empty() : workspace.project().sheet(ref).flatMap(s -> s.block(id));
    }

    private void commit() {
        block().ifPresent(b -> {
            String old = Stock.find(b.type()).map(t -> new Settings(t, b.settings()).text(parameter)).orElse("");
            if (!old.equals(source().text())) {
                edits.set(ref, id, parameter, source().text());
            }
        });
    }

    private void refresh() {
        if (!isVisible()) {
            return;
        }
        var b = block();
        if (b.isEmpty()) {
            setVisible(false);
            return;
        }
        if (!source().area().isFocused()) {
            String now = Stock.find(b.get().type()).map(t -> new Settings(t, b.get().settings()).text(parameter)).orElse("");
            if (!now.equals(source().text())) {
                source().replace(now);
                if (asChart.isSelected()) {
                    chart.show(now);
                }
            }
        }
        List<Finding> mine = workspace.findings().stream().filter(f -> f.place().sheetPath().filter(place::equals).isPresent()).toList();
        source().mark(mine.stream().filter(f -> f.place() instanceof Place.Line).map(f -> {
            var line = (Place.Line) f.place();
            return new SourceArea.Spot(line.line(), line.column(), f.isError());
        }).toList());
        wrong.getChildren().clear();
        if (mine.isEmpty()) {
            var fine = new Label("No findings in this text. Ctrl+Enter checks it, Ctrl+Space proposes names, Ctrl+click goes to a "
                    + "declaration, Escape returns to the sheet.");
            fine.getStyleClass().addAll("small", "faint");
            wrong.getChildren().add(fine);
        }
        mine.stream().limit(6).forEach(f -> wrong.getChildren().add(finding(f)));
    }

    private Hyperlink finding(Finding f) {
        var link = new Hyperlink(f.cause() + " " + f.cure());
        link.setWrapText(true);
        link.getStyleClass().addAll("small", f.isError() ? "bad" : "warning");
        link.setOnAction(_ -> {
            if (f.place() instanceof Place.Line l) {
                showAs(false);
                source().jump(l.line(), l.column());
            }
        });
        return link;
    }
}
