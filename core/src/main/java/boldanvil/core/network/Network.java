package boldanvil.core.network;

import java.util.List;

/**
 * A network whose equations are solved: rates of the states and outputs are linear in states and inputs, for each position of the switches.
 *
 * @param states what is stored
 * @param inputs signals from outside
 * @param outputs signals to outside
 * @param carriers what repeats, for pulsed switches
 * @param positions solved equations by position of the switches; bit i of the number is switch i
 */
public record Network(List<State> states, List<Assembly.Signal> inputs, List<Assembly.Signal> outputs, List<Switch> switches,
        List<Assembly.Carrier> carriers, List<Position> positions) {
    /** Something stored. */
    public record State(String path, double initial) {}

    /**
     * A switch.
     *
     * @param gate the logic input that switches it on; null for none
     * @param conducts whether it also follows from what is across it
     * @param carrier number of the carrier that switches it; −1 for none
     * @param pulse when the carrier does; null for none
     */
    public record Switch(String path, Assembly.Signal gate, boolean conducts, int carrier, Element.Pulse pulse) {}

    /**
     * Equations while the switches stand in one position. Each row has a factor for each state, then one for each input, then a constant.
     *
     * @param rates rate of change of each state, per second
     * @param outputs each output
     * @param conducts of each switch what switches it on while positive; null where nothing does
     */
    public record Position(double[][] rates, double[][] outputs, double[][] conducts) {}

    /** Whether an output depends on an input in any position, directly. */
    public boolean isDirect(int output, int input) {
        return positions.stream().anyMatch(p -> p.outputs()[output][states.size() + input] != 0);
    }
}
