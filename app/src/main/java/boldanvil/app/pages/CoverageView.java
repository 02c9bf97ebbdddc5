package boldanvil.app.pages;

import boldanvil.app.model.TrialSession;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Buttons;
import boldanvil.app.widget.Columns;
import boldanvil.core.coverage.Coverage.OfBlock;
import boldanvil.core.coverage.Coverage.Share;
import boldanvil.core.evidence.CoverageReport;
import boldanvil.core.finding.Place;
import java.util.List;
import java.util.function.Function;
import javafx.beans.property.SimpleStringProperty;
import javafx.geometry.Insets;
import javafx.scene.control.Label;
import javafx.scene.control.SplitPane;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.VBox;

/** How much of each block the trials ran, and what they did not. */
final class CoverageView extends BorderPane {
    private final TrialSession session;
    private final TableView<OfBlock> table = new TableView<>();
    private final Label summary = Forms.line("");
    private final Label missing = Forms.line("");
    private final HBox actions;

    /** @param onSheets shows the shares on the sheets, or no longer */
    CoverageView(PageHost host, Runnable onSheets) {
        session = host.trials();
        actions = TagsPage.bar(Buttons.button("Show on sheets", "coverage-sheets", "Shows the share of each block above its plate",
                onSheets));
        table.setId("coverage-table");
        table.setPlaceholder(Forms.faint("Switch Coverage on above the trials and run them on a rig of models. Blocks that decide "
                + "something or read a table are listed here."));
        summary.setId("coverage-summary");
        summary.setPadding(new Insets(8, 12, 8, 12));
        missing.setId("coverage-missing");
        missing.setPadding(new Insets(10, 12, 10, 12));
        column("Block", "Part, subsystems and block", 330, OfBlock::path);
        column("Outcomes", "Outcomes of decisions that were seen: each can be true and false", 120, b -> text(b.outcomes()));
        column("Values", "Values of single conditions that were seen", 120, b -> text(b.values()));
        column("Effects", "Conditions that decided the outcome, once true and once false", 120, b -> text(b.effects()));
        column("Entries", "Entries of tables that were read", 120, b -> text(b.entries()));
        column("Not seen", "What no trial reached", 360, b -> b.missing().isEmpty() ? "" : b.missing().size() == 1 ? b.missing().getFirst()
                : b.missing().size() + ": " + b.missing().getFirst() + " …");
        table.getSelectionModel().selectedItemProperty().addListener((_, _, b) -> missing.setText(b == null ? "" : b.missing().isEmpty()
                ? b.path() + ": all was seen." : b.path() + "\n· " + String.join("\n· ", b.missing())));
        table.setOnMouseClicked(e -> {
            OfBlock b = table.getSelectionModel().getSelectedItem();
            if (e.getClickCount() > 1 && b != null) {
                int slash = b.path().lastIndexOf('/');
                host.show(slash < 0 ? Place.sheet(b.path()) : Place.sheet(b.path().substring(0, slash), b.path().substring(slash + 1)));
            }
        });
        var below = new VBox(missing);
        var both = new SplitPane(table, below);
        both.setOrientation(javafx.geometry.Orientation.VERTICAL);
        both.setDividerPositions(0.74);
        setTop(summary);
        setCenter(both);
        session.onChange(this::refresh);
        refresh();
    }

    HBox actions() {
        return actions;
    }

    private static String text(Share s) {
        return CoverageReport.text(s);
    }

    private void column(String title, String meaning, double width, Function<OfBlock, String> text) {
        TableColumn<OfBlock, String> c = Columns.explained(title, meaning);
        c.setCellValueFactory(d -> new SimpleStringProperty(text.apply(d.getValue())));
        c.setPrefWidth(width);
        table.getColumns().add(c);
    }

    /** Shows what the trials that were run with coverage ran together. */
    void refresh() {
        var all = session.coverage();
        List<OfBlock> blocks = all.values().stream().flatMap(c -> c.blocks().stream()).toList();
        if (!blocks.equals(List.copyOf(table.getItems()))) {
            table.getItems().setAll(blocks);
        }
        List<String> parts = all.entrySet().stream().filter(e -> !e.getValue().blocks().isEmpty())
                .map(e -> e.getKey() + ": " + CoverageReport.text(e.getValue().total())).toList();
        summary.setText(String.join("\n", parts));
    }
}
