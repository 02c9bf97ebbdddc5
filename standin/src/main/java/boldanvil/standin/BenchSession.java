package boldanvil.standin;

import boldanvil.core.bench.RunFailure;
import boldanvil.core.board.Boards;
import boldanvil.core.control.DeviceFault;
import boldanvil.core.control.FindingMessage;
import boldanvil.core.diagram.Rig;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.BoardTerminals;
import boldanvil.core.program.Program;
import boldanvil.core.program.Task;
import boldanvil.core.review.Review;
import boldanvil.core.simulate.Addresses;
import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.simulate.Guard;
import boldanvil.core.simulate.Observer;
import boldanvil.core.simulate.RunLoop;
import boldanvil.core.simulate.Stimulus;
import boldanvil.core.simulate.WireFault;
import boldanvil.core.simulate.Wires;
import boldanvil.core.trial.Playing;
import java.io.IOException;
import java.lang.foreign.Arena;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicReference;

/** A loaded rig: its parts, its devices and the loop that runs them. */
final class BenchSession implements AutoCloseable {
    /** How long a step may take before it counts as one that does not end. */
    private static final long PATIENCE_NANOS = 2_000_000_000L;
    private static final int WARM_UP_TICKS = 30_000;
    private static final long WARM_UP_NANOS = 800_000_000;

    private final Review review;
    private final Rig rig;
    private final Map<String, Device> devices = new LinkedHashMap<>();
    private final Map<String, EmulatedInstance> emulated = new LinkedHashMap<>();
    private final Map<String, PlcInstance> plcInstances = new LinkedHashMap<>();
    private final Targets targets;
    private final Map<String, BootServer> boots = new LinkedHashMap<>();
    private final Map<String, XcpServer> servers = new LinkedHashMap<>();
    private final List<Finding> findings = new ArrayList<>();
    private final Set<String> late = ConcurrentHashMap.newKeySet();
    private final Arena arena = Arena.ofShared();
    private final Set<String> bitten = ConcurrentHashMap.newKeySet();
    private final String token;
    private final Map<String, Instance> instances = new LinkedHashMap<>();
    private volatile Playing playing;
    private volatile Conductor conductor;
    private volatile RunLoop loop;
    private volatile Thread thread;
    private volatile boolean reportedFailure;
    private boolean reportedTrip;

    /**
     * Reads a project and prepares its devices.
     *
     * @param flash the folder where devices keep what they hold; null for nowhere
     * @param token the secret from which the keys to the devices follow
     */
    BenchSession(Path project, String rigName, Path flash, String token) throws IOException {
        this.token = token;
        review = Review.of(ProjectReader.readOwn(project)).orThrow();
        rig = review.rig(rigName);
        targets = new Targets(review, rig);
        for (var e : rig.places().entrySet()) {
            if (e.getValue().mode() == Rig.Mode.DEVICE) {
                var board = Boards.of(review.project()).require(Place.rig(rigName), e.getValue().device());
                var device = new Device(board, flash == null ? null : flash.resolve(board.name() + "-" + e.getKey() + ".flash"));
                devices.put(e.getKey(), device);
                boots.put(e.getKey(), new BootServer(device, token));
            }
        }
    }

    boolean isRunning() {
        Thread t = thread;
        return t != null && t.isAlive();
    }

    boolean hasDevices() {
        return !devices.isEmpty();
    }

    /** Ports of the devices' boot loaders, by part. */
    Map<String, Integer> bootPorts() {
        Map<String, Integer> ports = new LinkedHashMap<>();
        boots.forEach((part, b) -> ports.put(part, b.port()));
        return ports;
    }

    /** What there is to say about this process to whoever looks around. */
    Map<String, Object> who() {
        List<Object> all = new ArrayList<>();
        devices.forEach((part, d) -> all.add(Map.of("part", part, "board", d.board().name(), "title", d.board().title(), "serial",
                d.serial(), "firmware", Device.FIRMWARE,
                "build", d.build(), "running", d.isRunning() && thread != null && thread.isAlive())));
        all.addAll(targets.who(isRunning()));
        return Map.of("project", review.project().name(), "rig", rig.name(), "devices", all, "seconds", loop == null ? 0.0
                : loop.nowNanos() / 1e9);
    }

    /** What a client needs to reconnect to the running rig. */
    Map<String, Object> attach() {
        if (thread == null || !thread.isAlive()) {
            throw FindingException.of(Place.bench(""), "The rig is not running.", "Start it again.");
        }
        Map<String, Object> answer = new LinkedHashMap<>();
        answer.put("project", review.project().name());
        answer.put("rig", rig.name());
        Map<String, Integer> ports = new LinkedHashMap<>();
        servers.forEach((part, s) -> ports.put(part, s.port()));
        answer.put("xcp", ports);
        Map<String, String> builds = new LinkedHashMap<>();
        devices.forEach((part, d) -> builds.put(part, d.build()));
        answer.put("builds", builds);
        return answer;
    }

    /** Nobody is connected any more: devices that are to go safe do so. */
    void linkLost() {
        devices.forEach((part, d) -> {
            if (review.patch(part, d.board().name()).safeOnLinkLoss()) {
                d.stop();
            }
        });
    }

    Targets targets() {
        return targets;
    }

    /** Lets the device or target of a part play a fault. */
    void fault(String part, DeviceFault fault) {
        if (rig.place(part).mode() == Rig.Mode.TARGET) {
            targets.fault(part, fault);
        } else {
            device(part).fault(fault);
        }
    }

    Device device(String part) {
        Device d = devices.get(part);
        if (d == null) {
            throw FindingException.of(part, "The part does not run on a device in this rig.", "Choose another rig.");
        }
        return d;
    }

    /**
     * Makes every part ready to run and opens its XCP port.
     *
     * @param images image files of the parts that are not models, with their SHA-256; what is loaded must be that
     * @param plcs how stand-ins of PLCs are reached, by part
     * @param lossless whether measurement holds the ticks up rather than lose values
     * @return ports by part
     */
    Map<String, Integer> prepare(Map<String, Built> images, Map<String, PlcReach> plcs, boolean lossless) throws IOException {
        if (conductor != null) {
            throw FindingException.of(Place.bench(""), "The rig is prepared already.", "Load it again, or start another bench process.");
        }
        for (String part : review.system().parts().keySet()) {
            instances.put(part, instance(part, review.system().program(part).orElseThrow(), images, plcs));
        }
        conductor = new Conductor(review.system(), instances);
        targets.connect(instances, conductor::nowNanos);
        Map<String, Integer> ports = new LinkedHashMap<>();
        for (String part : instances.keySet()) {
            var server = new XcpServer(review.system().program(part).orElseThrow(), instances.get(part), this::betweenTicks,
                    values -> conductor.set(part, values), lossless, token);
            servers.put(part, server);
            ports.put(part, server.port());
        }
        servers.forEach((part, server) -> conductor.observe(part, new Events(server, review.system().program(part).orElseThrow().tasks())));
        return ports;
    }

    private Instance instance(String part, Program program, Map<String, Built> images, Map<String, PlcReach> plcs) {
        var place = rig.place(part);
        return switch (place.mode()) {
            case DEVICE -> {
                if (!device(part).digest().equals(built(images, part).sha256())) {
                    throw FindingException.of(Place.rig(rig.name(), part),
                            "The device has another image than the one that was built; it was not started.",
                            "Start the rig again, so that the image is downloaded.");
                }
                yield device(part).start(review.setup(rig, part).orElseThrow(), arena);
            }
            case CODE -> terminals(part, built(images, part).with(file -> new CodeInstance(file, program, arena)));
            case EMULATED -> {
                var board = Boards.of(review.project()).require(Place.rig(rig.name(), part), place.device());
                var e = built(images, part).with(file -> new EmulatedInstance(file, program, board));
                emulated.put(part, e);
                yield e;
            }
            case PLC -> {
                var plc = PlcInstance.of(Place.rig(rig.name(), part), program, place, review.project().tagTable(part), plcs.get(part),
                        this::add);
                plcInstances.put(part, plc);
                yield plc;
            }
            case TARGET -> targets.start(part, JvmCompiler.compile(program).instantiate());
            case MODEL -> terminals(part, JvmCompiler.compile(program).instantiate());
        };
    }

    private void add(Finding f) {
        synchronized (findings) {
            findings.add(f);
        }
    }

    private static Built built(Map<String, Built> images, String part) {
        Built image = images.get(part);
        if (image == null) {
            throw FindingException.of(part, "There is no image for this part.", "Build it first.");
        }
        return image;
    }

    private Instance terminals(String part, Instance inner) {
        var setup = rig.terminals() == Rig.Terminals.BOARD ? review.setup(rig, part) : Optional.<BoardSetup>empty();
        return setup.isPresent() ? new BoardTerminals(inner, setup.get()) : inner;
    }

    /** Tells a part's XCP server when values are fresh. */
    private record Events(XcpServer server, List<Task> tasks) implements Observer {
        @Override
        public void sampled(long nanos) {
            server.event(0, nanos);
        }

        @Override
        public void stepped(long nanos, long partTick) {
            for (int i = 0; i < tasks.size(); i++) {
                if (partTick % tasks.get(i).periodTicks() == 0) {
                    server.event(1 + i, nanos);
                }
            }
        }
    }

    /** Runs an action while no tick is under way. */
    private void betweenTicks(Runnable action) {
        Thread t = thread;
        if (t == null || !t.isAlive()) {
            action.run();
            return;
        }
        var done = new CountDownLatch(1);
        conductor.request(() -> {
            action.run();
            done.countDown();
        });
        long end = System.nanoTime() + PATIENCE_NANOS;
        try {
            while (!done.await(5, TimeUnit.MILLISECONDS)) {
                if (!t.isAlive()) {
                    conductor.serve();
                } else if (System.nanoTime() > end) {
                    throw FindingException.of(Place.rig(rig.name()), "A step of the rig does not return.",
                            "Stop the rig, and look for an endless loop in its parts.");
                }
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    /** Has the rig play a trial once it runs. */
    void play(Playing.Order order) {
        playing = Playing.begin(review.project(), review.system(), instances, conductor(), order);
    }

    /** Answers the question of the trial that waits. */
    void answer(boolean yes) {
        if (playing != null) {
            playing.answer(yes);
        }
    }

    /** Lets time run. */
    void run(long endNanos, double speed, List<Change> changes) {
        if (conductor == null || thread != null) {
            throw FindingException.of(Place.bench(""), thread != null ? "The rig was started already." : "The rig is not prepared.",
                    "Load and prepare it first.");
        }
        conductor.schedule(changes);
        if (!Double.isInfinite(speed)) {
            servers.values().forEach(x -> x.mute(true));
            conductor.warmUp(WARM_UP_TICKS, WARM_UP_NANOS);
            servers.values().forEach(x -> x.mute(false));
        }
        loop = new RunLoop(conductor, endNanos, speed, this::collectFaults);
        thread = Thread.ofPlatform().daemon().name("ticks").priority(Thread.MAX_PRIORITY).start(loop);
    }

    /** A device that misses ticks is reported once. */
    private void collectOverruns() {
        devices.forEach((part, d) -> {
            var p = d.processor();
            if (p != null && p.missed() > 0 && p.ticks() > 100 && late.add(part)) {
                add(Finding.warning(Place.rig(rig.name(), part),
                        d.board().title() + " is too slow: it missed " + p.missed() + " of its first " + p.ticks() + " steps.",
                        "Choose longer sample times, a faster board, or float32."));
            }
            if (p != null && p.watchdogResets() > 0 && bitten.add(part)) {
                add(Finding.error(Place.rig(rig.name(), part),
                        "The watchdog reset " + d.board().title() + ", for the first time at " + p.firstResetSeconds() + " s.",
                        "Trigger the watchdog in every path of the program, or give it a longer timeout."));
            }
        });
    }

    private void collectFaults() {
        var fresh = new ArrayList<>(conductor.takeFaults());
        fresh.addAll(targets.takeFindings());
        if (targets.isStopped() && loop != null) {
            loop.stop();
        }
        if (conductor.tripped().isPresent() && !reportedTrip) {
            reportedTrip = true;
            devices.values().forEach(Device::stop);
            fresh.add(conductor.tripped().get());
        }
        RunLoop running = loop;
        if (running != null && running.failure().isPresent() && !reportedFailure) {
            reportedFailure = true;
            fresh.add(RunFailure.of(Place.rig(rig.name()), running.failure().get(), running.nowNanos()));
        }
        if (!fresh.isEmpty()) {
            synchronized (findings) {
                if (findings.size() < 20 || reportedTrip || reportedFailure) {
                    findings.addAll(fresh);
                }
            }
        }
    }

    private Conductor conductor() {
        if (conductor == null) {
            throw FindingException.of(Place.bench(""), "The rig is not prepared.", "Load and prepare it first.");
        }
        return conductor;
    }

    /** Drives a tunable from the next tick on. */
    void drive(String address, Stimulus stimulus) {
        Addresses.tunable(review.system(), address);
        betweenTicks(() -> conductor().drive(address, stimulus));
    }

    /** Ends driving a tunable. */
    void release(String address) {
        betweenTicks(() -> conductor().release(address));
    }

    /** Puts a fault on a wire or a part. */
    void insert(String address, WireFault fault) {
        Wires.require(review.system(), address, fault, Place.rig(rig.name()));
        failing(() -> conductor().insert(address, fault));
    }

    /** Takes faults away. */
    void clear(String address) {
        betweenTicks(() -> conductor().clear(address));
    }

    /** Watches limits that end the run. */
    void guard(List<Guard> guards) {
        failing(() -> conductor().guard(guards));
    }

    /** Runs an action between ticks and reports here what went wrong there. */
    private void failing(Runnable action) {
        var wrong = new AtomicReference<FindingException>();
        betweenTicks(() -> {
            try {
                action.run();
            } catch (FindingException e) {
                wrong.set(e);
            }
        });
        if (wrong.get() != null) {
            throw wrong.get();
        }
    }

    /**
     * All devices go to their safe state and the run ends, whatever it is doing. Nothing is waited for; where the ticks have not ended
     * after the deadline, the process ends.
     */
    void halt() {
        devices.values().forEach(Device::stop);
        end();
    }

    private void end() {
        servers.values().forEach(XcpServer::release);
        RunLoop running = loop;
        Thread ticks = thread;
        if (running == null || ticks == null) {
            return;
        }
        running.stop();
        Thread.ofVirtual().start(() -> {
            try {
                if (!ticks.join(Duration.ofNanos(PATIENCE_NANOS))) {
                    System.err.println("The rig did not stop in time; the bench process ends.");
                    Runtime.getRuntime().halt(3);
                }
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        });
    }

    private Map<String, Object> health() {
        List<Object> parts = new ArrayList<>();
        for (String part : servers.keySet()) {
            Map<String, Object> p = new LinkedHashMap<>();
            var device = devices.get(part);
            var processor = device == null ? null : device.processor();
            var times = processor != null ? processor.times() : targets.times(part).orElseGet(() -> conductor.times(part));
            p.put("name", part);
            p.put("where", device != null ? device.board().title() : targets.where(part)
                    .orElse(rig.place(part).mode().name().toLowerCase(Locale.ROOT)));
            p.put("step", review.system().program(part).orElseThrow().tickSeconds());
            p.put("mean", times.mean());
            p.put("longest", times.longest());
            p.put("counts", times.counts());
            p.put("tasks", processor == null ? Map.of() : processor.taskLoads());
            targets.health(part).forEach(p::put);
            if (plcInstances.containsKey(part)) {
                p.put("link", plcInstances.get(part).linkTimes());
            }
            parts.add(p);
        }
        return Map.of("parts", parts, "drift", loop == null ? 0.0 : loop.drift());
    }

    /** Resets all devices. */
    void reset() {
        betweenTicks(() -> devices.values().forEach(Device::restart));
    }

    void pause(boolean hold) {
        if (loop != null) {
            loop.pause(hold);
        }
    }

    /** Lets a paused run go on for so long. */
    void step(long nanos) {
        if (loop != null) {
            loop.step(nanos);
        }
    }

    /**
     * What the answer to a status request says.
     *
     * @param known how many interventions the asker knows
     */
    Map<String, Object> status(int known) {
        Map<String, Object> s = new LinkedHashMap<>();
        s.put("time", loop == null ? 0.0 : loop.nowNanos() / 1e9);
        boolean ended = thread != null && !thread.isAlive();
        if (ended) {
            collectFaults();
        }
        s.put("ended", ended);
        if (playing != null) {
            if (ended) {
                playing.ended(loop.nowNanos() / 1e9);
            }
            s.put("trial", playing.progress());
        }
        s.put("overruns", (loop == null ? 0 : loop.overruns()) + devices.values().stream().map(Device::processor).filter(Objects::nonNull)
                .mapToLong(Processor::missed).sum() + targets.overruns());
        collectOverruns();
        Map<String, Object> instructions = new LinkedHashMap<>();
        emulated.forEach((part, e) -> instructions.put(part, Map.of("most", e.mostInstructions(), "mean", e.meanInstructions())));
        s.put("instructions", instructions);
        s.put("logs", targets.logs());
        if (conductor != null) {
            s.put("health", health());
            s.put("driven", conductor.driven());
            s.put("interventions", conductor.interventions(known));
        }
        s.put("dropped", servers.values().stream().mapToLong(XcpServer::dropped).sum());
        synchronized (findings) {
            s.put("findings", findings.stream().map(FindingMessage::of).toList());
            findings.clear();
        }
        return s;
    }

    /** Ends the loop; measured values still reach their masters. */
    void stop() {
        Thread ticks = thread;
        if (playing != null) {
            playing.leave();
        }
        if (ticks != null) {
            end();
            try {
                ticks.join(2_000);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        }
    }

    @Override
    public void close() {
        stop();
        emulated.values().forEach(EmulatedInstance::close);
        plcInstances.values().forEach(PlcInstance::close);
        boots.values().forEach(BootServer::close);
        servers.values().forEach(XcpServer::close);
        if (thread == null || !thread.isAlive()) {
            arena.close();
        }
    }
}
