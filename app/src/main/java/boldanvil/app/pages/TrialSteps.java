package boldanvil.app.pages;

import boldanvil.app.model.TrialRow;
import boldanvil.app.widget.Buttons;
import boldanvil.core.trial.TrialLines;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.BiConsumer;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.function.UnaryOperator;
import javafx.beans.property.SimpleStringProperty;
import javafx.geometry.Insets;
import javafx.scene.control.TableCell;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.control.TextArea;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.cell.TextFieldTableCell;
import javafx.scene.layout.BorderPane;

/** The steps of a trial as a table or as text, and what changes them. */
final class TrialSteps extends BorderPane {
    private final TableView<TrialRow> table = new TableView<>();
    private final TextArea text = new TextArea();
    private final ToggleButton asText = Buttons.toggle("Edit as text", "trial-as-text", _ -> turn());
    private final Supplier<String> source;
    private final BiConsumer<String, UnaryOperator<String>> edit;
    private boolean filling;

    /**
     * @param source the text of the trial; empty where none is selected
     * @param edit changes it; gets the name of the change
     * @param chosen called when another step is selected
     */
    TrialSteps(Supplier<String> source, BiConsumer<String, UnaryOperator<String>> edit, Runnable chosen) {
        this.source = source;
        this.edit = edit;
        table.setId("trial-table");
        table.setEditable(true);
        table.setPlaceholder(Forms.faint("Select a trial on the left."));
        column("Line", 46, r -> Integer.toString(r.line())).getStyleClass().add("figure");
        var what = column("Step", 400, r -> "    ".repeat(r.depth()) + r.text());
        what.getStyleClass().add("mono");
        what.setCellFactory(TextFieldTableCell.forTableColumn());
        what.setEditable(true);
        what.setOnEditCommit(e -> replace(e.getRowValue(), e.getNewValue(), e.getRowValue().requirements()));
        var needs = column("Requirements", 100, r -> String.join(", ", r.requirements()));
        needs.setCellFactory(TextFieldTableCell.forTableColumn());
        needs.setOnEditCommit(e -> replace(e.getRowValue(), e.getRowValue().text(),
                Arrays.stream(e.getNewValue().split("[,\\s]+")).filter(s -> !s.isEmpty()).toList()));
        column("Result", 110, TrialRow::result).setCellFactory(_ -> new ResultCell<>());
        column("At, s", 74, TrialRow::at).getStyleClass().add("figure");
        column("Seen", 200, TrialRow::seen);
        table.setColumnResizePolicy(TableView.CONSTRAINED_RESIZE_POLICY_FLEX_LAST_COLUMN);
        table.getSelectionModel().selectedItemProperty().addListener((_, _, _) -> {
            if (!filling) {
                chosen.run();
            }
        });
        text.setId("trial-text");
        text.getStyleClass().add("mono");
        text.focusedProperty().addListener((_, _, on) -> {
            if (!on) {
                takeText();
            }
        });
        var insert = Buttons.button("Insert step", "trial-insert", "Insert a step below the selected one", this::insert);
        var drop = Buttons.button("Delete step", "trial-drop", "Delete the selected line",
                () -> selected().ifPresent(r -> edit.accept("Delete step", t -> TrialLines.remove(t, r.line()))));
        var up = Buttons.button("Move up", "trial-up", "Exchange with the line above", () -> move(-1));
        var down = Buttons.button("Move down", "trial-down", "Exchange with the line below", () -> move(1));
        var tools = TagsPage.bar(insert, drop, up, down, TagsPage.spring(), asText);
        tools.setPadding(new Insets(4, 12, 6, 12));
        setTop(tools);
        setCenter(table);
    }

    /** Shows rows; the selected line stays selected. */
    void show(List<TrialRow> rows) {
        int line = selected().map(TrialRow::line).orElse(0);
        filling = true;
        table.getItems().setAll(rows);
        select(line);
        filling = false;
    }

    /** Shows the text of the trial, but where it is just being written. */
    void showText() {
        if (!text.isFocused()) {
            text.setText(source.get());
        }
    }

    List<TrialRow> rows() {
        return table.getItems();
    }

    Optional<TrialRow> selected() {
        return Optional.ofNullable(table.getSelectionModel().getSelectedItem());
    }

    /** Selects a line, where it has a row. */
    void select(int line) {
        table.getItems().stream().filter(r -> r.line() == line).findFirst().ifPresent(r -> {
            table.getSelectionModel().select(r);
            table.scrollTo(r);
        });
    }

    private TableColumn<TrialRow, String> column(String heading, double width, Function<TrialRow, String> value) {
        var c = new TableColumn<TrialRow, String>(heading);
        c.setCellValueFactory(d -> new SimpleStringProperty(value.apply(d.getValue())));
        c.setPrefWidth(width);
        c.setSortable(false);
        table.getColumns().add(c);
        return c;
    }

    private void replace(TrialRow row, String step, List<String> requirements) {
        edit.accept("Change step", t -> TrialLines.replace(t, row.line(), step, requirements));
    }

    private void insert() {
        int line = selected().map(TrialRow::line).orElse(Integer.MAX_VALUE);
        edit.accept("Insert step", t -> TrialLines.insertBelow(t, line, "wait 1 s"));
        select(line == Integer.MAX_VALUE ? table.getItems().isEmpty() ? 0 : table.getItems().getLast().line() : line + 1);
    }

    private void move(int by) {
        int i = table.getSelectionModel().getSelectedIndex();
        if (i < 0 || i + by < 0 || i + by >= table.getItems().size()) {
            return;
        }
        int from = table.getItems().get(i).line();
        int to = table.getItems().get(i + by).line();
        edit.accept("Move step", t -> TrialLines.exchange(t, from, to));
        select(to);
    }

    private void turn() {
        if (asText.isSelected()) {
            text.setText(source.get());
            setCenter(text);
        } else {
            takeText();
            setCenter(table);
        }
    }

    /** What was written as text becomes the trial. */
    void takeText() {
        if (!source.get().isEmpty() && !text.getText().equals(source.get())) {
            edit.accept("Edit trial", _ -> text.getText());
        }
    }

    /** A result, in its colour. */
    static final class ResultCell<T> extends TableCell<T, String> {
        @Override
        protected void updateItem(String item, boolean empty) {
            super.updateItem(item, empty);
            setText(empty ? "" : item);
            getStyleClass().removeAll("good", "bad", "warning");
            if (!empty && item != null) {
                getStyleClass().addAll(item.startsWith("✓") ? List.of("good") : item.startsWith("✕") ? List.of("bad")
                        : item.startsWith("?") ? List.of("warning") : List.of());
            }
        }
    }
}
