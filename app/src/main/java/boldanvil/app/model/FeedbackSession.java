package boldanvil.app.model;

import boldanvil.core.diagram.Project;
import boldanvil.core.linear.Balanced;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.StateSpace;
import boldanvil.core.linear.TimeResponse;
import boldanvil.core.loop.Cut;
import boldanvil.core.loop.Linearisation;
import boldanvil.core.loop.Plant;
import boldanvil.core.loop.StateFeedback;
import boldanvil.core.loop.StateFeedbackBlocks;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Executor;
import org.hipparchus.complex.Complex;

/** State feedback for the wire that is open on the Loop page. All methods are called on the window's thread. */
public final class FeedbackSession {
    /** A pole as people give it: natural frequency in rad/s, and damping ratio, 1 for a real pole. */
    public record Pole(double omega, double damping) {
        private List<Complex> sampled(double period) {
            if (damping >= 1) {
                return List.of(new Complex(Math.exp(-omega * period)));
            }
            double turn = omega * period * Math.sqrt(1 - damping * damping);
            Complex z = new Complex(0, turn).exp().multiply(Math.exp(-damping * omega * period));
            return List.of(z, z.conjugate());
        }
    }

    /**
     * What is asked.
     *
     * @param outputs diagram paths on the sheet of the wire
     * @param states of the plant, the most important ones; 0 for all
     * @param weights what counts how much; without effect where poles are given
     * @param poles of the regulator; empty for the least squares
     * @param estimator poles of the estimator; empty for that of the noise
     * @param integral whether the first output's error is integrated
     * @param reference whether the reference acts straight on the input
     */
    public record Wanted(List<String> outputs, int states, StateFeedback.Weights weights, List<Pole> poles, List<Pole> estimator,
            StateFeedback.Noise noise,
            boolean integral, boolean reference) {}

    /**
     * A design.
     *
     * @param opened where it was made
     * @param view of the loop at the plant's input
     * @param follow the first output and the input after a step of the reference
     * @param resist the same after a step of what is added to the input
     */
    public record Result(LoopSession.Opened opened, Wanted wanted, StateFeedback feedback, LoopView view, LoopView.At at,
            List<TimeResponse> follow,
            List<TimeResponse> resist, double[] hankel) {}

    private final Latest<Result> latest;

    /** @param window runs what must happen on the window's thread */
    public FeedbackSession(Executor window) {
        latest = new Latest<>("state feedback", window);
    }

    /** What was found last. */
    public Latest<Result> latest() {
        return latest;
    }

    /** Designs a state feedback for the wire that is open. */
    public void design(LoopSession.Opened at, Wanted wanted) {
        latest.start("Designing …", () -> {
            List<Cut> outputs = wanted.outputs().stream().map(o -> Cut.at(at.project(), o)).toList();
            Plant whole = Linearisation.plant(at.project(), at.rig(), at.cut(), outputs, at.point());
            Balanced balanced = Balanced.within(whole.system(), Balanced.MANY);
            Plant plant = wanted.states() == 0 || wanted.states() >= whole.system().states() ? whole
                    : whole.as(balanced.reduced(Math.min(wanted.states(), balanced.hankel().length)));
            StateFeedback f = feedback(plant, wanted).referenced(wanted.reference());
            f = wanted.estimator().isEmpty() ? f : f.estimating(sampled(wanted.estimator(), plant));
            var view = new LoopView(f.loop());
            return new Result(at, wanted, f, view, view.at(1), responses(f.closed()), responses(f.disturbed()), balanced.hankel());
        });
    }

    private static StateFeedback feedback(Plant plant, Wanted w) {
        if (w.poles().isEmpty()) {
            var weights = w.integral() ? w.weights() : new StateFeedback.Weights(w.weights().outputs(), w.weights().input(), 0);
            return StateFeedback.least(plant, weights, w.noise());
        }
        return StateFeedback.placed(plant, sampled(w.poles(), plant), w.integral(), w.noise());
    }

    private static Complex[] sampled(List<Pole> poles, Plant plant) {
        return poles.stream().flatMap(p -> p.sampled(plant.system().period()).stream()).toArray(Complex[]::new);
    }

    /** The first output and the input after a step. */
    private static List<TimeResponse> responses(StateSpace closed) {
        double seconds = Math.min(TimeResponse.settling(closed), 20_000 * closed.period());
        return List.of(TimeResponse.of(closed.channel(0, 0), TimeResponse.Input.STEP, seconds, 0),
                TimeResponse.of(closed.channel(closed.outputs() - 1, 0), TimeResponse.Input.STEP, seconds, 0));
    }

    /**
     * The project with the controller on the sheet.
     *
     * @param reference diagram path of what the first output follows; empty for a tunable of its own
     * @throws NoSolutionException when an output is on another sheet
     */
    public Project onSheet(Project now, String reference, double low, double high) {
        Result r = latest.result().orElseThrow();
        return StateFeedbackBlocks.put(now, r.opened().cut(), r.feedback(), r.wanted().outputs().stream().map(o -> Cut.at(now, o)).toList(),
                reference.isBlank() ? Optional.empty() : Optional.of(Cut.at(now, reference)), low, high);
    }
}
