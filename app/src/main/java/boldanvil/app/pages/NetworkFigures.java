package boldanvil.app.pages;

import boldanvil.app.model.Figures;
import boldanvil.app.page.PageHost;
import boldanvil.app.widget.PopupCard;
import boldanvil.core.bench.EnergyBalance;
import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.StepCheck;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.Intervention;
import boldanvil.core.stock.Elements;
import java.util.List;
import java.util.Locale;
import java.util.function.Consumer;
import javafx.geometry.HPos;
import javafx.scene.control.Label;
import javafx.scene.control.MenuButton;
import javafx.scene.control.MenuItem;
import javafx.scene.control.ScrollPane;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.Region;
import javafx.scene.layout.VBox;

/** The menu with figures of a rig's plants: where energy goes, and whether the step is short enough. */
final class NetworkFigures {
    /** Length of the runs where there was none before, and the longest, seconds. */
    private static final double USUAL = 0.1;
    private static final double LONGEST = 1;
    private static final double TALLEST = 460;

    private final PageHost host;
    private final MenuItem energy = new MenuItem("Energy by element");
    private final MenuItem step = new MenuItem("Check the step");
    private final MenuButton button = new MenuButton("Plant figures", null, energy, step);

    NetworkFigures(PageHost host) {
        this.host = host;
        button.setId("run-figures");
        energy.setId("run-energy");
        step.setId("run-step");
        energy.setOnAction(_ -> work("Measuring the energy of each element",
                r -> EnergyBalance.of(r.project, r.rig, 0, r.seconds, r.changes),
                this::show));
        step.setOnAction(_ -> work("Running with half the step", r -> StepCheck.of(r.project, r.rig, r.seconds, r.changes), this::show));
        refresh();
    }

    MenuButton button() {
        return button;
    }

    /** Hides the menu where no part is a plant. */
    void refresh() {
        Project p = host.workspace().project();
        boolean plant = p.parts().stream().anyMatch(q -> q.kind() == Part.Kind.PLANT);
        button.setVisible(plant);
        button.setManaged(plant);
        energy.setDisable(p.parts().stream().flatMap(q -> q.sheets().stream()).flatMap(s -> s.blocks().stream())
                .allMatch(b -> Elements.contacts(b).isEmpty()));
    }

    /** What is run: as long as the last run of the rig, with what was changed in it. */
    private record Request(Project project, Rig rig, double seconds, List<Change> changes) {}

    /** Work that a thread may interrupt. */
    private interface Task<T> {
        T of(Request r) throws InterruptedException;
    }

    private <T> void work(String words, Task<T> task, Consumer<T> show) {
        var project = host.workspace().project();
        var rig = project.rig(host.rig()).orElse(null);
        if (rig == null) {
            host.showMessage("Choose a rig first.");
            return;
        }
        var last = host.session().run().filter(r -> r.store().end() > 0 && r.rig().name().equals(rig.name()));
        double seconds = last.map(r -> Math.min(LONGEST, r.store().end())).orElse(USUAL);
        List<Change> changes = last.map(LiveRun::interventions).orElse(List.of()).stream().filter(i -> i.kind() == Intervention.Kind.SET)
                .map(i -> new Change(i.address(), i.value(), i.atNanos())).toList();
        button.setDisable(true);
        host.showMessage(words + ", " + Figures.text(seconds, 3, "s") + " as models …");
        host.workOut(() -> {
            try {
                return task.of(new Request(project, rig, seconds, changes));
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return null;
            }
        }, result -> {
            host.showMessage("");
            if (result != null) {
                show.accept(result);
            }
        }, () -> button.setDisable(false));
    }

    private void show(EnergyBalance b) {
        var grid = grid("element", "energy", "mean power", "of supplied %");
        for (var r : b.active()) {
            row(grid, r.path(), Figures.text(r.joules(), 4, "J"), Figures.text(r.watts(), 4, "W"), percent(b.share(r)));
        }
        card("Energy by element", grid,
                String.format(Locale.ROOT, "Positive energy is taken in, as a loss or as what is stored. Negative energy "
                + "is supplied. All elements together supply %s. The balance is off by %s %% of that.", Figures.text(b.supplied(), 4, "J"),
                percent(b.error())));
    }

    private void show(StepCheck c) {
        var grid = grid("tap", "largest", "at", "RMS", "of range %");
        for (var t : c.taps()) {
            row(grid, t.tap(), Figures.text(t.largest(), 3, t.unit()), Figures.text(t.seconds(), 4, "s"),
                    Figures.text(t.rms(), 3, t.unit()),
                    percent(t.share()));
        }
        var costs = new StringBuilder("Deviation between a run with the step and one with half of it.");
        c.costs().forEach((part, cost) -> costs.append('\n').append(part).append(": step ")
                .append(micros(cost.counted().stepSeconds())).append(", takes ").append(micros(cost.mean()))
                .append(" here, at most ").append(micros(cost.longest())).append("; this machine keeps a step of ")
                .append(micros(cost.shortest())).append("; memory ").append(cost.counted().stateBytes())
                .append(" byte, tables ")
                .append(cost.counted().tableBytes()).append(" byte."));
        card("Check of the step", grid, costs.toString());
    }

    private static String micros(double seconds) {
        return String.format(Locale.ROOT, seconds < 1e-5 ? "%.2f µs" : "%.0f µs", seconds * 1e6);
    }

    private static String percent(double share) {
        return String.format(Locale.ROOT, Math.abs(share) < 1e-4 && share != 0 ? "%.1e" : "%.3f", share * 100);
    }

    private static GridPane grid(String... titles) {
        var grid = new GridPane();
        grid.setHgap(16);
        grid.setVgap(3);
        for (int i = 0; i < titles.length; i++) {
            var l = new Label(titles[i]);
            l.getStyleClass().addAll("faint", "small");
            grid.add(l, i, 0);
            GridPane.setHalignment(l, i == 0 ? HPos.LEFT : HPos.RIGHT);
        }
        return grid;
    }

    private static void row(GridPane grid, String name, String... figures) {
        int y = grid.getRowCount();
        grid.add(new Label(name), 0, y);
        for (int i = 0; i < figures.length; i++) {
            var l = new Label(figures[i]);
            l.getStyleClass().add("mono");
            grid.add(l, i + 1, y);
            GridPane.setHalignment(l, HPos.RIGHT);
        }
    }

    private void card(String title, GridPane grid, String words) {
        var heading = new Label(title);
        heading.getStyleClass().add("heading");
        var text = new Label(words);
        text.setId("figures-text");
        text.setWrapText(true);
        text.setMaxWidth(560);
        text.setMinHeight(Region.USE_PREF_SIZE);
        text.getStyleClass().add("small");
        var scroll = new ScrollPane(grid);
        scroll.setId("figures");
        scroll.setFitToWidth(true);
        scroll.setMaxHeight(TALLEST);
        var box = new VBox(8, heading, scroll, text);
        box.setStyle("-fx-padding: 12;");
        PopupCard.below(button, box);
    }
}
