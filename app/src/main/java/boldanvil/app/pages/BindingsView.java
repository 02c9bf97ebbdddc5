package boldanvil.app.pages;

import boldanvil.app.model.PlcSession;
import boldanvil.app.model.Reports;
import boldanvil.app.model.TagBindings;
import boldanvil.app.model.TagBindings.SignalRow;
import boldanvil.app.model.TagBindings.TagRow;
import boldanvil.app.model.WatchedTags;
import boldanvil.app.widget.AskCard;
import boldanvil.app.widget.Buttons;
import boldanvil.app.widget.LiveCell;
import boldanvil.core.diagram.TagTable;
import boldanvil.core.finding.FindingException;
import boldanvil.core.link.Access;
import boldanvil.core.link.Endpoint;
import boldanvil.core.tags.TagFile;
import boldanvil.core.tags.TagSources;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import javafx.beans.property.LongProperty;
import javafx.beans.property.SimpleLongProperty;
import javafx.beans.property.SimpleStringProperty;
import javafx.geometry.Orientation;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.control.MenuButton;
import javafx.scene.control.MenuItem;
import javafx.scene.control.SelectionMode;
import javafx.scene.control.SplitPane;
import javafx.scene.control.TableColumn;
import javafx.scene.control.TableView;
import javafx.scene.control.TextField;
import javafx.scene.control.cell.TextFieldTableCell;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import javafx.stage.FileChooser;

/** The tags of a PLC and what each port, tunable and signal of a part is bound to. */
final class BindingsView implements TagsView {
    private static final Map<String, String> COLUMNS = Map.of("Tag", "name", "Type", "type", "Address", "address", "Unit", "unit", "Factor",
            "factor", "Offset", "offset", "Direction", "direction", "Rate", "rate", "Comment", "comment");

    private final TagsPage page;
    private final TextField filter = Forms.field("bind-filter", "", "Part of a name, an address or a comment");
    private final Label summary = Forms.message("bind-summary");
    private final TableView<SignalRow> signals = new TableView<>();
    private final TableView<TagRow> tags = new TableView<>();
    private final Button rule;
    private final Button watch;
    private final SplitPane node;
    private Optional<TagBindings> now = Optional.empty();
    private final LongProperty beat = new SimpleLongProperty();
    private WatchedTags watching;

    BindingsView(TagsPage page) {
        this.page = page;
        filter.setPrefColumnCount(14);
        filter.setPromptText("Filter");
        filter.textProperty().addListener(_ -> fill());
        watch = Buttons.button("Watch …", "bind-watch", "Connects to the PLC and shows the present value of every tag", this::watch);
        signals();
        tags();
        var bind = Buttons.button("Bind", "bind-one", "Binds the selected signal to the selected tag", this::bindSelected);
        var unbind = Buttons.button("Unbind", "bind-none", "Frees the selected signals", this::unbindSelected);
        var same = Buttons.button("Bind same names", "bind-same", "Binds every free signal to the tag of its own name",
                () -> edit("bind same names", TagBindings::boundBySameNames));
        rule = Buttons.button("Bind by rule …", "bind-rule", "Binds every free signal to the tag whose name a rule makes",
                this::bindByRule);
        var suggest = Buttons.button("Suggest …", "bind-suggest", "Lists tags whose names are most like those of free signals",
                this::suggest);
        List.of(bind, unbind, same, rule, suggest).forEach(b -> b.setMinWidth(Region.USE_PREF_SIZE));
        var above = new VBox(6, TagsPage.bar(Forms.section("PORTS AND SIGNALS OF THE PART"), TagsPage.spring(), bind, unbind, same, rule,
                suggest), signals, summary);
        var remove = Buttons.button("Delete", "bind-delete", "Deletes the selected tags", this::delete);
        var ports = Buttons.button("Add ports", "bind-ports", "Adds a port to the part's sheet for each selected tag", this::addPorts);
        List.of(remove, ports, watch).forEach(b -> b.setMinWidth(Region.USE_PREF_SIZE));
        var below = new VBox(6, TagsPage.bar(Forms.section("TAGS OF THE PLC"), filter, TagsPage.spring(), importMenu(), exportMenu(),
                remove, ports, watch), tags);
        VBox.setVgrow(signals, Priority.ALWAYS);
        VBox.setVgrow(tags, Priority.ALWAYS);
        node = new SplitPane(above, below);
        node.setOrientation(Orientation.VERTICAL);
        node.setDividerPositions(0.5);
    }

    @Override
    public Node node() {
        return node;
    }

    private void signals() {
        signals.setId("bind-signals");
        signals.setFixedCellSize(26);
        signals.getSelectionModel().setSelectionMode(SelectionMode.MULTIPLE);
        signals.setColumnResizePolicy(TableView.CONSTRAINED_RESIZE_POLICY_FLEX_LAST_COLUMN);
        signalColumn("Signal", 160, r -> r.signal().name(), false);
        signalColumn("Use", 66, r -> r.signal().use().label(), false);
        signalColumn("Type", 66, r -> r.signal().slot().type().label(), false);
        signalColumn("Unit", 46, r -> r.signal().slot().unit(), false);
        var tag = signalColumn("Tag", 150, SignalRow::tag, false);
        tag.setEditable(true);
        tag.setCellFactory(TextFieldTableCell.forTableColumn());
        tag.setOnEditCommit(e -> edit("bind " + e.getRowValue().signal().name(), b -> b.bound(e.getRowValue().signal().name(),
                e.getNewValue().strip())));
        signalColumn("Address", 150, SignalRow::address, false);
        LiveCell.in(signalColumn("Value", 76, r -> value(r.tag()), true), r -> value(r.tag()), beat);
        LiveCell.in(signalColumn("Age", 60, r -> age(r.tag()), true), r -> age(r.tag()), beat);
        signalColumn("Conversion", 240, r -> r.problem().isEmpty() ? r.conversion() : "✕ " + r.problem(), false);
        signals.setEditable(true);
        signals.setPlaceholder(new Label("The part has no ports, tunables or signals with this in their names."));
    }

    private TableColumn<SignalRow, String> signalColumn(String title, double width, Function<SignalRow, String> text, boolean number) {
        var c = new TableColumn<SignalRow, String>(title);
        c.setPrefWidth(width);
        c.setSortable(false);
        c.setEditable(false);
        c.setCellValueFactory(d -> new SimpleStringProperty(text.apply(d.getValue())));
        c.getStyleClass().add(number ? "number" : "words");
        signals.getColumns().add(c);
        return c;
    }

    private void tags() {
        tags.setId("bind-tags");
        tags.setFixedCellSize(26);
        tags.setEditable(true);
        tags.getSelectionModel().setSelectionMode(SelectionMode.MULTIPLE);
        tags.setColumnResizePolicy(TableView.CONSTRAINED_RESIZE_POLICY_FLEX_LAST_COLUMN);
        for (String title : List.of("Tag", "Type", "Address", "Unit", "Factor", "Offset", "Direction", "Rate")) {
            tagColumn(title, title.equals("Tag") ? 160 : title.equals("Address") ? 130 : 66, title.equals("Factor")
                    || title.equals("Offset"));
        }
        tagColumn("Value", 90, true);
        tagColumn("Bound to", 150, false);
        tagColumn("Comment", 200, false);
        tags.setPlaceholder(new Label("No tags. Import them from a CSV table, a program in Structured Text, an exchange file of PLCopen, "
                + "or a device."));
    }

    private void tagColumn(String title, double width, boolean number) {
        var c = new TableColumn<TagRow, String>(title);
        c.setPrefWidth(width);
        c.setSortable(false);
        String column = COLUMNS.get(title);
        c.setEditable(column != null);
        c.getStyleClass().add(number ? "number" : "words");
        c.setCellValueFactory(d -> new SimpleStringProperty(switch (title) {
            case "Value" -> value(d.getValue().line().name());
            case "Bound to" -> d.getValue().bound();
            default -> TagFile.cells(d.getValue().line()).get(column);
        }));
        if (title.equals("Value")) {
            LiveCell.in(c, r -> value(r.line().name()), beat);
        }
        if (column != null) {
            c.setCellFactory(TextFieldTableCell.forTableColumn());
            c.setOnEditCommit(e -> {
                try {
                    var line = TagFile.edited(e.getRowValue().line(), column, e.getNewValue());
                    edit("set " + e.getRowValue().line().name(), b -> b.changed(e.getRowValue().index(), line));
                } catch (FindingException f) {
                    page.tell(f.findings().getFirst().toString());
                    tags.refresh();
                }
            });
        }
        tags.getColumns().add(c);
    }

    private MenuButton importMenu() {
        var file = new MenuItem("From a file (CSV, Structured Text, PLCopen XML) …");
        file.setOnAction(_ -> {
            var chooser = new FileChooser();
            chooser.setTitle("Import tags");
            chooser.getExtensionFilters().add(new FileChooser.ExtensionFilter("CSV, Structured Text or PLCopen XML", "*.csv", "*.txt",
                    "*.st",
                    "*.xml"));
            var chosen = chooser.showOpenDialog(node.getScene().getWindow());
            if (chosen != null) {
                importFrom(chosen.toPath());
            }
        });
        var device = new MenuItem("From a device …");
        var menu = new MenuButton("Import", null, file, device);
        device.setOnAction(_ -> ConnectCard.show(menu, page.host(), address(), "Browse", c -> page.work(() -> {
            try (var link = c.connect()) {
                return TagSources.ofDevice(link, c.place(), () -> false);
            }
        }, found -> {
            edit("import tags", b -> b.withTags(found));
            page.tell(found.size() + " tags were read from " + c.at() + ".");
        })));
        menu.setId("bind-import");
        menu.setMinWidth(Region.USE_PREF_SIZE);
        return menu;
    }

    private MenuButton exportMenu() {
        var csv = new MenuItem("Tags as CSV …");
        csv.setOnAction(_ -> save("tags.csv", b -> TagFile.write(b.table())));
        var st = new MenuItem("Program skeleton as Structured Text …");
        st.setOnAction(_ -> save("program.st", TagBindings::skeleton));
        var xml = new MenuItem("Program skeleton as PLCopen XML …");
        xml.setOnAction(_ -> save("program.xml", TagBindings::skeletonXml));
        var own = new MenuItem("Program skeleton into the project");
        own.setOnAction(_ -> {
            edit("make a program", TagBindings::withSkeleton);
            page.tell("The program has the declarations. Write its statements in the view 'Program'.");
        });
        var menu = new MenuButton("Export", null, csv, st, xml, own);
        menu.setId("bind-export");
        menu.setMinWidth(Region.USE_PREF_SIZE);
        return menu;
    }

    private void save(String name, Function<TagBindings, String> text) {
        var chooser = new FileChooser();
        chooser.setTitle("Export");
        chooser.setInitialFileName(name);
        var chosen = chooser.showSaveDialog(node.getScene().getWindow());
        if (chosen != null) {
            exportTo(chosen.toPath(), text);
        }
    }

    /** Writes something of the bindings to a file. */
    void exportTo(Path file, Function<TagBindings, String> text) {
        now.ifPresent(b -> page.host().attempt(() -> {
            Reports.whole(file, beside -> Files.writeString(beside, text.apply(b)));
            page.tell("Wrote " + file.getFileName() + ".");
        }));
    }

    /** Reads tags from a file. */
    void importFrom(Path file) {
        now.ifPresent(b -> page.work(() -> b.imported(file), read -> {
            edit("import tags", _ -> read.table());
            page.tell(read.table().lines().size() + " tags" + (read.remarks().isEmpty() ? "." : ". " + read.remarks().size()
                    + " remarks, the first: " + read.remarks().getFirst()));
        }));
    }

    private void edit(String name, Function<TagBindings, TagTable> how) {
        now.ifPresent(b -> page.host().attempt(() -> {
            var table = how.apply(b);
            page.host().workspace().edit(name, p -> p.withTags(b.part(), table));
        }));
    }

    private void bindSelected() {
        var s = signals.getSelectionModel().getSelectedItem();
        var t = tags.getSelectionModel().getSelectedItem();
        if (s == null || t == null) {
            page.tell("Select a signal above and a tag below.");
            return;
        }
        edit("bind " + s.signal().name(), b -> b.bound(s.signal().name(), t.line().name()));
    }

    private void unbindSelected() {
        var some = List.copyOf(signals.getSelectionModel().getSelectedItems());
        edit("unbind", b -> b.unbound(some));
    }

    private void delete() {
        var some = List.copyOf(tags.getSelectionModel().getSelectedItems());
        edit("delete " + some.size() + " tags", b -> b.without(some));
    }

    private void addPorts() {
        var some = List.copyOf(tags.getSelectionModel().getSelectedItems());
        if (some.isEmpty()) {
            page.tell("Select the tags that are to be ports of the part.");
            return;
        }
        now.ifPresent(b -> page.host().attempt(() -> page.host().workspace().edit("add " + some.size() + " ports",
                p -> b.withPorts(p, some))));
    }

    private void bindByRule() {
        AskCard.show(rule, "Rule for names of tags; {part} and {port} are replaced", "{part}_{port}", text -> {
            edit("bind by rule", b -> b.boundByRule(text.strip()));
            return "";
        });
    }

    private void suggest() {
        now.ifPresent(b -> {
            var found = b.suggestions();
            if (found.isEmpty()) {
                page.tell("No free tag has a name like that of a free signal.");
                return;
            }
            Forms.confirm(node, "Bind", "bindings", found.stream().map(s -> String.format(Locale.ROOT,
                    "%s  →  %s   (%.0f %% alike)", s.port(), s.tag(), 100 * s.likeness())).toList(),
                    () -> edit("bind suggestions", x -> x.accepted(found)));
        });
    }

    /** Where the PLC of the part answers, as far as that is known. */
    private String address() {
        return PlcSession.address(page.host().workspace().project(), page.host().rig(), page.part());
    }

    private void watch() {
        if (watching != null) {
            unwatch();
            return;
        }
        var running = PlcSession.reach(page.host().session().live(), page.host().rig(), page.part());
        if (running.isPresent()) {
            watch(running.get().at(), running.get().access());
        } else {
            ConnectCard.show(watch, page.host(), address(), "Watch", c -> watch(c.at(), c.access()));
        }
    }

    /** Connects to a device and shows what it has. */
    void watch(Endpoint at, Access access) {
        page.tell("Connecting to " + at + " …");
        now.ifPresent(b -> page.work(() -> WatchedTags.open(b, at, access), this::watched));
    }

    long readings() {
        return watching == null ? 0 : watching.arrivals();
    }

    private void watched(WatchedTags w) {
        unwatch();
        watching = w;
        watch.setText("End watching");
        page.tell(w.words());
    }

    private void unwatch() {
        if (watching != null) {
            var w = watching;
            watching = null;
            page.host().background().execute(w::close);
            watch.setText("Watch …");
            fill();
        }
    }

    private String value(String tag) {
        return tag.isEmpty() || watching == null ? "" : watching.value(tag);
    }

    private String age(String tag) {
        return tag.isEmpty() || watching == null ? "" : watching.age(tag);
    }

    @Override
    public void load() {
        String before = now.map(TagBindings::part).orElse("");
        now = TagBindings.of(page.host().workspace().review(), page.host().rig(), page.part());
        if (!before.equals(page.part())) {
            unwatch();
        }
        fill();
    }

    private void fill() {
        var signal = signals.getSelectionModel().getSelectedItem();
        int tag = tags.getSelectionModel().getSelectedIndex();
        signals.getItems().setAll(now.map(b -> b.signals(filter.getText())).orElse(List.of()));
        tags.getItems().setAll(now.map(b -> b.tags(filter.getText())).orElse(List.of()));
        summary.setText(now.map(TagBindings::summary).orElse("The sheet of this part has errors; correct them first."));
        if (signal != null) {
            signals.getItems().stream().filter(r -> r.signal().name().equals(signal.signal().name())).findFirst()
                    .ifPresent(r -> signals.getSelectionModel().select(r));
        }
        if (tag >= 0 && tag < tags.getItems().size()) {
            tags.getSelectionModel().clearAndSelect(tag);
        }
    }

    /** Selects a tag or a signal and scrolls to it. */
    void select(String name) {
        filter.clear();
        tags.getItems().stream().filter(r -> r.line().name().equalsIgnoreCase(name)).findFirst().ifPresent(r -> {
            tags.getSelectionModel().clearSelection();
            tags.getSelectionModel().select(r);
            tags.scrollTo(r);
        });
        signals.getItems().stream().filter(r -> r.signal().name().equals(name)).findFirst().ifPresent(r -> {
            signals.getSelectionModel().clearSelection();
            signals.getSelectionModel().select(r);
            signals.scrollTo(r);
        });
    }

    @Override
    public void poll() {
        if (watching != null && watching.hasNews()) {
            // An invalidated value is announced again only after it was asked for.
            beat.set(beat.get() + 1);
        }
    }
}
