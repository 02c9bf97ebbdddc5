package boldanvil.core.bench;

import boldanvil.core.build.Image;
import boldanvil.core.diagram.Rig;
import boldanvil.core.coverage.Coverage;
import boldanvil.core.finding.Finding;
import boldanvil.core.instance.Instance;
import boldanvil.core.review.Review;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.simulate.Guard;
import boldanvil.core.simulate.Intervention;
import boldanvil.core.simulate.Stimulus;
import boldanvil.core.simulate.TapList;
import boldanvil.core.simulate.WireFault;
import boldanvil.core.trial.Playing;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;

/** A rig that runs, or is about to. Safe for use by several threads. */
public interface LiveRun extends AutoCloseable {
    /**
     * Plays a trial of the project from the first tick on; before {@link #start}. The run ends with the trial.
     *
     * @throws boldanvil.core.finding.FindingException when the trial does not fit the rig
     */
    void play(Playing.Order order);

    /** How far the trial is. */
    Playing.Progress trial();

    /** Answers the question of the trial that waits. */
    void answer(boolean yes);

    /** Where a run is in its life. */
    enum State {
        READY,
        RUNNING,
        PAUSED,
        ENDED,
        /** What ran it is gone. */
        LOST
    }

    /** The project as it was when the rig was started. */
    Review review();

    Rig rig();

    TapList taps();

    /** The samples so far, one column for each tap. */
    SampleStore store();

    State state();

    /** Simulated time reached, in seconds. */
    double seconds();

    /**
     * What a step of a part costs on an emulated processor.
     *
     * @param most instructions of the longest step so far
     * @param mean of all steps so far
     */
    record Instructions(long most, double mean) {}

    /** What was counted of the parts on emulated processors, by part. */
    default Map<String, Instructions> instructions() {
        return Map.of();
    }

    /** How often the machine fell behind the wall clock. */
    int overruns();

    /** Lets time run; once. */
    void start();

    void pause(boolean hold);

    /**
     * Lets a paused run go on for some time, after which it is paused again.
     *
     * @param nanos simulated
     */
    void step(long nanos);

    /** Ends the run and returns when all samples are there. */
    void stop();

    /** Returns when the run has ended, or is lost. */
    void awaitEnd() throws InterruptedException;

    /**
     * Changes a tunable.
     *
     * @param address full address, such as {@code controller.target}
     * @param value new value, SI
     * @throws boldanvil.core.finding.FindingException when it cannot be set
     */
    void set(String address, double value);

    /**
     * Changes several tunables at once, between two steps of each part.
     *
     * @param values new values by full address, SI
     * @throws boldanvil.core.finding.FindingException when one cannot be set; then none is
     */
    void set(Map<String, Double> values);

    /** Drives a tunable from now on, in place of what drove it before. */
    void drive(String address, Stimulus stimulus);

    /** Ends driving a tunable, which keeps the value it has. */
    void release(String address);

    /** Tunables that are driven now. */
    List<String> driven();

    /**
     * Puts a fault on a wire or a part, in place of one that is there.
     *
     * @param address one of the wire's ends, or a part
     */
    void insert(String address, WireFault fault);

    /** Takes the fault of a wire or part away; all where the address is empty. */
    void clear(String address);

    /** Faults that are there now, by address. */
    default Map<String, WireFault> faults() {
        Map<String, WireFault> now = new LinkedHashMap<>();
        for (Intervention i : interventions()) {
            switch (i.kind()) {
                case FAULT -> now.put(i.address(), i.fault());
                case CLEAR -> now.keySet().removeIf(a -> i.address().isEmpty() || a.equals(i.address()));
                default -> { }
            }
        }
        return now;
    }

    /** Limits that end the run, from now on, in place of those before. */
    void guard(List<Guard> guards);

    /** Ends the run at once: devices go to their safe state first. */
    void halt();

    Health health();

    /** How much of the parts has run, by part; empty where that is not noted. */
    default Map<String, Coverage> coverage() {
        return Map.of();
    }

    /** Logs in the memory of targets; empty where the rig has no target. */
    default Optional<TargetLogs> targetLogs() {
        return Optional.empty();
    }

    /** A tunable's value where it runs. */
    double get(String address);

    /** What took effect on tunables so far, planned and live, in order. */
    List<Intervention> interventions();

    /**
     * Looks at a part between two ticks, where it runs as a model in this process.
     *
     * @param look gets the part; called soon on the thread that runs it, so it must be quick
     * @return whether the part can be looked at
     */
    default boolean between(String part, Consumer<Instance> look) {
        return false;
    }

    /** Errors and warnings so far. */
    List<Finding> findings();

    /** Images in use, by part. */
    Map<String, Image> images();

    /** Ends the run and lets go of everything. */
    @Override
    void close();
}
