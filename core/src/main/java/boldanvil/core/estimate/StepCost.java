package boldanvil.core.estimate;

import boldanvil.core.board.Board;
import boldanvil.core.program.Layout;
import boldanvil.core.program.Program;

/**
 * What a step of a continuous part costs, wherever it runs.
 *
 * @param stepSeconds length of a step
 * @param operations of a step along the longest branch of each choice, with the most parts a step may be divided into
 * @param stateBytes memory of an instance
 * @param tableBytes constant tables, such as the factors of a network for each position of its switches
 */
public record StepCost(double stepSeconds, double operations, long stateBytes, long tableBytes) {
    private static final Board.Arithmetic ONE_EACH = new Board.Arithmetic(1, 1, 1, 1, 1, 1);
    /** Every operation counts once; access to memory, branches and calls count nothing. */
    private static final Board.Core COUNTING = new Board.Core(64, 64, "", new Board.Cycles(0, 0, 0, 0, 1, 0, 0), ONE_EACH, ONE_EACH,
            ONE_EACH);

    /** The cost of a part's program. */
    public static StepCost of(Program p) {
        long tables = p.tables().stream().mapToLong(t -> (long) t.size() * t.type().bytes()).sum();
        return new StepCost(p.tickSeconds(), LoadEstimate.step(p, COUNTING), Layout.of(p).size(), tables);
    }
}
