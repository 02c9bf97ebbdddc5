package boldanvil.core.target;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.instance.Pulse;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.simulate.ExecutionTimes;
import java.util.IdentityHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.LongSupplier;
import java.util.function.Supplier;

/**
 * A part on a core of a target. At the beginning of each step it takes what its channels captured since the step before, and puts out what
 * it computed in that step. A step takes the time that its operations cost on the core; where it has not ended as the next one is due, the
 * part does what its seat says.
 */
public final class TargetInstance implements Instance {
    /** An input with what is on its wire. */
    private static final class Inlet {
        private final Slot slot;
        private final Signal signal;
        private Supplier<Capture> capturing;
        private Capture capture;
        private double wire;

        Inlet(Slot slot, Signal signal) {
            this.slot = slot;
            this.signal = signal;
        }
    }

    private final Instance inner;
    private final Program program;
    private final TargetPart part;
    private final TargetCore core;
    private final double conversion;
    private final Map<Slot, Inlet> inlets = new IdentityHashMap<>();
    private final Map<Slot, Signal> outlets = new IdentityHashMap<>();
    private final ExecutionTimes times = new ExecutionTimes();
    private final ExecutionTimes latency = new ExecutionTimes();
    private LongSupplier clock = () -> 0;
    private long tick;
    /** When the step that began last ends, and the one before it. */
    private double finish;
    private double ready;
    private boolean runs;
    private boolean halted;
    private long overruns;
    private long leftOut;
    private double firstOverrun;
    /** The first edge at the inputs since they were taken last, and before. */
    private double edge = Double.NaN;
    private double takenEdge = Double.NaN;
    private double taken = Double.NaN;
    private Finding stopped;
    private volatile TargetLog log;

    /** @param inner the part as it is computed, at its beginning */
    public TargetInstance(Instance inner, TargetPart part, TargetCore core) {
        this.inner = inner;
        this.part = part;
        this.core = core;
        program = part.program();
        conversion = part.conversionSeconds();
        double stamp = part.board().target().stampNanos() / 1e9;
        for (var m : part.mapped()) {
            var signal = new Signal(m.channel(), m.row(), stamp, Pulse.asked(m.port()).hertz());
            if (m.port().isInput()) {
                inlets.put(m.port().slot(), new Inlet(m.port().slot(), signal));
            } else {
                outlets.put(m.port().slot(), signal);
            }
        }
        clear();
    }

    /**
     * Joins PWM inputs with the outputs they are wired to.
     *
     * @param now simulated time in nanoseconds
     */
    public void connect(LoweredSystem system, Map<String, Instance> instances, LongSupplier now) {
        clock = now;
        double stamp = part.board().target().stampNanos() / 1e9;
        for (var link : system.links()) {
            var inlet = link.toPart().equals(part.name()) ? inlets.get(link.to().slot()) : null;
            var mapped = inlet == null ? null : part.mapped(link.to()).orElseThrow();
            if (mapped != null && mapped.channel().kind() == ChannelKind.PWM_IN) {
                Pulse pulse = instances.get(link.fromPart()).pulse(link.from());
                if (pulse.hertz() > 0) {
                    inlet.capturing = () -> new Capture(new Carrier(pulse.hertz(), pulse.centred()), stamp, mapped.row().mean());
                    inlet.capture = inlet.capturing.get();
                }
            }
        }
    }

    private double now() {
        return clock.getAsLong() / 1e9;
    }

    @Override
    public void init() {
        inner.init();
        clear();
    }

    /** The part starts anew on its core; what is counted and what is on the wires stays. */
    @Override
    public void reset() {
        inner.init();
        outlets.values().forEach(Signal::rest);
        halted = false;
        tick = 0;
        finish = now();
        ready = finish;
    }

    private void clear() {
        tick = 0;
        finish = 0;
        ready = 0;
        runs = false;
        halted = false;
        overruns = 0;
        leftOut = 0;
        edge = Double.NaN;
        takenEdge = Double.NaN;
        taken = Double.NaN;
        stopped = null;
        times.clear();
        latency.clear();
        core.init();
        inlets.forEach((slot, in) -> {
            in.signal.init();
            in.wire = slot.initial();
            in.capture = in.capturing == null ? null : in.capturing.get();
        });
        outlets.values().forEach(Signal::init);
        if (program.continuous()) {
            // A plant is there before anything starts: its pins have the values of its beginning, not those of a target at rest.
            inner.sample();
            outlets.forEach((slot, signal) -> signal.stand(inner.get(slot)));
        }
    }

    @Override
    public void sample() {
        begin(now());
        if (runs) {
            inner.sample();
            if (program.continuous()) {
                send(Math.max(now(), ready));
            }
            ready = finish;
        }
    }

    /** Whether a step begins now, and when it ends. */
    private void begin(double now) {
        runs = !halted;
        if (halted) {
            return;
        }
        if (finish > now + 1e-12) {
            firstOverrun = overruns == 0 ? now : firstOverrun;
            overruns++;
            switch (part.seat().overrun()) {
                case STOP -> {
                    stopped = Finding.error(Place.rig(part.rig(), part.name()), "The core did not end a step in time, at " + now + " s.",
                            "Choose a longer step, move another part to another core, or let the target skip or hold.");
                    end();
                    runs = false;
                    return;
                }
                case SKIP -> {
                    leftOut++;
                    runs = false;
                    return;
                }
                case HOLD -> { }
            }
        }
        double cost = part.seconds(tick);
        times.add(cost * 1e9);
        finish = core.run(now + conversion, cost);
    }

    @Override
    public void step() {
        if (!runs) {
            return;
        }
        double now = now();
        for (Inlet in : inlets.values()) {
            double value = in.wire;
            if (in.capture != null) {
                value = Double.isNaN(taken) ? 0 : in.capture.take(taken, now);
                edge = earliest(edge, Double.isNaN(taken) ? Double.NaN : in.capture.firstEdge());
            }
            inner.set(in.slot, in.signal.through(in.signal.filtered(value, now)));
        }
        taken = now;
        takenEdge = earliest(takenEdge, edge);
        edge = Double.NaN;
        inner.step();
        TargetLog l = log;
        if (l != null) {
            l.step(tick, now, inner);
        }
        if (!program.continuous()) {
            send(finish);
        }
    }

    private static double earliest(double a, double b) {
        return Double.isNaN(a) ? b : Double.isNaN(b) ? a : Math.min(a, b);
    }

    /** Outputs change at their pins, once the channel has settled. */
    private void send(double from) {
        double last = from;
        for (var out : outlets.entrySet()) {
            double stands = from + out.getValue().delaySeconds();
            out.getValue().send(inner.get(out.getKey()), stands);
            last = Math.max(last, stands);
        }
        if (!Double.isNaN(takenEdge) && !outlets.isEmpty()) {
            latency.add((last - takenEdge) * 1e9);
        }
        takenEdge = Double.NaN;
    }

    @Override
    public void advance() {
        if (runs) {
            inner.advance();
            tick++;
        }
    }

    /** Outputs at channels rest: analog ones at 0 V, digital ones low. The part stands still. */
    @Override
    public void end() {
        halted = true;
        outlets.values().forEach(Signal::rest);
    }

    @Override
    public double get(Slot slot) {
        var out = outlets.get(slot);
        return out != null ? out.at(now()) : inner.get(slot);
    }

    @Override
    public void set(Slot slot, double value) {
        var in = inlets.get(slot);
        if (in == null) {
            inner.set(slot, value);
            return;
        }
        if (in.capture != null) {
            in.capture.set(value, now());
        } else if (value != in.wire) {
            edge = earliest(edge, now());
        }
        in.wire = value;
    }

    @Override
    public void set(Slot slot, double[] elements) {
        inner.set(slot, elements);
    }

    @Override
    public double[] elements(Slot slot) {
        return inner.elements(slot);
    }

    /** What ended the part, where an overrun did. */
    public Optional<Finding> stopped() {
        return Optional.ofNullable(stopped);
    }

    /** How long its steps take on the core. */
    public ExecutionTimes times() {
        return times;
    }

    /** From the first edge within a step to the outputs that follow from it. */
    public ExecutionTimes latency() {
        return latency;
    }

    /** How often a step had not ended as the next one was due. */
    public long overruns() {
        return overruns;
    }

    /** Steps that were left out because of that. */
    public long leftOut() {
        return leftOut;
    }

    /** When the first overrun was, in seconds. */
    public double firstOverrunSeconds() {
        return firstOverrun;
    }

    /** Has its steps logged from now on; null ends that. */
    public void log(TargetLog next) {
        log = next;
    }

    public Optional<TargetLog> log() {
        return Optional.ofNullable(log);
    }

    public TargetPart part() {
        return part;
    }
}
