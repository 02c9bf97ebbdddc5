package boldanvil.core.bench;

import boldanvil.core.finding.Place;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;

/** What ended a run before its time, as a finding. */
public final class RunFailure {
    private RunFailure() {}

    /** @param nanos simulated time that was reached */
    public static Finding of(Place place, Throwable e, long nanos) {
        String when = " The run ended at " + nanos / 1e9 + " s, before its time.";
        if (e instanceof FindingException f) {
            var first = f.findings().getFirst();
            return Finding.error(first.place(), first.cause() + when, first.cure());
        }
        return Finding.error(place, "A step failed: " + (e.getMessage() == null ? e.getClass().getSimpleName() : e.getMessage()) + "."
                + when,
                "Start the rig again; if it happens again, please report it with the project.");
    }
}
