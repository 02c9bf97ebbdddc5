package boldanvil.core.lower;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.program.Task;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import org.junit.jupiter.api.Test;

/** The rule between tasks: from fast to slow at the slow task's release, from slow to fast at its next release. */
class RatesTest {
    private static PartBuilder counterAndReader(String counterTime, String readerTime) {
        return new PartBuilder("r").sampleTime("1 ms").block("n", "counter", "limit=1000", "sample time=" + counterTime)
                .block("r", "sample time change", "sample time=" + readerTime).block("out", "outlet", "sample time=1 ms").wire("n.y", "r.u")
                .wire("r.y", "out.u");
    }

    @Test
    void aSlowReaderSeesTheFastValueOfItsRelease() {
        // Counter each 1 ms, reader each 3 ms; what the reader shows passes to the 1 ms outlet at the reader's next release.
        double[] y = Stepper.of(counterAndReader("1 ms", "3 ms")).course("out", 9);
        assertThat(y).containsExactly(0, 0, 0, 0, 0, 0, 3, 3, 3);
    }

    @Test
    void aFastReaderSeesTheSlowValueOnePeriodLate() {
        double[] y = Stepper.of(counterAndReader("3 ms", "1 ms")).course("out", 12);
        assertThat(y).containsExactly(0, 0, 0, 0, 0, 0, 1, 1, 1, 2, 2, 2);
    }

    @Test
    void withinOneTaskNothingIsLate() {
        assertThat(Stepper.of(counterAndReader("1 ms", "1 ms")).course("out", 4)).containsExactly(0, 1, 2, 3);
    }

    @Test
    void tasksStandFastestFirstAtMultiplesOfTheTick() {
        var p = counterAndReader("4 ms", "6 ms").program();
        assertThat(p.tickNanos()).isEqualTo(1_000_000);
        assertThat(p.tasks()).extracting(Task::periodTicks).containsExactly(1, 4, 6);
        assertThat(p.tasks()).extracting(Task::name).containsExactly("task_1ms", "task_4ms", "task_6ms");
    }

    @Test
    void theTickIsTheGreatestCommonDivisor() {
        var p = new PartBuilder("r").sampleTime("4 ms").block("a", "counter").block("b", "counter", "sample time=6 ms")
                .block("x", "outlet").block("y", "outlet", "sample time=6 ms").wire("a.y", "x.u").wire("b.y", "y.u").program();
        assertThat(p.tickNanos()).isEqualTo(2_000_000);
    }

    @Test
    void aSubsystemHandsItsSampleTimeDown() {
        var b = new PartBuilder("r").sampleTime("1 ms").block("sub", "subsystem", "sheet=inner", "sample time=5 ms")
                .block("out", "outlet").wire("sub.out", "out.u").sheet("inner").block("n", "counter").block("out", "outlet")
                .wire("n.y", "out.u");
        var p = b.program();
        assertThat(p.tasks()).filteredOn(t -> t.periodTicks() * p.tickNanos() == 5_000_000).as("the counter runs every 5 ms").isNotEmpty();
    }

    @Test
    void aConstantCostsNoLatch() {
        var p = new PartBuilder("r").sampleTime("1 ms").block("c", "constant", "value=3").block("g", "gain", "sample time=5 ms")
                .block("out", "outlet", "sample time=5 ms").wire("c.y", "g.u").wire("g.y", "out.u").program();
        assertThat(p.slots()).noneMatch(s -> s.role() == boldanvil.core.program.Slot.Role.LATCH);
    }

    @Test
    void readersOfOneTaskShareALatch() {
        var p = new PartBuilder("r").sampleTime("1 ms").block("n", "counter").block("a", "gain", "k=2", "sample time=5 ms")
                .block("b", "gain", "k=3", "sample time=5 ms").block("x", "outlet", "sample time=5 ms")
                .block("y", "outlet", "sample time=5 ms").wire("n.y", "a.u").wire("n.y", "b.u").wire("a.y", "x.u").wire("b.y", "y.u")
                .program();
        assertThat(p.slots()).filteredOn(s -> s.role() == boldanvil.core.program.Slot.Role.LATCH).hasSize(1);
    }

    @Test
    void aDiscreteTaskSeesThePlantOfItsInstant() {
        var b = new PartBuilder("r").sampleTime("1 ms").block("one", "constant").block("x", "integrator").block("d", "gain", "k=1000")
                .block("out", "outlet").wire("one.y", "x.u").wire("x.y", "d.u").wire("d.y", "out.u");
        double[] y = Stepper.of(b).course("out", 4);
        for (int k = 0; k < 4; k++) {
            assertThat(y[k]).isCloseTo(k, org.assertj.core.api.Assertions.within(1e-9));
        }
    }

    @Test
    void runningTwiceGivesTheSame() {
        var b = counterAndReader("2 ms", "3 ms");
        assertThat(Stepper.of(b).course("out", 50)).isEqualTo(Stepper.of(b).course("out", 50));
    }
}
