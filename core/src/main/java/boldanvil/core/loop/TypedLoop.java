package boldanvil.core.loop;

import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.Sampling;
import boldanvil.core.linear.StateSpace;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/**
 * A loop of a plant that is typed and a PID controller, on no sheet.
 *
 * @param plant one input and output; continuous, or sampled already
 * @param delay in front of a continuous plant, in seconds
 * @param period sample time of the controller, in seconds
 * @param way how a continuous plant is sampled; with a delay the hold alone
 */
public record TypedLoop(StateSpace plant, double delay, double period, Sampling way) {
    /** @throws NoSolutionException when the sample times differ, or a delay needs a hold */
    public TypedLoop {
        if (plant.isSampled() && plant.period() != period) {
            throw new NoSolutionException("The plant is sampled every " + plant.period() + " s, the controller every " + period + " s.",
                    "Give both the same sample time.");
        }
        if (!(delay >= 0) || delay > 0 && plant.isSampled()) {
            throw new NoSolutionException("A delay can stand in front of a continuous plant only, and is not below 0.",
                    "Add a pole at 0 for each sample of delay.");
        }
        if (delay > 0 && way != Sampling.ZERO_ORDER_HOLD) {
            throw new NoSolutionException("With a delay the plant is sampled with a zero-order hold.", "Choose that, or no delay.");
        }
    }

    /** The plant as the controller sees it. */
    public StateSpace sampled() {
        return plant.isSampled() ? plant : delay > 0 ? Sampling.delayed(plant, period, delay) : way.of(plant, period, prewarped());
    }

    /** Tustin with prewarping is exact at a tenth of the sample rate. */
    private double prewarped() {
        return 2 * Math.PI / period / 10;
    }

    /** The open loop with a controller. */
    public OpenLoop with(Controller controller, Map<String, Double> gains) {
        StateSpace p = sampled();
        List<String> states = new ArrayList<>();
        for (int i = 0; i < p.states(); i++) {
            states.add("plant x" + (i + 1));
        }
        return new OpenLoop(p.after(controller.system(gains, period)), 1, states, 0, 0, List.of());
    }

    /** The same sampled in another way. */
    public TypedLoop by(Sampling other) {
        return new TypedLoop(plant, delay, period, other);
    }
}
