package boldanvil.app.pages;

import boldanvil.app.model.StudyViews.View;
import boldanvil.app.model.SweepSession;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Buttons;
import boldanvil.core.finding.FindingException;
import boldanvil.core.study.Way;
import java.io.File;
import java.nio.file.Path;
import java.util.Map;
import java.util.function.Consumer;
import javafx.scene.control.SplitPane;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.HBox;
import javafx.stage.FileChooser;

/** Many runs of a rig or a trial with other values: what is varied on the left, what came of it on the right. */
public final class SweepView extends BorderPane {
    private final PageHost host;
    private final SweepSession session;
    private final StudyForm form;
    private final StudyResults results;
    private final Consumer<String> show;
    private final HBox actions;

    /** @param show gets the id of a run that is to be shown */
    SweepView(PageHost host, Consumer<String> show) {
        this.host = host;
        this.show = show;
        session = host.sweeps();
        form = new StudyForm(host);
        results = new StudyResults(host, this::openRun);
        var save = Buttons.button("Save runs", "sweep-save", "Write all runs as HDF5 or CSV", this::askForSave);
        var open = Buttons.button("Open runs", "sweep-open", "Show runs that were saved as HDF5", this::askForOpen);
        actions = TagsPage.bar(open, save);
        session.onChange(() -> save.setDisable(session.table().isEmpty() || session.isRunning()));
        save.setDisable(true);
        var all = new SplitPane(form, results);
        SplitPane.setResizableWithParent(form, false);
        all.setDividerPositions(0.27);
        setCenter(all);
    }

    /** What can be done with all runs, for the line above the view. */
    HBox actions() {
        return actions;
    }

    /** Offers what the present project has; for when the page is turned to. */
    public void refresh() {
        form.refresh();
    }

    /** Fills in the form: how points are chosen, what is varied, and over which values. */
    public void vary(Way way, Map<String, String> what) {
        form.vary(way, what);
    }

    /** Fills in the number of runs. */
    public void count(int runs) {
        form.count(runs);
    }

    /** Starts what the form states. */
    public void start() {
        form.start();
    }

    /** Shows one result, such as the maximum of a signal. */
    public void choose(String name, String figure) {
        results.choose(name, figure);
    }

    /** Shows the runs in one way. */
    public void choose(View view) {
        results.choose(view);
    }

    /** States a limit for the result: {@code at most} or {@code at least} a value. */
    public void limit(String kind, String value) {
        results.limit(kind, value);
    }

    private void openRun(int run) {
        Path shelf = host.workspace().folder().map(f -> f.resolve("runs")).orElse(null);
        if (shelf == null || !session.canRepeat()) {
            form.say("Save the project first; runs are kept in its folder.");
            return;
        }
        form.say("Run " + (run + 1) + " is done again …");
        host.workOut(() -> session.repeat(run, shelf), id -> {
            form.say("Run " + (run + 1) + " is on the page Runs.");
            show.accept(id);
        });
    }

    private static FileChooser chooser(String title) {
        var chooser = new FileChooser();
        chooser.setTitle(title);
        chooser.getExtensionFilters().add(new FileChooser.ExtensionFilter("HDF5", "*.h5"));
        return chooser;
    }

    private void askForSave() {
        var chooser = chooser("Save the runs");
        chooser.setInitialFileName("runs.h5");
        chooser.getExtensionFilters().add(new FileChooser.ExtensionFilter("CSV", "*.csv"));
        File to = chooser.showSaveDialog(getScene().getWindow());
        if (to != null) {
            save(to);
        }
    }

    private void askForOpen() {
        File from = chooser("Open runs").showOpenDialog(getScene().getWindow());
        if (from != null) {
            open(from);
        }
    }

    /** Writes the runs as the ending of the name says. */
    public void save(File to) {
        work(() -> session.save(to.toPath()), "Saved as " + to.getName() + ".");
    }

    /** Shows runs that were saved. */
    public void open(File from) {
        work(() -> session.open(from.toPath()), from.getName() + " is open; its runs cannot be done again from here.");
    }

    private void work(Runnable what, String done) {
        host.workOut(() -> {
            try {
                what.run();
                return done;
            } catch (FindingException e) {
                return e.findings().getFirst().toString();
            }
        }, form::say);
    }

    /** Paints again, in other colours. */
    void repaint() {
        results.repaint();
    }
}
