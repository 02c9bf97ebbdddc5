package boldanvil.core.bench;

import boldanvil.core.build.Image;
import boldanvil.core.coverage.Coverage;
import boldanvil.core.coverage.Instrumenter.Instrumented;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.instance.Instance;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.BoardTerminals;
import boldanvil.core.review.Review;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.simulate.Addresses;
import boldanvil.core.simulate.Conductor;
import boldanvil.core.simulate.Guard;
import boldanvil.core.simulate.Intervention;
import boldanvil.core.simulate.Recorder;
import boldanvil.core.simulate.RunLoop;
import boldanvil.core.simulate.SteadyState;
import boldanvil.core.simulate.Stimulus;
import boldanvil.core.simulate.WireFault;
import boldanvil.core.trial.Playing;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

/** A run of models in this process. */
final class DeskRun extends RigRun {
    private final SampleStore store;
    private final Conductor conductor;
    private final RunLoop loop;
    private final Map<String, Instrumented> noting;
    /** The parts that note how much of them runs, without the terminals of boards. */
    private final Map<String, Instance> noted = new LinkedHashMap<>();
    private final Map<String, Instance> instances = new LinkedHashMap<>();
    private volatile Thread thread;
    private volatile boolean paused;
    private volatile Playing playing;

    DeskRun(ModelsOfRig models, RunOptions options) {
        super(models.review(), models.rig());
        noting = models.noting();
        Review review = models.review();
        Rig rig = models.rig();
        for (String part : review.system().parts().keySet()) {
            Instance instance = models.instance(part);
            if (noting.containsKey(part)) {
                noted.put(part, instance);
            }
            var setup = rig.terminals() == Rig.Terminals.BOARD ? review.setup(rig, part) : Optional.<BoardSetup>empty();
            instances.put(part, setup.isPresent() ? new BoardTerminals(instance, setup.get()) : instance);
        }
        SteadyState.start(review.system(), instances, rig.settled(), review.project().variableTexts(),
                options.changes().stream().map(Intervention::set).toList(), Place.rig(rig.name()));
        conductor = new Conductor(review.system(), instances);
        conductor.schedule(options.changes());
        var recorder = new Recorder(review.system(), instances, options.sampleLimit());
        recorder.record(conductor);
        store = recorder.store();
        loop = new RunLoop(conductor, options.endNanos(), options.speed(), this::collectFaults);
    }

    @Override
    public void play(Playing.Order order) {
        playing = Playing.begin(review().project(), review().system(), instances, conductor, order);
    }

    @Override
    public Playing.Progress trial() {
        if (playing == null) {
            return Playing.Progress.NONE;
        }
        if (state() == State.ENDED) {
            playing.ended(seconds());
        }
        return playing.progress();
    }

    @Override
    public void answer(boolean yes) {
        playing.answer(yes);
    }

    private void collectFaults() {
        if (found.size() < 20) {
            found.addAll(conductor.takeFaults());
        }
        loop.failure().ifPresent(e -> found.add(RunFailure.of(Place.rig(rig().name()), e, loop.nowNanos())));
    }

    /** Read while it runs, it is that of some instant. */
    @Override
    public Map<String, Coverage> coverage() {
        Map<String, Coverage> all = new LinkedHashMap<>();
        noted.forEach((part, instance) -> all.put(part, noting.get(part).of(instance.elements(noting.get(part).hits()))));
        return all;
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
    public void step(long nanos) {
        loop.step(nanos);
    }

    @Override
    public void stop() {
        if (playing != null) {
            playing.leave();
        }
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
    void write(Map<String, Double> values) {
        conductor.request(() -> conductor.set(values));
    }

    @Override
    public void drive(String address, Stimulus stimulus) {
        Addresses.tunable(review().system(), address);
        requireRunning(address);
        conductor.request(() -> conductor.drive(address, stimulus));
    }

    @Override
    public void release(String address) {
        conductor.request(() -> conductor.release(address));
    }

    @Override
    void put(String address, WireFault fault) {
        conductor.request(() -> conductor.insert(address, fault));
    }

    @Override
    public void clear(String address) {
        conductor.request(() -> conductor.clear(address));
    }

    @Override
    public List<Intervention> interventions() {
        return conductor.interventions(0);
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
            parts.add(new Health.Part(part, "model", review().system().program(part).orElseThrow().tickSeconds(), t.mean(), t.longest(),
                    t.counts(), Map.of(), Optional.empty(), Optional.empty()));
        });
        return new Health(parts, overruns(), store.lost(), 0, loop.drift());
    }

    @Override
    public double get(String address) {
        var tunable = Addresses.tunable(review().system(), address);
        return instances.get(tunable.part()).get(tunable.tunable().slot());
    }

    @Override
    public boolean between(String part, Consumer<Instance> look) {
        Instance instance = instances.get(part);
        if (instance == null || state() != State.RUNNING && state() != State.PAUSED) {
            return false;
        }
        conductor.request(() -> look.accept(instance));
        return true;
    }

    @Override
    public List<Finding> findings() {
        List<Finding> all = super.findings();
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
