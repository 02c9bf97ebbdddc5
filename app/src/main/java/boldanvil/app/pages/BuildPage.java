package boldanvil.app.pages;

import boldanvil.app.model.Navigator;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.Workspace;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.board.BoardSetup;
import boldanvil.core.board.Boards;
import boldanvil.core.build.LoadEstimate;
import boldanvil.core.c.CFile;
import boldanvil.core.diagram.Patch;
import boldanvil.core.diagram.Rig;
import boldanvil.core.program.Layout;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.Supplier;
import javafx.geometry.Insets;
import javafx.scene.control.Button;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.ListCell;
import javafx.scene.control.ListView;
import javafx.scene.control.SplitPane;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** What will be made and how big: tasks, sizes, the generated files with the place of each line, the steps and their log. */
public final class BuildPage extends BorderPane {
    /** A line of generated code. */
    private record Line(int number, String text, String place) {}

    private final Workspace workspace;
    private final RigSession session;
    private final Supplier<String> rig;
    private final Navigator navigator;
    private final Runnable showSheet;
    private final VBox facts = new VBox(6);
    private final ChoiceBox<String> files = new ChoiceBox<>();
    private final ListView<Line> code = new ListView<>();
    private final ListView<String> log = new ListView<>();
    private final VBox steps = new VBox(3);
    private List<CFile> shownFiles = List.of();
    private Object shown;

    /**
     * @param rig name of the rig that is chosen
     * @param showSheet turns to the sheet page
     */
    public BuildPage(Workspace workspace, RigSession session, Supplier<String> rig, Navigator navigator, Runnable showSheet) {
        this.workspace = workspace;
        this.session = session;
        this.rig = rig;
        this.navigator = navigator;
        this.showSheet = showSheet;
        facts.getStyleClass().add("side");
        facts.setPrefWidth(360);
        code.setId("code");
        code.setCellFactory(_ -> new CodeCell());
        files.setId("files");
        files.valueProperty().addListener((_, _, v) -> showFile(v));
        var jump = new Button("Show its block on the sheet");
        jump.setId("jump");
        jump.setOnAction(_ -> jump());
        jump.setDisable(true);
        code.getSelectionModel().selectedItemProperty().addListener((_, _, l) -> jump.setDisable(l == null || !l.place().contains("/")));
        var bar = new HBox(8, new Label("Generated file"), files, jump);
        bar.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        bar.setPadding(new Insets(8, 12, 8, 12));
        VBox.setVgrow(code, Priority.ALWAYS);
        log.setId("build-log");
        log.getStyleClass().add("mono");
        log.setPlaceholder(new Label("The log of the next start appears here."));
        var stepsBox = new VBox(4, title("Steps of the last start"), steps);
        stepsBox.setPadding(new Insets(8, 12, 8, 12));
        stepsBox.setMinWidth(250);
        var below = new SplitPane(stepsBox, log);
        below.setDividerPositions(0.3);
        var right = new SplitPane(new VBox(bar, code), below);
        right.setOrientation(javafx.geometry.Orientation.VERTICAL);
        right.setDividerPositions(0.66);
        var all = new SplitPane(facts, right);
        SplitPane.setResizableWithParent(facts, false);
        all.setDividerPositions(0.3);
        setCenter(all);
        workspace.onChange(this::refresh);
        session.onChange(this::refreshLog);
    }

    private static Label title(String text) {
        var l = new Label(text);
        l.getStyleClass().add("section");
        return l;
    }

    /** Shows what the chosen rig makes of the project now. */
    public void refresh() {
        refreshLog();
        record Key(Object review, String rig, boolean visible) {}
        var key = new Key(workspace.review(), rig.get(), isVisible());
        if (key.equals(shown) || !isVisible()) {
            return;
        }
        shown = key;
        facts.getChildren().clear();
        var heading = new Label("What the rig " + rig.get() + " makes");
        heading.getStyleClass().add("heading");
        facts.getChildren().add(heading);
        List<CFile> all = new ArrayList<>();
        // Rig and programs of one and the same state; the project may be a change ahead of its review.
        var chosen = workspace.review().project().rig(rig.get()).orElse(null);
        if (chosen == null || workspace.review().hasErrors()) {
            var l = new Label(chosen == null ? "No rig is chosen." : "Mend the findings first; then the files and sizes appear here.");
            l.setWrapText(true);
            l.getStyleClass().add("empty-state");
            facts.getChildren().add(l);
        } else {
            chosen.places().forEach((part, place) -> {
                if (place.mode() != Rig.Mode.MODEL) {
                    all.addAll(RigStarter.sources(workspace.review(), chosen, part).files());
                    sizes(chosen, part);
                }
            });
            if (all.isEmpty()) {
                var l = new Label("Every part of this rig is a model here; nothing is built. Choose a rig with a part as code or on "
                        + "a device.");
                l.setWrapText(true);
                l.getStyleClass().add("empty-state");
                facts.getChildren().add(l);
            }
        }
        shownFiles = all;
        String before = files.getValue();
        files.getItems().setAll(all.stream().map(CFile::name).toList());
        files.setValue(files.getItems().contains(before) ? before
                : files.getItems().stream().filter(n -> n.endsWith(".c")).findFirst().orElse(null));
        showFile(files.getValue());
    }

    private void sizes(Rig rig, String part) {
        var program = workspace.review().system().program(part).orElseThrow();
        var place = rig.place(part);
        String boardName = place.mode() == Rig.Mode.DEVICE ? place.device() : workspace.project().patches().containsKey(part)
                ? workspace.project().patches().get(part).board() : Boards.shipped().names().getFirst();
        var board = Boards.of(workspace.project()).find(boardName).orElse(Boards.shipped().require(part, Boards.shipped().names().getFirst()));
        facts.getChildren().add(title(program.title() + (place.mode() == Rig.Mode.DEVICE ? " on " + board.title()
                : " as code, estimated for " + board.title())));
        var setup = new BoardSetup(board, java.util.Optional.ofNullable(workspace.review().project().patches().get(part)).flatMap(p -> p.on(board.name()))
                .orElse(new Patch(board.name(), List.of())), program);
        var rows = LoadEstimate.of(setup);
        var grid = new GridPane();
        grid.setHgap(12);
        grid.setVgap(3);
        String[] titles = {"task", "period µs", "run µs", "response µs"};
        for (int i = 0; i < titles.length; i++) {
            var l = new Label(titles[i]);
            l.getStyleClass().addAll("faint", "small");
            grid.add(l, i, 0);
            javafx.scene.layout.GridPane.setHalignment(l, i == 0 ? javafx.geometry.HPos.LEFT : javafx.geometry.HPos.RIGHT);
        }
        for (int i = 0; i < rows.size(); i++) {
            var r = rows.get(i);
            grid.add(new Label(r.name().replace('_', ' ')), 0, i + 1);
            double[] values = {r.periodSeconds(), r.seconds(), r.responseSeconds()};
            for (int k = 0; k < 3; k++) {
                var l = new Label(Double.isInfinite(values[k]) ? "never" : String.format(Locale.ROOT, "%.1f", values[k] * 1e6));
                l.getStyleClass().add("mono");
                if (values[k] > r.periodSeconds()) {
                    l.getStyleClass().add("bad");
                }
                grid.add(l, k + 1, i + 1);
                javafx.scene.layout.GridPane.setHalignment(l, javafx.geometry.HPos.RIGHT);
            }
        }
        facts.getChildren().add(grid);
        double load = LoadEstimate.load(rows);
        var loadLine = new Label(String.format(Locale.ROOT, "Estimated processor load %.0f %%", load * 100));
        loadLine.getStyleClass().add(load > 0.9 ? "bad" : load > 0.7 ? "doubtful" : "good");
        var hint = new Label("Estimated from the operations of the program at " + String.format(Locale.ROOT, "%.0f", setup.coreHertz() / 1e6)
                + " MHz" + (workspace.project().part(part).map(p -> p.real().equals("float64")).orElse(false) && board.core().floatBits() < 64
                ? "; float64 is computed in software on this board, float32 in hardware." : "."));
        hint.getStyleClass().addAll("faint", "small");
        hint.setWrapText(true);
        int ram = Layout.of(program).size();
        var memory = new Label(String.format(Locale.ROOT, "RAM %,d of %,d bytes", ram, board.memory().ramBytes()));
        facts.getChildren().addAll(loadLine, hint, memory);
        session.run().map(r -> r.images().get(part)).ifPresent(image -> {
            var flash = new Label(String.format(Locale.ROOT, "Image %,d bytes, code and constants %,d bytes as compiled here; flash %,d bytes",
                    image.bytes(), image.codeBytes(), board.memory().flashBytes()));
            flash.setWrapText(true);
            facts.getChildren().add(flash);
        });
    }

    private void showFile(String name) {
        List<Line> lines = new ArrayList<>();
        shownFiles.stream().filter(f -> f.name().equals(name)).findFirst().ifPresent(f -> {
            String[] text = f.text().split("\n", -1);
            for (int i = 0; i < text.length; i++) {
                lines.add(new Line(i + 1, text[i], f.places().getOrDefault(i + 1, "")));
            }
        });
        code.getItems().setAll(lines);
    }

    /** Shows the first line that comes from a block. */
    public void showPlace(String place) {
        for (CFile f : shownFiles) {
            var line = f.places().entrySet().stream().filter(e -> e.getValue().equals(place) && f.name().endsWith(".c"))
                    .mapToInt(java.util.Map.Entry::getKey).min();
            if (line.isPresent()) {
                files.setValue(f.name());
                code.getSelectionModel().select(line.getAsInt() - 1);
                code.scrollTo(Math.max(0, line.getAsInt() - 6));
                return;
            }
        }
    }

    private void jump() {
        var l = code.getSelectionModel().getSelectedItem();
        if (l != null) {
            showSheet.run();
            navigator.show(l.place());
        }
    }

    private void refreshLog() {
        if (!isVisible()) {
            return;
        }
        if (log.getItems().size() != session.log().size()) {
            log.getItems().setAll(session.log());
            log.scrollTo(Math.max(0, log.getItems().size() - 1));
        }
        steps.getChildren().clear();
        for (var s : session.steps()) {
            boolean current = !s.done();
            var l = new Label((s.failed() ? "✕  " : s.done() ? "✓  " : "…  ") + s.name()
                    + (current && session.share() > 0 ? String.format(Locale.ROOT, "  %.0f %%", session.share() * 100) : ""));
            l.getStyleClass().add(s.failed() ? "bad" : s.done() ? "good" : "doubtful");
            steps.getChildren().add(l);
        }
        if (session.steps().isEmpty()) {
            var l = new Label("Press Run to go through them.");
            l.getStyleClass().add("faint");
            steps.getChildren().add(l);
        }
    }

    private static final class CodeCell extends ListCell<Line> {
        @Override
        protected void updateItem(Line line, boolean empty) {
            super.updateItem(line, empty);
            if (empty || line == null) {
                setGraphic(null);
                return;
            }
            var number = new Label(String.format("%4d", line.number()));
            number.getStyleClass().addAll("mono", "faint");
            number.setMinWidth(38);
            var text = new Label(line.text().replace("\t", "    "));
            text.getStyleClass().add("mono");
            if (line.text().strip().startsWith("/*") || line.text().strip().startsWith("*")) {
                text.getStyleClass().add("faint");
            }
            setGraphic(new HBox(8, number, text));
            setStyle("-fx-padding: 0 6 0 6;");
        }
    }
}
