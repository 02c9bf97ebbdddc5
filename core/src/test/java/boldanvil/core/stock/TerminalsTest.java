package boldanvil.core.stock;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.program.TerminalKind;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.Stepper;
import org.junit.jupiter.api.Test;

class TerminalsTest {
    @Test
    void anAnalogInputIsScaled() {
        var b = new PartBuilder("t").block("shunt", "analog in", "offset=1.65 V", "sensitivity=0.05 V/A", "unit=A").block("i", "tap",
                "unit=A").wire("shunt.y", "i.u");
        assertThat(Stepper.of(b).set("shunt", 2.15).step().tap("i")).isCloseTo(10, within(1e-12));
        assertThat(b.program().port("shunt").orElseThrow().slot().unit()).isEqualTo("V");
    }

    @Test
    void aSensitivityOfZeroIsAFinding() {
        var l = new PartBuilder("t").block("shunt", "analog in", "sensitivity=0").block("i", "tap").wire("shunt.y", "i.u").lower();
        assertThat(l.findings()).singleElement().satisfies(f -> assertThat(f.cause()).contains("sensitivity is 0"));
    }

    @Test
    void aPwmOutputHoldsItsDutyCycle() {
        var s = Stepper.of(new PartBuilder("t").block("d", "inlet").block("leg", "pwm out", "least=0.1", "greatest=0.9").wire("d.y", "leg.u"));
        assertThat(s.course("d", "leg", -1, 0.5, 2)).containsExactly(0.1, 0.5, 0.9);
    }

    @Test
    void digitalTerminalsKnowTheirActiveLevel() {
        var s = Stepper.of(new PartBuilder("t").block("key", "digital in", "active=low").block("lamp", "digital out", "active=low")
                .block("seen", "tap").wire("key.y", "lamp.u").wire("key.y", "seen.u"));
        assertThat(s.set("key", 0).step().tap("seen")).isEqualTo(1);
        assertThat(s.out("lamp")).isZero();
        assertThat(s.set("key", 1).step().out("lamp")).isEqualTo(1);
    }

    @Test
    void anEncoderPassesItsAngle() {
        var s = Stepper.of(new PartBuilder("t").block("shaft", "encoder in").block("out", "outlet").wire("shaft.y", "out.u"));
        assertThat(s.set("shaft", 3.5).step().out("out")).isEqualTo(3.5);
    }

    @Test
    void portsTellTheirKindAndNumbers() {
        var p = new PartBuilder("t").block("leg", "pwm out", "frequency=16 kHz", "alignment=centre").block("c", "constant", "value=0.5")
                .wire("c.y", "leg.u").program().port("leg").orElseThrow();
        assertThat(p.terminal()).isEqualTo(TerminalKind.PWM_OUT);
        assertThat(p.numbers()).containsEntry("frequency", 16e3).containsKey("alignment=centre");
        assertThat(p.isInput()).isFalse();
    }

    @Test
    void aTerminalWithinASubsystemIsAFinding() {
        var l = new PartBuilder("t").block("sub", "subsystem", "sheet=inner").sheet("inner").block("shaft", "encoder in").lower();
        assertThat(l.findings()).singleElement().satisfies(f -> {
            assertThat(f.place()).isEqualTo("t/sub/shaft");
            assertThat(f.cause()).contains("within a subsystem");
        });
    }
}
