package boldanvil.core.replay;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.BoardTerminals;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Tunable;
import boldanvil.core.review.Review;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import boldanvil.core.sheet.SheetSource;
import boldanvil.core.simulate.Addresses;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.simulate.Intervention;
import boldanvil.core.simulate.Observer;
import boldanvil.core.simulate.Recorder;
import boldanvil.core.simulate.StateTransfer;
import boldanvil.core.simulate.SteadyState;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.DoubleConsumer;
import java.util.regex.Pattern;

/**
 * A run, run again. Models and generated code repeat exactly, so the value of every wire at any instant follows from the start and the
 * changes; what was recorded is held against it, bit for bit. States are kept at intervals, so that any instant is near one.
 *
 * <p>Not safe for use by several threads at once.
 */
public final class Replay {
    /** Ticks between two kept states. */
    private static final int EVERY = 20_000;
    /** The number of an element at the end of the name of a vector's tap. */
    private static final Pattern ELEMENT = Pattern.compile("\\.\\d+$");
    /** Most states that are kept; beyond, every second one is dropped. */
    private static final int MOST = 400;

    /** The state of all parts before a tick. */
    private record State(Map<String, double[]> parts) {}

    /**
     * A column that differs from what was recorded.
     *
     * @param seconds the first instant at which it does
     */
    public record Difference(String tap, double seconds, double recorded, double computed) {}

    /**
     * The value of a wire.
     *
     * @param value SI; NaN before its first sample
     * @param measured whether it was recorded, and not computed
     */
    public record Value(double value, boolean measured) {}

    private final Feeds feeds;
    private final List<Fed> fed = new ArrayList<>();
    private final WireTaps taps;
    private final LoweredSystem system;
    private final Map<String, Instance> instances = new LinkedHashMap<>();
    private final List<Intervention> interventions;
    private final double end;
    private final boolean measured;
    private final long ticks;
    private final TreeMap<Long, State> states = new TreeMap<>();
    private Comparer comparer;
    private final List<Difference> differences = new ArrayList<>();
    private final Map<String, List<Slot>> slotsOfTaps = new HashMap<>();
    private final Map<Slot, Tunable> tunables = new IdentityHashMap<>();
    private boolean keeps = true;
    private long every = EVERY;
    private SampleStore window;
    private double windowFrom = Double.NaN;
    private double windowTo = Double.NaN;

    /**
     * Prepares to run a project again; nothing runs yet.
     *
     * @param interventions what took effect on tunables, in order
     * @param recorded what was recorded; it is read now, and not later
     * @throws FindingException when the project has errors
     */
    public Replay(Project project, Rig rig, List<Intervention> interventions, Samples recorded) {
        this.interventions = List.copyOf(interventions);
        end = recorded.end();
        Project as = project.as(rig);
        feeds = Feeds.of(source(as), rig, recorded);
        taps = WireTaps.of(source(feeds.project()), feeds.outputs());
        boolean boards = rig.terminals() == Rig.Terminals.BOARD
                || rig.places().values().stream().anyMatch(p -> p.mode() == Rig.Mode.DEVICE);
        Optional<Review> review = boards ? Optional.of(Review.of(taps.project())) : Optional.empty();
        system = review.map(Review::system).orElseGet(() -> LoweredSystem.of(taps.project())).orThrow();
        measured = Feeds.isMeasured(rig);
        instances.putAll(instances(system, rig, review));
        system.parts().keySet().forEach(id -> {
            var program = system.program(id).orElseThrow();
            program.taps().forEach(t -> slotsOfTaps.computeIfAbsent(id + "." + ELEMENT.matcher(t.name()).replaceFirst(""),
                    _ -> new ArrayList<>()).add(t.slot()));
            program.tunables().forEach(t -> tunables.put(t.slot(), t));
        });
        feeds.columns().forEach((address, column) -> {
            var to = Addresses.tunable(system, address);
            fed.add(new Fed(instances.get(to.part()), to.tunable().slot(), recorded.series(recorded.indexOf(column))));
        });
        comparer = new Comparer(recorded, system, instances, differences);
        ticks = Math.round(end * 1e9 / system.tickNanos()) + 1;
        if (!rig.settled().isEmpty()) {
            settle(as, rig, review);
        }
        try {
            states.put(0L, save());
        } catch (UnsupportedOperationException e) {
            keeps = false;
        }
    }

    private static Map<String, Instance> instances(LoweredSystem system, Rig rig, Optional<Review> review) {
        Map<String, Instance> all = new LinkedHashMap<>();
        for (String part : system.parts().keySet()) {
            Instance instance = JvmCompiler.compile(system.program(part).orElseThrow()).instantiate();
            Optional<BoardSetup> setup = rig.terminals() == Rig.Terminals.BOARD || rig.place(part).mode() == Rig.Mode.DEVICE
                    ? review.flatMap(r -> r.setup(rig, part)) : Optional.empty();
            all.put(part, setup.isPresent() ? new BoardTerminals(instance, setup.get()) : instance);
        }
        return all;
    }

    /** Searches the start as the run did, without the taps of the replay, so that it is the same to the last bit. */
    private void settle(Project as, Rig rig, Optional<Review> review) {
        var plain = LoweredSystem.of(as).orThrow();
        var found = instances(plain, rig, review);
        SteadyState.start(plain, found, rig.settled(), as.variableTexts(), interventions, Place.rig(rig.name()));
        found.forEach((part, i) -> {
            var transfer = new StateTransfer(plain.program(part).orElseThrow(), system.program(part).orElseThrow());
            transfer.give(transfer.take(i), instances.get(part));
        });
    }

    private static SheetSource source(Project p) {
        return SheetSource.of(p, LoweredSystem.of(p).orThrow(), List.of());
    }

    /** A slot that gets recorded values. */
    private record Fed(Instance instance, Slot slot, Series series) {
        void set(double seconds) {
            int at = Arrays.binarySearch(series.times(), seconds + 5e-10);
            int last = at >= 0 ? at : -at - 2;
            if (series.times().length > 0) {
                instance.set(slot, series.values()[Math.max(0, last)]);
            }
        }
    }

    /** Runs a tick with what was recorded of it. */
    private void tick(Conductor conductor) {
        for (Fed f : fed) {
            f.set(conductor.nowNanos() / 1e9);
        }
        conductor.tick();
    }

    private State save() {
        Map<String, double[]> parts = new HashMap<>();
        instances.forEach((id, i) -> parts.put(id, i.save()));
        return new State(parts);
    }

    private Conductor from(long tick) {
        var state = keeps ? states.floorEntry(tick) : null;
        if (state == null) {
            instances.values().forEach(Instance::init);
        } else {
            state.getValue().parts().forEach((id, s) -> instances.get(id).restore(s));
        }
        var conductor = new Conductor(system, instances);
        conductor.repeat(interventions);
        conductor.resumeAt(state == null ? 0 : state.getKey());
        return conductor;
    }

    /** Everything as it was before a tick. */
    private Conductor at(long tick) {
        var conductor = from(tick);
        while (conductor.nowNanos() < tick * system.tickNanos()) {
            tick(conductor);
        }
        return conductor;
    }

    /**
     * Runs from the start to the end once, keeps states on the way and compares with what was recorded. To be called once, before all
     * else.
     *
     * @param progress gets shares from 0 to 1
     * @throws InterruptedException when the thread is interrupted
     */
    public void prepare(DoubleConsumer progress) throws InterruptedException {
        var conductor = from(0);
        comparer.observe(conductor);
        comparer = null;
        for (long t = 0; t < ticks; t++) {
            if (keeps && t > 0 && t % every == 0) {
                states.put(t, save());
                if (states.size() > MOST) {
                    every *= 2;
                    states.keySet().removeIf(k -> k % every != 0);
                }
            }
            if (t % 4096 == 0) {
                progress.accept((double) t / ticks);
                if (Thread.interrupted()) {
                    throw new InterruptedException();
                }
            }
            tick(conductor);
        }
        progress.accept(1);
    }

    /** Where the computed run differs from the recorded one; empty when they agree bit for bit. */
    public List<Difference> differences() {
        return List.copyOf(differences);
    }

    /** Whether parts ran on a device, so that what was recorded was measured. */
    public boolean isMeasured() {
        return measured;
    }

    /** The last instant of the run, in seconds. */
    public double end() {
        return end;
    }

    /**
     * Computes a stretch before an instant.
     *
     * @param seconds of the stretch
     */
    private SampleStore window(double at, double seconds) {
        double from = Math.max(0, at - seconds);
        if (window != null && from >= windowFrom - 1e-12 && at <= windowTo + 1e-12) {
            return window;
        }
        long first = (long) Math.floor(from * 1e9 / system.tickNanos());
        long last = Math.min(ticks, (long) Math.floor(at * 1e9 / system.tickNanos() + 1e-6) + 1);
        var conductor = at(first);
        var recorder = new Recorder(system, instances, (int) Math.min(1_000_000, last - first + 16));
        recorder.record(conductor);
        while (conductor.nowNanos() < last * system.tickNanos()) {
            tick(conductor);
        }
        window = recorder.store();
        windowFrom = from;
        windowTo = at;
        return window;
    }

    /**
     * The values of all wires of a sheet at an instant.
     *
     * @param path diagram path of the sheet
     * @return by block id and port of the wire's source, joined by a dot
     */
    public Map<String, Value> values(SheetRef ref, String path, double at) {
        var store = window(at, slowest());
        Map<String, Value> values = new HashMap<>();
        taps.addresses(ref, path).forEach((source, address) -> {
            int column = column(store, address);
            if (column >= 0) {
                values.put(source.block() + "." + source.port(), new Value(store.valueAt(column, at + 1e-12),
                        taps.fed().contains(source)));
            }
        });
        return values;
    }

    /** Long enough for a sample of the slowest task. */
    private double slowest() {
        double longest = 0;
        for (String part : system.parts().keySet()) {
            var program = system.program(part).orElseThrow();
            for (var tap : program.taps()) {
                longest = Math.max(longest, tap.periodTicks() * program.tickNanos() / 1e9);
            }
        }
        return 2 * longest;
    }

    private static int column(SampleStore store, String address) {
        int exact = store.indexOf(address);
        if (exact >= 0) {
            return exact;
        }
        // A vector has a column for each element; the first stands for it.
        return store.indexOf(address + ".1");
    }

    /**
     * The last stretch of one wire.
     *
     * @return times and values; empty arrays where there are none
     */
    public double[][] stretch(SheetRef ref, String path, String block, String port, double at, double seconds) {
        String address = taps.address(new WireTaps.Source(ref, block, port), path);
        if (address == null) {
            return new double[2][0];
        }
        var store = window(at, Math.max(seconds, slowest()));
        int column = column(store, address);
        var series = store.series(Math.max(0, column), at - seconds, at);
        return column < 0 ? new double[2][0] : new double[][] {series.times(), series.values()};
    }

    /** Why the output of a block had its value at an instant; empty where no wire carries it. */
    public Optional<Why> why(SheetRef ref, String path, String block, String port, double at) {
        return Why.of(this, ref, path, block, port, at);
    }

    Feeds feeds() {
        return feeds;
    }

    WireTaps taps() {
        return taps;
    }

    LoweredSystem system() {
        return system;
    }

    long tickNanos() {
        return system.tickNanos();
    }

    /** The tick whose values an instant shows. */
    long tickAt(double seconds) {
        return Math.clamp((long) Math.floor(seconds * 1e9 / system.tickNanos() + 1e-6), 0, ticks - 1);
    }

    /** The slots of a tap by its full address; those of a vector in their order. */
    List<Slot> slots(String address) {
        return slotsOfTaps.getOrDefault(address, List.of());
    }

    Optional<Tunable> tunable(Slot s) {
        return Optional.ofNullable(tunables.get(s));
    }

    /** A slot of a part. */
    record Where(String part, Slot slot) {}

    /** What drives the input of a part; any other slot itself. */
    Where source(String part, Slot s) {
        return system.links().stream().filter(l -> l.toPart().equals(part) && l.to().slot() == s).findFirst()
                .map(l -> new Where(l.fromPart(), l.from().slot())).orElse(new Where(part, s));
    }

    /**
     * The last tick before another one in which a slot changed.
     *
     * @return −1 when it has its value since the start
     */
    long lastChange(String part, Slot s, long before) {
        long end = before;
        while (end > 0) {
            var kept = keeps ? states.floorEntry(end - 1) : null;
            long from = kept == null ? 0 : kept.getKey();
            var conductor = from(from);
            Instance instance = instances.get(part);
            double value = instance.get(s);
            long last = -1;
            for (long t = from; t < end; t++) {
                tick(conductor);
                double next = instance.get(s);
                if (Double.doubleToRawLongBits(next) != Double.doubleToRawLongBits(value)) {
                    last = t;
                    value = next;
                }
            }
            if (last >= 0) {
                return last;
            }
            end = from;
        }
        return -1;
    }

    /**
     * Runs a tick statement by statement.
     *
     * @param advance whether to the end of the tick; else to where its outputs are fresh
     * @return by part
     */
    Map<String, Tracer> trace(long tick, boolean advance) {
        var conductor = at(tick);
        Map<String, Tracer> tracers = new LinkedHashMap<>();
        for (String part : system.parts().keySet()) {
            tracers.put(part, new Tracer(system.program(part).orElseThrow(), instances.get(part)));
        }
        Map<Slot, Double> seen = new IdentityHashMap<>();
        for (String part : tracers.keySet()) {
            conductor.observe(part, new Inputs(system.program(part).orElseThrow(), instances.get(part), seen));
        }
        tick(conductor);
        // What was set or driven took effect before the tick.
        tracers.forEach((part, t) -> t.program().tunables().forEach(
                u -> t.put(u.slot(), Node.before(u.slot(), instances.get(part).get(u.slot())))));
        List<Tracer> due = tracers.values().stream().filter(t -> tick * system.tickNanos() % t.program().tickNanos() == 0).toList();
        due.forEach(t -> t.run(Program.SAMPLE));
        move(tracers, seen);
        due.forEach(t -> t.run(Program.STEP));
        if (advance) {
            move(tracers, Map.of());
            due.forEach(t -> t.run(Program.ADVANCE));
        }
        return tracers;
    }

    /** Notes what the inputs of a part were when it stepped, as converters and counters have it. */
    private record Inputs(Program program, Instance instance, Map<Slot, Double> seen) implements Observer {
        @Override
        public void sampled(long nanos) { }

        @Override
        public void stepped(long nanos, long partTick) {
            program.slots().stream().filter(s -> s.role() == Slot.Role.INPUT).forEach(s -> seen.put(s, instance.get(s)));
        }
    }

    private void move(Map<String, Tracer> tracers, Map<Slot, Double> seen) {
        Map<Slot, Node> moved = new IdentityHashMap<>();
        for (var link : system.links()) {
            Node from = tracers.get(link.fromPart()).node(link.from().slot());
            Slot in = link.to().slot();
            moved.put(in, new Node(in, seen.getOrDefault(in, from.value()), in.path(), List.of(new Node.Cause(from, Why.Part.VALUE))));
        }
        system.links().forEach(l -> tracers.get(l.toPart()).put(l.to().slot(), moved.get(l.to().slot())));
    }
}
