package boldanvil.app.model;

import boldanvil.core.bench.LiveRun;
import boldanvil.core.diagram.BenchLayout.Limit;
import boldanvil.core.finding.FindingException;
import boldanvil.core.identify.Excitation;
import boldanvil.core.identify.MeasuredResponse;
import boldanvil.core.identify.Record;
import boldanvil.core.identify.RelayOscillation;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.samples.Samples;
import boldanvil.core.simulate.Addresses;
import boldanvil.core.simulate.Intervention;
import boldanvil.core.simulate.Stimulus;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Executor;

/**
 * Experiments on a running rig: a tunable is moved, limits end the run, and what was recorded is evaluated. All methods are called on the
 * window's thread; {@link #look} from time to time.
 */
public final class ExperimentSession {
    /**
     * What is asked.
     *
     * @param tunable full address of what is moved
     * @param amplitude SI, around the value it has
     * @param low lowest frequency, 1/s
     * @param in tap of the input as the plant gets it
     * @param out tap of what follows
     * @param least of the output, SI, below which the rig is stopped; minus infinity for none
     * @param most the same above
     * @param hysteresis of a relay, SI
     */
    public record Asked(String tunable, Excitation.Kind kind, double amplitude, double low, double high, double seconds, String in,
            String out, double least, double most, double hysteresis) {}

    /** What was found; response and oscillation where the kind gives one. */
    public record Result(Asked asked, Record record, double begin, Optional<MeasuredResponse> response,
            Optional<RelayOscillation> oscillation) {}

    /**
     * What is under way.
     *
     * @param limits those of the bench, which hold again afterwards
     */
    private record Active(Asked asked, LiveRun run, Excitation excitation, double middle, double end, List<Limit> limits) {}

    /** What can begin, with the limits that hold meanwhile. */
    private record Ready(Active active, Stimulus stimulus, List<Limit> limits) {}

    private final RigSession rig;
    private final LatestWork work;
    private final List<Runnable> listeners = new ArrayList<>();
    private Active active;
    private Result result;
    private String ended = "";

    /** @param window runs what must happen on the window's thread */
    public ExperimentSession(Executor window, RigSession rig) {
        this.rig = rig;
        work = new LatestWork("experiment", window, this::changed);
    }

    public void onChange(Runnable listener) {
        listeners.add(listener);
    }

    private void changed() {
        List.copyOf(listeners).forEach(Runnable::run);
    }

    public Optional<Result> result() {
        return Optional.ofNullable(result);
    }

    public boolean isActive() {
        return active != null;
    }

    /** Whether it is active or being evaluated. */
    public boolean isBusy() {
        return active != null || work.isBusy();
    }

    /** What is being done, or why it ended. */
    public String message() {
        return work.message().isEmpty() ? ended : work.message();
    }

    /** Forgets the result; another project is there. */
    public void clear() {
        active = null;
        result = null;
        ended = "";
        work.cancel();
    }

    /**
     * Begins to move the tunable of the running rig.
     *
     * @param limits those of the bench, which hold as well
     */
    public void start(Asked a, List<Limit> limits) {
        var live = rig.live();
        if (live.isEmpty()) {
            ended = "Run the rig first; the experiment moves one of its values.";
            changed();
            return;
        }
        LiveRun run = live.get();
        ended = "";
        work.start("Starting …", () -> {
            var found = Addresses.tunable(run.review().system(), a.tunable());
            double middle = run.get(a.tunable());
            var t = found.tunable();
            if (middle - a.amplitude() < t.minimum() || middle + a.amplitude() > t.maximum()) {
                throw new NoSolutionException("With this amplitude '" + a.tunable() + "' would leave its limits, "
                        + Figures.text(t.minimum(), 4) + " to " + Figures.text(t.maximum(), 4) + ".",
                                "Take a smaller amplitude, or another value.");
            }
            var excitation = new Excitation(a.kind(), middle, a.amplitude(), a.low(), a.high(), a.seconds(),
                    sampleTime(run.store(), a.out()));
            var stimulus = a.kind() == Excitation.Kind.RELAY ? excitation.relay(a.out(), level(run.store(), a.out()), a.hysteresis())
                    : excitation.stimulus();
            List<Limit> all = new ArrayList<>(limits);
            if (Double.isFinite(a.least()) || Double.isFinite(a.most())) {
                all.add(new Limit(a.out(), "", Double.isFinite(a.least()) ? a.least() : Double.NaN,
                        Double.isFinite(a.most()) ? a.most() : Double.NaN, Double.NaN, 0));
            }
            return new Ready(new Active(a, run, excitation, middle, run.seconds() + excitation.duration(), List.copyOf(limits)), stimulus,
                    all);
        }, ready -> {
            active = ready.active();
            rig.guard(ready.limits());
            rig.drive(a.tunable(), ready.stimulus());
        });
    }

    /** The newest value of a tap. */
    private static double level(Samples samples, String tap) {
        var s = samples.series(column(samples, tap), samples.end() - 1, samples.end());
        return s.size() == 0 ? 0 : java.util.Arrays.stream(s.values()).average().orElse(0);
    }

    private static int column(Samples samples, String tap) {
        int c = samples.indexOf(tap);
        if (c < 0) {
            throw FindingException.of(tap, "The run has no tap '" + tap + "'.", "Choose another one.");
        }
        return c;
    }

    private static double sampleTime(Samples samples, String tap) {
        var s = samples.series(column(samples, tap), samples.end() - 1, samples.end());
        if (s.size() < 3) {
            throw new NoSolutionException("There are too few samples of '" + tap + "' yet.", "Let the rig run for a moment.");
        }
        double seconds = (s.times()[s.size() - 1] - s.times()[0]) / (s.size() - 1);
        return Math.rint(seconds * 1e9) * 1e-9;
    }

    /** Looks whether it is over. */
    public void look() {
        Active a = active;
        if (a == null) {
            return;
        }
        if (rig.live().filter(r -> r == a.run()).isEmpty()) {
            active = null;
            ended = "The rig has stopped, and the experiment with it. "
                    + rig.findings().stream().reduce((_, last) -> last).map(f -> f.cause()).orElse("");
            changed();
        } else if (a.run().seconds() >= a.end() + 0.02) {
            finish(a, true);
        }
    }

    /** How much of it is done, from 0 to 1. */
    public double share() {
        Active a = active;
        return a == null ? 0 : Math.clamp(1 - (a.end() - a.run().seconds()) / a.excitation().duration(), 0, 1);
    }

    /** Ends it now, without a result. */
    public void stop() {
        if (active != null) {
            finish(active, false);
        }
    }

    private void finish(Active a, boolean whole) {
        active = null;
        rig.release(a.asked().tunable());
        rig.set(a.asked().tunable(), a.middle());
        rig.guard(a.limits());
        if (!whole) {
            ended = "Stopped before its end.";
            changed();
            return;
        }
        work.start("Evaluating …", () -> evaluated(a), r -> result = r);
    }

    private static Result evaluated(Active a) {
        double begin = a.run().interventions().stream().filter(i -> i.kind() == Intervention.Kind.DRIVE
                && i.address().equals(a.asked().tunable())).reduce((_, last) -> last).map(i -> i.atNanos() * 1e-9).orElse(0.0);
        Record r = Record.of(a.run().store(), a.asked().in(), a.asked().out(), begin, begin + a.excitation().duration());
        return switch (a.asked().kind()) {
            case RELAY -> new Result(a.asked(), r, begin, Optional.empty(), Optional.of(RelayOscillation.of(r)));
            case STEP -> new Result(a.asked(), r, begin, Optional.empty(), Optional.empty());
            default -> new Result(a.asked(), r, begin, Optional.of(a.excitation().response(r)), Optional.empty());
        };
    }
}
