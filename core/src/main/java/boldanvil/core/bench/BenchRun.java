package boldanvil.core.bench;

import boldanvil.core.build.Image;
import boldanvil.core.control.FindingMessage;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.DeviceLink;
import boldanvil.core.link.Endpoint;
import boldanvil.core.link.LinkProtocol;
import boldanvil.core.program.Slot;
import boldanvil.core.program.TapGroup;
import boldanvil.core.review.Review;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.simulate.Addresses;
import boldanvil.core.simulate.Guard;
import boldanvil.core.simulate.Intervention;
import boldanvil.core.simulate.Stimulus;
import boldanvil.core.simulate.TapList;
import boldanvil.core.simulate.WireFault;
import boldanvil.core.trial.Playing;
import boldanvil.core.user.Log;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.LongAdder;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** A run in a bench process, measured and tuned over XCP. */
public final class BenchRun extends RigRun {
    private static final JsonMapper MAPPER = new JsonMapper();
    private static final long POLL_MILLIS = 50;
    /** How long an urgent request may take. */
    private static final int URGENT_MILLIS = 2_000;
    /** How long the end of a run may take, with its safe state. */
    private static final int OBEY_MILLIS = 5_000;
    private static final long KEEP_ALIVE_NANOS = 2_000_000_000L;

    private final RunOptions options;
    private final BenchLink process;
    private final Map<String, Image> images;
    private final Map<String, PlcProcess> plcs;
    private final SampleStore store;
    private final Map<String, DeviceLink> links = new LinkedHashMap<>();
    private static final Place LINK = Place.named("link");

    private final CountDownLatch over = new CountDownLatch(1);
    private final boolean taken;
    private volatile State state = State.READY;
    private final LongAdder rows = new LongAdder();
    private volatile List<String> driven = List.of();
    private final List<Intervention> interventions = new CopyOnWriteArrayList<>();
    private volatile Playing.Progress trial = Playing.Progress.NONE;
    private volatile Health health = Health.NONE;
    private final TargetLogs logs;
    private long ratedAt = System.nanoTime();
    private long ratedRows;
    private double rate;
    private volatile double seconds;
    private volatile int overruns;
    private volatile Map<String, Instructions> instructions = Map.of();

    /**
     * @param endpoints where the program of each part is measured
     * @param plcs stand-ins of PLCs by part; they end with the run
     */
    BenchRun(Review review, Rig rig, RunOptions options, BenchLink process, Map<String, Image> images, Map<String, Endpoint> endpoints,
            Map<String, PlcProcess> plcs) {
        super(review, rig);
        this.options = options;
        this.process = process;
        taken = process instanceof AttachedBench;
        this.images = Map.copyOf(images);
        this.plcs = Map.copyOf(plcs);
        logs = rig.onTargets().isEmpty() ? null : new TargetLogs(review.system(), rig.name(), process.control());
        List<Track> tracks = new ArrayList<>();
        endpoints.keySet().forEach(part -> tracks.addAll(tracks(part)));
        store = new SampleStore(taps().columns(), tracks.stream().map(Track::columns).toList(),
                tracks.stream().mapToDouble(Track::period).toArray(), options.sampleLimit());
        endpoints.forEach((part, at) -> {
            var link = LinkProtocol.of(at).connect(at, Place.rig(rig.name(), part), process.token(),
                    review.system().program(part).orElseThrow());
            link.onLost(this::lost);
            links.put(part, link);
            var mine = tracks.stream().filter(p -> p.part().equals(part)).toList();
            int first = mine.isEmpty() ? 0 : tracks.indexOf(mine.getFirst());
            link.subscribe(mine.stream().map(Track::group).toList(), (group, nanos, values) -> {
                store.add(first + group, nanos / 1e9, (to, from) -> System.arraycopy(values, 0, to, from, values.length));
                seconds = Math.max(seconds, nanos / 1e9);
                rows.increment();
            });
        });
    }

    /**
     * What is measured together.
     *
     * @param columns of the store
     * @param period in seconds
     */
    private record Track(String part, TapGroup group, int[] columns, double period) {}

    private List<Track> tracks(String part) {
        var program = review().system().program(part).orElseThrow();
        List<Track> tracks = new ArrayList<>();
        for (TapGroup g : TapGroup.of(program)) {
            int[] columns = g.taps().stream().mapToInt(t -> taps().entries().indexOf(new TapList.Entry(part, t))).toArray();
            tracks.add(new Track(part, g, columns, g.periodTicks() * program.tickSeconds()));
        }
        return tracks;
    }

    /** Called when the bench process or a link to it is gone. */
    void lost() {
        synchronized (this) {
            if (state == State.ENDED || state == State.LOST) {
                return;
            }
            state = State.LOST;
        }
        found.add(Finding.error(Place.rig(rig().name()), "The connection was lost at " + seconds + " s. " + left(),
                "Check the cable and the power, then reconnect to the device, or start the rig again. What was recorded so far is kept."));
        over.countDown();
    }

    /** What the devices do without this window, as the project says. */
    private String left() {
        List<String> words = new ArrayList<>();
        rig().places().forEach((part, place) -> {
            if (place.mode() == Rig.Mode.DEVICE) {
                words.add(review().patch(part, place.device()).safeOnLinkLoss() ? place.device() + " goes to its safe state."
                        : place.device() + " keeps running.");
            }
        });
        return words.isEmpty() ? "" : String.join(" ", words);
    }

    /** Disconnects and leaves the rig running; it can be connected again. */
    public void leave() {
        synchronized (this) {
            if (state != State.RUNNING && state != State.PAUSED) {
                throw FindingException.of(Place.rig(rig().name()), "The rig is not running.", "Start it first.");
            }
            state = State.ENDED;
        }
        over.countDown();
        links.values().forEach(DeviceLink::close);
        process.leave();
    }

    /** Restarts the programs of the devices. */
    public void reset() {
        process.control().ask("reset", Map.of());
    }

    /** Cuts the lines to the bench process, which lives on; to see what happens. */
    public void cut() {
        process.control().close();
        links.values().forEach(DeviceLink::drop);
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
            long alive = System.nanoTime();
            while (state == State.RUNNING || state == State.PAUSED) {
                if (System.nanoTime() - alive > KEEP_ALIVE_NANOS) {
                    alive = System.nanoTime();
                    links.values().forEach(DeviceLink::keepAlive);
                }
                JsonNode s = process.control().ask("status", Map.of("known", interventions.size()));
                note(s);
                if (s.path("ended").asBoolean(false)) {
                    finish();
                    return;
                }
                Thread.sleep(POLL_MILLIS);
            }
        } catch (FindingException e) {
            lost();
        } catch (JacksonException e) {
            Log.ignored(BenchRun.class, e, "The bench process sent a status that cannot be read.");
            lost();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    private void note(JsonNode s) {
        Map<String, Instructions> counted = new LinkedHashMap<>();
        s.path("instructions").properties().forEach(e -> counted.put(e.getKey(),
                new Instructions(e.getValue().path("most").asLong(0), e.getValue().path("mean").asDouble(0))));
        instructions = Map.copyOf(counted);
        overruns = s.path("overruns").asInt(0);
        List<String> now = new ArrayList<>();
        s.path("driven").forEach(d -> now.add(d.asString("")));
        driven = List.copyOf(now);
        s.path("interventions").forEach(i -> interventions.add(MAPPER.treeToValue(i, Intervention.class)));
        seconds = Math.max(seconds, s.path("time").asDouble(0));
        for (JsonNode f : s.path("findings")) {
            found.add(FindingMessage.read(f));
        }
        if (logs != null) {
            logs.note(s.path("logs"));
        }
        if (s.has("trial")) {
            trial = MAPPER.treeToValue(s.path("trial"), Playing.Progress.class);
        }
        long dropped = s.path("dropped").asLong(0) + links.values().stream().mapToLong(DeviceLink::lost).sum() + store.lost();
        note(s.path("health"), dropped);
        if (dropped > 0 && found.stream().noneMatch(f -> f.place().equals(LINK))) {
            found.add(Finding.warning(LINK, "The link is too slow for all measured values; " + dropped
                    + " rows are missing in the run so far.", "Tap fewer signals, or record them at a slower rate."));
        }
    }

    private static Optional<Health.Link> link(JsonNode n) {
        return n.isObject() ? Optional.of(new Health.Link(n.path("mean").asDouble(0), n.path("usual").asDouble(0), n.path("longest")
                .asDouble(0), n.path("age").asDouble(0))) : Optional.empty();
    }

    private static Optional<Health.Latency> latency(JsonNode n) {
        return n.isObject() ? Optional.of(new Health.Latency(n.path("mean").asDouble(0), n.path("usual").asDouble(0), n.path("longest")
                .asDouble(0), counts(n.path("counts")), n.path("budget").asDouble(0), n.path("overruns").asLong(0))) : Optional.empty();
    }

    private static long[] counts(JsonNode n) {
        long[] counts = new long[n.size()];
        for (int i = 0; i < counts.length; i++) {
            counts[i] = n.path(i).asLong(0);
        }
        return counts;
    }

    private void note(JsonNode h, long lost) {
        List<Health.Part> parts = new ArrayList<>();
        for (JsonNode p : h.path("parts")) {
            Map<String, Double> tasks = new LinkedHashMap<>();
            p.path("tasks").properties().forEach(e -> tasks.put(e.getKey(), e.getValue().asDouble(0)));
            parts.add(new Health.Part(p.path("name").asString(""), p.path("where").asString(""), p.path("step").asDouble(0),
                    p.path("mean").asDouble(0),
                    p.path("longest").asDouble(0), counts(p.path("counts")), tasks, link(p.path("link")), latency(p.path("latency"))));
        }
        long now = System.nanoTime();
        // Once a second is often enough for a figure that people read.
        if (now - ratedAt > 1_000_000_000L) {
            rate = (rows.sum() - ratedRows) * 1e9 / (now - ratedAt);
            ratedRows = rows.sum();
            ratedAt = now;
        }
        health = new Health(parts, overruns, lost, rate, h.path("drift").asDouble(0));
    }

    @Override
    public void play(Playing.Order order) {
        process.control().ask("play", Map.of("trial", order.trial(), "answers", order.answers(), "attended", order.attended()));
    }

    @Override
    public Playing.Progress trial() {
        return trial;
    }

    @Override
    public void answer(boolean yes) {
        process.control().ask("answer", Map.of("yes", yes));
    }

    @Override
    public Optional<TargetLogs> targetLogs() {
        return Optional.ofNullable(logs);
    }

    @Override
    public Health health() {
        return health;
    }

    /** Waits for what is still on the line. */
    private void finish() {
        links.values().forEach(DeviceLink::drain);
        synchronized (this) {
            if (state == State.LOST) {
                return;
            }
            state = State.ENDED;
        }
        over.countDown();
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
    public List<Intervention> interventions() {
        return List.copyOf(interventions);
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
    public void step(long nanos) {
        if (state == State.PAUSED) {
            process.control().ask("step", Map.of("nanos", nanos));
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
    void write(Map<String, Double> values) {
        Map<String, Map<Slot, Double>> writes = new LinkedHashMap<>();
        values.forEach((address, v) -> {
            var tunable = Addresses.tunable(review().system(), address);
            writes.computeIfAbsent(tunable.part(), _ -> new LinkedHashMap<>()).put(tunable.tunable().slot(), v);
        });
        writes.forEach((part, all) -> links.get(part).write(all));
    }

    @Override
    public void drive(String address, Stimulus stimulus) {
        Addresses.tunable(review().system(), address);
        requireRunning(address);
        process.control().ask("drive", Map.of("address", address, "stimulus", stimulus));
        driven = java.util.stream.Stream.concat(driven.stream(), java.util.stream.Stream.of(address)).distinct().toList();
    }

    @Override
    public void release(String address) {
        if (state == State.RUNNING || state == State.PAUSED) {
            process.control().ask("release", Map.of("address", address));
        }
    }

    @Override
    public List<String> driven() {
        return driven;
    }

    @Override
    void put(String address, WireFault fault) {
        process.control().ask("insert", Map.of("address", address, "fault", fault));
    }

    @Override
    public void clear(String address) {
        if (state == State.RUNNING || state == State.PAUSED) {
            process.control().ask("clear", Map.of("address", address));
        }
    }

    @Override
    public void guard(List<Guard> guards) {
        process.control().ask("guard", Map.of("guards", guards.stream().map(
                g -> Map.of("tap", g.tap(), "least", finite(g.least()), "most", finite(g.most()),
                "rate", finite(g.rate()), "seconds", g.seconds())).toList()));
    }

    /** JSON has no infinity. */
    private static double finite(double v) {
        return Math.clamp(v, -Double.MAX_VALUE, Double.MAX_VALUE);
    }

    /** Ends the run at once. A bench process that does not obey in time is ended itself. */
    @Override
    public void halt() {
        if (state == State.RUNNING || state == State.PAUSED) {
            try {
                process.control().urge("halt", URGENT_MILLIS);
                process.control().urge("stop", URGENT_MILLIS);
                if (over.await(OBEY_MILLIS, TimeUnit.MILLISECONDS)) {
                    return;
                }
            } catch (FindingException e) {
                Log.ignored(BenchRun.class, e, "The bench process does not answer.");
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
            process.kill();
            lost();
        }
    }

    @Override
    public double get(String address) {
        var tunable = Addresses.tunable(review().system(), address);
        return links.get(tunable.part()).read(tunable.tunable().slot());
    }

    @Override
    public Map<String, Image> images() {
        return images;
    }

    /** The stand-in of the PLC a part runs on; empty where there is none. */
    public Optional<PlcProcess> plc(String part) {
        return Optional.ofNullable(plcs.get(part));
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
        links.values().forEach(DeviceLink::close);
        process.close();
        plcs.values().forEach(PlcProcess::close);
    }
}
