package boldanvil.app.model;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.samples.RunData;
import boldanvil.core.samples.SampleStore;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import java.util.List;
import java.util.function.DoubleUnaryOperator;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What charts show and how, without a window. */
class ChartModelsTest {
    @Test
    void aViewFollowsUntilItIsHeld() {
        var v = new Viewport();
        v.span(2);
        v.follow(0.5);
        assertThat(v.begin()).isZero();
        v.follow(7);
        assertThat(v.end()).isEqualTo(7);
        v.hold(true);
        v.follow(9);
        assertThat(v.end()).isEqualTo(7);
        v.pan(-1);
        assertThat(v.begin()).isEqualTo(4);
        v.hold(false);
        v.follow(9);
        assertThat(v.end()).isEqualTo(9);
    }

    @Test
    void zoomingKeepsTheInstantUnderThePointer() {
        var v = new Viewport();
        v.show(10, 20);
        v.zoom(12, 0.5);
        assertThat(v.span()).isEqualTo(5);
        assertThat((12 - v.begin()) / v.span()).isCloseTo(0.2, within(1e-12));
        v.zoom(12, 1e-12);
        assertThat(v.span()).isEqualTo(Viewport.NARROWEST);
        v.zoom(12, 1e30);
        assertThat(v.span()).isEqualTo(Viewport.WIDEST);
    }

    @Test
    void theSteadyEndMovesByWholeColumns() {
        var v = new Viewport();
        v.span(5);
        v.follow(100.0034);
        double bin = 5 / 1000.0;
        assertThat(v.steadyEnd(1000) / bin).isCloseTo(Math.rint(v.steadyEnd(1000) / bin), within(1e-6));
        assertThat(v.end() - v.steadyEnd(1000)).isBetween(0.0, bin);
    }

    @Test
    void anAxisGrowsAtOnceAndShrinksLate() {
        var a = new AxisRange();
        assertThat(a.fit(0, 10, 0)).isTrue();
        assertThat(a.low()).isLessThan(0);
        assertThat(a.high()).isGreaterThan(10);
        double high = a.high();
        assertThat(a.fit(0, 9, 0.1)).isFalse();
        assertThat(a.high()).isEqualTo(high);
        a.fit(0, 20, 0.2);
        assertThat(a.high()).isGreaterThan(20);
        a.fit(0, 1, 1);
        assertThat(a.high()).isGreaterThan(20);
        a.fit(0, 1, 2);
        assertThat(a.high()).isGreaterThan(20);
        assertThat(a.fit(0, 1, 3)).isTrue();
        assertThat(a.high()).isLessThan(2);
    }

    @Test
    void aTraceNeverLiesOnTheFrame() {
        var a = new AxisRange();
        a.fit(0, 0, 0);
        assertThat(a.high()).isEqualTo(1);
        assertThat(a.fit(0, 1, 0.1)).isTrue();
        assertThat(a.high()).isGreaterThan(1.05);
        assertThat(a.fit(0, 1, 0.2)).isFalse();
    }

    @Test
    void aLockedAxisStays() {
        var a = new AxisRange();
        a.set(-1, 1);
        assertThat(a.fit(0, 100, 0)).isFalse();
        a.zoom(0, 0.5);
        assertThat(a.high()).isEqualTo(0.5);
        a.clear();
        assertThat(a.isLocked()).isFalse();
        assertThat(a.fit(Double.NaN, Double.NaN, 0)).isFalse();
        assertThat(a.high()).isEqualTo(1);
        a.fit(5, 5, 0);
        assertThat(a.low()).isLessThan(5);
        assertThat(a.high()).isGreaterThan(5);
    }

    @ParameterizedTest
    @CsvSource({"0.1, 0.1", "123456789, 1.23457e+08", "-0.0000000001, -1e-10", "100, 100", "0.30000000000000004, 0.3", "NaN, –",
            "-Infinity, −∞"})
    void figuresHaveTheDigitsTheyNeed(double v, String text) {
        assertThat(Figures.text(v)).isEqualTo(text);
    }

    @ParameterizedTest
    @CsvSource({"0.0000005, 500 ns", "0.00002, 20 µs", "0.25, 250 ms", "3, 3 s", "0, 0 s", "NaN, –"})
    void timesHaveTheirPrefix(double v, String text) {
        assertThat(Figures.seconds(v)).isEqualTo(text);
    }

    private static Series series(String name, double from, double dt, int n, DoubleUnaryOperator f) {
        double[] t = new double[n];
        double[] y = new double[n];
        for (int i = 0; i < n; i++) {
            t[i] = from + i * dt;
            y[i] = f.applyAsDouble(t[i]);
        }
        return new Series(name, "", t, y);
    }

    private static Samples run(double late) {
        return SampleStore.of(new RunData(List.of(series("c.demand", 0, 1e-3, 5_000, t -> t < 1 + late ? 0 : 1),
                series("c.speed", 0, 1e-3, 5_000, t -> t < 1 + late ? 0 : 1 - Math.exp(-(t - 1 - late) / 0.1)))));
    }

    private static final List<Chart> CHARTS = List.of(new Chart("Speed", "", List.of("c.demand", "c.speed")));

    @Test
    void runsAreAlignedByTheirFirstStepOrByBestFit() {
        assertThat(RunViews.shift(run(0), run(0.3), CHARTS, RunViews.Align.TIME)).isZero();
        assertThat(RunViews.shift(run(0), run(0.3), CHARTS, RunViews.Align.STEP)).isCloseTo(-0.3, within(1e-9));
        assertThat(RunViews.shift(run(0), run(0.3), CHARTS, RunViews.Align.FIT)).isCloseTo(-0.3, within(2e-3));
    }

    @Test
    void aDifferenceTraceIsZeroWhereAlignedRunsAgree() {
        var d = RunViews.difference(run(0), run(0.3), CHARTS, -0.3);
        int column = d.indexOf(RunViews.DIFFERENCE + "c.speed");
        for (double v : d.series(column).values()) {
            assertThat(Double.isNaN(v) || Math.abs(v) < 1e-3).isTrue();
        }
        assertThat(RunViews.withDifferences(CHARTS)).extracting(Chart::title).containsExactly("Speed", "Speed, difference");
    }

    @Test
    void stepsAreFoundInEachChart() {
        var steps = RunViews.steps("desk", run(0), CHARTS);
        assertThat(steps).singleElement().satisfies(s -> {
            assertThat(s.tap()).isEqualTo("c.speed");
            assertThat(s.metrics().riseTime()).isCloseTo(0.1 * Math.log(9), within(1e-3));
        });
    }

    @Test
    void chartsBecomePlots() {
        var plot = RunPlots.of("x", CHARTS, List.of(new RunPlots.Shown("a", run(0), 0), new RunPlots.Shown("b", run(0.3), -0.3)), 0, 5);
        assertThat(plot.panes().getFirst().curves()).hasSize(4);
        assertThat(plot.panes().getFirst().curves().get(1).name()).isEqualTo("speed, a");
        assertThat(plot.panes().getFirst().high()).isBetween(1.0, 1.2);
        assertThat(plot.panes().getFirst().curves().get(3).dashes()).hasSize(2);
    }
}
