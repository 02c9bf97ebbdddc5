package boldanvil.core.network;

import java.util.List;

/**
 * A network whose equations are solved: rates of the states and outputs are linear in states and inputs, for each position of the switches.
 *
 * @param states what is stored
 * @param inputs signals from outside, and switches that are on without their gates
 * @param outputs signals to outside
 * @param functions functions that are not linear
 * @param carriers what repeats, for pulsed switches
 * @param positions solved equations by position of the switches; bit i of the number is switch i
 */
public record Network(List<State> states, List<Assembly.Input> inputs, List<Function> functions, List<Assembly.Signal> outputs,
        List<Switch> switches, List<Assembly.Carrier> carriers, List<Position> positions) {
    /**
     * A function that is not linear.
     *
     * @param isPower whether it is a power; behind a change of switches its value at the end of a step counts
     */
    public record Function(String path, Element.Curve curve, int arguments, boolean isPower) {}

    /** Something stored. */
    public record State(String path, double initial) {}

    /**
     * A switch.
     *
     * @param how what switches it
     * @param carrier number of the carrier that switches it; −1 for none
     */
    public record Switch(String path, Element.Switching how, int carrier) {
        /** The logic input that switches it on; null for none. */
        public Assembly.Signal gate() {
            return how.gate().isEmpty() ? null : new Assembly.Signal(path, how.gate());
        }
    }

    /**
     * Equations while the switches stand in one position. Each row has a factor for each state, then one for each input, one for each
     * function, and a constant.
     *
     * @param rates rate of change of each state, per second
     * @param outputs each output
     * @param conducts of each switch what keeps it on, or switches it on where it is off, while positive; null where nothing does
     * @param arguments of each function each argument
     */
    public record Position(double[][] rates, double[][] outputs, double[][] conducts, double[][][] arguments) {}

    /** How many factors a row has. */
    public int columns() {
        return states.size() + inputs.size() + functions.size() + 1;
    }

    /** Where the factors of the functions begin in a row. */
    public int firstFunction() {
        return states.size() + inputs.size();
    }
}
