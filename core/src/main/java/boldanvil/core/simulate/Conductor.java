package boldanvil.core.simulate;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.instance.Instance;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.user.Log;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.ConcurrentSkipListMap;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import java.util.function.Supplier;

/**
 * Keeps the parts of a rig on one simulated time. Values move along the wires twice in a tick: after all parts have sampled, so
 * that controllers see the plants of this instant, and after all have stepped, so that plants continue under the new outputs.
 * The order of the parts therefore does not matter.
 */
public final class Conductor {
    private record Member(String part, Program program, Instance instance, long everyTicks, List<Observer> observers, ExecutionTimes times,
            FaultWatch faults) {
        boolean isDue(long tick) {
            return everyTicks == 1 || tick % everyTicks == 0;
        }
    }

    /** Taking the time at each tick would cost more than some steps do. */
    private static final int TIMED_EVERY = 7;

    /** A wire at work, with what is wrong with it. */
    private static final class Move {
        final LoweredSystem.Link link;
        final Instance from;
        final Instance to;
        /** What is wrong with it after the parts have sampled, and after they have stepped; null for nothing. */
        FaultyEnd sampled;
        FaultyEnd stepped;

        Move(LoweredSystem.Link link, Map<String, Instance> instances) {
            this.link = link;
            from = instances.get(link.fromPart());
            to = instances.get(link.toPart());
        }

        double sent() {
            return from.get(link.from().slot());
        }

        void pass(long now, FaultyEnd fault) {
            double v = sent();
            to.set(link.to().slot(), fault == null ? v : fault.arrives(v, now));
        }

        void repair() {
            sampled = null;
            stepped = null;
        }

        boolean isNamed(String address) {
            return Wires.isNamed(link, address);
        }
    }

    /**
     * A tunable that is driven.
     *
     * @param switched what a relay follows; null for other shapes
     */
    private record Drive(Addresses.Found found, Instance to, Stimulus stimulus, long fromNanos, Switched switched) {
        double at(double t) {
            return switched == null ? stimulus.at(t) : switched.value();
        }
    }

    /** A relay at work. What it gave last is what its tunable has, so that it can go on anywhere. */
    private record Switched(Stimulus stimulus, Instance from, Slot tap, Instance to, Slot tunable) {
        double value() {
            double v = from.get(tap);
            var relay = stimulus.relay();
            double now = to.get(tunable);
            boolean below = Math.abs(now - stimulus.to()) < Math.abs(now - stimulus.from());
            if (v > relay.level() + relay.hysteresis()) {
                below = false;
            } else if (v < relay.level() - relay.hysteresis()) {
                below = true;
            }
            return below ? stimulus.to() : stimulus.from();
        }
    }

    /** What is to be done; of those at one instant, the lower number comes first. */
    private record Planned(Intervention what, long number) {
        long atNanos() {
            return what.atNanos();
        }
    }

    private final LoweredSystem system;
    private final Map<String, Instance> instances;
    /** Until when parts do not compute, by part. */
    private final Map<String, Long> halted = new HashMap<>();
    private Director director;
    private boolean over;
    private final Map<String, Drive> drives = new ConcurrentSkipListMap<>();
    private final List<Watch> watches = new ArrayList<>();
    private volatile Finding tripped;
    private final List<Member> members = new ArrayList<>();
    private final List<Move> moves = new ArrayList<>();
    private final PriorityQueue<Planned> scheduled = new PriorityQueue<>(Comparator.comparingLong(Planned::atNanos)
            .thenComparingLong(Planned::number));
    private final List<Intervention> done = Collections.synchronizedList(new ArrayList<>());
    private final ConcurrentLinkedQueue<Runnable> requests = new ConcurrentLinkedQueue<>();
    private final List<Finding> findings = new ArrayList<>();
    private final long tickNanos;
    /** Time each member has taken in this tick so far. */
    private final long[] spent;
    private long tick;
    private long planned;

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
            members.add(new Member(id, program, instances.get(id), program.tickNanos() / tickNanos, new ArrayList<>(), new ExecutionTimes(),
                    new FaultWatch(id, program, instances.get(id), findings)));
        }
        spent = new long[members.size()];
        for (var link : system.links()) {
            moves.add(new Move(link, instances));
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

    /** Has an observer called for a part's signals. */
    public void observe(String part, Observer observer) {
        members.stream().filter(m -> m.part().equals(part)).findFirst().orElseThrow(() -> new IllegalArgumentException(part)).observers()
                .add(observer);
    }

    /** How long ticks of a part take on this machine, all three calls together; a sample of them. */
    public ExecutionTimes times(String part) {
        return members.stream().filter(m -> m.part().equals(part)).findFirst().orElseThrow().times();
    }

    /** Continues at a tick, with instances that are in the state before it; what was planned for before it counts as done. */
    public void resumeAt(long nextTick) {
        tick = nextTick;
        while (!scheduled.isEmpty() && scheduled.peek().atNanos() < nowNanos()) {
            Intervention past = scheduled.poll().what();
            switch (past.kind()) {
                case SET -> { }
                case DRIVE -> drives.put(past.address(), driving(past));
                case RELEASE -> drives.remove(past.address());
                case FAULT -> insert(past);
                case CLEAR -> remove(past.address());
            }
        }
        drives.values().removeIf(d -> d.stimulus().isOver((nowNanos() - tickNanos - d.fromNanos()) / 1e9));
    }

    /** Simulated time of the next tick in nanoseconds. */
    public long nowNanos() {
        return tick * tickNanos;
    }

    public long tickNanos() {
        return tickNanos;
    }

    /** Plans changes; their addresses and limits are checked now. */
    public void schedule(Collection<Change> changes) {
        changes.forEach(c -> Addresses.tunable(system, c.address(), c.value()));
        repeat(changes.stream().map(Intervention::set).toList());
    }

    /** Plans what was done in another run, in the same order; addresses are checked now. */
    public void repeat(Collection<Intervention> interventions) {
        interventions.stream().filter(i -> i.kind().isOfTunable()).forEach(i -> Addresses.tunable(system, i.address()));
        interventions.forEach(i -> scheduled.add(new Planned(i, planned++)));
    }

    /**
     * What took effect so far, in order. Safe for use by several threads.
     *
     * @param first how many of them are left out
     */
    public List<Intervention> interventions(int first) {
        synchronized (done) {
            return List.copyOf(done.subList(Math.min(first, done.size()), done.size()));
        }
    }

    private void apply(Intervention i) {
        switch (i.kind()) {
            case SET -> {
                var found = Addresses.tunable(system, i.address());
                instances.get(found.part()).set(found.tunable().slot(), i.value());
            }
            case DRIVE -> drives.put(i.address(), driving(i));
            case RELEASE -> drives.remove(i.address());
            case FAULT -> insert(i);
            case CLEAR -> remove(i.address());
        }
        done.add(i);
    }

    private Drive driving(Intervention i) {
        var found = Addresses.tunable(system, i.address());
        Instance to = instances.get(found.part());
        Switched switched = null;
        if (i.stimulus().relay() != null) {
            var entry = tap(i.stimulus().relay().tap(), "follow");
            switched = new Switched(i.stimulus(), instances.get(entry.part()), entry.tap().slot(), to, found.tunable().slot());
        }
        return new Drive(found, to, i.stimulus(), i.atNanos(), switched);
    }

    private TapList.Entry tap(String address, String purpose) {
        return TapList.of(system).entries().stream().filter(e -> e.address().equals(address)).findFirst()
                .orElseThrow(() -> FindingException.of(address, "There is no tap '" + address + "' to " + purpose + ".",
                        "Name one that is tapped."));
    }

    /** Has something done between two ticks, on the thread that runs them. */
    public void request(Runnable action) {
        requests.add(action);
    }

    /**
     * Drives a tunable from the next tick on, in place of what drove it before; between two ticks only. Values beyond the tunable's own
     * limits are cut off there.
     */
    public void drive(String address, Stimulus stimulus) {
        apply(Intervention.drive(address, stimulus, nowNanos()));
    }

    /** Gives tunables of a part their values; between two ticks only. */
    public void set(String part, Map<Slot, Double> values) {
        values.forEach((slot, v) -> system.program(part).orElseThrow().tunables().stream().filter(t -> t.slot() == slot).findFirst()
                .ifPresent(t -> set(Map.of(part + "." + t.name(), v))));
    }

    /** Gives tunables their values, by full address, SI; between two ticks only. */
    public void set(Map<String, Double> values) {
        values.forEach((address, v) -> apply(Intervention.set(new Change(address, v, nowNanos()))));
    }

    /** Ends driving a tunable, which keeps the value it has; between two ticks only. */
    public void release(String address) {
        if (drives.containsKey(address)) {
            apply(Intervention.release(address, nowNanos()));
        }
    }

    /**
     * Puts a fault on a wire or a part, in place of one that is there; between two ticks only.
     *
     * @param address one of the wire's ends, {@code part.port}, or a part
     * @throws FindingException when there is no such wire or part
     */
    public void insert(String address, WireFault fault) {
        apply(Intervention.fault(address, fault, nowNanos()));
    }

    /** Takes faults away; between two ticks only. An empty address takes all. */
    public void clear(String address) {
        apply(Intervention.clear(address, nowNanos()));
    }

    private void insert(Intervention i) {
        WireFault fault = i.fault();
        if (fault.kind().isOfPart()) {
            var member = members.stream().filter(m -> m.part().equals(i.address())).findFirst().orElseThrow();
            if (fault.kind() == WireFault.Kind.RESET) {
                member.instance().reset();
            }
            halted.put(i.address(), fault.seconds() > 0 ? i.atNanos() + Math.round(fault.seconds() * 1e9) : i.atNanos());
            return;
        }
        for (Move m : moves) {
            if (m.isNamed(i.address())) {
                Move other = fault.kind() != WireFault.Kind.SWAPPED ? null : moves.stream().filter(o -> o.isNamed(fault.other()))
                        .findFirst().orElseThrow();
                double before = m.to.get(m.link.to().slot());
                Supplier<FaultyEnd> end = () -> new FaultyEnd(fault, i.address(), m.link.to().slot().type(),
                        other == null ? null : other::sent, i.atNanos(), before);
                m.sampled = end.get();
                m.stepped = end.get();
            }
        }
    }

    private void remove(String address) {
        moves.stream().filter(m -> address.isEmpty() || m.isNamed(address)).forEach(Move::repair);
        halted.keySet().removeIf(part -> address.isEmpty() || part.equals(address));
    }

    /** Has something act on the rig at each tick from now on; before the first tick, or between two. */
    public void direct(Director what) {
        director = what;
    }

    /** Whether what {@linkplain #direct directs} the rig has ended the run. */
    public boolean isOver() {
        return over;
    }

    /** Tunables that are driven. */
    public List<String> driven() {
        return List.copyOf(drives.keySet());
    }

    private void drive(long now) {
        for (var i = drives.values().iterator(); i.hasNext(); ) {
            Drive d = i.next();
            double t = (now - d.fromNanos()) / 1e9;
            var tunable = d.found().tunable();
            d.to().set(tunable.slot(), Math.clamp(d.at(t), tunable.minimum(), tunable.maximum()));
            if (d.stimulus().isOver(t)) {
                i.remove();
            }
        }
    }

    /** Watches these limits from now on, in place of others; between two ticks only, or before the first. */
    public void guard(Collection<Guard> guards) {
        List<Watch> fresh = new ArrayList<>();
        for (Guard g : guards) {
            var entry = tap(g.tap(), "limit");
            var member = members.stream().filter(m -> m.part().equals(entry.part())).findFirst().orElseThrow();
            fresh.add(new Watch(g, entry.tap(), member.instance(), member.everyTicks() * entry.tap().periodTicks(), tickNanos));
        }
        watches.clear();
        watches.addAll(fresh);
    }

    /** Which limit was exceeded, and when; nothing as long as none was. */
    public Optional<Finding> tripped() {
        return Optional.ofNullable(tripped);
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
        var later = new ArrayList<>(scheduled);
        var guards = watches.stream().map(Watch::guard).toList();
        Director directed = director;
        director = null;
        scheduled.clear();
        watches.clear();
        long end = System.nanoTime() + nanos;
        for (int i = 0; i < ticks && System.nanoTime() < end; i++) {
            tick();
        }
        tick = 0;
        findings.clear();
        members.forEach(m -> {
            m.instance().init();
            m.times().clear();
            m.faults().clear();
        });
        pulses();
        kept.forEach(k -> k.instance().set(k.slot(), k.value()));
        scheduled.addAll(later);
        director = directed;
        guard(guards);
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
            apply(scheduled.poll().what().at(now));
        }
        if (director != null && !over) {
            director.before(now);
        }
        if (!drives.isEmpty()) {
            drive(now);
        }
        boolean timed = tick % TIMED_EVERY == 0;
        compute(now, timed, Instance::sample);
        observe((o, m) -> o.sampled(now));
        moves.forEach(m -> m.pass(now, m.sampled));
        compute(now, timed, Instance::step);
        observe((o, m) -> o.stepped(now, tick / m.everyTicks()));
        if (director != null && !over) {
            over = !director.after(now);
        }
        moves.forEach(m -> m.pass(now, m.stepped));
        for (int i = 0; i < watches.size() && tripped == null; i++) {
            tripped = watches.get(i).look(tick, now);
        }
        compute(now, timed, Instance::advance);
        if (timed) {
            for (int i = 0; i < members.size(); i++) {
                if (members.get(i).isDue(tick)) {
                    members.get(i).times().add(spent[i]);
                }
                spent[i] = 0;
            }
        }
        lookForFaults(now);
        tick++;
    }

    /** Has each part that is due, and not halted, do something. */
    private void compute(long now, boolean timed, Consumer<Instance> what) {
        for (int i = 0; i < members.size(); i++) {
            Member m = members.get(i);
            if (m.isDue(tick) && (halted.isEmpty() || halted.getOrDefault(m.part(), Long.MIN_VALUE) <= now)) {
                long begin = timed ? System.nanoTime() : 0;
                what.accept(m.instance());
                spent[i] += timed ? System.nanoTime() - begin : 0;
            }
        }
    }

    /** Has what each due part gave observed; one that is halted has its former values. */
    private void observe(BiConsumer<Observer, Member> how) {
        for (Member m : members) {
            if (m.isDue(tick)) {
                m.observers().forEach(o -> how.accept(o, m));
            }
        }
    }

    /** Ends the run: devices go to their safe state, and what they are wired to sees it. */
    public void end() {
        RuntimeException failed = null;
        for (Member m : members) {
            try {
                m.instance().end();
            } catch (RuntimeException e) {
                Log.ignored(Conductor.class, e, "A part failed at its end; the others still go to their safe state.");
                failed = failed == null ? e : failed;
            }
        }
        moves.forEach(m -> m.pass(nowNanos(), m.stepped));
        if (failed != null) {
            throw failed;
        }
    }

    /** Faults the parts have raised since the last call, each kind once for a part, with its block and the instant of its tick. */
    public List<Finding> takeFaults() {
        for (Member m : members) {
            m.faults().close(Math.max(0, tick - 1) * tickNanos);
        }
        var taken = List.copyOf(findings);
        findings.clear();
        return taken;
    }

    private void lookForFaults(long now) {
        for (Member m : members) {
            if (m.isDue(tick)) {
                m.faults().look(now);
            }
        }
    }
}
