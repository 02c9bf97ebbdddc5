package boldanvil.core.stock;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import java.util.List;
import net.jqwik.api.Arbitraries;
import net.jqwik.api.Arbitrary;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.Provide;
import net.jqwik.api.constraints.DoubleRange;

/** Relays and hystereses in continuous parts, against instants that are computed in closed form. */
class SwitchingLawsTest {
    @Provide
    Arbitrary<String> solvers() {
        return Arbitraries.of("heun", "bs3", "rk4", "ros2", "dp54");
    }

    /** An integrator of ±rate between two thresholds, which a relay turns around: a triangle. */
    private static PartBuilder triangle(String solver, String step, double low, double high, double rate) {
        return new PartBuilder("p").plant(step, solver).block("r", "relay", "low=" + low, "high=" + high, "on=" + -rate, "off=" + rate,
                "initial=off").block("x", "integrator", "initial=" + low)
                .block("out", "outlet").block("dir", "outlet").wire("x.y", "r.u").wire("r.y", "x.u").wire("x.y", "out.u")
                .wire("r.y", "dir.u");
    }

    @Property(tries = 60)
    void anOscillatorHasThePeriodOfItsThresholds(@ForAll("solvers") String solver, @ForAll @DoubleRange(min = 0.2, max = 2) double span,
            @ForAll @DoubleRange(min = 0.7, max = 5) double rate) {
        double h = 0.01;
        double low = -0.3;
        double high = low + span;
        var s = Stepper.of(triangle(solver, "10 ms", low, high, rate));
        double half = span / rate;
        for (int i = 0; i < 1_000; i++) {
            s.step();
            double t = i * h;
            double phase = t / half;
            double within = phase - Math.floor(phase);
            double expected = (long) Math.floor(phase) % 2 == 0 ? low + within * span : high - within * span;
            assertThat(s.out("out")).as("%s at %.2f s", solver, t).isCloseTo(expected, within(2e-6 * rate + 1e-8 * i));
            s.advance();
        }
        assertThat(s.fault()).isZero();
    }

    @Property(tries = 40)
    void aRelayIsOnForHalfOfEachPeriodInEverySolver(@ForAll("solvers") String solver,
            @ForAll @DoubleRange(min = 0.1, max = 0.9) double level) {
        // A sine of 1 Hz over a relay of ±level; the time it is on is half of each period, from the first switching on.
        var b = new PartBuilder("p").plant("2 ms", solver).block("s", "sine", "frequency=1 Hz")
                .block("h", "relay", "low=" + -level, "high=" + level, "on=1", "off=0", "initial=off").block("on", "integrator")
                .block("out", "outlet").wire("s.y", "h.u").wire("h.y", "on.u").wire("on.y", "out.u");
        var s = Stepper.of(b);
        double rise = Math.asin(level) / (2 * Math.PI);
        for (int i = 0; i < 2_000; i++) {
            s.step();
            double t = i * 2e-3;
            // On from rise to rise + 1/2 of each period.
            double expected = 0;
            for (double from = rise; from < t; from += 1) {
                expected += Math.min(t, from + 0.5) - from;
            }
            assertThat(s.out("out")).as("%s at %.3f s", solver, t).isCloseTo(expected, within(2e-4));
            s.advance();
        }
    }

    @Property(tries = 30)
    void solversAgreeOnWhenTheySwitch(@ForAll @DoubleRange(min = 0.3, max = 1.5) double span,
            @ForAll @DoubleRange(min = 1, max = 3) double rate) {
        double[] last = new double[5];
        int n = 0;
        for (String solver : List.of("heun", "bs3", "rk4", "ros2", "dp54")) {
            var s = Stepper.of(triangle(solver, "10 ms", 0, span, rate));
            s.ticks(500);
            s.step();
            last[n++] = s.out("out");
        }
        for (double v : last) {
            assertThat(v).isCloseTo(last[0], within(1e-4));
        }
    }
}
