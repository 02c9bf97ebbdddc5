package boldanvil.core.asbuilt;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.Project;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.linear.Margins;
import boldanvil.core.loop.Cut;
import boldanvil.core.loop.Linearisation;
import boldanvil.core.loop.Linearisation.OperatingPoint;
import boldanvil.core.loop.OpenLoop;
import boldanvil.core.loop.Tolerances;
import boldanvil.core.simulate.Change;
import boldanvil.core.testing.PartBuilder;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The delays of a board in a loop, and the sheet with its limits against the linear prediction. */
class AsBuiltTest {
    private static final Project LOCK = ProjectReader.read(Path.of("../demo/larkmere-lock"));
    private static final OperatingPoint MOVING = new OperatingPoint(0.4,
            List.of(new Change("controller.position_loop.target", 0.3, 100_000_000L)));

    private static OpenLoop open(Project p, String at, OperatingPoint point) {
        return Linearisation.open(p, p.rigs().getFirst(), Cut.at(p, at), point);
    }

    /** Two conversions in turn on two converters, computing, and the wait for the timer. */
    @Test
    void theWayOfADutyCycleIsThatOfItsBoard() {
        var built = AsBuilt.of(LOCK, LOCK.rig("desk").orElseThrow());
        assertThat(built.ways()).extracting(AsBuilt.Way::terminal).containsExactly("leg A", "leg B");
        var way = built.ways().getFirst();
        assertThat(way.ready()).isBetween(0.2e-6, 5e-6);
        assertThat(way.written()).isGreaterThan(way.ready()).isLessThan(100e-6);
        assertThat(way.effect()).isGreaterThanOrEqualTo(way.written());
        assertThat(way.counted()).isEqualTo(way.effect());
        assertThat(built.converters()).containsKeys("controller.shunt A", "controller.shaft");
        assertThat(built.longest()).isEqualTo(way.effect());
        assertThat(built.project().part("drive").orElseThrow().main().blocks()).filteredOn(b -> b.type().equals("transport delay"))
                .hasSize(2);
    }

    /** A delay turns the phase by its time, so that it costs as much of the phase margin as the frequency says. */
    @ParameterizedTest
    @CsvSource({"controller/current loop/current controller", "controller/position loop/speed controller"})
    void theDelayTurnsThePhaseByItsTime(String at) {
        var built = AsBuilt.of(LOCK, LOCK.rig("desk").orElseThrow());
        OpenLoop ideal = open(LOCK, at, MOVING);
        OpenLoop real = open(built.project(), at, MOVING);
        var margin = Margins.of(ideal.response(), Tolerances.frequencies(ideal)).phase().orElseThrow();
        var less = Margins.of(real.response(), Tolerances.frequencies(real)).phase().orElseThrow();
        double lost = margin.value() - less.value();
        if (at.contains("current loop")) {
            // The delay is all in the current loop.
            assertThat(lost).isCloseTo(margin.omega() * built.longest(), within(0.15 * lost));
        } else {
            assertThat(lost).isBetween(0.0, 2 * margin.omega() * built.longest());
        }
    }

    /** A short delay is kept exactly by stepping the plant finer. */
    @Test
    void aPlantOfLongStepsIsSteppedFiner() {
        var built = AsBuilt.of(ProjectReader.read(Path.of("../demo/gate-drive")), ProjectReader.read(Path.of("../demo/gate-drive")).rigs()
                .getFirst());
        assertThat(built.ways()).isNotEmpty().allSatisfy(w -> assertThat(w.counted()).isEqualTo(w.effect()));
        var none = PartBuilder.project(List.of(new PartBuilder("c").sampleTime("1 ms").block("r", "constant").part()));
        assertThat(AsBuilt.of(none, none.rigs().getFirst()).ways()).isEmpty();
    }

    /** A PI controller of an integrator that may give 1 at most; a step of 4 drives it to its limit. */
    private static LoopCheck.Result limited(String windup, double size) {
        var p = PartBuilder.project(List.of(new PartBuilder("c").sampleTime("10 ms").block("r", "constant", "value=0")
                .block("e", "sum", "signs=+-").block("pi", "pid", "kp=2", "ki=1", "low=-1", "high=1", "anti-windup=" + windup)
                .block("i", "accumulator").block("load", "constant", "value=0.2").block("d", "sum", "signs=++")
                .wire("r.y", "e.u1").wire("d.y", "e.u2").wire("e.y", "pi.e").wire("pi.y", "i.u").wire("i.y", "d.u1")
                .wire("load.y", "d.u2").part()));
        var cut = Cut.at(p, "c/d");
        var point = new OperatingPoint(20, List.of());
        var loop = Linearisation.open(p, p.rigs().getFirst(), cut, point);
        return LoopCheck.of(p, p.rigs().getFirst(), cut, point, loop, size, 15);
    }

    @Test
    void aSmallStepFollowsThePredictionAndALargeOneMeetsTheLimit() {
        var small = limited("clamping", 0.1);
        assertThat(small.largest()).isLessThan(1e-6);
        assertThat(small.parts()).isNaN();
        assertThat(small.sheet().limits()).isEmpty();
        assertThat(small.words()).singleElement().asString().startsWith("The sheet follows the linear prediction");
        var large = limited("clamping", 4);
        assertThat(large.parts()).isLessThan(0.5);
        assertThat(large.sheet().limits()).singleElement().satisfies(l -> {
            assertThat(l.path()).isEqualTo("c/pi");
            assertThat(l.upper()).isFalse();
            assertThat(l.value()).isEqualTo(-1);
            assertThat(l.from()).isLessThan(0.011);
            // The way of 4 at a rate of 1 takes more than 3 s.
            assertThat(l.to()).isBetween(2.5, 4.0);
            assertThat(l.growth()).isCloseTo(0, within(0.02));
        });
        assertThat(large.words()).anyMatch(w -> w.startsWith("'pi' is at its lower limit -1.000 from 0 s to 3"));
        assertThat(large.built()).isEmpty();
    }

    /** Without anti-windup the integral runs away meanwhile, and overshoots. */
    @Test
    void windUpIsSeenAndSaid() {
        var clamped = limited("clamping", 4);
        var wound = limited("none", 4);
        assertThat(wound.sheet().limits().getFirst().growth()).isLessThan(-3);
        assertThat(wound.sheet().overshoot()).isGreaterThan(clamped.sheet().overshoot() + 0.3);
        assertThat(wound.words()).anyMatch(w -> w.contains("Its integral changed by -")).anyMatch(w -> w.startsWith("Overshoot "));
    }

    /** The paddle's speed loop with its anti-windup switched off: the integral runs away while the current is at its limit. */
    @Test
    void thePaddleWindsUpWithoutItsLimitOfTheIntegral() {
        var rig = LOCK.rig("desk").orElseThrow();
        var cut = Cut.at(LOCK, "controller/position loop/speed limit");
        var loop = Linearisation.open(LOCK, rig, cut, MOVING);
        var wound = LOCK.change(cut.sheet(), s -> {
            String id = s.blocks().stream().filter(b -> b.name().equals("speed controller")).findFirst().orElseThrow().id();
            return s.change(id, b -> b.with("anti-windup", "none"));
        });
        var held = LoopCheck.of(LOCK, rig, cut, MOVING, loop, 0.1, 0.1);
        var free = LoopCheck.of(wound, rig, cut, MOVING, Linearisation.open(wound, rig, cut, MOVING), 0.1, 0.1);
        double kept = growth(held);
        assertThat(Math.abs(growth(free))).isGreaterThan(Math.abs(kept) + 1);
        assertThat(free.words()).anyMatch(w -> w.startsWith("'speed controller'") && w.contains("Its integral changed by "));
    }

    private static double growth(LoopCheck.Result r) {
        return r.sheet().limits().stream().filter(l -> l.path().endsWith("speed controller")).findFirst().orElseThrow().growth();
    }

    /** The paddle's speed loop: a small step is linear, a large one meets the current limit; as built the counts are seen. */
    @Test
    void thePaddlesSpeedLoopMeetsTheCurrentLimit() {
        var cut = Cut.at(LOCK, "controller/position loop/speed limit");
        var rig = LOCK.rig("desk").orElseThrow();
        var loop = Linearisation.open(LOCK, rig, cut, MOVING);
        var result = LoopCheck.of(LOCK, rig, cut, MOVING, loop, 0.02, 0.1);
        assertThat(result.built()).isPresent();
        assertThat(result.words()).isNotEmpty();
    }
}
