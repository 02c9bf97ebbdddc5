package boldanvil.core.bench;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Variable;
import boldanvil.core.finding.FindingException;
import boldanvil.core.study.StudyListener;
import boldanvil.core.testing.PartBuilder;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;

class SweepTest {
    /** A first-order lag with the variable time constant tau and a live set-point. */
    private static Project project() {
        var part = new PartBuilder("plant").plant("1 ms", "rk4").block("r", "tunable", "value=1").block("e", "sum", "signs=+-")
                .block("g", "gain", "k=1/tau")
                .block("x", "integrator").block("y", "tap").wire("r.y", "e.u1").wire("x.y", "e.u2").wire("e.y", "g.u").wire("g.y", "x.u")
                .wire("x.y", "y.u").part();
        return PartBuilder.project(List.of(part)).withVariables(List.of(new Variable("tau", "0.1 s", "")));
    }

    private static final List<Sweep.Axis> AXES = List.of(new Sweep.Axis("tau", List.of(0.1, 0.2, 0.5)),
            new Sweep.Axis("plant.r", List.of(1.0, 3.0)));

    @Test
    void everyPointOfTheGridHasItsClosedForm() {
        var outcomes = Sweep.run(project(), "desk", 500_000_000, Sweep.grid(AXES), 2, (_, _) -> { });
        assertThat(outcomes).hasSize(6);
        for (var o : outcomes) {
            double tau = o.point().get("tau");
            double t = 0.499;
            assertThat(o.courses().getFirst().last()).isCloseTo(o.point().get("plant.r") * (1 - Math.exp(-t / tau)), within(1e-6));
            assertThat(o.courses().getFirst().least()).isZero();
        }
    }

    @Test
    void theNumberOfThreadsChangesNothing() {
        var points = Sweep.sample(AXES, 12, 7);
        assertThat(points).isEqualTo(Sweep.sample(AXES, 12, 7)).isNotEqualTo(Sweep.sample(AXES, 12, 8));
        assertThat(points).allMatch(p -> p.get("tau") >= 0.1 && p.get("tau") <= 0.5);
        assertThat(Sweep.run(project(), "desk", 50_000_000, points, 1, (_, _) -> { }))
                .isEqualTo(Sweep.run(project(), "desk", 50_000_000, points, 4, (_, _) -> { }));
    }

    @Test
    void itTellsHowFarItIsAndStopsWhenAsked() {
        var heard = new AtomicInteger();
        var outcomes = Sweep.run(project(), "desk", 10_000_000, Sweep.grid(AXES), 1, new StudyListener() {
            @Override
            public void done(int runs, int all) {
                heard.set(runs);
                assertThat(all).isEqualTo(6);
            }

            @Override
            public boolean cancelled() {
                return heard.get() >= 2;
            }
        });
        assertThat(outcomes).hasSize(2);
    }

    @Test
    void mistakesAreFindings() {
        var wrong = Sweep.run(project(), "desk", 10_000_000, List.of(java.util.Map.of("plant.q", 1.0)), 1, (_, _) -> { });
        assertThat(wrong.getFirst().findings()).singleElement().satisfies(f -> assertThat(f.cause()).contains("no tunable 'q'"));
        assertThatThrownBy(() -> Sweep.run(project(), "desk", 1, List.of(java.util.Map.of("nope", 1.0)), 1, (_, _) -> { }))
                .isInstanceOf(FindingException.class)
                .hasMessageContaining("no project variable");
        assertThatThrownBy(() -> Sweep.run(project(), "code", 1, List.of(), 1, (_, _) -> { })).isInstanceOf(FindingException.class);
        var axis = new Sweep.Axis("tau", java.util.Collections.nCopies(2_000, 1.0));
        assertThatThrownBy(() -> Sweep.grid(List.of(axis, axis))).isInstanceOf(FindingException.class).hasMessageContaining("more than");
    }

    @Test
    void anAxisIsAListOrARange() {
        var variables = java.util.Map.of("k", boldanvil.core.quantity.Quantity.bare(4));
        assertThat(Sweep.Axis.of("a", "[1, k, 2*k]", variables).values()).containsExactly(1.0, 4.0, 8.0);
        assertThat(Sweep.Axis.of("a", "1 ms : 3 ms : 3", variables).values()).containsExactly(0.001, 0.002, 0.003);
        assertThat(Sweep.Axis.of("a", "0 : k", variables).values()).containsExactly(0.0, 4.0);
        for (String wrong : List.of("[]", "1 : 2 : 0", "1 : 2 : 2.5", "1 : 2 : 3 : 4", "1 : x", "")) {
            assertThatThrownBy(() -> Sweep.Axis.of("a", wrong, variables)).as(wrong).isInstanceOf(FindingException.class);
        }
    }

    @Test
    void everyRunIsALineOfTheTable() {
        var outcomes = Sweep.run(project(), "desk", 10_000_000, Sweep.grid(AXES), 2, (_, _) -> { });
        assertThat(outcomes).hasSize(6);
        assertThat(Sweep.csvHead(outcomes.getFirst())).isEqualTo("tau,plant.r,plant.y last,plant.y minimum,plant.y maximum,plant.y RMS");
        assertThat(Sweep.csvLine(outcomes.getFirst())).startsWith("0.1,1.0,");
    }

    @Test
    void aGridIsCountedBeforeItIsMade() {
        assertThat(Sweep.count(AXES)).isEqualTo(Sweep.grid(AXES).size()).isEqualTo(6);
        var many = new Sweep.Axis("a", java.util.stream.IntStream.range(0, 10_000).mapToObj(i -> (double) i).toList());
        var most = java.util.Collections.nCopies(9, many);
        assertThatThrownBy(() -> Sweep.count(most)).isInstanceOf(FindingException.class).hasMessageContaining("are more than 1000000");
        assertThatThrownBy(() -> Sweep.grid(most)).isInstanceOf(FindingException.class);
    }
}
