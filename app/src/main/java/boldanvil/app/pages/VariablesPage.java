package boldanvil.app.pages;

import boldanvil.app.model.ProjectTables;
import boldanvil.app.model.Reports;
import boldanvil.app.model.Workspace;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.AskCard;
import boldanvil.core.diagram.Variable;
import boldanvil.core.edit.Renaming;
import boldanvil.core.edit.Usages;
import boldanvil.core.edit.VariableFile;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.quantity.Variables;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.function.BiConsumer;
import java.util.function.BiFunction;
import java.util.function.Function;
import java.util.function.UnaryOperator;
import javafx.beans.property.SimpleStringProperty;
import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Hyperlink;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.control.cell.TextFieldTableCell;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;
import javafx.stage.FileChooser;
import org.kordamp.ikonli.Ikon;
import org.kordamp.ikonli.feather.Feather;

/** The variables of the project: values with units, notes, groups, what they come to, and where they are used. */
public final class VariablesPage extends BorderPane implements Page {
    private final PageHost host;
    private final Workspace workspace;
    private final TableView<Variable> table = new TableView<>();
    private final TextField filter = new TextField();
    private final VBox uses = new VBox(2);
    private Variables.Result resolved = Variables.resolve(Map.of());
    private Map<String, List<Usages.Use>> used = Map.of();

    public VariablesPage(PageHost host) {
        this.host = host;
        workspace = host.workspace();
        setId("variables");
        table.setId("variables-table");
        table.setEditable(true);
        table.setFixedCellSize(28);
        column("name", 150, Variable::name, (v, t) -> v, this::rename);
        column("value", 210, Variable::value, Variable::valued, null);
        column("computed", 120, this::computed, null, null);
        column("unit", 80, this::unit, (v, t) -> new Variable(v.name(), v.value(), v.note(), t, v.group()), null);
        column("group", 120, Variable::group, (v, t) -> new Variable(v.name(), v.value(), v.note(), v.unit(), t), null);
        column("note", 330, Variable::note, (v, t) -> new Variable(v.name(), v.value(), t, v.unit(), v.group()), null);
        column("uses", 60, v -> Integer.toString(used.getOrDefault(v.name(), List.of()).size()), null, null);
        table.setPlaceholder(new Label("No variables yet. Add one; parameters of blocks may then name it."));
        table.getSelectionModel().selectedItemProperty().addListener((_, _, v) -> showUses(v));
        filter.setId("variables-filter");
        filter.setPromptText("Name, note or group");
        filter.textProperty().addListener(_ -> refresh());
        var add = button("Add a variable", "variables-add", this::add);
        var delete = button("Delete", "variables-delete", this::delete);
        var load = button("Import CSV …", "variables-import", () -> choose(false));
        var save = button("Export CSV …", "variables-export", () -> choose(true));
        var bar = new HBox(8, filter, add, delete, load, save);
        bar.setAlignment(Pos.CENTER_LEFT);
        bar.setPadding(new Insets(10));
        setTop(bar);
        setCenter(table);
        uses.setPadding(new Insets(8, 12, 10, 12));
        var below = new ScrollPane(uses);
        below.setFitToWidth(true);
        below.setPrefHeight(170);
        setBottom(below);
        workspace.onChange(() -> {
            if (isVisible()) {
                refresh();
            }
        });
    }

    private static Button button(String text, String id, Runnable action) {
        var b = new Button(text);
        b.setId(id);
        b.setOnAction(_ -> action.run());
        return b;
    }

    /**
     * @param with the variable with another text in this column; null for a column that cannot be edited
     * @param edit takes an edit that is more than that; null for others
     */
    private TableColumn<Variable, String> column(String title, double width, Function<Variable, String> text,
            BiFunction<Variable, String, Variable> with, BiConsumer<Variable, String> edit) {
        var c = new TableColumn<Variable, String>(title);
        c.setPrefWidth(width);
        c.setCellValueFactory(d -> new SimpleStringProperty(text.apply(d.getValue())));
        c.setEditable(with != null);
        if (title.equals("computed") || title.equals("uses")) {
            c.setStyle("-fx-alignment: center-right;");
        }
        if (with != null) {
            c.setCellFactory(TextFieldTableCell.forTableColumn());
            c.setOnEditCommit(e -> {
                Variable v = e.getRowValue();
                if (edit != null) {
                    edit.accept(v, e.getNewValue().strip());
                } else {
                    change("set " + v.name(), all -> all.stream().map(w -> w.name().equals(v.name())
                            ? with.apply(w, e.getNewValue().strip())
                            : w).toList());
                }
                refresh();
            });
        }
        table.getColumns().add(c);
        return c;
    }

    private String computed(Variable v) {
        var q = resolved.values().get(v.name());
        return q == null ? resolved.errors().getOrDefault(v.name(), "") : ProjectTables.computed(q, v.unit());
    }

    private String unit(Variable v) {
        var q = resolved.values().get(v.name());
        return v.unit().isEmpty() && q != null && q.dimension() != null ? q.dimension().unit() : v.unit();
    }

    private void change(String name, UnaryOperator<List<Variable>> how) {
        workspace.edit(name, p -> p.withVariables(how.apply(p.variables())));
    }

    private void rename(Variable v, String name) {
        if (!name.equals(v.name())) {
            host.attempt(() -> workspace.edit("rename " + v.name(), p -> Renaming.variable(p, v.name(), name)));
        }
    }

    private void add() {
        AskCard.show(filter, "New variable: name = value", "", text -> {
            int equals = text.indexOf('=');
            String name = (equals < 0 ? text : text.substring(0, equals)).strip();
            String value = equals < 0 ? "0" : text.substring(equals + 1).strip();
            if (!name.matches("[A-Za-z_][A-Za-z0-9_]{0,60}")) {
                return "Use letters, digits and underscores, beginning with a letter, such as Kp = 1.5.";
            }
            if (workspace.project().variables().stream().anyMatch(v -> v.name().equals(name))) {
                return "There is a variable '" + name + "' already.";
            }
            change("add " + name, all -> {
                var next = new ArrayList<>(all);
                next.add(new Variable(name, value, ""));
                return next;
            });
            return "";
        });
    }

    private void delete() {
        Variable v = table.getSelectionModel().getSelectedItem();
        if (v != null) {
            change("delete " + v.name(), all -> all.stream().filter(w -> !w.name().equals(v.name())).toList());
        }
    }

    private void choose(boolean write) {
        var chooser = new FileChooser();
        chooser.getExtensionFilters().add(new FileChooser.ExtensionFilter("CSV table", "*.csv"));
        chooser.setTitle(write ? "Export the variables" : "Import variables");
        var file = write ? chooser.showSaveDialog(getScene().getWindow()) : chooser.showOpenDialog(getScene().getWindow());
        if (file != null && write) {
            exportTo(file.toPath());
        } else if (file != null) {
            importFrom(file.toPath());
        }
    }

    /** Writes all variables to a file. */
    public void exportTo(Path file) {
        host.attempt(() -> {
            Reports.whole(file, beside -> Files.writeString(beside, VariableFile.write(workspace.project().variables())));
            host.showMessage("Wrote " + file.getFileName() + ".");
        });
    }

    /** Takes values from a file; they can be undone together. */
    public void importFrom(Path file) {
        host.attempt(() -> {
            try {
                String text = Files.readString(file);
                var next = VariableFile.read(text, file.getFileName().toString(), workspace.project().variables());
                change("import variables", _ -> next);
                host.showMessage("Imported " + file.getFileName() + ".");
            } catch (IOException e) {
                throw FindingException.of(file.toString(), "The file cannot be read: " + e.getMessage() + ".",
                        "Check that it is a text in UTF-8 and may be read.");
            }
        });
    }

    private void refresh() {
        var chosen = table.getSelectionModel().getSelectedItem();
        resolved = Variables.resolve(workspace.project().variableTexts());
        used = Usages.variables(workspace.project());
        String words = filter.getText().toLowerCase(Locale.ROOT).strip();
        table.getItems().setAll(workspace.project().variables().stream()
                .filter(v -> (v.name() + " " + v.note() + " " + v.group()).toLowerCase(Locale.ROOT).contains(words)).toList());
        if (chosen != null) {
            table.getItems().stream().filter(v -> v.name().equals(chosen.name())).findFirst()
                    .ifPresent(v -> table.getSelectionModel().select(v));
        }
        showUses(table.getSelectionModel().getSelectedItem());
    }

    private void showUses(Variable v) {
        uses.getChildren().clear();
        if (v == null) {
            var hint = new Label("Select a variable to see where it is used. Double-click a cell to edit it.");
            hint.getStyleClass().add("faint");
            uses.getChildren().add(hint);
            return;
        }
        var all = used.getOrDefault(v.name(), List.of());
        var heading = new Label(all.isEmpty() ? v.name() + " is not used." : v.name() + " is used at:");
        heading.getStyleClass().add("strong");
        uses.getChildren().add(heading);
        for (Usages.Use u : all) {
            var link = new Hyperlink(u.place().text() + "   " + u.text());
            link.setOnAction(_ -> host.show(u.place()));
            uses.getChildren().add(link);
        }
    }

    @Override
    public String name() {
        return "Variables";
    }

    @Override
    public Ikon icon() {
        return Feather.LIST;
    }

    @Override
    public Node node() {
        return this;
    }

    @Override
    public boolean owns(Place place) {
        return place instanceof Place.Variable;
    }

    @Override
    public void show(Place place) {
        if (place instanceof Place.Variable v) {
            filter.clear();
            refresh();
            table.getItems().stream().filter(w -> w.name().equals(v.name())).findFirst().ifPresent(w -> {
                table.getSelectionModel().select(w);
                table.scrollTo(w);
            });
        }
    }

    @Override
    public void shown() {
        refresh();
    }
}
