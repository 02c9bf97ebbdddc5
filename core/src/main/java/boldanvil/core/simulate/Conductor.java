package boldanvil.core.simulate;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Fault;
import boldanvil.core.program.FaultPlaces;
import boldanvil.core.program.Instance;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.PriorityQueue;
import java.util.concurrent.ConcurrentLinkedQueue;

/**
 * Keeps the parts of a rig on one virtual time. Values move along the wires twice in a tick: after all parts have sampled, so
 * that controllers see the plants of this instant, and after all have stepped, so that plants go on under the new outputs.
 * The order of the parts therefore does not matter.
 */
public final class Conductor {
    private record Member(String part, Program program, Instance instance, long everyTicks, List<Observer> observers) {
        boolean isDue(long tick) {
            return everyTicks == 1 || tick % everyTicks == 0;
        }
    }

    private record Move(Instance from, Slot out, Instance to, Slot in) {}

    private final LoweredSystem system;
    private final Map<String, Instance> instances;
    private final List<Member> members = new ArrayList<>();
    private final List<Move> moves = new ArrayList<>();
    private final PriorityQueue<Change> scheduled = new PriorityQueue<>(Comparator.comparingLong(Change::atNanos));
    private final ConcurrentLinkedQueue<Runnable> requests = new ConcurrentLinkedQueue<>();
    private final List<Finding> findings = new ArrayList<>();
    private final long tickNanos;
    private long tick;

    /**
     * @param system without errors
     * @param instances one for each part, already at its beginning
     */
    public Conductor(LoweredSystem system, Map<String, Instance> instances) {
        this.system = system.orThrow();
        this.instances = Map.copyOf(instances);
        if (instances.isEmpty()) {
            throw FindingException.of("system", "The project has no part.", "Add a controller or a plant to the system sheet.");
        }
        tickNanos = system.tickNanos();
        for (String id : system.parts().keySet()) {
            var program = system.program(id).orElseThrow();
            members.add(new Member(id, program, instances.get(id), program.tickNanos() / tickNanos, new ArrayList<>()));
        }
        for (var link : system.links()) {
            moves.add(new Move(instances.get(link.fromPart()), link.from().slot(), instances.get(link.toPart()),
                    link.to().slot()));
        }
        pulses();
    }

    /** Tells measuring inputs what stays the same about the pulses they are wired to. */
    private void pulses() {
        for (var p : system.pulses()) {
            var pulse = instances.get(p.fromPart()).pulse(p.from());
            instances.get(p.toPart()).set(p.to().slot(), p.dead() ? pulse.deadSeconds() : pulse.hertz());
        }
    }

    /** Has an observer told of a part's signals. */
    public void observe(String part, Observer observer) {
        members.stream().filter(m -> m.part().equals(part)).findFirst().orElseThrow(() -> new IllegalArgumentException(part)).observers().add(observer);
    }

    /** Virtual time of the next tick in nanoseconds. */
    public long nowNanos() {
        return tick * tickNanos;
    }

    public long tickNanos() {
        return tickNanos;
    }

    /** Plans changes; their addresses and limits are checked now. */
    public void schedule(Collection<Change> changes) {
        changes.forEach(c -> Addresses.tunable(system, c.address(), c.value()));
        scheduled.addAll(changes);
    }

    /** Has something done between two ticks, on the thread that runs them. */
    public void request(Runnable action) {
        requests.add(action);
    }

    /**
     * Runs some ticks for nothing, so that the machine has compiled what it will run in step with the wall clock, then goes
     * back to the beginning. Tunables keep the values they had.
     *
     * @param ticks at most this many
     * @param nanos at most this long
     */
    public void warmUp(int ticks, long nanos) {
        record Kept(Instance instance, Slot slot, double value) {}
        List<Kept> kept = new ArrayList<>();
        members.forEach(m -> m.program().tunables().forEach(t ->
                kept.add(new Kept(m.instance(), t.slot(), m.instance().get(t.slot())))));
        var planned = new ArrayList<>(scheduled);
        scheduled.clear();
        long end = System.nanoTime() + nanos;
        for (int i = 0; i < ticks && System.nanoTime() < end; i++) {
            tick();
        }
        tick = 0;
        members.forEach(m -> m.instance().init());
        pulses();
        kept.forEach(k -> k.instance().set(k.slot(), k.value()));
        scheduled.addAll(planned);
    }

    /** Does what has been requested; between two ticks only. */
    public void serve() {
        for (Runnable r = requests.poll(); r != null; r = requests.poll()) {
            r.run();
        }
    }

    /** Runs one tick. */
    public void tick() {
        long now = nowNanos();
        serve();
        while (!scheduled.isEmpty() && scheduled.peek().atNanos() <= now) {
            var c = scheduled.poll();
            var found = Addresses.tunable(system, c.address());
            instances.get(found.part()).set(found.tunable().slot(), c.value());
        }
        for (Member m : members) {
            if (m.isDue(tick)) {
                m.instance().sample();
                for (Observer o : m.observers()) {
                    o.sampled(now);
                }
            }
        }
        move();
        for (Member m : members) {
            if (m.isDue(tick)) {
                m.instance().step();
                for (Observer o : m.observers()) {
                    o.stepped(now, tick / m.everyTicks());
                }
            }
        }
        move();
        for (Member m : members) {
            if (m.isDue(tick)) {
                m.instance().advance();
            }
        }
        tick++;
    }

    private void move() {
        for (Move m : moves) {
            m.to().set(m.in(), m.from().get(m.out()));
        }
    }

    /** Faults the parts have raised since the last call; to be asked for after each tick, whose instant they get. */
    public List<Finding> takeFaults() {
        findings.clear();
        for (Member m : members) {
            int fault = (int) m.instance().get(m.program().fault());
            if (fault != 0) {
                m.instance().set(m.program().fault(), 0);
                String place = FaultPlaces.of(m.program()).placeOf(fault);
                findings.add(Finding.doubt(place.isEmpty() ? m.part() : place, Fault.describe(Fault.bits(fault)) + " Noticed at "
                        + Math.max(0, tick - 1) * tickNanos / 1e9 + " s.", Fault.cure(Fault.bits(fault))));
            }
        }
        return List.copyOf(findings);
    }
}
