package boldanvil.core.stock;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.program.Fault;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import java.util.Arrays;
import java.util.Random;
import org.ejml.simple.SimpleMatrix;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Blocks against closed forms and plain definitions. */
class MoreBlocksTest {
    private static Stepper one(String type, String... settings) {
        return Stepper.of(new PartBuilder("p").block("u", "inlet").block("f", type, settings).block("y", "outlet").wire("u.y", "f.u")
                .wire("f.y", "y.u"));
    }

    private static Stepper source(String type, String... settings) {
        String port = "y";
        return Stepper.of(new PartBuilder("p").block("f", type, settings).block("y", "outlet").wire("f." + port, "y.u"));
    }

    @ParameterizedTest
    @CsvSource({"sqrt, 2, 1.4142135623730951", "square, -3, 9", "reciprocal, 4, 0.25", "exp, 1, 2.718281828459045",
            "ln, 10, 2.302585092994046", "sin, 1, 0.8414709848078965",
        "cos, 1, 0.5403023058681398", "tan, 1, 1.5574077246549023", "asin, 0.5, 0.5235987755982989", "acos, 0.5, 1.0471975511965979",
        "atan, 2, 1.1071487177940904",
        "log10, 1000, 3", "sign, -7, -1", "sign, 0, 0", "negate, 3, -3"})
    void functionsOfOneInput(String f, double u, double y) {
        assertThat(one("function", "f=" + f).set("u", u).step().out("y")).isCloseTo(y, within(1e-15 * Math.max(1, Math.abs(y))));
    }

    @Test
    void areciprocalOfZeroIsAFault() {
        assertThat(one("function", "f=reciprocal").set("u", 0).step().fault()).isEqualTo(Fault.DIVISION_BY_ZERO);
    }

    @ParameterizedTest
    @CsvSource({"power, 2, 10, 1024", "angle, 1, -1, 2.356194490192345", "length, 3, 4, 5", "modulo, -7, 3, 2", "modulo, 7, -3, -2",
            "remainder, -7, 3, -1"})
    void functionsOfTwoInputs(String f, double u, double v, double y) {
        var s = Stepper.of(new PartBuilder("p").block("u", "inlet").block("v", "inlet").block("f", "two-input function", "f=" + f)
                .block("y", "outlet").wire("u.y", "f.u")
                .wire("v.y", "f.v").wire("f.y", "y.u"));
        assertThat(s.set("u", u).set("v", v).step().out("y")).isEqualTo(y);
    }

    @ParameterizedTest
    @CsvSource({"nearest, 2.5, 3", "even, 2.5, 2", "even, 3.5, 4", "truncate, -2.7, -2", "down, -2.2, -3", "up, 2.2, 3"})
    void rounding(String how, double u, double y) {
        assertThat(one("round", "rounding=" + how).set("u", u).step().out("y")).isEqualTo(y);
    }

    @ParameterizedTest
    @CsvSource({"int8, nearest, saturate, 200, 127", "int8, nearest, wrap, 200, -56", "uint8, nearest, wrap, -1, 255",
            "uint16, truncate, saturate, -5, 0",
        "uint32, down, saturate, 5e9, 4294967295", "uint32, down, wrap, 4294967298, 2", "int32, even, saturate, 2.5, 2",
        "int16, up, wrap, 32767.5, -32768"})
    void conversions(String type, String rounding, String beyond, double u, double y) {
        assertThat(one("convert", "type=" + type, "rounding=" + rounding, "beyond=" + beyond).set("u", u).step().out("y")).isEqualTo(y);
    }

    @Test
    void anglesAreWrapped() {
        var s = one("wrap");
        assertThat(s.set("u", 4).step().out("y")).isCloseTo(4 - 2 * Math.PI, within(1e-15));
        assertThat(s.set("u", -100).step().out("y")).isBetween(-Math.PI, Math.PI);
        assertThat(one("wrap", "period=10", "range=from 0").set("u", -1).step().out("y")).isEqualTo(9);
    }

    @ParameterizedTest
    @ValueSource(strings = {"float64", "float32", "int32", "uint16"})
    void wordsAndBack(String type) {
        for (String word : new String[] {"uint8", "uint16"}) {
            for (String order : new String[] {"lowest first", "highest first"}) {
                int n = Math.max(1, boldanvil.core.program.Type.labelled(type).bytes() / boldanvil.core.program.Type.labelled(word)
                        .bytes());
                var b = new PartBuilder("p").block("u", "inlet", "type=" + type)
                        .block("a", "to words", "from=" + type, "words=" + word, "order=" + order)
                        .block("b", "from words", "to=" + type, "words=" + word, "order=" + order).block("y", "outlet").wire("u.y", "a.u")
                        .wire("b.y", "y.u");
                for (int i = 1; i <= n; i++) {
                    b.wire("a.y" + i, "b.u" + i);
                }
                var s = Stepper.of(b);
                double v = type.startsWith("float") ? -1234.5 : 4660;
                assertThat(s.set("u", v).step().out("y")).isEqualTo(v);
            }
        }
    }

    @Test
    void theWordsOfAFloat64AreItsBits() {
        var b = new PartBuilder("p").block("u", "constant", "value=1.5").block("a", "to words", "words=uint32");
        var s = Stepper.of(b.block("l", "outlet").block("h", "outlet").wire("u.y", "a.u").wire("a.y1", "l.u").wire("a.y2", "h.u")).step();
        assertThat((long) s.out("h") << 32 | (long) s.out("l")).isEqualTo(Double.doubleToRawLongBits(1.5));
    }

    @Test
    void bitsPackAndUnpack() {
        var b = new PartBuilder("p").block("u", "inlet", "type=uint8").block("a", "unpack bits", "bits=8")
                .block("b", "pack bits", "type=uint8", "bits=8").block("y", "outlet")
                .wire("u.y", "a.u").wire("b.y", "y.u");
        for (int i = 0; i < 8; i++) {
            b.wire("a.b" + i, "b.b" + (7 - i));
        }
        assertThat(Stepper.of(b).set("u", 0b11010000).step().out("y")).isEqualTo(0b00001011);
    }

    @ParameterizedTest
    @CsvSource({"left, 3, uint8, 129, 8", "right, 3, uint8, 129, 16", "right, 2, int16, -8, -2", "rotate left, 1, uint8, 129, 3",
            "rotate right, 1, uint8, 129, 192",
        "left, 40, uint16, 5, 0"})
    void shifts(String direction, int by, String type, double u, double y) {
        var b = new PartBuilder("p").block("u", "inlet", "type=" + type).block("f", "shift", "direction=" + direction, "by=" + by)
                .block("y", "outlet").wire("u.y", "f.u")
                .wire("f.y", "y.u");
        assertThat(Stepper.of(b).set("u", u).step().out("y")).isEqualTo(y);
    }

    @Test
    void edges() {
        for (String edge : new String[] {"rising", "falling", "any"}) {
            var s = Stepper.of(new PartBuilder("p").block("u", "inlet", "type=bool").block("f", "edge", "edge=" + edge).block("y", "outlet")
                    .wire("u.y", "f.u").wire("f.y", "y.u"));
            assertThat(s.course("u", "y", 0, 1, 1, 0, 1)).containsExactly(switch (edge) {
                case "rising" -> new double[] {0, 1, 0, 0, 1};
                case "falling" -> new double[] {0, 0, 0, 1, 0};
                default -> new double[] {0, 1, 0, 1, 1};
            });
        }
    }

    @Test
    void tables() {
        var cubic = one("lookup", "x=[0, 1, 2, 3]", "y=[0, 1, 4, 9]", "between=cubic");
        assertThat(cubic.set("u", 2).step().out("y")).isEqualTo(4);
        assertThat(cubic.set("u", 1.5).step().out("y")).isCloseTo(2.25, within(0.02));
        var nearest = one("lookup", "x=[0, 1, 2]", "y=[5, 6, 7]", "between=nearest");
        assertThat(nearest.course("u", "y", -1, 0.4, 0.6, 1.9, 9)).containsExactly(5, 5, 6, 7, 7);
        var line = one("lookup", "x=[0, 1, 2, 5, 9]", "y=[0, 1, 4, 10, 2]", "outside=extend");
        assertThat(line.course("u", "y", -1, 0.5, 3.5, 7, 11)).containsExactly(-1, 0.5, 7, 6, -2);
    }

    @Test
    void aMonotoneTableHasAMonotoneCubic() {
        var s = one("lookup", "x=[0, 1, 2, 3, 4]", "y=[0, 0.1, 5, 5, 6]", "between=cubic");
        double last = -1;
        for (double u = 0; u <= 4; u += 0.01) {
            double y = s.set("u", u).step().out("y");
            assertThat(y).isGreaterThanOrEqualTo(last - 1e-12);
            last = y;
        }
    }

    @Test
    void aTableOfTwoInputsIsBilinear() {
        var s = Stepper.of(new PartBuilder("p").block("u", "inlet").block("v", "inlet")
                .block("f", "two-input lookup", "x=[0, 1, 3]", "y=[0, 2]", "z=[[0, 2], [1, 5], [3, 11]]")
                .block("z", "outlet").wire("u.y", "f.u").wire("v.y", "f.v").wire("f.z", "z.u"));
        assertThat(s.set("u", 0.5).set("v", 1).step().out("z")).isEqualTo(2);
        assertThat(s.set("u", 2).set("v", 0.5).step().out("z")).isEqualTo(2 + (8 - 2) / 4.0);
        assertThat(s.set("u", 99).set("v", 99).step().out("z")).isEqualTo(11);
    }

    @ParameterizedTest
    @ValueSource(ints = {8, 256, 1024})
    void theSineTableKeepsItsStatedError(int n) {
        var s = Stepper.of(new PartBuilder("p").block("u", "inlet").block("f", "sine table", "points=" + n).block("s", "outlet")
                .block("c", "outlet").wire("u.y", "f.u")
                .wire("f.sin", "s.u").wire("f.cos", "c.u"));
        double bound = Math.pow(2 * Math.PI / n, 2) / 8 * 1.0001;
        double worst = 0;
        for (double u = -10; u < 10; u += 0.00713) {
            s.set("u", u).step();
            worst = Math.max(worst, Math.max(Math.abs(s.out("s") - Math.sin(u)), Math.abs(s.out("c") - Math.cos(u))));
        }
        assertThat(worst).isBetween(bound / 2, bound);
    }

    @Test
    void aTransferFunctionInZIsItsDifferenceEquation() {
        var s = one("transfer in z", "b=[0.5, 1, -0.25]", "a=[2, -1, 0.5]");
        var random = new Random(1);
        double[] u = random.doubles(50, -1, 1).toArray();
        double[] y = new double[50];
        double[] seen = s.course("u", "y", u);
        for (int n = 0; n < 50; n++) {
            double sum = 0.5 * u[n] + (n > 0 ? u[n - 1] + y[n - 1] : 0) + (n > 1 ? -0.25 * u[n - 2] - 0.5 * y[n - 2] : 0);
            y[n] = sum / 2;
        }
        assertThat(seen).containsExactly(y, within(1e-14));
    }

    @Test
    void sectionsOneBehindTheOtherAreTheProductOfTheirTransferFunctions() {
        // (1 + 0.5 z) / (1 − 0.5 z) · (2) / (1 + 0.25 z²)
        var sections = one("biquads", "sections=[[1, 0.5, 0, -0.5, 0], [2, 0, 0, 0, 0.25]]");
        var whole = one("transfer in z", "b=[2, 1]", "a=[1, -0.5, 0.25, -0.125]");
        double[] u = new Random(2).doubles(40, -1, 1).toArray();
        assertThat(sections.course("u", "y", u)).containsExactly(whole.course("u", "y", u), within(1e-13));
    }

    @Test
    void finiteFiltersAverageTheirPast() {
        double[] u = {1, 2, 3, 4, 5, 6};
        assertThat(one("fir", "b=[0.5, 0.25, 0, 0.25]").course("u", "y", u))
                .containsExactly(new double[] {0.5, 1.25, 2, 3, 4, 5}, within(1e-15));
        assertThat(one("moving", "n=3").course("u", "y", u)).containsExactly(new double[] {1.0 / 3, 1, 2, 3, 4, 5}, within(1e-15));
        assertThat(one("moving", "n=2", "of=RMS").course("u", "y", 3, 4)).containsExactly(new double[] {Math.sqrt(4.5), Math.sqrt(12.5)},
                within(1e-15));
        assertThat(one("delay of n", "n=3", "initial=7").course("u", "y", u)).containsExactly(7, 7, 7, 1, 2, 3);
        assertThat(one("median", "n=3").course("u", "y", 5, 5, 99, 5, 6, 7)).containsExactly(0, 5, 5, 5, 6, 6);
    }

    @Test
    void theMedianIsTheMiddleOfTheSortedPast() {
        double[] u = new Random(3).doubles(60, -1, 1).toArray();
        for (int n : new int[] {5, 7, 9}) {
            double[] seen = one("median", "n=" + n).course("u", "y", u);
            for (int k = n; k < u.length; k++) {
                double[] window = Arrays.copyOfRange(u, k - n + 1, k + 1);
                Arrays.sort(window);
                assertThat(seen[k]).isEqualTo(window[n / 2]);
            }
        }
    }

    @Test
    void integrationMethods() {
        double[] u = {1, 2, 3, 4};
        assertThat(one("accumulator", "k=1000").course("u", "y", u)).containsExactly(0, 1, 3, 6);
        assertThat(one("accumulator", "k=1000", "method=backward").course("u", "y", u)).containsExactly(1, 3, 6, 10);
        assertThat(one("accumulator", "k=1000", "method=trapezoidal").course("u", "y", u)).containsExactly(0.5, 2, 4.5, 8);
    }

    @Test
    void anIntegratorStartsFromItsInput() {
        var s = Stepper.of(new PartBuilder("p").block("u", "inlet").block("s", "inlet").block("r", "inlet", "type=bool")
                .block("f", "accumulator", "k=1000").block("y", "outlet")
                .wire("u.y", "f.u").wire("s.y", "f.start").wire("r.y", "f.reset").wire("f.y", "y.u"));
        s.set("u", 1).set("s", 10);
        assertThat(s.step().out("y")).isEqualTo(10);
        s.advance();
        assertThat(s.step().out("y")).isEqualTo(11);
        s.set("s", 50).set("r", 1).advance();
        s.step().advance();
        assertThat(s.step().out("y")).isEqualTo(50);
    }

    @Test
    void aDerivativeOfARampIsItsSlope() {
        var s = one("derivative", "tf=5 ms");
        double y = 0;
        for (int k = 0; k < 100; k++) {
            y = s.set("u", 3 + 0.002 * k).step().out("y");
            assertThat(k == 0 ? y : 0).isZero();
            s.advance();
        }
        assertThat(y).isCloseTo(2, within(1e-6));
    }

    private static Stepper pid2(String... settings) {
        var b = new PartBuilder("p").block("r", "inlet").block("y", "inlet").block("m", "inlet", "type=bool").block("tr", "inlet")
                .block("f", "two-degree pid", settings)
                .block("u", "outlet").wire("r.y", "f.r").wire("y.y", "f.y").wire("m.y", "f.manual").wire("tr.y", "f.track")
                .wire("f.u", "u.u");
        return Stepper.of(b);
    }

    @Test
    void theChangeFromManualToAutomaticIsBumpless() {
        var s = pid2("kp=2", "ki=10", "low=-10", "high=10");
        s.set("r", 3).set("y", 1).set("m", 1).set("tr", 4.5).ticks(20);
        assertThat(s.step().out("u")).isEqualTo(4.5);
        s.set("m", 0).advance();
        assertThat(s.step().out("u")).isCloseTo(4.5, within(0.03));
    }

    @Test
    void setPointWeightsActOnTheSetPointAlone() {
        var s = pid2("kp=2", "b=0.25");
        assertThat(s.set("r", 4).set("y", 1).step().out("u")).isEqualTo(2 * (0.25 * 4 - 1));
        assertThat(pid2("form=ideal", "kp=3", "ki=100").set("r", 1).step().advance().step().out("u"))
                .isCloseTo(3 + 3 * 100 * 0.001, within(1e-12));
    }

    @ParameterizedTest
    @CsvSource({"clamping", "back-calculation"})
    void antiWindUpEndsTheLimitSoonerThanNone(String method) {
        assertThat(ticksAtLimit(method)).isLessThan(ticksAtLimit("none") / 4);
    }

    private static int ticksAtLimit(String method) {
        var s = pid2("kp=1", "ki=50", "low=-1", "high=1", "anti-windup=" + method, "tt=5 ms");
        s.set("r", 1).set("y", 0).ticks(500);
        s.set("r", 0).set("y", 0.5);
        int n = 0;
        while (s.step().out("u") >= 1 && n < 10_000) {
            s.advance();
            n++;
        }
        return n;
    }

    @Test
    void theKalmanGainOfAScalarSystemIsItsClosedForm() {
        // p = a² p r / (p + r) + q with a = 1, q = 1, r = 2: p² − p − 2 = 0, p = 2; gain p / (p + r) = 1/2.
        var gain = StateSpace.kalman(new SimpleMatrix(1, 1, true, 1.0), new SimpleMatrix(1, 1, true, 1.0),
                new SimpleMatrix(1, 1, true, 1.0),
                new SimpleMatrix(1, 1, true, 2.0));
        assertThat(gain.get(0, 0)).isCloseTo(0.5, within(1e-12));
    }

    @Test
    void anObserverFindsTheStatesOfItsSystem() {
        var b = new PartBuilder("p").block("u", "sine", "frequency=7 Hz").block("g", "state space in z", "A=[[0.9, 0.1], [0, 0.8]]",
                "B=[[0], [1]]", "C=[[1, 0]]", "D=[[0]]",
                "x0=[5, -3]").block("o", "observer", "A=[[0.9, 0.1], [0, 0.8]]", "B=[[0], [1]]", "C=[[1, 0]]", "gain=Kalman",
                "Q=[[1, 0], [0, 1]]", "R=[[0.1]]")
                .block("c", "state space in z", "A=[[0.9, 0.1], [0, 0.8]]", "B=[[0], [1]]", "C=[[1, 0], [0, 1]]", "D=[[0], [0]]",
                "x0=[5, -3]").block("e", "sum", "signs=+-")
                .block("n", "vector reduction", "what=length").block("y", "outlet").wire("u.y", "g.u").wire("u.y", "o.u").wire("g.y", "o.y")
                .wire("u.y", "c.u").wire("c.y", "e.u1")
                .wire("o.x", "e.u2").wire("e.y", "n.u").wire("n.y", "y.u");
        var s = Stepper.of(b);
        assertThat(s.step().out("y")).isCloseTo(Math.sqrt(34), within(1e-12));
        assertThat(s.ticks(200).step().out("y")).isLessThan(1e-9);
    }

    @Test
    void glitchesAreDroppedAndHoldsHold() {
        var s = Stepper.of(new PartBuilder("p").block("u", "inlet", "type=bool").block("f", "glitch filter", "n=3").block("y", "outlet")
                .wire("u.y", "f.u").wire("f.y", "y.u"));
        assertThat(s.course("u", "y", 1, 1, 0, 1, 1, 1, 1, 0, 0, 0)).containsExactly(0, 0, 0, 0, 0, 1, 1, 1, 1, 0);
        var h = Stepper.of(new PartBuilder("p").block("u", "inlet").block("t", "inlet", "type=bool").block("f", "hold", "initial=9")
                .block("y", "outlet").wire("u.y", "f.u")
                .wire("t.y", "f.take").wire("f.y", "y.u"));
        assertThat(h.course("u", "y", 1, 2)).containsExactly(9, 9);
        h.set("t", 1);
        assertThat(h.course("u", "y", 3)).containsExactly(3);
        h.set("t", 0);
        assertThat(h.course("u", "y", 4)).containsExactly(3);
    }

    @Test
    void nonIdealElements() {
        assertThat(one("backlash", "width=2").course("u", "y", 0, 0.5, 2, 3, 2.5, 1.5, 0)).containsExactly(0, 0, 1, 2, 2, 2, 1);
        assertThat(one("relay", "low=-1", "high=1", "on=5", "off=-5").course("u", "y", 0, 2, 0, -2, 0)).containsExactly(-5, 5, 5, -5, -5);
        assertThat(one("quantiser", "step=0.5").course("u", "y", 0.2, 0.25, -0.3)).containsExactly(0, 0.5, -0.5);
        var f = Stepper.of(new PartBuilder("p").block("u", "inlet").block("f", "friction", "Fc=10", "Fs=15", "vs=0.1", "b=2", "v0=1e-3")
                .block("y", "outlet").wire("u.y", "f.v")
                .wire("f.F", "y.u"));
        assertThat(f.set("u", 0).step().out("y")).isZero();
        assertThat(f.set("u", 0.01).step().out("y")).isCloseTo(-(10 + 5 * Math.exp(-0.01)) - 0.02, within(1e-12));
        assertThat(f.set("u", -5).step().out("y")).isCloseTo(20, within(1e-9));
    }

    @Test
    void sources() {
        assertThat(source("ramp", "at=2 ms", "slope=1000", "limit=2").course("y", 7))
                .containsExactly(new double[] {0, 0, 0, 1, 2, 2, 2}, within(1e-9));
        assertThat(source("square", "frequency=250 Hz", "amplitude=3", "bias=1").course("y", 5)).containsExactly(4, 4, -2, -2, 4);
        assertThat(source("triangle", "frequency=250 Hz").course("y", 5)).containsExactly(new double[] {-1, 0, 1, 0, -1}, within(1e-9));
        assertThat(source("time").course("y", 3)).containsExactly(0, 0.001, 0.002);
        double[] chirp = source("chirp", "from=10 Hz", "to=20 Hz", "duration=1 s").course("y", 500);
        assertThat(chirp[300]).isCloseTo(Math.sin(2 * Math.PI * (10 * 0.3 + 10 * 0.09 / 2)), within(1e-9));
    }

    @Test
    void playback() {
        String data = "time,a,b\n0,1,10\n0.002,3,30\n0.004,-1,-10\n";
        assertThat(source("playback", "data=" + data).course("y", 6)).containsExactly(new double[] {1, 2, 3, 1, -1, -1}, within(1e-5));
        assertThat(source("playback", "data=" + data, "column=b", "between=hold", "end=repeat").course("y", 6))
                .containsExactly(10, 10, 30, 30, 10, 10);
        assertThat(new PartBuilder("p").block("f", "playback", "data=time,a\n0,1\n0,x\n").block("y", "outlet").wire("f.y", "y.u").lower()
                .findings())
                .anyMatch(f -> f.cause().contains("Line 3 of the table"));
    }

    @Test
    void noiseHasItsMomentsAndItsSeed() {
        double[] g = source("noise", "spread=2", "mean=1").course("y", 20_000);
        double mean = Arrays.stream(g).average().orElseThrow();
        double variance = Arrays.stream(g).map(x -> (x - mean) * (x - mean)).average().orElseThrow();
        assertThat(mean).isCloseTo(1, within(0.05));
        assertThat(Math.sqrt(variance)).isCloseTo(2, within(0.05));
        assertThat(source("noise", "spread=2", "mean=1").course("y", 100)).isEqualTo(Arrays.copyOf(g, 100));
        assertThat(source("noise", "seed=2", "spread=2", "mean=1").course("y", 100)).isNotEqualTo(Arrays.copyOf(g, 100));
        double[] u = source("noise", "kind=uniform", "spread=3").course("y", 20_000);
        assertThat(Arrays.stream(u).max().orElseThrow()).isBetween(2.9, 3.0);
        assertThat(Arrays.stream(u).map(x -> x * x).average().orElseThrow()).isCloseTo(3, within(0.1));
    }
}
