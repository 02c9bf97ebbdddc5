package boldanvil.app.sheet;

import boldanvil.app.model.Navigator;
import boldanvil.app.model.PastRun;
import boldanvil.app.model.TimeTravel;
import boldanvil.app.page.Command;
import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.core.diagram.Places;
import boldanvil.core.diagram.Wire;
import boldanvil.core.edit.Paths;
import boldanvil.core.edit.Wiring;
import boldanvil.core.finding.Place;
import java.util.List;
import java.util.Optional;
import java.util.function.DoubleSupplier;

/** Past instants of the last run on the sheets, and why values were what they were. */
final class PastCommands {
    private final PageHost host;
    private final Page page;
    private final SheetCanvas canvas;
    private final TimeTravel travel;
    private final DoubleSupplier cursor;
    private final Navigator navigator;
    private final Command explain = Command.of("Why this value", "Shortcut+Shift+Y", this::explain);

    /**
     * @param page the page with the sheets
     * @param cursor the instant at the cursor of the traces; NaN where there is none
     */
    PastCommands(PageHost host, Page page, SheetCanvas canvas, TimeTravel travel, DoubleSupplier cursor) {
        this.host = host;
        this.page = page;
        this.canvas = canvas;
        this.travel = travel;
        this.cursor = cursor;
        navigator = host.navigator();
    }

    List<Command> all() {
        return List.of(explain, Command.of("Show the values at a past instant", "Shortcut+H", this::travel),
                Command.of("Show the values at the cursor of the traces", "Shortcut+Shift+H", this::travelToCursor));
    }

    /** Commands for the menu on a wire. */
    List<Command> onWire() {
        return List.of(explain);
    }

    private Optional<PastRun> run() {
        return host.session().run().filter(r -> r.store().end() > 0).map(PastRun::of);
    }

    /** Shows a run from an instant. */
    void begin(PastRun run, double at) {
        travel.begin(run, at, host.workspace().project());
        travel.show(navigator.sheet().orElse(null), navigator.path());
    }

    /** Shows values of the last run, or ends that. */
    private void travel() {
        if (travel.isOn()) {
            travel.end();
        } else {
            run().ifPresentOrElse(r -> begin(r, r.end()), () -> host.showMessage("Run a rig first."));
        }
    }

    /** Shows the values at the instant of the trace cursor. */
    private void travelToCursor() {
        double at = cursor.getAsDouble();
        if (Double.isNaN(at) || run().isEmpty()) {
            host.showMessage("Run a rig, then show the cursors on the bench and place the first one.");
            return;
        }
        host.show(page);
        if (travel.isOn()) {
            travel.goTo(at);
        } else {
            begin(run().get(), at);
        }
    }

    /** Explains the value of the selected wire at the instant that is shown; at the end of the last run where none is. */
    private void explain() {
        var wires = canvas.selectedWires();
        if (wires.size() != 1 || navigator.sheet().isEmpty()) {
            host.showMessage("Select one wire inside a part first.");
            return;
        }
        if (!travel.isOn()) {
            travel();
        }
        if (travel.isOn()) {
            Wire w = wires.iterator().next();
            travel.ask(w.from(), w.fromPort());
        }
    }

    /** As {@link Page#show(Place, double)}. */
    boolean show(Place place, double seconds) {
        var project = host.workspace().project();
        var path = place.sheetPath().or(() -> Paths.ofTap(project, place.text()));
        var at = path.flatMap(p -> Places.find(project, p));
        if (run().isEmpty() || at.isEmpty()) {
            return false;
        }
        navigator.show(Place.sheet(path.get()));
        begin(run().get(), seconds);
        Wiring.source(project, at.get()).ifPresent(w -> travel.ask(w.from(), w.fromPort()));
        return true;
    }
}
