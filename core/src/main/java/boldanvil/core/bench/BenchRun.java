package boldanvil.core.bench;

import boldanvil.core.build.Image;
import boldanvil.core.build.Review;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.link.XcpClient;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Program;
import boldanvil.core.program.Tap;
import boldanvil.core.runs.SampleStore;
import boldanvil.core.simulate.Addresses;
import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.TapList;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.CountDownLatch;
import tools.jackson.databind.JsonNode;

/** A run in a bench process, measured and tuned over XCP. */
public final class BenchRun implements LiveRun {
    private static final long POLL_MILLIS = 50;

    private final Review review;
    private final Rig rig;
    private final RunOptions options;
    private final BenchLink process;
    private final Map<String, Image> images;
    private final TapList taps;
    private final SampleStore store;
    private final Map<String, XcpClient> links = new LinkedHashMap<>();
    private final Map<String, Layout> layouts = new LinkedHashMap<>();
    private final List<Change> changes = new CopyOnWriteArrayList<>();
    private final List<Finding> findings = new CopyOnWriteArrayList<>();
    private final CountDownLatch over = new CountDownLatch(1);
    private final boolean taken;
    private volatile State state = State.READY;
    private volatile double seconds;
    private volatile int overruns;
    private volatile Map<String, Instructions> instructions = Map.of();

    /** @param ports XCP ports by part */
    BenchRun(Review review, Rig rig, RunOptions options, BenchLink process, Map<String, Image> images,
            Map<String, Integer> ports) {
        this.review = review;
        this.rig = rig;
        this.options = options;
        this.process = process;
        taken = process instanceof AttachedBench;
        this.images = Map.copyOf(images);
        changes.addAll(options.changes());
        taps = TapList.of(review.system());
        store = new SampleStore(taps.columns(), options.sampleLimit());
        ports.forEach((part, port) -> {
            var link = new XcpClient(part, port);
            link.onLost(this::lost);
            links.put(part, link);
            var program = review.system().program(part).orElseThrow();
            layouts.put(part, Layout.of(program));
            measure(part, program, link);
        });
    }

    private void measure(String part, Program program, XcpClient link) {
        List<XcpClient.Signal> signals = new ArrayList<>();
        List<Integer> columns = new ArrayList<>();
        for (int i = 0; i < taps.entries().size(); i++) {
            var entry = taps.entries().get(i);
            if (entry.part().equals(part)) {
                columns.add(i);
                Tap t = entry.tap();
                signals.add(new XcpClient.Signal(layouts.get(part).offset(t.slot()), t.slot().type(), event(t, program), 1));
            }
        }
        link.measure(signals, (signal, nanos, value) -> {
            store.add(columns.get(signal), nanos / 1e9, value);
            seconds = Math.max(seconds, nanos / 1e9);
        });
    }

    private static int event(Tap t, Program program) {
        if (t.continuous()) {
            return 0;
        }
        for (int i = 0; i < program.tasks().size(); i++) {
            if (program.tasks().get(i).periodTicks() == t.periodTicks()) {
                return 1 + i;
            }
        }
        throw new IllegalStateException(t.name());
    }

    /** Called when the bench process or a link to it is gone. */
    void lost() {
        synchronized (this) {
            if (state == State.ENDED || state == State.LOST) {
                return;
            }
            state = State.LOST;
        }
        findings.add(Finding.error("rig " + rig.name(), "The connection was lost at " + seconds + " s. " + left(),
                "Check the cable and the power, then take the device up again, or start the rig anew. What was recorded until then is kept."));
        over.countDown();
    }

    /** What the devices do without this window, as the project says. */
    private String left() {
        List<String> words = new ArrayList<>();
        rig.places().forEach((part, place) -> {
            if (place.mode() == Rig.Mode.DEVICE) {
                words.add(review.patch(part, place.device()).safeOnLinkLoss() ? place.device() + " goes into its safe state." : place.device() + " goes on by itself.");
            }
        });
        return words.isEmpty() ? "" : String.join(" ", words);
    }

    /** Lets the rig go on by itself, without this run; it can be taken up again. */
    public void leave() {
        synchronized (this) {
            if (state != State.RUNNING && state != State.PAUSED) {
                throw FindingException.of("rig " + rig.name(), "The rig does not run.", "Start it first.");
            }
            state = State.ENDED;
        }
        over.countDown();
        links.values().forEach(XcpClient::close);
        process.leave();
    }

    /** Starts the programs of the devices anew. */
    public void reset() {
        process.control().ask("reset", Map.of());
    }

    /** Cuts the lines to the bench process, which lives on; to see what happens. */
    public void cut() {
        process.control().close();
        links.values().forEach(XcpClient::drop);
        lost();
    }

    @Override
    public void start() {
        if (taken) {
            state = State.RUNNING;
            Thread.ofPlatform().daemon().name("bench status").start(this::watch);
            return;
        }
        var planned = options.changes().stream()
                .map(c -> Map.of("address", c.address(), "value", c.value(), "atNanos", c.atNanos())).toList();
        process.control().ask("run", Map.of("endNanos", options.endNanos(),
                "speed", Double.isInfinite(options.speed()) ? 0.0 : options.speed(), "changes", planned));
        state = State.RUNNING;
        Thread.ofPlatform().daemon().name("bench status").start(this::watch);
    }

    private void watch() {
        try {
            while (state == State.RUNNING || state == State.PAUSED) {
                JsonNode s = process.control().ask("status", Map.of());
                note(s);
                if (s.path("ended").asBoolean(false)) {
                    finish();
                    return;
                }
                Thread.sleep(POLL_MILLIS);
            }
        } catch (FindingException e) {
            lost();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    private void note(JsonNode s) {
        Map<String, Instructions> counted = new LinkedHashMap<>();
        s.path("instructions").properties().forEach(e -> counted.put(e.getKey(), new Instructions(e.getValue().path("most").asLong(0), e.getValue().path("mean").asDouble(0))));
        instructions = Map.copyOf(counted);
        overruns = s.path("overruns").asInt(0);
        seconds = Math.max(seconds, s.path("time").asDouble(0));
        for (JsonNode f : s.path("findings")) {
            findings.add(Finding.doubt(f.path("place").asString(""), f.path("cause").asString(""), f.path("cure").asString("")));
        }
        long dropped = s.path("dropped").asLong(0);
        if (dropped > 0 && findings.stream().noneMatch(f -> f.place().equals("link"))) {
            findings.add(Finding.doubt("link", "The link was too slow for all measured values; " + dropped
                    + " packets were dropped.", "Tap fewer signals, or record them at a slower rate."));
        }
    }

    /** Waits for what is still on the line. */
    private void finish() {
        links.values().forEach(XcpClient::drain);
        synchronized (this) {
            if (state == State.LOST) {
                return;
            }
            state = State.ENDED;
        }
        over.countDown();
    }

    @Override
    public Review review() {
        return review;
    }

    @Override
    public Rig rig() {
        return rig;
    }

    @Override
    public TapList taps() {
        return taps;
    }

    @Override
    public SampleStore store() {
        return store;
    }

    @Override
    public State state() {
        return state;
    }

    @Override
    public double seconds() {
        return seconds;
    }

    @Override
    public Map<String, Instructions> instructions() {
        return instructions;
    }

    @Override
    public int overruns() {
        return overruns;
    }

    @Override
    public void pause(boolean hold) {
        if (state == State.RUNNING || state == State.PAUSED) {
            process.control().ask(hold ? "pause" : "resume", Map.of());
            state = hold ? State.PAUSED : State.RUNNING;
        }
    }

    @Override
    public void stop() {
        if (state == State.RUNNING || state == State.PAUSED) {
            try {
                process.control().ask("stop", Map.of());
                awaitEnd();
            } catch (FindingException e) {
                lost();
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        }
    }

    @Override
    public void awaitEnd() throws InterruptedException {
        if (state != State.READY) {
            over.await();
        }
    }

    @Override
    public void set(String address, double value) {
        var found = Addresses.tunable(review.system(), address, value);
        var t = found.tunable();
        if (state == State.ENDED || state == State.LOST) {
            throw FindingException.of(address, "The run has ended.", "Start the rig again.");
        }
        links.get(found.part()).write(layouts.get(found.part()).offset(t.slot()), t.slot().type(), value);
        changes.add(new Change(address, value, Math.round(seconds * 1e9)));
    }

    @Override
    public double get(String address) {
        var found = Addresses.tunable(review.system(), address);
        var slot = found.tunable().slot();
        return links.get(found.part()).read(layouts.get(found.part()).offset(slot), slot.type());
    }

    @Override
    public List<Change> changes() {
        return new ArrayList<>(changes);
    }

    @Override
    public List<Finding> findings() {
        return new ArrayList<>(findings);
    }

    @Override
    public Map<String, Image> images() {
        return images;
    }

    /** Pulls the plug of the bench process, to see what happens. */
    public void unplug() {
        process.kill();
    }

    @Override
    public void close() {
        synchronized (this) {
            if (state != State.LOST) {
                state = State.ENDED;
            }
        }
        over.countDown();
        links.values().forEach(XcpClient::close);
        process.close();
    }
}
