package boldanvil.core.loop;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.Wire;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.linear.Polynomials;
import boldanvil.core.linear.Sampling;
import boldanvil.core.linear.StateSpace;
import boldanvil.core.quantity.Rescaled;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/**
 * What is put into a wire to shape its loop.
 *
 * @param name for people
 * @param continuous as it is designed
 * @param omega where the sampled one is exact, rad/s
 */
public record Compensator(String name, StateSpace continuous, double omega) {
    private static final int DIGITS = 12;

    /**
     * Turns the phase ahead at a frequency, without a change of the gain there: (s/ωz + 1) / (s/ωp + 1), with ωz ωp = ω² (Franklin,
     * Powell and Emami-Naeini, Feedback Control of Dynamic Systems, 2010, section 6.7).
     *
     * @param omega rad/s
     * @param lead rad, below π/2; negative for a lag
     */
    public static Compensator lead(double omega, double lead) {
        if (!(omega > 0) || !(Math.abs(lead) < Math.PI / 2 * 0.98) || lead == 0) {
            throw new NoSolutionException("A lead or lag turns the phase by less than 88° at a frequency above 0.",
                    "Choose less; use two in a row for more.");
        }
        double ratio = Math.sqrt((1 + Math.sin(lead)) / (1 - Math.sin(lead)));
        double zero = omega / ratio;
        double pole = omega * ratio;
        // At ω the magnitude of the quotient is the ratio.
        return new Compensator(lead > 0 ? "lead" : "lag", StateSpace.transfer(new double[] {1 / zero / ratio, 1 / ratio},
                new double[] {1 / pole, 1}, 0), omega);
    }

    /**
     * Takes a narrow band away: (s² + 2 d ζ ω s + ω²) / (s² + 2 ζ ω s + ω²).
     *
     * @param omega rad/s
     * @param depth d, what is left at ω, as a factor from 0 to 1
     * @param width ζ, half of the relative width of the band
     */
    public static Compensator notch(double omega, double depth, double width) {
        if (!(omega > 0) || !(depth >= 0 && depth < 1) || !(width > 0 && width <= 2)) {
            throw new NoSolutionException("A notch needs a frequency above 0, a rest from 0 to 1 and a width from 0 to 2.",
                    "Choose others.");
        }
        return new Compensator("notch", StateSpace.transfer(new double[] {1, 2 * depth * width * omega, omega * omega},
                new double[] {1, 2 * width * omega, omega * omega}, 0), omega);
    }

    /** As it runs: by Tustin's way, exact at its frequency. */
    public StateSpace sampled(double period) {
        return Sampling.PREWARPED.of(continuous, period, omega);
    }

    /**
     * The project with this in the opened wire, as a transfer function in z.
     *
     * @param period sample time of the wire, in seconds
     */
    public Project insert(Project p, Cut cut, double period) {
        cut.requirePartSheet();
        if (p.part(cut.part()).filter(x -> x.sampleTime().equals("continuous")).isPresent()) {
            throw new NoSolutionException("The wire is in a continuous part.", "Open the loop at a wire of the controller.");
        }
        double[][] both = Polynomials.of(sampled(period));
        return p.change(cut.sheet(), s -> {
            List<Wire> opened = s.wires().stream().filter(cut::opens).toList();
            Block from = s.block(cut.block()).orElseThrow();
            String id = s.freshId();
            return s.add(Block.of(id, "transfer in z", s.freshName(name), from.x() + 140, Sheet.onGrid(from.y() - 90), Map.of(
                    "b", list(both[0], both[1].length), "a", list(both[1], both[1].length)))).redriven(opened, id, "y")
                            .add(new Wire(cut.block(), cut.port(), id, "u"));
        });
    }

    /** Coefficients of as many powers as there are, with zeros in front. */
    private static String list(double[] all, int length) {
        double[] full = new double[length];
        System.arraycopy(all, 0, full, length - all.length, all.length);
        return Arrays.stream(full).mapToObj(v -> Rescaled.number(v, DIGITS)).collect(Collectors.joining(", ", "[", "]"));
    }
}
