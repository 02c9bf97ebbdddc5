package boldanvil.core.loop;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.Variable;
import boldanvil.core.diagram.Wire;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.linear.Frequencies;
import boldanvil.core.linear.Margins;
import boldanvil.core.linear.NoSolutionException;
import boldanvil.core.loop.Linearisation.OperatingPoint;
import boldanvil.core.quantity.Rescaled;
import boldanvil.core.testing.PartBuilder;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Gains designed for a plant on the sheet, proved by opening the loop again with them. */
class PidDesignTest {
    /** A PID controller at 1 ms and a plant 4 / (s + 1)(0.05 s + 1). */
    private static Project project(String... settings) {
        var controller = new PartBuilder("c").sampleTime("1 ms").block("in", "inlet").block("r", "constant", "value=0")
                .block("e", "sum", "signs=+-").block("pid", "pid", settings).block("limit", "saturation", "low=-100", "high=100")
                .block("out", "outlet").wire("r.y", "e.u1").wire("in.y", "e.u2").wire("e.y", "pid.e").wire("pid.y", "limit.u")
                .wire("limit.y", "out.u").part();
        var plant = new PartBuilder("p").plant("100 us", "rk4").block("in", "inlet").block("g", "transfer", "num=[4]",
                "den=[0.05, 1.05, 1]").block("out", "outlet").wire("in.y", "g.u").wire("g.y", "out.u").part();
        return PartBuilder.project(List.of(controller, plant), new Wire("c", "out", "p", "in"), new Wire("p", "out", "c", "in"))
                .withVariables(List.of(new Variable("Kp", "2", ""), new Variable("w", "3 rad/s", ""), new Variable("Ki", "Kp*w", "")));
    }

    private static OpenLoop open(Project p) {
        return Linearisation.open(p, p.rigs().getFirst(), Cut.at(p, "c/limit"), OperatingPoint.START);
    }

    private static Margins margins(Project p) {
        var loop = open(p);
        return Margins.of(loop.response(), Frequencies.between(loop.nyquist() * 1e-5, loop.nyquist(), 1500));
    }

    private static Controller controller(Project p) {
        return Controller.of(p, Cut.at(p, "c/limit")).orElseThrow();
    }

    /** The pair of poles that was asked for is one of the closed loop's. */
    @Test
    void thePolesAreThoseThatWereAskedFor() {
        var p = project("kp=1", "ki=0.5");
        var gains = new PidDesign(controller(p), open(p)).byPoles(open(p), 6, 0.8);
        var modes = open(controller(p).send(p, gains).project()).closed(1).modes();
        assertThat(modes).anySatisfy(m -> {
            assertThat(m.omega()).isCloseTo(6, within(1e-4));
            assertThat(m.damping()).isCloseTo(0.8, within(1e-4));
        });
        assertThatThrownBy(() -> new PidDesign(controller(p), open(p)).byPoles(open(p), 6, 1.2)).isInstanceOf(NoSolutionException.class);
    }

    /** With the internal model the loop follows as the lag that was asked for: 63 % after its time constant and the model's delay. */
    @Test
    void theInternalModelGivesTheLagThatWasAskedFor() {
        var p = project("kp=1", "ki=0.5");
        var gains = new PidDesign(controller(p), open(p)).byInternalModel(0.3);
        // As a first-order model the plant has the lag 1 s and some 50 ms of delay.
        assertThat(gains.get("kp")).isCloseTo(1.0 / (4 * 0.35), within(0.05));
        assertThat(gains.get("kp") / gains.get("ki")).isCloseTo(1, within(0.02));
        var step = open(controller(p).send(p, gains).project()).step(1, 3);
        double at = 0;
        for (int i = 0; i < step.t().length && step.y()[i] < 0.632; i++) {
            at = step.t()[i];
        }
        assertThat(at).isCloseTo(0.35, within(0.03));
        assertThat(java.util.Arrays.stream(step.y()).max().orElseThrow()).isLessThan(1.03);
    }

    /** |T| stays at one as far as it can, and does not rise above. */
    @Test
    void theMagnitudeOptimumIsFlat() {
        var p = project("kp=1", "ki=0.5");
        var gains = new PidDesign(controller(p), open(p)).byMagnitudeOptimum();
        // For two lags the integral part cancels the larger one, about; 4 kp Ki-like product: kp / Ti = 1 / (2 K TΣ).
        assertThat(gains.get("ki")).isCloseTo(1 / (2 * 4 * 0.05), within(0.06 / (2 * 4 * 0.05)));
        var loop = open(controller(p).send(p, gains).project());
        double most = 0;
        for (double w : Frequencies.between(0.1, 300, 200)) {
            var l = loop.response().apply(w);
            most = Math.max(most, l.divide(l.add(1)).norm());
        }
        assertThat(most).isLessThan(1.02);
        assertThat(Margins.of(loop.response(), Frequencies.between(0.01, 3000, 1500)).phase().orElseThrow().omega()).isGreaterThan(5);
    }

    /** An integrating plant with a lag: the crossover lies in the middle of the corners, with about 37° of phase. */
    @Test
    void theSymmetricalOptimumIsSymmetrical() {
        var controller = new PartBuilder("c").sampleTime("1 ms").block("in", "inlet").block("r", "constant", "value=0")
                .block("e", "sum", "signs=+-").block("pid", "pid", "kp=1", "ki=0.1").block("out", "outlet").wire("r.y", "e.u1")
                .wire("in.y", "e.u2").wire("e.y", "pid.e").wire("pid.y", "out.u").part();
        var plant = new PartBuilder("p").plant("100 us", "rk4").block("in", "inlet").block("g", "transfer", "num=[3]", "den=[0.04, 1, 0]")
                .block("out", "outlet").wire("in.y", "g.u").wire("g.y", "out.u").part();
        var p = PartBuilder.project(List.of(controller, plant), new Wire("c", "out", "p", "in"), new Wire("p", "out", "c", "in"));
        var cut = Cut.at(p, "c/pid");
        var loop = Linearisation.open(p, p.rigs().getFirst(), cut, OperatingPoint.START);
        var c = Controller.of(p, cut).orElseThrow();
        var gains = new PidDesign(c, loop).bySymmetricalOptimum();
        // Half a sample of the hold counts with the lag.
        assertThat(gains.get("kp")).isCloseTo(1 / (2 * 3 * 0.0405), within(0.02));
        var next = Linearisation.open(c.send(p, gains).project(), p.rigs().getFirst(), cut, OperatingPoint.START);
        var phase = Margins.of(next.response(), Frequencies.between(0.1, 3000, 1500)).phase().orElseThrow();
        assertThat(phase.omega()).isCloseTo(1 / (2 * 0.0405), within(0.5));
        assertThat(Math.toDegrees(phase.value())).isCloseTo(36.9, within(1.0));
        assertThatThrownBy(() -> new PidDesign(c, loop).byMagnitudeOptimum()).isInstanceOf(NoSolutionException.class)
                .hasMessageContaining("integrates");
        var resting = project("kp=1", "ki=0.5");
        assertThatThrownBy(() -> new PidDesign(controller(resting), open(resting)).bySymmetricalOptimum())
                .isInstanceOf(NoSolutionException.class);
    }

    @ParameterizedTest
    @CsvSource({"parallel, 5, 70, false", "parallel, 20, 60, true", "ideal, 5, 60, false", "ideal, 25, 50, true"})
    void theLoopCrossesWhereItWasAskedTo(String form, double crossover, double degrees, boolean derivative) {
        var p = project("form=" + form, "kp=1", "ki=0.5", "kd=0.01", "tf=5 ms");
        var gains = new PidDesign(controller(p), open(p)).byMargin(crossover, Math.toRadians(degrees), derivative);
        var sent = controller(p).send(p, gains).project();
        var phase = margins(sent).phase().orElseThrow();
        assertThat(phase.omega()).isCloseTo(crossover, within(2e-3 * crossover));
        assertThat(Math.toDegrees(phase.value())).isCloseTo(degrees, within(0.2));
        assertThat(open(sent).closed(1).isStable()).isTrue();
    }

    /** The peak is reached, and no neighbour with the same peak has more integral gain. */
    @Test
    void theLeastErrorReachesThePeak() {
        var p = project("kp=1", "ki=0.5", "tf=5 ms");
        var design = new PidDesign(controller(p), open(p));
        var gains = design.leastError(1.5);
        assertThat(margins(controller(p).send(p, gains).project()).peak().value()).isCloseTo(1.5, within(0.02));
        assertThat(gains.get("ki")).isGreaterThan(10 * 0.5);
        assertThat(design.leastError(2).get("ki")).isGreaterThan(gains.get("ki"));
    }

    /** With half of the gain at which it oscillates the gain margin of the proportional part is two. */
    @Test
    void theUltimateGainIsTheLimitOfStability() {
        var p = project("kp=1", "ki=0.001", "tf=5 ms");
        var gains = new PidDesign(controller(p), open(p)).byUltimateGain(false);
        var alone = controller(p).send(p, Map.of("kp", gains.get("kp") / 0.45, "ki", 0.0)).project();
        assertThat(margins(alone).phase().orElseThrow().value()).isCloseTo(0, within(2e-3));
    }

    @Test
    void whatCannotBeReachedIsSaid() {
        var p = project("kp=1", "ki=0.5", "tf=5 ms");
        var design = new PidDesign(controller(p), open(p));
        assertThatThrownBy(() -> design.byMargin(200, Math.toRadians(80), false)).isInstanceOf(NoSolutionException.class)
                .hasMessageContaining("turn the phase too little");
        assertThatThrownBy(() -> design.byMargin(5000, 1, false)).isInstanceOf(NoSolutionException.class).hasMessageContaining("half");
    }

    /** Ki follows from Kp: written once, and Ki only where its value is to be another one. */
    @Test
    void gainsGoIntoTheVariablesTheyComeFrom() {
        var p = project("kp=Kp", "ki=Ki", "kd=0", "tf=5 ms");
        var c = controller(p);
        var scaled = c.send(p, c.scaled(c.gains(), 1.5));
        assertThat(scaled.writings()).containsExactly(new Controller.Writing("Kp", "2", "3"));
        var again = controller(scaled.project());
        assertThat(again.gains()).containsEntry("kp", 3.0).containsEntry("ki", 9.0);
        var other = c.send(p, Map.of("ki", 12.0));
        assertThat(other.writings()).containsExactly(new Controller.Writing("Ki", "Kp*w", "2*(Kp*w)"));
        assertThat(controller(other.project()).send(other.project(), Map.of("ki", 6.0)).writings())
                .containsExactly(new Controller.Writing("Ki", "2*(Kp*w)", "Kp*w"));
        assertThat(c.send(p, c.gains()).writings()).isEmpty();
        assertThat(c.addressed(Map.of("kp", 3.0))).containsEntry("c.pid.kp", 3.0);
    }

    @ParameterizedTest
    @CsvSource({"2.5e-3, 1, 2, 0.005", "'4 V/A', 4, 6, '6 V/A'", "a+b, 1, 3, 3*(a+b)", "0, 0, 7, 7", "'(a)*(b)', 2, 1, 0.5*((a)*(b))",
        "'2*(a)*(b)', 2, 1, '0.5*(2*(a)*(b))'"})
    void numbersAreReplacedAndFormulasMultiplied(String text, double now, double target, String expected) {
        assertThat(Rescaled.text(text, now, target, Rescaled.SHORT)).isEqualTo(expected);
    }

    /**
     * The demo's current loop was designed for 1500 rad/s by pole cancellation; the design from the sheet finds the same proportional gain.
     */
    @Test
    void thePaddlesCurrentLoopIsFoundAgain() {
        var p = ProjectReader.read(Path.of("../demo/larkmere-lock"));
        var cut = Cut.at(p, "controller/current loop/current controller");
        var loop = Linearisation.open(p, p.rigs().getFirst(), cut, new OperatingPoint(0.4, List.of()));
        var c = Controller.of(p, cut).orElseThrow();
        var phase = Margins.of(loop.response(), Frequencies.between(1, loop.nyquist(), 800)).phase().orElseThrow();
        var gains = new PidDesign(c, loop).byMargin(phase.omega(), phase.value(), false);
        assertThat(gains.get("kp")).isCloseTo(c.gains().get("kp"), within(0.01 * c.gains().get("kp")));
        assertThat(gains.get("ki")).isCloseTo(c.gains().get("ki"), within(0.05 * c.gains().get("ki")));
        assertThat(LoopPlaces.of(p)).startsWith("controller/position loop/speed controller").contains(
                "controller/current loop/current controller");
    }
}
