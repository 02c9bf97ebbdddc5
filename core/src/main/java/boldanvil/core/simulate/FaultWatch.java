package boldanvil.core.simulate;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.program.Fault;
import boldanvil.core.program.FaultPlaces;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Tap;
import java.util.List;
import java.util.stream.Stream;

/** Reports the first fault of each kind of one part, and the first of its signals that is no longer finite. */
final class FaultWatch {
    private final String part;
    private final Program program;
    private final Instance instance;
    private final List<Finding> findings;
    /** Outputs and taps that may become infinite or NaN. */
    private final Slot[] watched;
    private FaultPlaces places;
    private int reported;
    /** Kinds that were seen without a place; they may come again with one. */
    private int waiting;
    private long waitingSince;
    private boolean isFinite = true;

    /** @param findings where findings are added */
    FaultWatch(String part, Program program, Instance instance, List<Finding> findings) {
        this.part = part;
        this.program = program;
        this.instance = instance;
        this.findings = findings;
        watched = Stream.concat(program.ports().stream().filter(p -> !p.isInput()).map(Port::slot), program.taps().stream().map(Tap::slot))
                .filter(s -> s.type().isFloat() && !s.isArray()).distinct().toArray(Slot[]::new);
    }

    /** Looks at the fault slot after a tick. */
    void look(long nowNanos) {
        int fault = (int) instance.get(program.fault());
        if (fault == reported && waiting == 0) {
            return;
        }
        int placed = Fault.placed(fault) & ~reported;
        int fresh = Fault.bits(fault) & ~reported;
        if (placed != 0) {
            report(placed, placeOf(fault), nowNanos);
        }
        // A kind without a place is reported without one when it does not come again.
        int late = waiting & ~Fault.bits(fault);
        if (late != 0) {
            report(late, part, waitingSince);
        }
        waitingSince = waiting == 0 ? nowNanos : waitingSince;
        waiting = fresh & ~reported;
        instance.set(program.fault(), reported);
    }

    /** Reports what is left to report, and signals that are not finite. */
    void close(long nowNanos) {
        if (waiting != 0) {
            report(waiting, part, waitingSince);
            waiting = 0;
            instance.set(program.fault(), reported);
        }
        for (int i = 0; isFinite && i < watched.length; i++) {
            isFinite = Double.isFinite(instance.get(watched[i]));
        }
        if (!isFinite && (reported & Fault.NOT_FINITE) == 0) {
            report(Fault.NOT_FINITE, source(), nowNanos);
            instance.set(program.fault(), reported);
        }
    }

    /** The block whose value is the first, in the order of computation, that is not finite. */
    private String source() {
        return program.slots().stream().filter(s -> s.type().isFloat() && !s.isArray() && s.role() != Slot.Role.TUNABLE)
                .filter(s -> !Double.isFinite(instance.get(s))).map(Slot::path).findFirst().orElse(part);
    }

    private String placeOf(int fault) {
        if (places == null) {
            places = FaultPlaces.of(program);
        }
        String place = places.placeOf(fault);
        return place.isEmpty() ? part : place;
    }

    private void report(int bits, String place, long nanos) {
        reported |= bits;
        findings.add(Finding.error(Place.sheet(place), Fault.describe(bits) + " Noticed at " + nanos / 1e9 + " s.", Fault.cure(bits))
                .at(nanos / 1e9));
    }

    /** Restarts. */
    void clear() {
        reported = 0;
        waiting = 0;
        isFinite = true;
    }
}
