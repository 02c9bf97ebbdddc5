package boldanvil.app.model;

import boldanvil.core.files.ProjectWriter;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.runs.RunShelf;
import boldanvil.core.bench.TargetLogs;
import boldanvil.core.bench.BenchRun;
import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.bench.Values;
import boldanvil.core.build.Image;
import boldanvil.core.control.DeviceFault;
import boldanvil.core.control.DeviceRegistry;
import boldanvil.core.diagram.BenchLayout;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.program.Program;
import boldanvil.core.review.Review;
import boldanvil.core.runs.Mark;
import boldanvil.core.runs.Recording;
import boldanvil.core.simulate.Stimulus;
import boldanvil.core.trial.FaultText;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.Executor;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;

/** Starts, drives and stops a rig without ever holding up the window. Listeners are called on the window's thread. */
public final class RigSession implements AutoCloseable {
    /** Where the session is. */
    public enum Phase { IDLE, PREPARING, RUNNING, PAUSED, ENDED, LOST }

    private final Executor window;
    private final ExecutorService work = Executors.newSingleThreadExecutor(r -> Thread.ofPlatform().daemon().name("rig").unstarted(r));
    private final List<Runnable> listeners = new ArrayList<>();
    private final StepLog steps = new StepLog(this::changed);
    private final List<Finding> findings = new CopyOnWriteArrayList<>();
    private volatile Phase phase = Phase.IDLE;
    private volatile LiveRun run;
    private volatile Thread watcher;
    private volatile Path shelfFolder;
    private final RunRecorder recorder = new RunRecorder(findings::addAll);
    private final LiveValues values = new LiveValues(() -> live().orElse(null), recorder, this::changed, this::refused);
    private volatile Map<String, DeviceFault> faults = Map.of();
    private volatile Map<String, Image> built = Map.of();
    private volatile boolean older;

    public RigSession(Executor window) {
        this.window = window;
    }

    public void onChange(Runnable listener) {
        listeners.add(listener);
    }

    private void changed() {
        window.execute(() -> List.copyOf(listeners).forEach(Runnable::run));
    }

    public Phase phase() {
        return phase;
    }

    public boolean isBusy() {
        return phase == Phase.PREPARING || phase == Phase.RUNNING || phase == Phase.PAUSED;
    }

    /** The run on show: the present one, or the last. */
    public Optional<LiveRun> run() {
        return Optional.ofNullable(run);
    }

    public List<StepLog.Step> steps() {
        return steps.steps();
    }

    public List<String> log() {
        return steps.lines();
    }

    /** Share of the present step that is done, 0 to 1. */
    public double share() {
        return steps.share();
    }

    public List<Finding> findings() {
        List<Finding> all = new ArrayList<>(findings);
        LiveRun r = run;
        if (r != null) {
            all.addAll(r.findings());
        }
        recorder.recording().flatMap(Recording::failure).ifPresent(all::add);
        return all;
    }

    /**
     * Starts a rig.
     *
     * @param folder the project's folder
     * @param speed virtual seconds per wall second
     */
    public void start(Project project, Path folder, String rig, double speed) {
        if (tryPrepare(folder)) {
            values.clear();
            work.execute(() -> begin(project, folder, rig, speed));
        }
    }

    /** What stand-ins play while images are put on them, from the next start on, by part. */
    public void playFaults(Map<String, DeviceFault> next) {
        faults = Map.copyOf(next);
    }

    /** Builds a rig without starting it. */
    public void build(Project project, Path folder, String rig) {
        if (tryPrepare(folder)) {
            work.execute(() -> guardedBegin(rig, () -> {
                var progress = steps;
                progress.step("Check the project");
                var review = Review.of(project.rig(rig).map(project::as).orElse(project)).orThrow();
                Map<String, Image> images = new LinkedHashMap<>();
                for (var place : review.rig(rig).places().entrySet()) {
                    if (place.getValue().mode() != Rig.Mode.MODEL) {
                        progress.step("Build " + place.getKey());
                        images.put(place.getKey(), RigStarter.build(review, review.rig(rig), place.getKey(), folder.resolve("build"),
                                progress));
                    }
                }
                built = Map.copyOf(images);
                steps.finish(false);
                phase = Phase.IDLE;
                changed();
            }));
        }
    }

    /** Reconnects to a rig that runs without a window. */
    public void reconnect(Project project, Path folder, String rig) {
        if (tryPrepare(folder)) {
            work.execute(() -> guardedBegin(rig, () -> {
                closeRun();
                steps.step("Find the running rig");
                var found = DeviceRegistry.devices().stream().filter(d -> d.rig().equals(rig) && d.project().equals(project.name())
                        && !d.connected()).findFirst()
                        .orElseThrow(() -> FindingException.of(Place.rig(rig), "This rig is not running standalone anywhere.",
                        "Start it first, then disconnect and keep it running."));
                go(RigStarter.attach(project, rig, new RunOptions(Long.MAX_VALUE, 1, List.of(), folder.resolve("build")), found.process()));
            }));
        }
    }

    /** Disconnects and leaves the rig running. */
    public void leave() {
        if (run instanceof BenchRun b && isBusy()) {
            work.execute(() -> guarded(b::leave));
        }
    }

    /** Restarts the programs of the devices. */
    public void reset() {
        if (run instanceof BenchRun b && isBusy()) {
            values.later(() -> guarded(b::reset));
        }
    }

    /** Begins to prepare; false while something else continues. */
    private boolean tryPrepare(Path folder) {
        if (isBusy()) {
            return false;
        }
        phase = Phase.PREPARING;
        steps.clear();
        findings.clear();
        shelfFolder = folder.resolve("runs");
        changed();
        return true;
    }

    private void begin(Project project, Path folder, String rig, double speed) {
        guardedBegin(rig, () -> {
            closeRun();
            go(RigStarter.prepare(project, rig, new RunOptions(Long.MAX_VALUE, speed, List.of(), folder.resolve("build"), faults),
                    steps));
        });
    }

    private void go(LiveRun fresh) {
        steps.finish(false);
        run = fresh;
        built = fresh.images();
        older = false;
        values.clear();
        recorder.begin(fresh, shelfFolder);
        fresh.start();
        phase = Phase.RUNNING;
        changed();
        watcher = Thread.ofPlatform().daemon().name("rig watch").start(() -> watch(fresh));
    }

    private void guardedBegin(String rig, Runnable how) {
        try {
            how.run();
        } catch (FindingException e) {
            steps.finish(true);
            findings.addAll(e.findings());
            e.findings().forEach(f -> steps.log(f.toString()));
            phase = Phase.IDLE;
            changed();
        } catch (RuntimeException e) {
            steps.finish(true);
            findings.add(Finding.error(Place.rig(rig), "Starting failed in an unexpected way: " + e + ".", "Please report it."));
            phase = Phase.IDLE;
            changed();
        }
    }

    /** Images of the last build or start, by part. */
    public Map<String, Image> built() {
        return built;
    }

    /** Finds out whether what was built and runs is still what the project would make. */
    public void compareBuild(Review now) {
        LiveRun r = run;
        Map<String, Image> images = built;
        if (r == null || images.isEmpty() || now.hasErrors() || now.project().rig(r.rig().name()).isEmpty()) {
            return;
        }
        values.later(() -> {
            var rig = now.project().rig(r.rig().name()).orElseThrow();
            boolean differs = RigStarter.differs(now, rig, images);
            if (differs != older && run == r) {
                older = differs;
                changed();
            }
        });
    }

    /** Whether what runs was built of an older project than the one on show. */
    public boolean isOlder() {
        return older;
    }

    /** Notices when a run ends by itself or is lost. */
    private void watch(LiveRun mine) {
        try {
            mine.awaitEnd();
        } catch (InterruptedException e) {
            return;
        }
        if (run == mine && phase != Phase.ENDED) {
            phase = mine.state() == LiveRun.State.LOST ? Phase.LOST : Phase.ENDED;
            // Say so at once; keeping a long run takes a moment.
            changed();
            recorder.finish(mine, findings());
            changed();
        }
    }

    /** What happened in the run on show, in the order in which it was noticed. */
    public List<Mark> marks() {
        return recorder.marks();
    }

    /** Puts a note on the time axis of the present run. */
    public void note(String text) {
        LiveRun r = run;
        if (r != null && isBusy() && !text.isBlank()) {
            recorder.mark(new Mark(r.seconds(), Mark.Kind.NOTE, text.strip()));
            changed();
        }
    }

    /** The run that is being recorded, or was last. */
    public Optional<Recording> recording() {
        return recorder.recording();
    }

    /** Gives up preparing. */
    public void cancel() {
        steps.cancel();
    }

    public void pause(boolean hold) {
        LiveRun r = run;
        if (r == null || phase != Phase.RUNNING && phase != Phase.PAUSED) {
            return;
        }
        values.later(() -> guarded(() -> {
            r.pause(hold);
            phase = hold ? Phase.PAUSED : Phase.RUNNING;
            changed();
        }));
    }

    /** Lets a paused run go on for one step of its slowest part on a PLC, or else of its fastest controller. */
    public void step() {
        LiveRun r = run;
        if (r != null && phase == Phase.PAUSED) {
            values.later(() -> guarded(() -> r.step(stepNanos(r))));
        }
    }

    private static long stepNanos(LiveRun r) {
        var system = r.review().system();
        return r.rig().places().entrySet().stream().filter(e -> e.getValue().mode() == Rig.Mode.PLC)
                .flatMap(e -> system.program(e.getKey()).stream()).mapToLong(Program::tickNanos).max()
                .orElseGet(() -> r.review().project().parts().stream().filter(p -> p.kind() == Part.Kind.CONTROLLER)
                        .flatMap(p -> system.program(p.id()).stream()).mapToLong(Program::tickNanos).min().orElse(1_000_000));
    }

    /** Ends the run; it is put on the shelf. */
    public void stop() {
        if (phase == Phase.PREPARING) {
            cancel();
            return;
        }
        LiveRun r = run;
        if (r != null && isBusy()) {
            work.execute(r::stop);
        }
    }

    private boolean isLive() {
        return run != null && (phase == Phase.RUNNING || phase == Phase.PAUSED);
    }

    /** The run while its time advances or is held. */
    public Optional<LiveRun> live() {
        return isLive() ? Optional.of(run) : Optional.empty();
    }

    private void guarded(Runnable action) {
        try {
            action.run();
        } catch (FindingException e) {
            refused(e.findings());
        }
    }

    private void refused(List<Finding> why) {
        if (phase != Phase.LOST) {
            findings.addAll(why);
            changed();
        }
    }

    /** Changes a tunable where it runs. */
    public void set(String address, double value) {
        values.set(address, value);
    }

    /** Values that are to be applied together. */
    public Map<String, Double> planned() {
        return values.planned();
    }

    /** Adds a value to the set that is to be applied; NaN removes it. */
    public void plan(String address, double value) {
        values.plan(address, value);
    }

    public void discardPlan() {
        values.discardPlan();
    }

    /** Applies the set between two steps of each part. */
    public void applyPlan() {
        values.applyPlan();
    }

    /** Applies values together, between two steps of each part; {@link #undoValues} restores those of before. */
    public void apply(Map<String, Double> next) {
        values.apply(next);
    }

    public boolean canUndoValues() {
        return values.canUndoValues();
    }

    public void undoValues() {
        values.undoValues();
    }

    /** Drives a tunable from now on. */
    public void drive(String address, Stimulus stimulus) {
        values.drive(address, stimulus);
    }

    public void release(String address) {
        values.release(address);
    }

    /** Puts a fault on a wire or part of the rig that runs. */
    public void insert(FaultText f) {
        live().ifPresent(r -> guarded(() -> r.insert(f.address(), f.fault())));
    }

    /** Takes a fault away; all where the address is empty. */
    public void clear(String address) {
        live().ifPresent(r -> guarded(() -> r.clear(address)));
    }

    /** Watches other limits from now on. */
    public void guard(List<BenchLayout.Limit> limits) {
        values.guard(limits);
    }

    /** Reads all tunables again; listeners are called when they are there. */
    public void refreshValues(Review now) {
        values.refreshValues(now);
    }

    /** Tunables as last read. */
    public List<Values.Row> values() {
        return values.values();
    }

    /** Ends everything at once: what is being started, the run, its devices, and rigs of this project that run standalone. */
    public void stopAll(String project) {
        cancel();
        LiveRun r = run;
        // Not behind whatever else is waiting to be done.
        Thread.ofPlatform().daemon().name("stop all").start(() -> {
            if (r != null) {
                r.halt();
                recorder.mark(new Mark(r.seconds(), Mark.Kind.NOTE, "all stopped"));
            }
            DeviceRegistry.devices().stream().filter(d -> d.project().equals(project) && !d.connected()).map(DeviceRegistry.Found::process)
                    .distinct()
                    .forEach(DeviceRegistry::end);
            changed();
        });
    }

    /** Forgets the last run; for when another project is opened. A present run stays. */
    public void forget() {
        if (!isBusy()) {
            closeRun();
            run = null;
            built = Map.of();
            older = false;
            values.clear();
            findings.clear();
            phase = Phase.IDLE;
            changed();
        }
    }

    /**
     * Reads the log of a part from the memory of its target and puts it on the shelf.
     *
     * @return id of that run
     * @throws FindingException when there is no log, the target cannot be reached, or the run cannot be written
     */
    public String uploadLog(String part) {
        LiveRun r = run;
        var logs = r == null ? Optional.<TargetLogs>empty() : r.targetLogs();
        var data = logs.orElseThrow(() -> FindingException.of(Place.bench("log"), "No rig with a target was run.", "Press Run first."))
                .upload(part);
        var note = RunRecorder.note(r).named("log of " + part).ended(data.end(), List.of(), List.of());
        return new RunShelf(shelfFolder).save(note, SampleStore.of(data), ProjectWriter.files(r.review().project())).id();
    }

    /** Pulls the plug of the bench process, where there is one. */
    public void unplug() {
        if (run instanceof BenchRun b) {
            b.unplug();
        }
    }

    private void closeRun() {
        LiveRun r = run;
        if (r != null) {
            r.close();
        }
    }

    @Override
    public void close() {
        steps.cancel();
        closeRun();
        work.shutdownNow();
        values.close();
        awaitShelf();
    }

    /** Gives the last run the time to be written; what is half written would be lost with the process. */
    private void awaitShelf() {
        Thread w = watcher;
        if (w != null) {
            try {
                w.join(5_000);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
            }
        }
    }
}
