package boldanvil.core.simulate;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.finding.Finding;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.testing.PartBuilder;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Faults at run time, with the block and the instant of the first of each kind. */
class FaultWatchTest {
    private static List<Finding> run(PartBuilder part, int ticks) {
        var system = LoweredSystem.of(PartBuilder.project(List.of(part.part()))).orThrow();
        var conductor = new Conductor(system, Map.of("p", JvmCompiler.compile(system.program("p").orElseThrow()).instantiate()));
        for (int i = 0; i < ticks; i++) {
            conductor.tick();
        }
        return conductor.takeFaults();
    }

    /** Something that counts 1, 2, … at 1 kHz, as u − offset. */
    private static PartBuilder counting(double offset) {
        return new PartBuilder("p").sampleTime("1 ms").block("t", "time").block("k", "gain", "k=1000")
                .block("o", "constant", "value=" + offset).block("d", "sum", "signs=+-").wire("t.y", "k.u")
                .wire("k.y", "d.u1").wire("o.y", "d.u2");
    }

    @ParameterizedTest
    @CsvSource({"sqrt, 10.5, -1", "ln, 10.5, -1", "asin, 10.5, 1", "acos, 10.5, 1"})
    void aFunctionOutsideOfItsDomainIsReportedAtItsInstant(String function, double turn, int sign) {
        // sqrt and ln get 10.5 − t/ms; asin and acos get t/ms − 9.5, but not less than −1. All are outside from the twelfth tick on.
        var b = sign < 0 ? counting(turn).block("s", "gain", "k=-1") : counting(turn - 1).block("s", "saturation", "low=-1", "high=100");
        b.block("f", "function", "f=" + function).block("x", "tap").wire("d.y", "s.u").wire("s.y", "f.u").wire("f.y", "x.u");
        var findings = run(b, 40);
        assertThat(findings.getFirst().place().text()).isEqualTo("p/f");
        assertThat(findings.getFirst().isError()).isTrue();
        assertThat(findings.getFirst().cause()).contains("outside its domain").contains("Noticed at 0.011 s");
        assertThat(findings).as("once of each kind").doesNotHaveDuplicates().hasSizeLessThanOrEqualTo(2);
    }

    @Test
    void differentFaultsHaveTheirOwnBlocks() {
        var b = counting(5.5).block("n", "gain", "k=-1").block("r", "function", "f=sqrt").block("a", "tap").block("l", "function", "f=ln")
                .block("c", "tap").block("g", "gain", "k=-1").block("z", "delay", "initial=1")
                .block("grow", "gain", "k=1e40").block("e", "tap").wire("d.y", "n.u").wire("n.y", "r.u").wire("r.y", "a.u")
                .wire("n.y", "g.u").wire("g.y", "l.u").wire("l.y", "c.u").wire("z.y", "grow.u")
                .wire("grow.y", "z.u").wire("z.y", "e.u");
        var findings = run(b, 30);
        // ln is outside from the beginning on, sqrt from 6 ms on, which is the same kind; what grows is another one.
        assertThat(findings.getFirst().place().text()).isEqualTo("p/l");
        assertThat(findings).filteredOn(f -> f.cause().contains("infinite or not a number")).hasSize(1);
        assertThat(findings.stream().filter(f -> f.cause().contains("domain")).count()).isEqualTo(1);
        assertThat(findings).extracting(f -> f.cause().split(" Noticed")[0]).doesNotHaveDuplicates();
    }

    @Test
    void aLoopThatGrowsWithoutEndIsReported() {
        var b = new PartBuilder("p").sampleTime("1 ms").block("z", "delay", "initial=1").block("g", "gain", "k=1e30").block("x", "tap")
                .wire("z.y", "g.u").wire("g.y", "z.u").wire("z.y", "x.u");
        var findings = run(b, 30);
        assertThat(findings).singleElement().satisfies(f -> {
            assertThat(f.cause()).contains("infinite or not a number");
            assertThat(f.place().text()).startsWith("p/");
            assertThat(f.isError()).isTrue();
        });
    }

    @Test
    void aSoundRunHasNoFault() {
        assertThat(run(counting(5).block("x", "tap").wire("d.y", "x.u"), 100)).isEmpty();
    }
}
