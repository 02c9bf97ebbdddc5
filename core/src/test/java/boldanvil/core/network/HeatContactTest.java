package boldanvil.core.network;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What elements lose comes out of their heat contacts. */
class HeatContactTest {
    private static PartBuilder plant(String step) {
        return new PartBuilder("p").plant(step, "rk4").block("gnd", "ground").block("air", "ambient", "T=300").block("T", "tap")
                .block("probe", "thermometer").wire("probe.T", "T.u").block("fins", "thermal resistance", "R=2")
                .net("fins.b", "air.a").net("probe.a", "fins.a");
    }

    /** Mean of a tap over the last of some ticks. */
    private static double mean(Stepper s, String tap, int before, int over) {
        s.ticks(before);
        double sum = 0;
        for (int n = 0; n < over; n++) {
            s.step();
            sum += s.tap(tap);
            s.advance();
        }
        return sum / over;
    }

    @Test
    void aResistorWarmsByItsVoltageTimesItsCurrent() {
        var b = plant("1 ms").block("v", "voltage source", "V=12").block("r", "resistor", "R=6", "heat contact=yes")
                .net("v.a", "r.a").net("v.b", "r.b", "gnd.a").net("r.heat", "fins.a");
        // 24 W over 2 K/W.
        assertThat(mean(Stepper.of(b), "T", 2, 1)).isCloseTo(348, within(1e-9));
    }

    /** A winding of 0.5 Ω with 4 A, held at rest: 8 W, whatever the machine drives. */
    @Test
    void aMachineWarmsByItsWindingAlone() {
        var b = plant("100 us").block("i", "current source", "I=4").block("m", "dc machine", "R=0.5", "L=1e-3", "k=0.05",
                "heat contact=yes")
                .block("shaft", "inertia", "J=1e-3").net("i.a", "m.a").net("i.b", "m.b", "gnd.a").net("m.shaft", "shaft.a")
                .net("m.heat", "fins.a").block("mass", "heat capacity", "C=1", "T0=300").net("mass.a", "fins.a");
        b.block("r", "resistor", "R=1 Mohm").net("i.a", "r.a").net("i.b", "r.b");
        // After two time constants of 2 s the shaft has become fast; the winding does not notice.
        assertThat(mean(Stepper.of(b), "T", 40_000, 1)).isCloseTo(300 + 16 * (1 - Math.exp(-2)), within(1e-2));
    }

    /**
     * A pulsed switch into a resistance: the mean of what both lose, by the share of time each way, and the diode beside it idle.
     */
    @ParameterizedTest
    @CsvSource({"pulsed switch, 0.37", "pulsed mosfet, 0.81"})
    void aSwitchWarmsByItsShareOfTime(String type, double duty) {
        var b = plant("3 us").block("v", "voltage source", "V=48").block("d", "constant", "value=" + duty)
                .block("s", type, "frequency=20 kHz", "on resistance=0.5", "off resistance=1 Mohm", "heat contact=yes")
                .block("r", "resistor", "R=7.5").wire("d.y", "s.duty").net("v.a", "s.a").net("s.b", "r.a").net("v.b", "r.b", "gnd.a")
                .net("s.heat", "fins.a").block("mass", "heat capacity", "C=1e-3", "T0=300").net("mass.a", "fins.a");
        // 6 A while on: 18 W times the duty, behind five time constants of 2 ms and over 60 periods.
        double off = 48.0 * 48 / 1e6 * (1 - duty);
        assertThat(mean(Stepper.of(b), "T", 10_000, 1000)).isCloseTo(300 + 2 * (18 * duty + off), within(0.02));
    }

    /** What an interrupted current leaves in an open switch is not counted for half a step. */
    @Test
    void anInterruptedCurrentDoesNotBurnTheSwitch() {
        var b = plant("1 us").block("v", "voltage source", "V=10").block("on", "step", "at=50 us", "before=1", "after=0")
                .block("is", "threshold", "relation=>", "value=0.5")
                .block("s", "circuit switch", "on resistance=10 mohm", "off resistance=1 Mohm", "heat contact=yes")
                .block("l", "inductor", "L=1 mH").block("r", "resistor", "R=1");
        b = b.wire("on.y", "is.u").wire("is.y", "s.on").net("v.a", "s.a").net("s.b", "l.a").net("l.b", "r.a").net("v.b", "r.b", "gnd.a")
                .net("s.heat", "fins.a").block("mass", "heat capacity", "C=1e-3", "T0=300").net("mass.a", "fins.a");
        double i = 10 / 1.01 * (1 - Math.exp(-50e-6 * 1.01 / 1e-3));
        double stored = 1e-3 * i * i / 2;
        // Half a step at 1 MΩ and that current would be more than 80 mJ.
        assertThat(mean(Stepper.of(b), "T", 60, 1) - 300).isLessThan(2 * stored / 1e-3);
    }

    @Test
    void aHeatContactThatLeadsNowhereIsReported() {
        var b = plant("1 ms").block("v", "voltage source", "V=12").block("r", "resistor", "R=6", "heat contact=yes")
                .net("v.a", "r.a").net("v.b", "r.b", "gnd.a");
        assertThat(b.lower().findings()).singleElement().asString().startsWith("p/r: The heat contact of 'r' leads nowhere.");
    }
}
