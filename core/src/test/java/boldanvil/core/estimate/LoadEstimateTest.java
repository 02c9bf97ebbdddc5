package boldanvil.core.estimate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.diagram.Patch;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.testing.PartBuilder;
import java.util.List;
import org.junit.jupiter.api.Test;

class LoadEstimateTest {
    private static final Board SWAGE = Boards.shipped().find("swage32").orElseThrow();
    private static final Board CLINKER = Boards.shipped().find("clinker16").orElseThrow();

    private static List<LoadEstimate.Row> rows(Board board, PartBuilder b) {
        return LoadEstimate.of(new BoardSetup(board, new Patch(board.name(), List.of()), b.program()));
    }

    private static LoadEstimate.Row task(double period, double seconds) {
        return new LoadEstimate.Row("t", period, seconds, 0);
    }

    /**
     * Three tasks of 20, 40 and 80 with 5, 10 and 40 to compute: responses 5, 15 and 80 (Burns and Wellings, Real-Time Systems and
     * Programming Languages, chapter on scheduling).
     */
    @Test
    void responseTimesOfAPublishedExample() {
        var fast = task(20, 5);
        var middle = task(40, 10);
        assertThat(LoadEstimate.response(5, 20, List.of())).isEqualTo(5);
        assertThat(LoadEstimate.response(10, 40, List.of(fast))).isEqualTo(15);
        assertThat(LoadEstimate.response(40, 80, List.of(fast, middle))).isEqualTo(80);
        assertThat(LoadEstimate.response(41, 80, List.of(fast, middle))).isGreaterThan(80);
    }

    @Test
    void aFullProcessorNeverResponds() {
        assertThat(LoadEstimate.response(1, 100, List.of(task(10, 10)))).isInfinite();
    }

    private static PartBuilder chain(int gains, String real) {
        var b = new PartBuilder("p").real(real).block("a", "inlet");
        for (int i = 0; i < gains; i++) {
            b.block("s" + i, "product", "signs=**").wire(i == 0 ? "a.y" : "s" + (i - 1) + ".y", "s" + i + ".u1")
                    .wire("a.y", "s" + i + ".u2");
        }
        return b.block("o", "outlet").wire("s" + (gains - 1) + ".y", "o.u");
    }

    /** Twenty products more cost twenty multiplications at the price the file gives. */
    @Test
    void aProductCostsWhatTheBoardFileSays() {
        for (Board board : List.of(SWAGE, CLINKER)) {
            double hertz = board == SWAGE ? 168e6 : 24e6;
            double few = rows(board, chain(10, "float64")).getFirst().seconds() * hertz;
            double many = rows(board, chain(30, "float64")).getFirst().seconds() * hertz;
            double each = (many - few) / 20;
            var cycles = board.core().cycles();
            // Operands that are locals cost nothing; at most two are read and one is written in memory.
            assertThat(each).isBetween(board.core().float64().multiply(), board.core().float64()
                    .multiply() + 2 * cycles.load() + cycles.store());
        }
    }

    @Test
    void singlePrecisionIsCheapWhereHardwareHasIt() {
        assertThat(rows(SWAGE, chain(30, "float32")).getFirst().seconds()).isLessThan(
                0.3 * rows(SWAGE, chain(30, "float64")).getFirst().seconds());
        assertThat(rows(CLINKER, chain(30, "float32")).getFirst().seconds())
                .isGreaterThan(0.3 * rows(CLINKER, chain(30, "float64")).getFirst().seconds());
    }

    @Test
    void whatABoardCannotDoIsSaidWithItsNumbers() {
        var b = chain(300, "float64").sampleTime("1 ms");
        assertThat(LoadEstimate.lateness(rows(SWAGE, b), SWAGE)).isEmpty();
        assertThat(LoadEstimate.lateness(rows(CLINKER, b), CLINKER).orElseThrow())
                .startsWith("Clinker 16 is too slow: the task 'task_1ms' takes about ").contains("of its 1000 µs");
    }

    @Test
    void theLoadIsTheSumOfTheTasksShares() {
        var rows = List.of(task(10, 1), task(100, 20));
        assertThat(LoadEstimate.load(rows)).isCloseTo(0.3, within(1e-12));
    }
}
