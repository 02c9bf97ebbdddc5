package boldanvil.app.sheet;

import boldanvil.app.model.Figures;
import boldanvil.app.model.ModeTaps;
import boldanvil.app.model.RigSession;
import boldanvil.app.model.TimeTravel;
import boldanvil.core.bench.LiveRun;
import boldanvil.core.lower.Names;
import java.util.List;
import java.util.Set;

/** What plates and mode charts show of a run. */
final class LiveTexts {
    private final RigSession session;
    private final TimeTravel travel;
    private LiveRun known;
    private List<ModeTaps.Mode> modes = List.of();

    LiveTexts(RigSession session, TimeTravel travel) {
        this.session = session;
        this.travel = travel;
    }

    /** The mode charts of a run; they are looked for once. */
    private List<ModeTaps.Mode> modes(LiveRun run) {
        if (run != known) {
            known = run;
            modes = ModeTaps.of(run.review().project());
        }
        return modes;
    }

    /** The active step of a mode chart, now or at the instant that is shown. */
    Set<String> activeSteps(String chart) {
        var run = session.run().orElse(null);
        if (run == null || !session.isBusy() && !travel.isOn()) {
            return Set.of();
        }
        for (ModeTaps.Mode m : modes(run)) {
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
        for (ModeTaps.Mode m : modes(run)) {
            // A mode chart shows its active step.
            int active = m.chart().equals(path + "/" + block) ? run.store().indexOf(m.tap()) : -1;
            if (active >= 0) {
                return "▸ " + m.step(run.store().latest(active));
            }
        }
        int column = run.store().indexOf(Names.addressOf(path + "/" + block));
        if (column < 0) {
            return null;
        }
        String unit = run.store().columns().get(column).unit();
        return Figures.text(run.store().latest(column), 4, unit);
    }
}
