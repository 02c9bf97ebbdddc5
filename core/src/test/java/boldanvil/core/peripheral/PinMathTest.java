package boldanvil.core.peripheral;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.DoubleRange;
import net.jqwik.api.constraints.IntRange;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class PinMathTest {
    private static final Board SWAGE = Boards.shipped().find("swage32").orElseThrow();
    private static final Board CLINKER = Boards.shipped().find("clinker16").orElseThrow();
    private static final PinMath.Scale TWELVE = new PinMath.Scale(12, 3.3);

    @ParameterizedTest
    @CsvSource({"0, 0", "3.3, 4095", "-1, 0", "9, 4095", "1.65, 2048", "0.0004, 0", "0.0005, 1", "NaN, 0"})
    void theConverterRoundsAndHolds(double volts, int count) {
        assertThat(TWELVE.count(volts)).isEqualTo(count);
    }

    @Property(tries = 200)
    void quantisingCostsAtMostHalfACount(@ForAll @DoubleRange(min = 0, max = 3.29) double volts) {
        assertThat(Math.abs(TWELVE.volts(TWELVE.count(volts)) - volts)).isLessThanOrEqualTo(TWELVE.voltsPerCount() / 2 + 1e-15);
    }

    @ParameterizedTest
    @CsvSource({"0, 2", "100e-9, 4", "250e-9, 8", "1e-6, 32", "4e-6, 128", "1, 128"})
    void theShortestSamplingTimeThatIsLongEnough(double asked, int cycles) {
        var s = PinMath.sampling(SWAGE.converters().getFirst(), 28e6, asked);
        assertThat(s.samplingSeconds()).isCloseTo(cycles / 28e6, within(1e-15));
        assertThat(s.seconds()).isCloseTo((cycles + 13) / 28e6, within(1e-15));
    }

    @ParameterizedTest
    @CsvSource({"20000, false, 1, 8400, 20000", "20000, true, 1, 4200, 20000", "50, false, 64, 52500, 50", "1e6, false, 1, 168, 1e6"})
    void theTimerTakesTheSmallestPrescaler(double wanted, boolean centre, int prescaler, int period, double hertz) {
        var t = PinMath.pwm(SWAGE.timers().getFirst(), 168e6, wanted, centre);
        assertThat(t.prescaler()).isEqualTo(prescaler);
        assertThat(t.period()).isEqualTo(period);
        assertThat(t.hertz()).isCloseTo(hertz, within(1e-6 * hertz));
        assertThat(t.dutyStep()).isEqualTo(1.0 / period);
        assertThat(t.bits()).isCloseTo(Math.log(period) / Math.log(2), within(1e-12));
    }

    @Test
    void frequenciesOutOfReachAreNone() {
        assertThat(PinMath.pwm(SWAGE.timers().getFirst(), 168e6, 1, false)).isNull();
        assertThat(PinMath.pwm(SWAGE.timers().getFirst(), 168e6, 200e6, false)).isNull();
        assertThat(PinMath.pulse(SWAGE.timers().getFirst(), 168e6, 1)).isEqualTo(PinMath.Pulse.OFF);
        assertThat(PinMath.pulse(SWAGE.timers().getFirst(), 168e6, Double.NaN)).isEqualTo(PinMath.Pulse.OFF);
        assertThat(PinMath.capture(CLINKER.timer("K0").orElseThrow(), 24e6, 0.1)).isNull();
    }

    @Property(tries = 100)
    void aDutyCycleIsKeptToHalfAStepAndHeld(@ForAll @DoubleRange(min = -1, max = 2) double duty) {
        var t = PinMath.pwm(SWAGE.timers().getFirst(), 168e6, 20_000, false);
        assertThat(Math.abs(t.duty(t.compare(duty)) - Math.clamp(duty, 0, 1))).isLessThanOrEqualTo(t.dutyStep() / 2 + 1e-15);
        assertThat(t.compare(Double.NaN)).isZero();
    }

    @Property(tries = 100)
    void aDeadTimeIsNeverShorterThanAsked(@ForAll @IntRange(min = 1, max = 12_000) int nanos) {
        double asked = nanos * 1e-9;
        var d = PinMath.deadTime(SWAGE.timers().getFirst().deadTime(), 168e6, asked);
        assertThat(d.seconds()).isBetween(asked - 1e-14, asked + d.prescaler() / 168e6);
        assertThat(d.count()).isLessThanOrEqualTo(255);
    }

    @Test
    void aDeadTimeThatIsTooLong() {
        assertThat(PinMath.deadTime(SWAGE.timers().getFirst().deadTime(), 168e6, 20e-6)).isNull();
        assertThat(PinMath.deadTime(SWAGE.timers().getFirst().deadTime(), 168e6, 0)).isEqualTo(PinMath.Dead.NONE);
    }

    @Property(tries = 100)
    void aWatchdogNeverBitesEarly(@ForAll @IntRange(min = 1, max = 10_000) int millis) {
        var d = PinMath.watchdog(SWAGE.watchdog(), millis * 1e-3);
        assertThat(d.seconds()).isBetween(millis * 1e-3 - 1e-9, millis * 1e-3 + d.prescaler() / SWAGE.watchdog().hertz());
    }

    @ParameterizedTest
    @CsvSource({"115200, 365, 115068.5", "9600, 4375, 9600", "1e6, 42, 1e6"})
    void aSerialPortsDivisor(double asked, int divisor, double reached) {
        // 42 MHz, oversampled 16 times, 4 fractional bits: rate = 42e6 · 16 / (16 · divisor).
        var b = PinMath.baud(SWAGE.serialPorts().getFirst(), 42e6, asked);
        assertThat(b.divisor()).isEqualTo(divisor);
        assertThat(b.reached()).isCloseTo(reached, within(0.1));
        assertThat(b.reached()).isCloseTo(42e6 / divisor, within(1e-6));
    }

    @ParameterizedTest
    @CsvSource({"1e6, 21, 2", "500e3, 21, 4", "250e3, 24, 7", "125e3, 24, 14"})
    void aCanBitTimeIsSampledLate(double asked, int quanta, int prescaler) {
        var t = PinMath.can(SWAGE.cans().getFirst(), 42e6, asked);
        assertThat(t.bitsPerSecond()).isEqualTo(asked);
        assertThat(t.quanta()).isEqualTo(quanta);
        assertThat(t.prescaler()).isEqualTo(prescaler);
        assertThat(t.samplePoint()).isBetween(0.8, 0.9);
    }

    @Property(tries = 100)
    void encoderCountsNeverRunAhead(@ForAll @DoubleRange(min = -1e4, max = 1e4) double angle) {
        double back = PinMath.encoderCount(512, angle) * PinMath.radiansPerCount(512);
        assertThat(angle - back).isBetween(-1e-9, PinMath.radiansPerCount(512) + 1e-9);
    }

    @ParameterizedTest
    @CsvSource({"0, 0", "60e-9, 100e-9", "100e-9, 100e-9", "1, 800e-9"})
    void aGlitchFilterIsAtLeastAsLongAsAskedWhereItCan(double asked, double made) {
        assertThat(PinMath.filter(SWAGE.timer("Q1").orElseThrow().filterNanos(), asked)).isCloseTo(made, within(1e-15));
    }

    /** Edges of random settings, measured back: frequency, duty cycle and dead time to one count of the timer. */
    @Property(tries = 200)
    void edgesMeasuredBackAreWhatWasSet(@ForAll @IntRange(min = 1, max = 8) int prescaler,
            @ForAll @IntRange(min = 50, max = 60_000) int period, @ForAll boolean centre,
            @ForAll @DoubleRange(min = 0.05, max = 0.95) double duty, @ForAll @IntRange(min = 1, max = 200) int dead) {
        var timer = new PinMath.PwmTimer(prescaler, period, centre, 1);
        var e = new PinEdges(prescaler, period, centre, timer.compare(duty), dead);
        long length = (long) prescaler * period * (centre ? 2 : 1);
        assertThat(e.length()).isEqualTo(length);
        long on = Math.round(duty * length);
        long count = prescaler * (centre ? 2L : 1L);
        if (on > dead + count && length - on > dead + count) {
            assertThat(e.capturedPeriod(false)).isEqualTo(length);
            assertThat(e.capturedPeriod(true)).isEqualTo(length);
            assertThat((double) e.capturedHigh(false)).isCloseTo(on - dead, within(count / 2.0 + 0.5));
            assertThat((double) e.capturedHigh(true)).isCloseTo(length - on - dead, within(count / 2.0 + 0.5));
            assertThat(e.capturedDead()).isEqualTo(dead);
        }
    }

    /** Never are both outputs of a pair on, whatever the duty cycle and the dead time. */
    @Property(tries = 200)
    void aPairIsNeverOnTogether(@ForAll @IntRange(min = 2, max = 500) int period, @ForAll @DoubleRange(min = 0, max = 1) double duty,
            @ForAll @IntRange(min = 1, max = 300) int dead,
            @ForAll boolean centre) {
        var e = new PinEdges(1, period, centre, new PinMath.PwmTimer(1, period, centre, 1).compare(duty), dead);
        boolean high = false;
        boolean low = false;
        boolean known = false;
        for (var edge : e.edges(4)) {
            if (edge.low()) {
                low = edge.rising();
            } else {
                high = edge.rising();
            }
            // The first period begins with levels that no edge has told yet.
            known |= edge.at() >= e.length();
            assertThat(known && high && low).as("%s at %d", e, edge.at()).isFalse();
        }
    }
}
