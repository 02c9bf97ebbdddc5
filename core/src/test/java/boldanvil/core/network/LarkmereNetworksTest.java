package boldanvil.core.network;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.bench.LiveRun;
import boldanvil.core.bench.Progress;
import boldanvil.core.bench.RigStarter;
import boldanvil.core.bench.RunOptions;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.simulate.Change;
import boldanvil.core.stock.Elements;
import boldanvil.core.stock.Stock;
import java.nio.file.Path;
import java.util.List;
import java.util.function.DoubleUnaryOperator;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** What the plants of Larkmere do as networks. */
class LarkmereNetworksTest {
    private static LiveRun run(String demo, String rig, double seconds, Change... changes) throws InterruptedException {
        var run = RigStarter.prepare(ProjectReader.read(Path.of("../demo", demo)), rig, new RunOptions(Math.round(seconds * 1e9),
                Double.POSITIVE_INFINITY, List.of(changes), Path.of("target/build")), Progress.NONE);
        run.start();
        run.awaitEnd();
        assertThat(run.findings()).isEmpty();
        return run;
    }

    private static DoubleUnaryOperator tap(LiveRun run, String name) {
        int column = run.store().indexOf(name);
        assertThat(column).as(name).isNotNegative();
        return t -> run.store().valueAt(column, t);
    }

    private static double mean(DoubleUnaryOperator f, double from, double to) {
        int n = 20_000;
        double sum = 0;
        for (int i = 0; i < n; i++) {
            sum += f.applyAsDouble(from + (to - from) * i / n);
        }
        return sum / n;
    }

    /** The part drawn with signal blocks and the network, whatever its inverter's fidelity, move the gate alike. */
    @ParameterizedTest
    @ValueSource(strings = {"desk", "switching", "detailed"})
    void theGateMovesAsInThePartOfSignalBlocks(String rig) throws Exception {
        try (var blocks = run("gate-drive", "desk", 0.2); var network = run("gate-network", rig, 0.2)) {
            for (double t : new double[] {0.08, 0.12, 0.16, 0.19}) {
                assertThat(tap(network, "servo.shaft_speed").applyAsDouble(t))
                        .isCloseTo(tap(blocks, "servo.shaft_speed").applyAsDouble(t), within(0.4));
                assertThat(tap(network, "controller.iq").applyAsDouble(t)).isCloseTo(tap(blocks, "controller.iq").applyAsDouble(t),
                        within(0.2));
            }
        }
    }

    /** The paddle drive as a network, in each fidelity of its bridge, and as signal blocks in another rig. */
    @ParameterizedTest
    @CsvSource({"desk, 1e-6", "switching, 2e-6", "detailed, 1e-4"})
    void thePaddleMovesAsDrawnWithSignalBlocks(String rig, double metres) throws Exception {
        var lower = new Change("controller.position_loop.target", 0.2, 3_000_000_000L);
        try (var blocks = run("paddle-network", "blocks", 5, lower); var network = run("paddle-network", rig, 5, lower);
                var present = run("larkmere-lock", "desk", 5, lower)) {
            for (double t : new double[] {0.1, 0.5, 1.5, 2.9, 3.2, 4, 4.9}) {
                double drawn = tap(blocks, "drive.position").applyAsDouble(t);
                assertThat(tap(network, "drive.position").applyAsDouble(t)).isCloseTo(drawn, within(metres));
                assertThat(drawn).isCloseTo(tap(present, "drive.position").applyAsDouble(t), within(1e-6));
            }
        }
    }

    /** The regulator holds the panel at its voltage; what goes in comes out, less the losses of diode, switch and resistances. */
    @ParameterizedTest
    @ValueSource(strings = {"desk", "switching", "averaged"})
    void theChargerHoldsThePanelAndChargesTheBattery(String rig) throws Exception {
        try (var run = run("lamp-charger", rig, 0.6)) {
            var volts = tap(run, "stage.panel_volts");
            var amps = tap(run, "stage.panel_amps");
            var out = tap(run, "stage.battery_amps");
            assertThat(mean(volts, 0.55, 0.6)).isCloseTo(17.4, within(0.1));
            double in = mean(t -> volts.applyAsDouble(t) * amps.applyAsDouble(t), 0.58, 0.6);
            double i = mean(out, 0.58, 0.6);
            double given = mean(t -> out.applyAsDouble(t) * tap(run, "stage.battery_volts").applyAsDouble(t), 0.58, 0.6);
            double diode = rig.equals("desk") ? 0.45 * i : 0;
            assertThat(in - given).isBetween(diode, diode + 0.07 * in);
        }
    }

    /**
     * Mean of the rectified voltage: 1.35 times the voltage between two lines, less the drops of two diodes, commutation and resistance.
     */
    @Test
    void theShoreRectifierHasItsMean() throws Exception {
        try (var run = run("shore-plants", "desk", 1)) {
            double v = mean(tap(run, "rectifier.link_volts"), 0.9, 1);
            double i = v / 60;
            double line = 325 * Math.sqrt(3) / Math.sqrt(2);
            double expected = 3 * Math.sqrt(2) / Math.PI * line - 2 * 0.9 - i
                    * (0.05 + 2 * 0.01 + 2 * 0.05 + 3 / Math.PI * 2 * Math.PI * 50 * 5e-4);
            assertThat(v).isCloseTo(expected, within(0.5));
        }
    }

    /**
     * A diode loses its forward voltage times half of the rectified current of its line and the square of that in its resistance; and what
     * it blocks: √3 V cos x from 90° to 210° in two thirds of the time, in mean square 1.2068 V².
     */
    @Test
    void theDiodesWarmTheirHeatSink() throws Exception {
        try (var run = run("shore-plants", "desk", 1)) {
            var warm = tap(run, "rectifier.sink_temperature");
            var line = tap(run, "rectifier.line_amps");
            double heat = 2 * (warm.applyAsDouble(0.999) - warm.applyAsDouble(0.799)) / 0.2 + (mean(warm, 0.8, 1) - 298.15) / 1.2;
            double lost = 3 * (0.9 * mean(t -> Math.abs(line.applyAsDouble(t)), 0.8, 1)
                    + 0.01 * mean(t -> Math.pow(line.applyAsDouble(t), 2), 0.8, 1)) + 6 * 1.2068 * 325 * 325 / 1e6;
            assertThat(heat).isCloseTo(lost, within(0.01 * lost));
        }
    }

    /** Every value of an element is a variable of the project, so that anyone can compute with it and change it. */
    @ParameterizedTest
    @ValueSource(strings = {"lamp-charger", "gate-network", "paddle-network", "lift-platform", "shore-plants"})
    void everyValueOfAnElementIsAVariable(String demo) {
        var project = ProjectReader.read(Path.of("../demo", demo));
        var names = project.variables().stream().map(v -> v.name()).toList();
        project.parts().forEach(part -> part.sheets().forEach(sheet -> sheet.blocks().stream().filter(b -> !Elements.contacts(b).isEmpty())
                .forEach(b -> b.settings().forEach((name, text) -> {
                    boolean isNumber = Stock.find(b.type()).orElseThrow().parameter(name).isNumeric();
                    assertThat(!isNumber || names.stream().anyMatch(v -> text.matches("(^|.*[^\\w])" + v + "([^\\w].*|$)")))
                            .as(part.id() + "/" + b.name() + " " + name + " = " + text).isTrue();
                }))));
    }

    /** The platform comes to rest where it is sent, and swings without end when the gain is too high. */
    @Test
    void theLiftRestsAndShakesWhenItsGainIsTooHigh() throws Exception {
        try (var run = run("lift-platform", "desk", 8, new Change("controller.wanted", 0.4, 500_000_000L),
                new Change("controller.gain", 300, 5_000_000_000L), new Change("controller.wanted", 0.3, 5_200_000_000L))) {
            var height = tap(run, "lift.height");
            assertThat(height.applyAsDouble(4.9)).isCloseTo(0.4, within(2e-3));
            assertThat(Math.abs(height.applyAsDouble(4.9) - height.applyAsDouble(4.8))).isLessThan(1e-5);
            var valve = tap(run, "lift.valve_opening");
            int turns = 0;
            for (double t = 7; t < 8; t += 1e-3) {
                turns += valve.applyAsDouble(t) > 0 != valve.applyAsDouble(t + 1e-3) > 0 ? 1 : 0;
            }
            assertThat(turns).isGreaterThan(5);
        }
    }

    /** The drum passes the play at each change of sense, and the load comes to rest. */
    @Test
    void theHoistLiftsItsLoad() throws Exception {
        try (var run = run("shore-plants", "desk", 4, new Change("hoist.demand", 50, 200_000_000L),
                new Change("hoist.demand", 0, 2_000_000_000L))) {
            var speed = tap(run, "hoist.speed");
            assertThat(mean(speed, 1.7, 1.9)).isCloseTo(50, within(0.5));
            // 25 turns of the motor are one of the drum, whose radius is 0.2 m.
            var height = tap(run, "hoist.load_height");
            assertThat(height.applyAsDouble(1.9) - height.applyAsDouble(1.7)).isCloseTo(0.2 * 50 / 25 * 0.2, within(2e-3));
            assertThat(mean(tap(run, "hoist.torque"), 3.8, 4)).isCloseTo(0.0, within(1.0));
        }
    }
}
