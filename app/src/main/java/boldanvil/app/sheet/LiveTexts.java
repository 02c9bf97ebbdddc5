package boldanvil.app.sheet;

import boldanvil.app.model.Figures;
import boldanvil.app.model.ModeTaps;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.TimeTravel;
import boldanvil.core.lower.Names;
import java.util.Set;

/** What plates and mode charts show of a run. */
final class LiveTexts {
    private final RigSession session;
    private final TimeTravel travel;

    LiveTexts(RigSession session, TimeTravel travel) {
        this.session = session;
        this.travel = travel;
    }

    /** The active step of a mode chart, now or at the instant that is shown. */
    Set<String> activeSteps(String chart) {
        var run = session.run().orElse(null);
        if (run == null || !session.isBusy() && !travel.isOn()) {
            return Set.of();
        }
        for (ModeTaps.Mode m : ModeTaps.of(run.review().project())) {
            int column = m.chart().equals(chart) ? run.store().indexOf(m.tap()) : -1;
            if (column >= 0) {
                return Set.of(m.step(travel.isOn() ? run.store().valueAt(column, travel.instant()) : run.store().latest(column)));
            }
        }
        return Set.of();
    }

    /** The newest value of a tap on the sheet at a path, or the active step of a mode chart; null for none. */
    String of(String path, String block) {
        var run = session.run().orElse(null);
        if (run == null || !session.isBusy() || path.isEmpty()) {
            return null;
        }
        var address = new StringBuilder();
        for (String word : path.split("/")) {
            address.append(address.isEmpty() ? word : Names.address(word)).append('.');
        }
        for (ModeTaps.Mode m : ModeTaps.of(run.review().project())) {
            // A mode chart shows its active step.
            int active = m.chart().equals(path + "/" + block) ? run.store().indexOf(m.tap()) : -1;
            if (active >= 0) {
                return "▸ " + m.step(run.store().latest(active));
            }
        }
        int column = run.store().indexOf(address + Names.address(block));
        if (column < 0) {
            return null;
        }
        String unit = run.store().columns().get(column).unit();
        return Figures.text(run.store().latest(column), 4, unit);
    }
}
