package boldanvil.core.bench;

import boldanvil.core.build.Image;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.BoardTerminals;
import boldanvil.core.review.Review;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.simulate.Addresses;
import boldanvil.core.simulate.Change;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.simulate.Guard;
import boldanvil.core.simulate.Recorder;
import boldanvil.core.simulate.RunLoop;
import boldanvil.core.simulate.Stimulus;
import boldanvil.core.simulate.TapList;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;

/** A run of models in this process. */
final class DeskRun implements LiveRun {
    private final Review review;
    private final Rig rig;
    private final TapList taps;
    private final SampleStore store;
    private final Conductor conductor;
    private final RunLoop loop;
    private final Map<String, Instance> instances = new LinkedHashMap<>();
    private final List<Change> changes = new CopyOnWriteArrayList<>();
    private final List<Finding> findings = new CopyOnWriteArrayList<>();
    private volatile Thread thread;
    private volatile boolean paused;

    DeskRun(Review review, Rig rig, RunOptions options) {
        this.review = review;
        this.rig = rig;
        for (String part : review.system().parts().keySet()) {
            var program = review.system().program(part).orElseThrow();
            Instance instance = JvmCompiler.compile(program).instantiate();
            var setup = rig.terminals() == Rig.Terminals.BOARD ? review.setup(rig, part) : Optional.<BoardSetup>empty();
            instances.put(part, setup.isPresent() ? new BoardTerminals(instance, setup.get()) : instance);
        }
        taps = TapList.of(review.system());
        conductor = new Conductor(review.system(), instances);
        conductor.schedule(options.changes());
        changes.addAll(options.changes());
        var recorder = new Recorder(review.system(), instances, options.sampleLimit());
        recorder.record(conductor);
        store = recorder.store();
        loop = new RunLoop(conductor, options.endNanos(), options.speed(), this::collectFaults);
    }

    private void collectFaults() {
        if (findings.size() < 20) {
            findings.addAll(conductor.takeFaults());
        }
        loop.failure().ifPresent(e -> findings.add(RunFailure.of(Place.rig(rig.name()), e, loop.nowNanos())));
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
        Thread t = thread;
        return t == null ? State.READY : !t.isAlive() ? State.ENDED : paused ? State.PAUSED : State.RUNNING;
    }

    @Override
    public double seconds() {
        return loop.nowNanos() / 1e9;
    }

    @Override
    public int overruns() {
        return loop.overruns();
    }

    @Override
    public void start() {
        thread = Thread.ofPlatform().daemon().name("desk run").start(loop);
    }

    @Override
    public void pause(boolean hold) {
        paused = hold;
        loop.pause(hold);
    }

    @Override
    public void stop() {
        loop.stop();
        try {
            awaitEnd();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    @Override
    public void awaitEnd() throws InterruptedException {
        Thread t = thread;
        if (t != null) {
            t.join();
        }
    }

    @Override
    public void set(String address, double value) {
        var found = Addresses.tunable(review.system(), address, value);
        going(address);
        changes.add(new Change(address, value, loop.nowNanos()));
        conductor.request(() -> instances.get(found.part()).set(found.tunable().slot(), value));
    }

    @Override
    public void set(Map<String, Double> values) {
        values.forEach((address, v) -> Addresses.tunable(review.system(), address, v));
        going("values");
        values.forEach((address, v) -> changes.add(new Change(address, v, loop.nowNanos())));
        conductor.request(() -> values.forEach((address, v) -> {
            var found = Addresses.tunable(review.system(), address);
            instances.get(found.part()).set(found.tunable().slot(), v);
        }));
    }

    private void going(String place) {
        if (state() == State.ENDED) {
            throw FindingException.of(place, "The run has ended.", "Start the rig again.");
        }
    }

    @Override
    public void drive(String address, Stimulus stimulus) {
        Addresses.tunable(review.system(), address);
        going(address);
        conductor.request(() -> conductor.drive(address, stimulus));
    }

    @Override
    public void release(String address) {
        conductor.request(() -> conductor.release(address));
    }

    @Override
    public List<String> driven() {
        return conductor.driven();
    }

    @Override
    public void guard(List<Guard> guards) {
        if (thread == null) {
            conductor.guard(guards);
            return;
        }
        conductor.request(() -> conductor.guard(guards));
    }

    @Override
    public void halt() {
        stop();
    }

    @Override
    public Health health() {
        List<Health.Part> parts = new ArrayList<>();
        instances.keySet().forEach(part -> {
            var t = conductor.times(part);
            parts.add(new Health.Part(part, "model", review.system().program(part).orElseThrow().tickSeconds(), t.mean(), t.longest(),
                    t.counts(), Map.of()));
        });
        return new Health(parts, overruns(), store.lost(), 0, loop.drift());
    }

    @Override
    public double get(String address) {
        var found = Addresses.tunable(review.system(), address);
        return instances.get(found.part()).get(found.tunable().slot());
    }

    @Override
    public List<Change> changes() {
        return new ArrayList<>(changes);
    }

    @Override
    public List<Finding> findings() {
        List<Finding> all = new ArrayList<>(findings);
        conductor.tripped().ifPresent(all::add);
        return all;
    }

    @Override
    public Map<String, Image> images() {
        return Map.of();
    }

    @Override
    public void close() {
        stop();
    }
}
