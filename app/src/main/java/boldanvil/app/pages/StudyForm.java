package boldanvil.app.pages;

import boldanvil.app.model.SweepSession;
import boldanvil.app.model.Workspace;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Buttons;
import boldanvil.app.widget.Choices;
import boldanvil.core.bench.Sweep;
import boldanvil.core.diagram.Rig;
import boldanvil.core.farm.Crew;
import boldanvil.core.farm.TableStudy;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Variables;
import boldanvil.core.simulate.TapList;
import boldanvil.core.study.PointSource;
import boldanvil.core.study.Sampling;
import boldanvil.core.study.Sensitivity;
import boldanvil.core.study.Spread;
import boldanvil.core.study.Way;
import boldanvil.core.study.WorstCase;
import boldanvil.core.trial.Trial;
import boldanvil.core.trial.TrialSet;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import java.util.stream.Stream;
import javafx.geometry.Pos;
import javafx.scene.control.Button;
import javafx.scene.control.CheckBox;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ProgressBar;
import javafx.scene.control.ScrollPane;
import javafx.scene.control.TextField;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.VBox;
import org.kordamp.ikonli.feather.Feather;
import org.kordamp.ikonli.javafx.FontIcon;

/** What is to be run many times, with which values, and where. */
final class StudyForm extends ScrollPane {
    private static final String RIG_ALONE = "the rig alone";

    private final Workspace workspace;
    private final SweepSession session;
    private final ChoiceBox<String> what = new ChoiceBox<>();
    private final ChoiceBox<String> rig = new ChoiceBox<>();
    private final TextField length = field("4 s", "sweep-length", "Simulated time of each run");
    private final VBox rows = new VBox(10);
    private final List<Varied> varied = new ArrayList<>();
    private final ChoiceBox<Way> way = new ChoiceBox<>();
    private final TextField count = field("50", "sweep-count", "Number of runs");
    private final TextField seed = field("1", "sweep-seed", "The same seed gives the same points");
    private final HBox sample;
    private final ChoiceBox<String> extreme = new ChoiceBox<>();
    private final ChoiceBox<Sweep.Measure> measure = new ChoiceBox<>();
    private final ComboBox<String> tap;
    private final VBox goal;
    private final CheckBox elsewhere = new CheckBox("Use workers on other machines");
    private final TextField workers = field("", "sweep-workers", "Addresses of workers, such as 192.168.4.7:47500");
    private final TextField key = field("", "sweep-key", "The key file with which the workers were started");
    private final TextField listen = field(Crew.LOOPBACK, "sweep-listen", "Address of this machine on which workers reach it");
    private final Label plan = Forms.message("sweep-plan");
    private final Label message = Forms.message("sweep-message");
    private final Button start = Buttons.button("Start runs", "sweep-start", "Do all runs", this::start);
    private final Button cancel;
    private final ProgressBar bar = new ProgressBar(0);
    private List<String> names = List.of();

    /** One value that varies. */
    private final class Varied {
        private final ComboBox<String> name = new ComboBox<>();
        private final TextField values = new TextField();
        private final VBox line;

        Varied() {
            int n = varied.size() + 1;
            name.setId("vary-name-" + n);
            name.getItems().setAll(names);
            name.setPromptText("what");
            name.setMaxWidth(Double.MAX_VALUE);
            values.setId("vary-values-" + n);
            values.setPrefColumnCount(11);
            values.textProperty().addListener((_, _, _) -> showPlan());
            name.valueProperty().addListener((_, _, _) -> showPlan());
            var drop = new Button("", FontIcon.of(Feather.X, 14));
            drop.getStyleClass().add("quiet");
            drop.setTooltip(new Tooltip("Remove this range"));
            drop.setOnAction(_ -> {
                varied.remove(this);
                rows.getChildren().remove(line());
                showPlan();
            });
            HBox.setHgrow(values, Priority.ALWAYS);
            var below = new HBox(6, new Label("over"), values, drop);
            below.setAlignment(Pos.CENTER_LEFT);
            line = new VBox(4, name, below);
            prompt();
        }

        private VBox line() {
            return line;
        }

        private void prompt() {
            boolean grid = way.getValue() == Way.GRID;
            values.setPromptText(grid ? "1 : 5 : 9" : way.getValue() == Way.WORST_CASE ? "1 : 5" : "1 : 5 or normal(3, 0.5)");
            values.setTooltip(new Tooltip(grid ? "A list such as [1, 2, 5], or from : to : number of values"
                    : "A range from : to, or normal(mean, standard deviation)"));
        }
    }

    StudyForm(PageHost host) {
        workspace = host.workspace();
        session = host.sweeps();
        what.setId("sweep-what");
        what.valueProperty().addListener((_, _, _) -> offerRigs());
        rig.setId("sweep-rig");
        way.setId("sweep-way");
        way.getItems().setAll(Way.values());
        way.setValue(Way.GRID);
        way.setTooltip(new Tooltip("How the values of the runs are chosen"));
        extreme.setId("sweep-extreme");
        extreme.getItems().setAll("greatest", "least");
        extreme.setValue("greatest");
        measure.setId("sweep-goal-measure");
        measure.getItems().setAll(Sweep.Measure.values());
        measure.setValue(Sweep.Measure.MAXIMUM);
        tap = Forms.choice("sweep-goal", "signal", () -> TapList.of(workspace.review().system()).entries().stream()
                .map(TapList.Entry::address).toList());
        tap.valueProperty().addListener((_, _, _) -> showPlan());
        goal = new VBox(4, row(new Label("Search for the"), extreme, measure), row(new Label("of"), tap));
        sample = row(new Label("Runs"), count, new Label("Seed"), seed);
        way.valueProperty().addListener((_, _, _) -> wayChanged());
        count.textProperty().addListener((_, _, _) -> showPlan());
        cancel = Buttons.button("Cancel", "sweep-cancel", "Begin no further run; what is done is kept", session::cancel);
        start.getStyleClass().add("primary");
        bar.setMaxWidth(Double.MAX_VALUE);
        var more = new Button("Vary another value", FontIcon.of(Feather.PLUS, 14));
        more.setId("vary-more");
        more.getStyleClass().add("quiet");
        more.setOnAction(_ -> add());
        elsewhere.setId("sweep-elsewhere");
        elsewhere.setTooltip(new Tooltip("Workers are started with the command 'bold-anvil worker'"));
        workers.setPromptText("192.168.4.7:47500");
        key.setPromptText("workers.pem");
        var addresses = new VBox(6, row(new Label("Workers"), grown(workers)), row(new Label("Key file"), grown(key)),
                row(new Label("Listen on"), grown(listen)));
        addresses.visibleProperty().bind(elsewhere.selectedProperty());
        addresses.managedProperty().bind(elsewhere.selectedProperty());
        var side = new VBox(8, Forms.heading("Many runs"), Forms.faint("Runs a rig or a trial once for each set of values."),
                row(new Label("Run"), what), row(new Label("on"), rig, new Label("for"), length), Forms.section("VARIED"), rows, more,
                row(new Label("Points"), way), sample, goal, elsewhere, addresses, plan, row(start, cancel), bar, message);
        side.getStyleClass().add("side");
        setContent(side);
        setFitToWidth(true);
        setHbarPolicy(ScrollBarPolicy.NEVER);
        getStyleClass().add("side");
        setMinWidth(290);
        session.onChange(this::changed);
        add();
        wayChanged();
        changed();
    }

    private static TextField field(String text, String id, String tip) {
        var f = new TextField(text);
        f.setId(id);
        f.setPrefColumnCount(6);
        f.setTooltip(new Tooltip(tip));
        return f;
    }

    private static TextField grown(TextField f) {
        HBox.setHgrow(f, Priority.ALWAYS);
        return f;
    }

    private static HBox row(javafx.scene.Node... nodes) {
        var row = new HBox(8, nodes);
        row.setAlignment(Pos.CENTER_LEFT);
        Arrays.stream(nodes).filter(Label.class::isInstance).forEach(n -> ((Label) n).setMinWidth(USE_PREF_SIZE));
        return row;
    }

    private void wayChanged() {
        boolean searches = way.getValue() == Way.WORST_CASE;
        sample.setVisible(way.getValue() != Way.GRID);
        sample.setManaged(way.getValue() != Way.GRID);
        goal.setVisible(searches);
        goal.setManaged(searches);
        varied.forEach(Varied::prompt);
        showPlan();
    }

    private void add() {
        var v = new Varied();
        varied.add(v);
        rows.getChildren().add(v.line);
        showPlan();
    }

    private String trial() {
        return what.getValue() == null || what.getValue().equals(RIG_ALONE) ? "" : what.getValue();
    }

    /** Offers what the present project has. */
    void refresh() {
        var p = workspace.project();
        List<String> whats = Stream.concat(Stream.of(RIG_ALONE), new TrialSet(p.trials()).all().stream().map(Trial::name)).toList();
        Choices.offer(what, whats);
        offerRigs();
        List<String> now = Sweep.units(workspace.review()).keySet().stream().toList();
        if (!now.equals(names)) {
            names = now;
            varied.forEach(v -> {
                String before = v.name.getValue();
                v.name.getItems().setAll(names);
                v.name.setValue(names.contains(before) ? before : null);
            });
        }
        showPlan();
    }

    private void offerRigs() {
        var p = workspace.project();
        String trial = trial();
        Choices.offer(rig, trial.isEmpty() ? Sweep.rigs(p) : new TrialSet(p.trials()).all().stream().filter(t -> t.name().equals(trial))
                .flatMap(t -> p.rigs().stream().map(Rig::name).filter(t::isFor)).toList());
        length.setDisable(!trial.isEmpty());
    }

    /** Fills in what is varied, and over which values. */
    void vary(Way how, Map<String, String> texts) {
        way.setValue(how);
        varied.clear();
        rows.getChildren().clear();
        texts.forEach((name, values) -> {
            add();
            varied.getLast().name.setValue(name);
            varied.getLast().values.setText(values);
        });
    }

    /** Fills in how many runs are done. */
    void count(int runs) {
        count.setText(Integer.toString(runs));
    }

    private Map<String, Quantity> variables() {
        return Variables.resolve(workspace.project().variableTexts()).values();
    }

    /** The texts of what varies, by name. */
    private Map<String, String> texts() {
        Map<String, String> texts = new LinkedHashMap<>();
        for (Varied v : varied) {
            if (v.name.getValue() != null && !v.values.getText().isBlank() && texts.put(v.name.getValue(), v.values.getText()) != null) {
                throw FindingException.of("runs", "'" + v.name.getValue() + "' is varied twice.", "Remove one of the lines.");
            }
        }
        if (texts.isEmpty()) {
            throw FindingException.of("runs", "No varied value is chosen.", "Choose a value and enter its range.");
        }
        return texts;
    }

    private List<Sweep.Axis> axes() {
        var variables = variables();
        return texts().entrySet().stream().map(e -> Sweep.Axis.of(e.getKey(), e.getValue(), variables)).toList();
    }

    private Map<String, Spread> spreads() {
        var variables = variables();
        Map<String, Spread> spreads = new LinkedHashMap<>();
        texts().forEach((name, text) -> spreads.put(name, Spread.of(name, text, variables)));
        return spreads;
    }

    private static double number(String place, String text) {
        try {
            return Formula.evaluate(text, Map.of());
        } catch (FormulaException e) {
            throw FindingException.of(place, e.getMessage(), "Write a number.");
        }
    }

    /** Makes the points, which may take a while. */
    private Supplier<PointSource> source() {
        if (way.getValue() == Way.GRID) {
            var axes = axes();
            Sweep.count(axes);
            return () -> PointSource.of(Sweep.grid(axes));
        }
        var spreads = spreads();
        double n = number("runs", count.getText());
        if (n != Math.rint(n) || n < 1 || n > Sampling.MOST) {
            throw FindingException.of("runs", "'" + count.getText() + "' is not a number of runs from 1 to " + Sampling.MOST + ".",
                    "Write a whole number, such as 50.");
        }
        int runs = (int) n;
        long first = (long) number("seed", seed.getText());
        return switch (way.getValue()) {
            case LATIN_HYPERCUBE -> points(Sampling.LATIN_HYPERCUBE, spreads, runs, first);
            case SOBOL -> points(Sampling.SOBOL, spreads, runs, first);
            case SENSITIVITY -> () -> PointSource.of(Sensitivity.points(spreads, runs, first));
            case WORST_CASE -> {
                if (tap.getValue() == null) {
                    throw FindingException.of("runs", "It is not said what to search for.", "Choose a signal.");
                }
                var search = new WorstCase(spreads, extreme.getValue().equals("greatest"), runs, first);
                yield () -> search;
            }
            default -> points(Sampling.RANDOM, spreads, runs, first);
        };
    }

    private static Supplier<PointSource> points(Sampling how, Map<String, Spread> spreads, int runs, long first) {
        return () -> PointSource.of(how.points(spreads, List.of(), runs, first));
    }

    private Crew.Where where() {
        if (!elsewhere.isSelected()) {
            return Crew.Where.here();
        }
        if (workers.getText().isBlank()) {
            throw FindingException.of("workers", "No worker is named.", "Write the address of one, such as 192.168.4.7:47500.");
        }
        return new Crew.Where(1, Arrays.stream(workers.getText().split("[,\\s]+")).filter(w -> !w.isEmpty()).toList(),
                key.getText().isBlank() ? null : Path.of(key.getText().strip()), listen.getText().strip(), Crew.USUAL_PATIENCE);
    }

    private void showPlan() {
        try {
            source();
            int n = way.getValue() == Way.GRID ? Sweep.count(axes()) : (int) number("runs", count.getText());
            if (way.getValue() == Way.SENSITIVITY) {
                int base = Sensitivity.basePoints(texts().size(), n);
                plan.setText(base < 8 ? "Indices of these values need at least " + 8 * (texts().size() + 2) + " runs." : base
                        + " base points, " + base * (texts().size() + 2) + " runs.");
            } else {
                plan.setText(n == 1 ? "One run." : n + " runs.");
            }
        } catch (FindingException e) {
            plan.setText(text(e.findings().getFirst(), false));
        }
    }

    private static String text(Finding f, boolean placed) {
        return (placed ? f.place().text() + ": " : "") + f.cause() + " " + f.cure();
    }

    /** Starts what the form states. */
    void start() {
        try {
            if (rig.getValue() == null) {
                throw FindingException.of("runs", "No rig of the project consists of models only.",
                        "Add a rig in which every part is simulated, or choose a trial.");
            }
            double seconds = number("length", length.getText());
            if (!(seconds > 0 && seconds <= 1e6)) {
                throw FindingException.of("length", "The time must be between 0 and 1,000,000 s.", "Write a time such as 4 s.");
            }
            Path build = workspace.folder().map(f -> f.resolve("build")).orElse(Path.of("build"));
            var order = new TableStudy.Order(workspace.project(), rig.getValue(), trial(), Math.round(seconds * 1e9), build,
                    Sweep.units(workspace.review()));
            session.start(new SweepSession.Asked(order, way.getValue(), source(), way.getValue() == Way.WORST_CASE ? tap.getValue() + " "
                    + measure.getValue().label() : "", where()));
        } catch (FindingException e) {
            message.setText(text(e.findings().getFirst(), true));
        }
    }

    private void changed() {
        start.setDisable(session.isRunning());
        cancel.setDisable(!session.isRunning());
        bar.setVisible(session.isRunning());
        bar.setProgress(session.all() == 0 ? 0 : session.done() / (double) session.all());
        if (session.isRunning()) {
            message.setText(session.done() + " of " + session.all() + " runs" + (session.note().isEmpty() ? "" : ". " + session.note()));
        } else if (!session.findings().isEmpty()) {
            message.setText(text(session.findings().getFirst(), true));
        } else {
            message.setText(session.table().map(t -> t.size() + " runs" + (session.isCancelled() ? ", then cancelled." : " done.")
                    + (t.notes() == 0 ? "" : " " + t.notes() + " with a finding.")).orElse(""));
        }
    }

    /** Says something beside the buttons. */
    void say(String text) {
        message.setText(text);
    }
}
