package boldanvil.app.pages;

import boldanvil.app.page.Command;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.core.finding.Place;
import java.util.List;
import java.util.function.Consumer;
import javafx.scene.Node;
import javafx.scene.control.ToggleButton;
import javafx.scene.control.ToggleGroup;
import javafx.scene.layout.BorderPane;
import org.kordamp.ikonli.Ikon;
import org.kordamp.ikonli.feather.Feather;

/** Trials of the project, and runs with many values. */
public final class TrialsPage extends BorderPane implements Page {
    private final PageHost host;
    private final TrialView trials;
    private final SweepView sweep;
    private final ToggleButton toTrials = new ToggleButton("Trials");
    private final CoverageView coverage;
    private final ToggleButton toCoverage = new ToggleButton("Coverage");
    private final ToggleButton toSweep = new ToggleButton("Many runs");

    /**
     * @param show gets the id of a run that is to be shown
     * @param coverageOnSheets shows the coverage on the sheets, or no longer
     */
    public TrialsPage(PageHost host, Consumer<String> show, Runnable coverageOnSheets) {
        this.host = host;
        trials = new TrialView(host, show);
        sweep = new SweepView(host, show);
        coverage = new CoverageView(host, coverageOnSheets);
        toCoverage.setId("trials-view-coverage");
        setId("trials");
        toTrials.setId("trials-view-trials");
        toSweep.setId("trials-view-sweep");
        var group = new ToggleGroup();
        group.getToggles().addAll(toTrials, toCoverage, toSweep);
        toCoverage.setOnAction(_ -> turn(coverage));
        toTrials.setOnAction(_ -> turn(trials));
        toSweep.setOnAction(_ -> turn(sweep));
        var line = TagsPage.bar(toTrials, toCoverage, toSweep, TagsPage.spring(), trials.actions(), coverage.actions(),
                sweep.actions());
        List.of(trials.actions(), coverage.actions(), sweep.actions()).forEach(a -> a.managedProperty().bind(a.visibleProperty()));
        line.getStyleClass().add("tabs");
        setTop(line);
        turn(trials);
    }

    private void turn(Node view) {
        setCenter(view);
        toTrials.setSelected(view == trials);
        toSweep.setSelected(view == sweep);
        toCoverage.setSelected(view == coverage);
        coverage.actions().setVisible(view == coverage);
        trials.actions().setVisible(view == trials);
        sweep.actions().setVisible(view == sweep);
        shown();
    }

    /** The view with runs of many values, which is brought to the front. */
    public SweepView sweep() {
        turn(sweep);
        return sweep;
    }

    /** The view with the coverage by trials, brought to the front. */
    public Node coverage() {
        turn(coverage);
        return coverage;
    }

    /** The view with trials, which is brought to the front. */
    public TrialView trials() {
        turn(trials);
        return trials;
    }

    @Override
    public String name() {
        return "Trials";
    }

    @Override
    public Ikon icon() {
        return Feather.CHECK_SQUARE;
    }

    @Override
    public Node node() {
        return this;
    }

    @Override
    public boolean owns(Place place) {
        return place instanceof Place.Trial;
    }

    @Override
    public void show(Place place) {
        if (place instanceof Place.Trial t) {
            turn(trials);
            trials.select(t.name(), t.line());
        }
    }

    @Override
    public void shown() {
        sweep.refresh();
        trials.refresh();
    }

    @Override
    public void opened() {
        trials.opened();
    }

    @Override
    public void rigChanged() {
        trials.refresh();
    }

    @Override
    public void repaint() {
        sweep.repaint();
        trials.repaint();
    }

    @Override
    public List<Command> commands() {
        return List.of(Command.of("Run the trial", "", () -> {
            host.show(this);
            turn(trials);
            trials.run();
        }), Command.of("Run all trials", "", () -> {
            host.show(this);
            turn(trials);
            trials.runAll();
        }));
    }
}
