package boldanvil.app.pages;

import boldanvil.app.model.ExperimentSession;
import boldanvil.app.model.FeedbackSession;
import boldanvil.app.model.GuideSession;
import boldanvil.app.model.IdentifySession;
import boldanvil.app.model.Latest;
import boldanvil.app.model.LoopSession;
import boldanvil.app.page.Command;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Buttons;
import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.Wire;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.loop.Cut;
import boldanvil.core.loop.Linearisation.OperatingPoint;
import boldanvil.core.loop.LoopPlaces;
import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.Intervention;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import javafx.application.Platform;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.ComboBox;
import javafx.scene.control.TextField;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.control.Tooltip;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import org.kordamp.ikonli.Ikon;
import org.kordamp.ikonli.feather.Feather;

/**
 * Control loops: opened at a wire, seen as curves, designed, sent to the sheet; plants measured and identified. Each view is a class of its
 * own; the line above them says which loop is open.
 */
public final class LoopPage extends BorderPane implements Page {
    private static final String LOOP = "Loop";
    private static final String AFTER = "after";
    private static final String LAST_RUN = "last run at";

    private final PageHost host;
    private final LoopSession session = new LoopSession(Platform::runLater);
    private final Supplier<Optional<Cut>> selected;
    private final ComboBox<String> place = new ComboBox<>();
    private final TextField after = Forms.field("loop-after", "0.5 s",
            "How long the chosen rig runs, so that it is at its operating point");
    private final ChoiceBox<String> when = new ChoiceBox<>();
    private final DesignView design;
    private final FeedbackView feedback;
    private final CheckView check;
    private final ExperimentView experiment;
    private final IdentifyView identify;
    private final GuideView guide;
    private final Map<String, Node> views = new LinkedHashMap<>();
    private final HBox tabs = new HBox(4);

    /** @param selected the wire that is selected on the sheet */
    public LoopPage(PageHost host, Supplier<Optional<Cut>> selected) {
        this.host = host;
        this.selected = selected;
        design = new DesignView(host, session);
        feedback = new FeedbackView(host, session);
        check = new CheckView(host, session);
        identify = new IdentifyView(host);
        experiment = new ExperimentView(host, r -> {
            session.measured(r.response().orElseThrow());
            show(LOOP);
        }, (r, begin) -> {
            identify.propose(List.of(r.asked().in()), List.of(r.asked().out()), begin);
            show("Identify");
        });
        guide = new GuideView(host);
        views.put(LOOP, design.node());
        views.put("State feedback", feedback.node());
        views.put("Limits", check.node());
        views.put("Plant", new PlantView(host, session, () -> show(LOOP)).node());
        views.put("Experiment", experiment.node());
        views.put("Identify", identify.node());
        views.put("Motor and sensor", guide.node());
        setTop(line());
        show(LOOP);
    }

    /** The views, and where the loop is opened. */
    private HBox line() {
        var group = new ToggleGroup();
        views.keySet().forEach(name -> {
            var b = new ToggleButton(name);
            b.setId("loop-view-" + name.toLowerCase(Locale.ROOT).replace(' ', '-'));
            b.setToggleGroup(group);
            b.setOnAction(_ -> show(name));
            b.setMinWidth(Region.USE_PREF_SIZE);
            tabs.getChildren().add(b);
        });
        place.setId("loop-place");
        place.setEditable(true);
        place.setMaxWidth(Double.MAX_VALUE);
        place.setMinWidth(120);
        place.setPromptText("part/block at whose output the loop is opened");
        HBox.setHgrow(place, Priority.ALWAYS);
        after.setPrefColumnCount(4);
        after.setMinWidth(64);
        var open = Buttons.button("Open the loop", "loop-open",
                "Makes the loop at this output linear, after the chosen rig has run so long",
                this::open);
        open.getStyleClass().add("primary");
        open.setMinWidth(Region.USE_PREF_SIZE);
        when.setId("loop-when");
        when.getItems().setAll(AFTER, LAST_RUN);
        when.setValue(AFTER);
        when.setMinWidth(Region.USE_PREF_SIZE);
        when.setTooltip(new Tooltip("'" + LAST_RUN + "' makes the changes of the last run on the way to that instant"));
        var all = new HBox(6, tabs, place, when, after, open);
        all.setAlignment(Pos.CENTER_LEFT);
        all.getStyleClass().add("tabs");
        return all;
    }

    private void show(String view) {
        tabs.getChildren().forEach(n -> ((ToggleButton) n).setSelected(((ToggleButton) n).getText().equals(view)));
        setCenter(views.get(view));
    }

    @Override
    public String name() {
        return "Loop";
    }

    @Override
    public String key() {
        return "Alt+L";
    }

    @Override
    public Ikon icon() {
        return Feather.TARGET;
    }

    @Override
    public Node node() {
        return this;
    }

    @Override
    public void shown() {
        String before = place.getEditor().getText();
        List<String> now = LoopPlaces.of(host.workspace().project());
        if (!now.equals(List.copyOf(place.getItems()))) {
            place.getItems().setAll(now);
        }
        place.getEditor().setText(before.isEmpty() && !now.isEmpty() ? now.getFirst() : before);
        design.draw();
    }

    @Override
    public void opened() {
        session.clear();
        design.opened();
        identify.opened();
        experiment.opened();
        guide.opened();
        place.getItems().clear();
        place.getEditor().setText("");
    }

    @Override
    public void repaint() {
        design.draw();
        feedback.draw();
        check.draw();
        experiment.draw();
        identify.draw();
        guide.draw();
    }

    @Override
    public List<Command> commands() {
        return List.of(Command.of("Open the loop at the selected wire", "", this::openSelected).in("Sheet"));
    }

    /** What is open; for tests. */
    public LoopSession session() {
        return session;
    }

    /** The state feedback that was designed; for tests. */
    public Latest<FeedbackSession.Result> feedback() {
        return feedback.session().latest();
    }

    /** The experiment; for tests. */
    public ExperimentSession experiment() {
        return experiment.session();
    }

    /** What was identified; for tests. */
    public Latest<IdentifySession.Result> identification() {
        return identify.session().latest();
    }

    /** The ready experiment; for tests. */
    public Latest<GuideSession.Result> guide() {
        return guide.session().latest();
    }

    private void open() {
        host.attempt(() -> open(Cut.at(host.workspace().project(), place.getEditor().getText().strip())));
    }

    private void openSelected() {
        var cut = selected.get();
        if (cut.isEmpty()) {
            host.showMessage("Select a wire on the sheet first; the loop is opened there.");
            return;
        }
        host.show(this);
        place.getEditor().setText(cut.get().label(host.workspace().project()));
        open(cut.get());
    }

    private void open(Cut cut) {
        Rig rig = host.workspace().project().rig(host.rig()).orElseThrow(() -> FindingException.of(Place.rig(host.rig()),
                "No rig is chosen.", "Add a rig and choose it in the bar above."));
        Forms.number(host, after).ifPresent(t -> session.open(host.workspace().project(), rig, cut, new OperatingPoint(Math.max(0, t),
                changes(Math.max(0, t)))));
    }

    /** What the last run changed until then; nothing where the rig is to run by itself. */
    private List<Change> changes(double until) {
        if (!LAST_RUN.equals(when.getValue())) {
            return List.of();
        }
        return host.session().run().map(r -> r.interventions().stream().filter(i -> i.kind() == Intervention.Kind.SET
                && i.atNanos() <= until * 1e9).map(i -> new Change(i.address(), i.value(), i.atNanos())).toList()).orElse(List.of());
    }

    /** The wire that is selected on a sheet, as a place to open a loop. */
    public static Optional<Cut> cut(PageHost host, Optional<Wire> wire) {
        var p = host.workspace().project();
        return wire.filter(w -> !w.isNet()).map(w -> host.navigator().sheet().map(ref -> new Cut(ref, host.navigator().path(), w.from(),
                w.fromPort(), null)).orElseGet(() -> Cut.atSystemWire(p, w)));
    }
}
