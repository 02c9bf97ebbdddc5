package boldanvil.core.target;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.diagram.Mapping;
import org.junit.jupiter.api.Test;

/** What channels do to signals. */
class SignalTest {
    private static final Board HEARTH = Boards.shipped().find("hearth-rt8").orElseThrow();

    private static Signal signal(String channel, Mapping.Row row) {
        return new Signal(TargetChannel.find(HEARTH, channel).orElseThrow(), row, 10e-9, 20_000);
    }

    private static Mapping.Row row() {
        return Mapping.Row.plain("x", "AO1");
    }

    @Test
    void theTargetHasTheChannelsOfItsKind() {
        var counts = TargetChannel.of(HEARTH).stream().collect(java.util.stream.Collectors.groupingBy(TargetChannel::kind,
                java.util.stream.Collectors.counting()));
        assertThat(counts).containsEntry(ChannelKind.ANALOG_IN, 8L).containsEntry(ChannelKind.ANALOG_OUT, 8L)
                .containsEntry(ChannelKind.DIGITAL_IN, 16L).containsEntry(ChannelKind.DIGITAL_OUT, 16L)
                .containsEntry(ChannelKind.ENCODER_IN, 4L).containsEntry(ChannelKind.ENCODER_OUT, 4L)
                .containsEntry(ChannelKind.PWM_IN, 8L).containsEntry(ChannelKind.PWM_OUT, 8L);
        assertThat(HEARTH.target().cores()).isEqualTo(4);
    }

    @Test
    void sixteenBitsOverTwentyVolts() {
        double count = 20.0 / 65_536;
        var s = signal("AO1", row());
        assertThat(s.through(0)).isZero();
        for (double v = -9.99; v < 9.99; v += 0.0137) {
            assertThat(s.through(v)).isCloseTo(v, within(count / 2 * 1.000001));
            assertThat(s.through(v) / count).isEqualTo(Math.rint(v / count));
        }
        assertThat(s.through(12)).isEqualTo(10 - count);
        assertThat(s.through(-12)).isEqualTo(-10);
    }

    @Test
    void aScaleUsesMoreOfTheRangeAndIsUndoneOutside() {
        double count = 20.0 / 65_536;
        var s = signal("AO1", row().scaled(3, 1).within(0, 9.9));
        assertThat(s.through(1.2345)).isCloseTo(1.2345, within(count / 3 / 2 * 1.000001));
        assertThat(s.through(5)).as("9.9 V at the channel").isCloseTo((9.9 - 1) / 3, within(count));
        assertThat(s.through(-5)).as("0 V at the channel").isCloseTo(-1 / 3.0, within(count));
    }

    @Test
    void anOutputStandsAtThePinOnceItHasSettled() {
        var s = signal("AO1", row());
        s.send(1.25, 2e-6);
        s.send(2.5, 22e-6);
        assertThat(s.at(1e-6)).isZero();
        assertThat(s.at(2e-6)).isEqualTo(1.25);
        assertThat(s.at(21e-6)).isEqualTo(1.25);
        assertThat(s.at(40e-6)).isEqualTo(2.5);
        s.rest();
        assertThat(s.at(41e-6)).isZero();
    }

    @Test
    void theFilterIsOfFirstOrder() {
        var s = signal("AI1", Mapping.Row.plain("x", "AI1").filtered(1_000));
        assertThat(s.filtered(0, 0)).isZero();
        double tau = 1 / (2 * Math.PI * 1_000);
        for (int k = 1; k < 100; k++) {
            assertThat(s.filtered(5, k * 20e-6)).isCloseTo(5 * (1 - Math.exp(-k * 20e-6 / tau)), within(1e-12));
        }
    }

    @Test
    void anEncoderCountsEdges() {
        var s = signal("EO1", Mapping.Row.plain("x", "EO1").withLines(500));
        double angle = 2 * Math.PI / 2_000;
        assertThat(s.through(10.7 * angle)).isCloseTo(10 * angle, within(1e-12));
        assertThat(s.through(-0.1 * angle)).isCloseTo(-angle, within(1e-12));
        assertThat(s.through(7 * angle)).as("on an edge").isCloseTo(7 * angle, within(1e-12));
    }

    @Test
    void pulsesAreMadeToTheStamp() {
        var s = signal("PO1", Mapping.Row.plain("x", "PO1"));
        assertThat(s.through(0.333333)).isCloseTo(Math.rint(0.333333 * 5_000) / 5_000, within(1e-12));
        assertThat(s.through(1.5)).isEqualTo(1);
    }
}
