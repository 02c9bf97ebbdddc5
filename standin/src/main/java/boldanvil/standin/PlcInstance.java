package boldanvil.standin;

import boldanvil.core.control.ControlClient;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.diagram.Rig;
import boldanvil.core.diagram.TagTable;
import boldanvil.core.link.AccessStore;
import boldanvil.core.link.DeviceLink;
import boldanvil.core.link.Endpoint;
import boldanvil.core.link.LinkProtocol;
import boldanvil.core.link.Reading;
import boldanvil.core.link.Tag;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.simulate.ExecutionTimes;
import boldanvil.core.tags.PartTags;
import boldanvil.core.tags.PartTags.Bound;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicReferenceArray;
import java.util.function.Consumer;

/**
 * A part that runs on a PLC. What the other parts give it is written to its tags, and what it gives is read of them. A stand-in keeps step
 * with the other parts: its time goes on only when they have reached it. With a real PLC time is that of the wall clock, and what was read
 * last counts as long as it is fresh; then its outputs are off.
 */
final class PlcInstance implements Instance, AutoCloseable {
    /** How old what a real PLC said may be before its outputs count as off. */
    private static final long FRESH_NANOS = 1_000_000_000L;

    private final Place place;
    private final Program program;
    private final PartTags tags;
    private final Consumer<Finding> report;
    private final DeviceLink link;
    /** Null for a real PLC, whose time and program are its own. */
    private final ControlClient control;
    private final Map<Slot, Double> values = new IdentityHashMap<>();
    private final Map<Slot, Double> sent = new IdentityHashMap<>();
    private final List<Bound> read = new ArrayList<>();
    private final AtomicReferenceArray<Reading> latest;
    private final boolean all;
    /** How long the link takes. */
    private final ExecutionTimes way = new ExecutionTimes();
    private volatile long oldestNanos;
    private long tick;
    private boolean lost;

    private PlcInstance(Place place, Program program, PartTags tags, Consumer<Finding> report, DeviceLink link, ControlClient control,
            boolean all) {
        this.place = place;
        this.program = program;
        this.tags = tags;
        this.report = report;
        this.link = link;
        this.control = control;
        this.all = all;
        read.addAll(tags.outputs());
        if (all) {
            read.addAll(tags.taps());
        }
        latest = new AtomicReferenceArray<>(read.size());
        program.slots().forEach(s -> values.put(s, s.initial()));
        if (control == null) {
            link.subscribeTags(read.stream().map(Bound::tag).toList(), read.stream().map(Bound::periodNanos).toList(),
                    latest::set);
        }
        init();
    }

    /**
     * @param reach of the stand-in; null for a real PLC
     * @param report gets what is found while it runs
     */
    static PlcInstance of(Place place, Program program, Rig.Place at, TagTable table, PlcReach reach, Consumer<Finding> report) {
        Endpoint endpoint = at.isStandIn() ? Endpoint.local(at.link(), at.link().equals(PartTags.OPC_UA) ? reach.opcUa() : reach.modbus())
                : Endpoint.parse(at.link());
        var tags = PartTags.of(program, at, table);
        var link = LinkProtocol.of(endpoint).tags(endpoint, place, reach == null ? AccessStore.ofUser().find(endpoint) : reach.access());
        return new PlcInstance(place, program, tags, report, link, at.isStandIn()
                ? new ControlClient(reach.control(), reach.token(), 30_000)
                : null, endpoint.protocol().equals(PartTags.OPC_UA) || PartTags.usesTable(at, table));
    }

    @Override
    public void init() {
        tick = 0;
        sent.clear();
        way.clear();
        oldestNanos = 0;
        program.slots().stream().filter(s -> s.role() != Slot.Role.TUNABLE).forEach(s -> values.put(s, s.initial()));
        if (control != null) {
            control.ask("rewind", Map.of());
        }
    }

    /** As the power of a PLC that comes back: what is retained stays. */
    @Override
    public void reset() {
        sent.clear();
        if (control != null) {
            control.ask("warm", Map.of());
        }
    }

    @Override
    public void sample() {
        // A part on a PLC has nothing that is computed between its scans.
    }

    @Override
    public void step() {
        long begin = System.nanoTime();
        try {
            boolean written = write(tags.inputs());
            tunables();
            if (control != null) {
                control.ask("advance", Map.of("to", tick * program.tickNanos()));
                var now = link.readTags(read.stream().map(Bound::tag).toList());
                for (int i = 0; i < now.size(); i++) {
                    take(read.get(i), now.get(i));
                }
                way.add(System.nanoTime() - begin);
                if (!all) {
                    taps();
                }
            } else {
                if (written) {
                    way.add(System.nanoTime() - begin);
                }
                oldestNanos = Math.max(oldestNanos, link.silenceNanos());
                for (int i = 0; i < read.size(); i++) {
                    take(read.get(i), latest.get(i));
                }
            }
            lost = false;
        } catch (FindingException e) {
            safe();
            if (!lost) {
                lost = true;
                report.accept(e.findings().getFirst());
            }
        }
        tick++;
    }

    /** Outputs are off. */
    private void safe() {
        tags.outputs().forEach(b -> values.put(b.slot(), 0.0));
    }

    /** @return whether anything had changed */
    private boolean write(List<Bound> some) {
        Map<Tag, Object> changed = new LinkedHashMap<>();
        for (Bound b : some) {
            double v = values.get(b.slot());
            Double before = sent.put(b.slot(), v);
            if (before == null || Double.compare(before, v) != 0) {
                changed.put(b.tag(), b.held(v));
            }
        }
        if (!changed.isEmpty()) {
            try {
                link.writeTags(changed);
            } catch (FindingException e) {
                some.forEach(b -> sent.remove(b.slot()));
                throw e;
            }
        }
        return !changed.isEmpty();
    }

    /** How quick the link is, as {@link boldanvil.core.bench.Health.Link} has it. */
    Map<String, Object> linkTimes() {
        return Map.of("mean", way.mean(), "usual", way.below(0.99), "longest", way.longest(), "age", oldestNanos * 1e-9);
    }

    /** Only what was changed here is written, so that a value set elsewhere stays. */
    private void tunables() {
        List<Bound> changed = tags.tunables().stream().filter(b -> Double.compare(values.get(b.slot()),
                sent.getOrDefault(b.slot(), b.slot().initial())) != 0).toList();
        if (changed.isEmpty()) {
            return;
        }
        if (all) {
            write(changed);
        } else if (control != null) {
            Map<String, Object> written = new LinkedHashMap<>();
            changed.forEach(b -> {
                written.put(b.path(), b.held(values.get(b.slot())));
                sent.put(b.slot(), values.get(b.slot()));
            });
            control.ask("write", Map.of("values", written));
        }
    }

    /** Over Modbus only the ports have registers; the stand-in gives the rest over its control channel. */
    private void taps() {
        if (!tags.taps().isEmpty()) {
            var answer = control.ask("read", Map.of("paths", tags.taps().stream().map(Bound::path).toList())).path("values");
            tags.taps().forEach(b -> {
                var n = answer.path(b.path());
                values.put(b.slot(), n.isBoolean() ? n.booleanValue() ? 1.0 : 0.0 : n.asDouble(0));
            });
        }
    }

    private void take(Bound b, Reading r) {
        boolean fresh = r != null && r.isGood() && (control != null || link.silenceNanos() < FRESH_NANOS);
        if (!fresh) {
            throw FindingException.of(place, "The PLC gives no good value for '" + b.tag().name() + "'"
                    + (r == null || r.reason().isEmpty() ? "."
                    : ": " + r.reason()), "Check the link, and whether the PLC runs; its outputs count as off until then.");
        }
        values.put(b.slot(), b.signal(r.number()));
    }

    @Override
    public void advance() {
        // Its time goes on with the next step.
    }

    @Override
    public void end() {
        safe();
        if (control != null) {
            try {
                control.ask("stop", Map.of());
            } catch (FindingException e) {
                boldanvil.core.user.Log.ignored(PlcInstance.class, e, "The PLC has already ended.");
            }
        }
    }

    @Override
    public double get(Slot slot) {
        return values.getOrDefault(slot, 0.0);
    }

    @Override
    public void set(Slot slot, double value) {
        values.put(slot, slot.type().convert(value));
    }

    @Override
    public void close() {
        link.close();
        if (control != null) {
            control.close();
        }
    }
}
