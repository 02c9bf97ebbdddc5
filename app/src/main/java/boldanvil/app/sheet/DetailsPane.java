package boldanvil.app.sheet;

import boldanvil.app.model.Navigator;
import boldanvil.app.model.SheetEdits;
import boldanvil.app.model.Workspace;
import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Variable;
import boldanvil.core.finding.Finding;
import boldanvil.core.lower.Solver;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Units;
import boldanvil.core.quantity.Variables;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.OwnBlocks;
import boldanvil.core.stock.Parameter;
import boldanvil.core.stock.Settings;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import javafx.scene.Node;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;

/** What is selected, to read and to change; with nothing selected, the part and the project's variables. */
public final class DetailsPane extends ScrollPane {
    private final Workspace workspace;
    private final SheetEdits edits;
    private final Navigator navigator;
    private final VBox box = new VBox(4);
    private String shown = "";
    private Consumer<String> onText = _ -> { };

    public DetailsPane(Workspace workspace, SheetEdits edits, Navigator navigator) {
        this.workspace = workspace;
        this.edits = edits;
        this.navigator = navigator;
        box.getStyleClass().add("side");
        setContent(box);
        setFitToWidth(true);
        setFitToHeight(true);
        setHbarPolicy(ScrollBarPolicy.NEVER);
        setPrefWidth(282);
        setMinWidth(200);
        setId("details");
        getStyleClass().add("side");
        setStyle("-fx-padding: 0;");
    }

    /** Gets the id of a block whose text is to be edited. */
    void onText(Consumer<String> action) {
        onText = action;
    }

    /** Shows the selection. Leaves everything alone while nothing it shows has changed, so that typing continues. */
    public void show(Set<String> selection) {
        SheetRef ref = navigator.sheet().orElse(null);
        String key = navigator.path() + "|" + selection + "|" + workspace.project().hashCode() + "|" + workspace.findings().hashCode();
        if (key.equals(shown)) {
            return;
        }
        shown = key;
        String focused = focusedField();
        box.getChildren().clear();
        if (selection.size() > 1) {
            box.getChildren().addAll(heading(selection.size() + " selected"), note("Drag to move them, Delete to remove them, "
                    + "Ctrl+C to copy them."));
            several(ref, selection);
        } else if (ref == null) {
            String id = selection.isEmpty() ? null : selection.iterator().next();
            workspace.project().part(id == null ? "" : id).ifPresentOrElse(this::part, this::system);
        } else {
            var block = selection.isEmpty() ? java.util.Optional.<Block>empty()
                    : workspace.project().sheet(ref).flatMap(s -> s.block(selection.iterator().next()));
            block.ifPresentOrElse(b -> block(ref, b), () -> workspace.project().part(ref.part()).ifPresent(this::part));
        }
        Node field = focused == null ? null : lookup("#" + focused);
        if (field != null) {
            field.requestFocus();
        }
    }

    private String focusedField() {
        Node owner = getScene() == null ? null : getScene().getFocusOwner();
        for (Node n = owner; n != null; n = n.getParent()) {
            if (n == this) {
                return owner.getId();
            }
        }
        return null;
    }

    private static Label heading(String text) {
        var l = new Label(text);
        l.getStyleClass().add("heading");
        l.setWrapText(true);
        return l;
    }

    private static Label section(String text) {
        var l = new Label(text);
        l.getStyleClass().add("section");
        return l;
    }

    private static Label note(String text) {
        var l = new Label(text);
        l.getStyleClass().addAll("faint", "small");
        l.setWrapText(true);
        return l;
    }

    private static Label caption(String text) {
        var l = new Label(text);
        l.getStyleClass().add("small");
        return l;
    }

    /** A text field that hands over its text on Enter or when it loses the focus. */
    private static TextField field(String id, String text, Consumer<String> commit) {
        var f = new TextField(text);
        f.setId(id);
        Runnable hand = () -> {
            if (!f.getText().equals(text)) {
                commit.accept(f.getText());
            }
        };
        f.setOnAction(_ -> hand.run());
        f.focusedProperty().addListener((_, _, now) -> {
            if (!now) {
                hand.run();
            }
        });
        return f;
    }

    /** The parameters that all of several blocks have. */
    private void several(SheetRef ref, Set<String> selection) {
        List<Block> blocks = ref == null ? List.of() : workspace.project().sheet(ref).map(s -> s.blocks().stream()
                .filter(b -> selection.contains(b.id())).toList()).orElse(List.of());
        List<BlockType> types = blocks.stream().flatMap(b -> OwnBlocks.type(workspace.project().library(), b).stream()).toList();
        if (types.isEmpty() || types.size() < blocks.size()) {
            return;
        }
        box.getChildren().add(note("A value set here is set for all of them."));
        parameters(ref, blocks, types);
        if (types.stream().noneMatch(t -> t.continuousOnly() || t.role() == BlockType.Role.CONSTANT)) {
            sampleTime(ref, blocks);
        }
    }

    private static Set<String> ids(List<Block> blocks) {
        return blocks.stream().map(Block::id).collect(Collectors.toSet());
    }

    /** The text all blocks have; empty where they differ. */
    private static String common(List<Block> blocks, Function<Block, String> text) {
        String first = text.apply(blocks.getFirst());
        return blocks.stream().allMatch(b -> text.apply(b).equals(first)) ? first : "";
    }

    private void block(SheetRef ref, Block b) {
        var type = OwnBlocks.type(workspace.project().library(), b).orElse(null);
        box.getChildren().addAll(heading(b.name()), note(type == null ? "unknown type " + b.type()
                : type.title() + " · " + type.family().title()));
        if (type != null) {
            box.getChildren().addAll(section("Name"), field("field-name", b.name(), t -> edits.rename(ref, b.id(), t)));
            if (type.role() == BlockType.Role.SUBSYSTEM) {
                var open = new Button("Open its sheet");
                open.setOnAction(_ -> navigator.enter(b.id()));
                box.getChildren().addAll(open, note("Drag a port along the edge of the block to move it."));
            }
            parameters(ref, List.of(b), List.of(type));
            if (!type.continuousOnly() && type.role() != BlockType.Role.CONSTANT) {
                sampleTime(ref, List.of(b));
            }
        }
        problems(navigator.path() + "/" + b.name());
        if (type != null) {
            box.getChildren().addAll(section("Description"), note(type.help()));
        }
    }

    /** Fields for the parameters that all blocks have; a field is empty where their values differ. */
    private void parameters(SheetRef ref, List<Block> blocks, List<BlockType> types) {
        BlockType type = types.getFirst();
        Block first = blocks.getFirst();
        List<Parameter> shared = type.parameters().stream().filter(p -> !p.name().equals("sheet") && types.stream()
                .allMatch(t -> t.hasParameter(p.name()) && t.parameter(p.name()).kind() == p.kind()
                && t.parameter(p.name()).unit().equals(p.unit()) && t.parameter(p.name()).choices().equals(p.choices())))
                .filter(p -> blocks.size() == 1 || p.kind() != Parameter.Kind.SOURCE).toList();
        if (!shared.isEmpty()) {
            box.getChildren().add(section("Parameters"));
        }
        var settings = new Settings(type, first.settings());
        for (Parameter p : shared) {
            String text = common(blocks, b -> new Settings(types.get(blocks.indexOf(b)), b.settings()).text(p.name()));
            String shown = p.shownUnit(settings);
            var caption = caption(p.name() + (shown.isEmpty() ? "" : "  [" + shown + "]"));
            caption.setTooltip(new Tooltip(p.help()));
            box.getChildren().add(caption);
            switch (p.kind()) {
                case SOURCE -> {
                    var edit = new Button("Edit the " + p.name());
                    edit.setId("edit-" + p.name());
                    edit.setOnAction(_ -> onText.accept(first.id()));
                    box.getChildren().add(edit);
                }
                case CHOICE -> {
                    var choice = new ChoiceBox<String>();
                    choice.setId("field-" + p.name());
                    choice.getItems().setAll(p.choices());
                    choice.setValue(text);
                    choice.setMaxWidth(Double.MAX_VALUE);
                    choice.valueProperty().addListener((_, _, v) -> edits.set(ref, ids(blocks), p.name(), v));
                    box.getChildren().add(choice);
                }
                default -> value(ref, blocks, p, text, p.unit(settings));
            }
        }
    }

    private void value(SheetRef ref, List<Block> blocks, Parameter p, String text, String unit) {
        var f = field("field-" + p.name(), text, t -> edits.set(ref, ids(blocks), p.name(), t));
        f.setPromptText(blocks.size() > 1 ? "different values" : "");
        HBox.setHgrow(f, Priority.ALWAYS);
        var line = new HBox(6, f);
        line.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
        if (p.live() == Parameter.Live.OFFERED) {
            var live = new CheckBox("live");
            live.setTooltip(new Tooltip("Tunable while the rig runs"));
            live.setSelected(blocks.stream().allMatch(b -> b.tunable().contains(p.name())));
            live.setMinWidth(javafx.scene.layout.Region.USE_PREF_SIZE);
            live.selectedProperty().addListener((_, _, on) -> edits.tune(ref, ids(blocks), p.name(), on));
            line.getChildren().add(live);
        }
        box.getChildren().add(line);
        if (p.isNumeric() && !(blocks.size() > 1 && text.isEmpty())) {
            var variables = Variables.resolve(workspace.project().variableTexts()).values();
            box.getChildren().add(result(f, text, unit, OwnBlocks.scopeAt(workspace.project(), navigator.path(), variables)));
        }
    }

    /** What an expression comes to, or what is wrong with it. */
    private static Label result(TextField field, String text, String unit, Map<String, Quantity> variables) {
        var l = new Label();
        l.setWrapText(true);
        l.getStyleClass().addAll("small", "mono");
        try {
            double[] v = Arrays.stream(Formula.evaluateList(text, variables, unit)).map(x -> Units.fromSi(unit, x)).toArray();
            boolean plain = text.strip().matches("[-+0-9.eE]+");
            l.setText(plain ? "" : "= " + (v.length == 1 ? number(v[0]) : Arrays.toString(v)) + (unit.isEmpty() || unit.equals("1") ? ""
                    : " " + unit));
            l.getStyleClass().add("faint");
            l.setManaged(!plain);
        } catch (FormulaException e) {
            l.setText(e.getMessage());
            l.getStyleClass().add("bad");
            field.getStyleClass().add("wrong");
        }
        return l;
    }

    private static String number(double v) {
        return v == Math.rint(v) && Math.abs(v) < 1e9 ? String.format(Locale.ROOT, "%.0f", v) : String.format(Locale.ROOT, "%.6g", v);
    }

    private void sampleTime(SheetRef ref, List<Block> blocks) {
        boolean same = blocks.stream().map(b -> b.settings().getOrDefault(Settings.SAMPLE_TIME, "")).distinct().count() == 1;
        var f = field("field-sample-time", common(blocks, b -> b.settings().getOrDefault(Settings.SAMPLE_TIME, "")),
                t -> edits.set(ref, ids(blocks), Settings.SAMPLE_TIME, t));
        f.setPromptText(same ? "inherited" : "different values");
        box.getChildren().addAll(caption("sample time  [s]"), f);
    }

    private void problems(String place) {
        List<Finding> mine = workspace.findings().stream().filter(f -> f.place().isWithin(place)).toList();
        if (mine.isEmpty()) {
            return;
        }
        box.getChildren().add(section("Findings"));
        for (Finding f : mine) {
            var l = new Label(f.cause() + " " + f.cure());
            l.setWrapText(true);
            l.getStyleClass().addAll("small", f.isError() ? "bad" : "warning");
            box.getChildren().add(l);
        }
    }

    private void part(Part p) {
        boolean controller = p.kind() == Part.Kind.CONTROLLER;
        box.getChildren().addAll(heading(p.title()), note((controller ? "Controller" : "Plant") + " · " + p.id()));
        box.getChildren().addAll(section("Name"), field("field-name", p.title(), t -> edits.rename(null, p.id(), t)));
        if (navigator.path().isEmpty()) {
            var open = new Button("Open its sheet");
            open.setOnAction(_ -> navigator.enter(p.id()));
            box.getChildren().add(open);
        }
        box.getChildren().addAll(section("Time"), caption("sample time  [s], or continuous"),
                field("field-part-sample-time", p.sampleTime(), t -> change(p, "sample time",
                q -> with(q, t, q.step(), q.solver(), q.real()))),
                caption("solver step  [s]"),
                field("field-part-step", p.step(), t -> change(p, "solver step", q -> with(q, q.sampleTime(), t, q.solver(), q.real()))),
                caption("solver"), choice(p.solver(), Solver.names(),
                        t -> change(p, "solver", q -> with(q, q.sampleTime(), q.step(), t, q.real()))),
                caption("real numbers"), choice(p.real(), List.of("float64", "float32"),
                        t -> change(p, "type of real numbers", q -> with(q, q.sampleTime(), q.step(), q.solver(), t))));
        problems(p.id());
        variables();
    }

    private static ChoiceBox<String> choice(String value, List<String> all, Consumer<String> commit) {
        var c = new ChoiceBox<String>();
        c.getItems().setAll(all);
        c.setValue(value);
        c.setMaxWidth(Double.MAX_VALUE);
        c.valueProperty().addListener((_, _, v) -> commit.accept(v));
        return c;
    }

    private static Part with(Part q, String sampleTime, String step, String solver, String real) {
        return new Part(q.id(), q.title(), q.kind(), sampleTime, step, solver, real, q.x(), q.y(), q.sheets(), q.look());
    }

    private void change(Part p, String what, UnaryOperator<Part> how) {
        workspace.edit("set " + what, project -> project.change(p.id(), how));
    }

    private void system() {
        box.getChildren().addAll(heading(workspace.project().name()), note("The system sheet: parts and the real signals between "
                + "them. Double-click a part to open it."));
        var controller = new Button("Add controller");
        controller.setId("add-controller");
        controller.setOnAction(_ -> edits.addPart(Part.Kind.CONTROLLER, 120, 420));
        var plant = new Button("Add plant");
        plant.setId("add-plant");
        plant.setOnAction(_ -> edits.addPart(Part.Kind.PLANT, 420, 420));
        box.getChildren().add(new HBox(6, controller, plant));
        variables();
    }

    private void variables() {
        var resolved = Variables.resolve(workspace.project().variableTexts());
        box.getChildren().add(section("Variables of the project"));
        List<Variable> all = workspace.project().variables();
        for (int i = 0; i < all.size(); i++) {
            int index = i;
            Variable v = all.get(i);
            var name = new Label(v.name());
            name.getStyleClass().add("mono");
            name.setMinWidth(106);
            name.setMaxWidth(106);
            name.setTooltip(new Tooltip(v.note().isEmpty() ? v.name() : v.name() + ": " + v.note()));
            var value = field("variable-" + v.name(), v.value(), t -> workspace.edit("set " + v.name(), p -> {
                var next = new ArrayList<>(p.variables());
                next.set(index, v.valued(t));
                return p.withVariables(next);
            }));
            value.getStyleClass().add("mono");
            if (resolved.errors().containsKey(v.name())) {
                value.getStyleClass().add("wrong");
                value.setTooltip(new Tooltip(resolved.errors().get(v.name())));
            }
            HBox.setHgrow(value, Priority.ALWAYS);
            var line = new HBox(4, name, value);
            line.setAlignment(javafx.geometry.Pos.CENTER_LEFT);
            box.getChildren().add(line);
        }
        var fresh = new TextField();
        fresh.setPromptText("new variable: name = value");
        fresh.setId("new-variable");
        fresh.setOnAction(_ -> {
            int equals = fresh.getText().indexOf('=');
            String name = equals < 0 ? "" : fresh.getText().substring(0, equals).strip();
            if (Formula.isName(name) && all.stream().noneMatch(v -> v.name().equals(name))) {
                String value = fresh.getText().substring(equals + 1).strip();
                workspace.edit("add " + name, p -> {
                    var next = new ArrayList<>(p.variables());
                    next.add(new Variable(name, value, ""));
                    return p.withVariables(next);
                });
            } else {
                fresh.getStyleClass().add("wrong");
            }
        });
        box.getChildren().add(fresh);
    }
}
