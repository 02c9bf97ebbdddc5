package boldanvil.app.pages;

import boldanvil.app.model.Fidelities;
import boldanvil.app.model.Figures;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.Buttons;
import boldanvil.core.bench.LiveRun;
import boldanvil.core.simulate.Intervention;
import java.util.List;
import java.util.Set;
import java.util.function.Consumer;
import javafx.scene.control.Button;

/** The button that runs a project with power stages of each fidelity and overlays the runs. */
final class FidelityRuns {
    /** Length of the runs where there was none before, and the longest, seconds. */
    private static final double USUAL = 0.2;
    private static final double LONGEST = 2;

    private final PageHost host;
    private final Consumer<Set<String>> show;
    private final Button button = Buttons.button("Compare fidelities", "run-fidelities",
            "Runs the chosen rig as models with power stages of each fidelity, as long as the last run and with the same changes, and "
                    + "overlays the runs", this::run);

    /** @param show shows runs with some ids */
    FidelityRuns(PageHost host, Consumer<Set<String>> show) {
        this.host = host;
        this.show = show;
        refresh();
    }

    Button button() {
        return button;
    }

    /** Hides the button where there is no power stage. */
    void refresh() {
        boolean any = host.workspace().folder().isPresent() && !Fidelities.stages(host.workspace().project()).isEmpty();
        button.setVisible(any);
        button.setManaged(any);
    }

    private void run() {
        var project = host.workspace().project();
        var rig = project.rig(host.rig()).orElse(null);
        if (rig == null) {
            host.showMessage("Choose a rig first.");
            return;
        }
        var last = host.session().run().filter(r -> r.store().end() > 0 && r.rig().name().equals(rig.name()));
        double seconds = last.map(r -> Math.min(LONGEST, r.store().end())).orElse(USUAL);
        List<Intervention> repeated = last.map(LiveRun::interventions).orElse(List.of());
        var shelf = host.workspace().folder().orElseThrow().resolve("runs");
        button.setDisable(true);
        host.showMessage("Running each fidelity for " + Figures.text(seconds, 3, "s") + " …");
        host.workOut(() -> {
            try {
                return Fidelities.run(project, rig, seconds, repeated, shelf);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return Set.<String>of();
            }
        }, ids -> {
            host.showMessage("");
            show.accept(ids);
        }, () -> button.setDisable(false));
    }
}
