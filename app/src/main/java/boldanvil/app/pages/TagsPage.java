package boldanvil.app.pages;

import boldanvil.app.model.PlcSession;
import boldanvil.app.model.TagBindings;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.core.bench.PlcRemote;
import boldanvil.core.bench.PlcRemote.Plan;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Access;
import boldanvil.core.link.Endpoint;
import boldanvil.core.tags.TagFile;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;
import javafx.animation.Animation;
import javafx.animation.KeyFrame;
import javafx.animation.Timeline;
import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.Node;
import javafx.scene.control.ComboBox;
import javafx.scene.control.Label;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.scene.layout.Priority;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;
import javafx.util.Duration;
import org.kordamp.ikonli.Ikon;
import org.kordamp.ikonli.feather.Feather;

/** A part and its PLC: tags with their values, what they are bound to, how they lie in bytes, and the program. */
public final class TagsPage extends BorderPane implements Page {
    private static final String LIVE = "Live";
    private static final String BINDINGS = "Bindings";
    private static final Duration PERIOD = Duration.millis(100);

    private final PageHost host;
    private final ComboBox<String> part = new ComboBox<>();
    private final Label told = Forms.message("tags-told");
    private final Label empty = new Label("A project without parts has no tags. Draw a controller on the sheet first.");
    private final Map<String, TagsView> views = new LinkedHashMap<>();
    private final HBox tabs = new HBox(4);
    private final BindingsView bindings;
    private final VBox body = new VBox(8);
    private final Timeline clock;
    private String view = LIVE;
    private boolean chosenByHand;
    private boolean refreshing;
    private Object known;

    public TagsPage(PageHost host) {
        this.host = host;
        setId("tags");
        part.setId("tags-part");
        part.valueProperty().addListener((_, _, _) -> {
            if (!refreshing) {
                load();
            }
        });
        bindings = new BindingsView(this);
        views.put(LIVE, new TagsLiveView(this));
        views.put(BINDINGS, bindings);
        views.put("Bytes", new BytesView(this));
        views.put("Program", new PlcProgramView(this));
        var group = new ToggleGroup();
        views.keySet().forEach(name -> {
            var b = new ToggleButton(name);
            b.setId("tags-view-" + name.toLowerCase(Locale.ROOT));
            b.setToggleGroup(group);
            b.setOnAction(_ -> {
                chosenByHand = true;
                told.setText("");
                show(name);
            });
            b.setMinWidth(Region.USE_PREF_SIZE);
            tabs.getChildren().add(b);
        });
        var line = bar(tabs, spring(), new Label("Part"), part);
        line.getStyleClass().add("tabs");
        empty.setWrapText(true);
        empty.getStyleClass().add("empty-state");
        body.setPadding(new Insets(8, 14, 10, 14));
        setTop(line);
        clock = new Timeline(new KeyFrame(PERIOD, _ -> {
            if (isVisible() && part.getValue() != null) {
                views.get(view).poll();
            }
        }));
        clock.setCycleCount(Animation.INDEFINITE);
        visibleProperty().addListener((_, _, on) -> {
            if (on) {
                clock.play();
            } else {
                clock.stop();
            }
        });
        host.workspace().onChange(() -> {
            if (isVisible()) {
                refresh();
            }
        });
        show(LIVE);
    }

    static HBox bar(Node... nodes) {
        var bar = new HBox(8, nodes);
        bar.setAlignment(Pos.CENTER_LEFT);
        return bar;
    }

    static Region spring() {
        var r = new Region();
        HBox.setHgrow(r, Priority.ALWAYS);
        return r;
    }

    private void show(String name) {
        view = name;
        tabs.getChildren().forEach(n -> ((ToggleButton) n).setSelected(((ToggleButton) n).getText().equals(name)));
        var node = views.get(name).node();
        VBox.setVgrow(node, Priority.ALWAYS);
        body.getChildren().setAll(node, told);
        load();
    }

    PageHost host() {
        return host;
    }

    /** The part on show; empty for none. */
    String part() {
        return part.getValue() == null ? "" : part.getValue();
    }

    /** Whether the part on show runs on a PLC in the chosen rig. */
    boolean isOnPlc() {
        return PlcSession.parts(host.workspace().review(), host.rig()).contains(part());
    }

    /** The PLC stand-in of the part while it runs. */
    Optional<PlcRemote> control() {
        return part.getValue() == null ? Optional.empty() : PlcSession.remote(host.session().live(), part.getValue());
    }

    /** Says something at the foot of the page. */
    void tell(String text) {
        told.setText(text);
    }

    /** Does something with the PLC in the background; what comes of it is said at the foot of the page. */
    void ask(Function<PlcRemote, String> what) {
        control().ifPresent(c -> work(() -> what.apply(c), this::tell));
    }

    /** Works something out in the background; a finding is said at the foot of the page. */
    <T> void work(Supplier<T> what, Consumer<T> done) {
        record Outcome<R>(R result, String refusal) {}
        host.workOut(() -> {
            try {
                return new Outcome<>(what.get(), "");
            } catch (FindingException e) {
                return new Outcome<T>(null, e.findings().getFirst().toString());
            }
        }, o -> {
            if (o.refusal().isEmpty()) {
                done.accept(o.result());
            } else {
                tell(o.refusal());
            }
        });
    }

    /** What a change of the running program does, in words. */
    static String said(String begin, Plan plan) {
        var text = new StringBuilder(begin).append(plan.kept()).append(" variables keep their values.");
        if (!plan.fresh().isEmpty()) {
            text.append(" These begin anew: ")
                    .append(String.join(", ", plan.fresh().entrySet().stream().limit(8).map(TagsPage::fresh).toList()))
                    .append(plan.fresh().size() > 8 ? " and " + (plan.fresh().size() - 8) + " more." : ".");
        }
        if (!plan.removed().isEmpty()) {
            text.append(" Removed: ").append(plan.removed().size()).append('.');
        }
        return text.toString();
    }

    private static String fresh(Map.Entry<String, String> e) {
        return e.getValue().isEmpty() ? e.getKey() : e.getKey() + " (" + e.getValue() + ")";
    }

    @Override
    public String name() {
        return "Tags";
    }

    @Override
    public Ikon icon() {
        return Feather.TAG;
    }

    @Override
    public String key() {
        return "Alt+T";
    }

    @Override
    public Node node() {
        return this;
    }

    @Override
    public boolean owns(Place place) {
        return place instanceof Place.Tags;
    }

    @Override
    public void show(Place place) {
        if (place instanceof Place.Tags t) {
            part.setValue(t.part());
            chosenByHand = true;
            show(BINDINGS);
            bindings.select(t.tag());
        }
    }

    @Override
    public void opened() {
        chosenByHand = false;
        known = null;
    }

    @Override
    public void shown() {
        refresh();
        clock.play();
    }

    @Override
    public void rigChanged() {
        if (isVisible()) {
            refresh();
        }
    }

    @Override
    public void repaint() {
        load();
    }

    /** Reads tags of the part on show from a file: CSV, Structured Text or PLCopen XML. */
    public void importFrom(Path file) {
        bindings.importFrom(file);
    }

    /** Writes the tags of the part on show as CSV. */
    public void exportTo(Path file) {
        bindings.exportTo(file, b -> TagFile.write(b.table()));
    }

    /** Shows the present values of the tags of the part on show, as a device has them. */
    public void watch(Endpoint at, Access access) {
        show(BINDINGS);
        bindings.watch(at, access);
    }

    /** How many values have come while watching. */
    public long readings() {
        return bindings.readings();
    }

    /** Shows the parts, first those that run on a PLC in the chosen rig. */
    void refresh() {
        var review = host.workspace().review();
        record Key(Object review, String rig) {}
        var key = new Key(review, host.rig());
        if (key.equals(known)) {
            return;
        }
        known = key;
        var parts = TagBindings.parts(review, host.rig());
        var onPlc = PlcSession.parts(review, host.rig());
        setCenter(parts.isEmpty() ? empty : body);
        BorderPane.setAlignment(empty, Pos.TOP_LEFT);
        BorderPane.setMargin(empty, new Insets(14));
        String before = part.getValue();
        // What is shown is loaded once, at the end.
        refreshing = true;
        part.getItems().setAll(parts);
        boolean stays = before != null && parts.contains(before) && (chosenByHand || onPlc.isEmpty() || onPlc.contains(before));
        part.setValue(stays ? before : parts.isEmpty() ? null : parts.getFirst());
        refreshing = false;
        if (!chosenByHand) {
            view = onPlc.isEmpty() ? BINDINGS : LIVE;
        }
        show(view);
    }

    private void load() {
        if (part.getValue() != null) {
            host.attempt(() -> views.get(view).load());
        }
    }
}
