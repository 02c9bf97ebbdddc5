package boldanvil.core.bench;

import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.review.Review;
import boldanvil.core.simulate.Addresses;
import boldanvil.core.simulate.TapList;
import boldanvil.core.simulate.WireFault;
import boldanvil.core.simulate.Wires;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;

/** What every run of a rig has, wherever its parts run: what it was made from, what was changed, and what was found. */
abstract class RigRun implements LiveRun {
    /** What was found while it ran. */
    final List<Finding> found = new CopyOnWriteArrayList<>();

    private final Review review;
    private final Rig rig;
    private final TapList taps;

    RigRun(Review review, Rig rig) {
        this.review = review;
        this.rig = rig;
        taps = TapList.of(review.system());
    }

    @Override
    public final Review review() {
        return review;
    }

    @Override
    public final Rig rig() {
        return rig;
    }

    @Override
    public final TapList taps() {
        return taps;
    }

    @Override
    public List<Finding> findings() {
        return new ArrayList<>(found);
    }

    @Override
    public final void set(String address, double value) {
        set(Map.of(address, value));
    }

    @Override
    public final void set(Map<String, Double> values) {
        values.forEach((address, v) -> Addresses.tunable(review.system(), address, v));
        requireRunning(values.size() == 1 ? values.keySet().iterator().next() : "values");
        write(values);
    }

    @Override
    public final void insert(String address, WireFault fault) {
        Wires.require(review.system(), address, fault, Place.rig(rig.name()));
        requireRunning(address);
        put(address, fault);
    }

    /** Puts a fault that has been checked on a wire or a part. */
    abstract void put(String address, WireFault fault);

    /** Writes values that have been checked; they take effect together, between two steps. */
    abstract void write(Map<String, Double> values);

    /** @throws FindingException when the run has ended */
    final void requireRunning(String place) {
        if (state() == State.ENDED || state() == State.LOST) {
            throw FindingException.of(place, "The run has ended.", "Start the rig again.");
        }
    }
}
