package boldanvil.core.board;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.diagram.Patch;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.program.Program;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.testing.PartBuilder;
import java.util.List;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.DoubleRange;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class BoardTest {
    private static final Board SWAGE = Boards.shipped().find("swage32").orElseThrow();

    @Test
    void swage32IsAsItsSheetSays() {
        assertThat(SWAGE.pins()).hasSize(64);
        assertThat(SWAGE.clockHz()).isEqualTo(168e6);
        assertThat(SWAGE.flashBytes()).isEqualTo(512 * 1024);
        assertThat(SWAGE.ramBytes()).isEqualTo(128 * 1024);
        assertThat(SWAGE.channels(TerminalKind.ANALOG_IN)).hasSize(16);
        assertThat(SWAGE.channels(TerminalKind.PWM_OUT)).hasSize(6);
        assertThat(SWAGE.channels(TerminalKind.ENCODER_IN)).hasSize(2);
        assertThat(SWAGE.channels()).allSatisfy(c -> c.pins().forEach(p -> {
            for (String one : p.split(",")) {
                assertThat(SWAGE.hasPin(one)).as(one).isTrue();
            }
        }));
    }

    @Test
    void anUnknownBoardIsAFinding() {
        assertThat(Boards.shipped().find("swage33")).isEmpty();
        assertThatThrownBy(() -> Boards.shipped().require("here", "swage33")).isInstanceOf(FindingException.class).hasMessageContaining("swage32");
    }

    @ParameterizedTest
    @CsvSource({"0, 0", "3.3, 4095", "-1, 0", "9, 4095", "1.65, 2048", "0.0004, 0", "0.0005, 1", "NaN, 0"})
    void theConverterRoundsAndHolds(double volts, int count) {
        assertThat(PinMath.adcCount(SWAGE, volts)).isEqualTo(count);
    }

    @Property(tries = 200)
    void quantisingCostsAtMostHalfACount(@ForAll @DoubleRange(min = 0, max = 3.29) double volts) {
        double back = PinMath.adcCount(SWAGE, volts) * PinMath.adcVoltsPerCount(SWAGE);
        assertThat(Math.abs(back - volts)).isLessThanOrEqualTo(PinMath.adcVoltsPerCount(SWAGE) / 2 + 1e-15);
    }

    @ParameterizedTest
    @CsvSource({"20000, false, 1, 8400, 20000", "20000, true, 1, 4200, 20000", "50, false, 64, 52500, 50", "1e6, false, 1, 168, 1e6"})
    void theTimerTakesTheSmallestPrescaler(double wanted, boolean centre, int prescaler, int period, double hertz) {
        var t = PinMath.pwm(SWAGE, wanted, centre);
        assertThat(t.prescaler()).isEqualTo(prescaler);
        assertThat(t.period()).isEqualTo(period);
        assertThat(t.hertz()).isCloseTo(hertz, within(1e-6 * hertz));
        assertThat(t.dutyStep()).isEqualTo(1.0 / period);
    }

    @Test
    void frequenciesOutOfReachAreNone() {
        assertThat(PinMath.pwm(SWAGE, 1, false)).isNull();
        assertThat(PinMath.pwm(SWAGE, 200e6, false)).isNull();
    }

    @Property(tries = 100)
    void aDutyCycleIsKeptToHalfAStep(@ForAll @DoubleRange(min = 0, max = 1) double duty) {
        var t = PinMath.pwm(SWAGE, 20_000, false);
        assertThat(Math.abs(t.duty(t.compare(duty)) - duty)).isLessThanOrEqualTo(t.dutyStep() / 2 + 1e-15);
    }

    @Test
    void dutyCyclesAreHeld() {
        var t = PinMath.pwm(SWAGE, 20_000, false);
        assertThat(t.compare(-3)).isZero();
        assertThat(t.compare(7)).isEqualTo(8400);
        assertThat(t.compare(Double.NaN)).isZero();
    }

    @Property(tries = 100)
    void encoderCountsNeverRunAhead(@ForAll @DoubleRange(min = -1e4, max = 1e4) double angle) {
        double back = PinMath.encoderCount(512, angle) * PinMath.radiansPerCount(512);
        assertThat(angle - back).isBetween(-1e-9, PinMath.radiansPerCount(512) + 1e-9);
    }

    private static Program program() {
        return new PartBuilder("c").block("shunt", "analog in", "offset=1.65 V", "sensitivity=0.05 V/A").block("shaft", "encoder in")
                .block("key", "digital in").block("leg", "pwm out").block("lamp", "digital out").block("i", "tap").block("half", "constant",
                "value=0.5").block("t", "tap").wire("shunt.y", "i.u").wire("shaft.y", "t.u").wire("half.y", "leg.u").wire("key.y", "lamp.u")
                .program();
    }

    private static Patch good() {
        return new Patch("swage32", List.of(new Patch.Row("shunt", "ADC1.2", "W3", ""), new Patch.Row("shaft", "Q1", "N13,N14", ""),
                new Patch.Row("key", "G.E13", "E13", ""), new Patch.Row("leg", "T1.A", "N1", ""), new Patch.Row("lamp", "G.S12", "S12", "")));
    }

    private static Finding only(Patch patch) {
        var findings = PatchCheck.check(Boards.shipped(), program(), patch, true);
        assertThat(findings).hasSize(1);
        return findings.getFirst();
    }

    @Test
    void aGoodPatchHasNoFindings() {
        assertThat(PatchCheck.check(Boards.shipped(), program(), good(), true)).isEmpty();
    }

    @Test
    void twoTerminalsOnOnePin() {
        Finding f = only(good().with(new Patch.Row("lamp", "G.E13", "E13", "")));
        assertThat(f.place()).isEqualTo("patch · c/lamp");
        assertThat(f.cause()).contains("Pin E13").contains("'key'");
    }

    @Test
    void anEncoderTakesBothItsPins() {
        Finding f = only(new Patch("swage32", good().rows()).with(new Patch.Row("shaft", "Q2", "E1,E2", ""))
                .with(new Patch.Row("key", "G.E2", "E2", "")));
        assertThat(f.cause()).contains("E2");
    }

    @Test
    void aPinTheChannelDoesNotHave() {
        assertThat(only(good().with(new Patch.Row("shunt", "ADC1.2", "W9", ""))).cure()).contains("W3");
    }

    @Test
    void aChannelOfAnotherKind() {
        assertThat(only(good().with(new Patch.Row("leg", "ADC1.5", "W6", ""))).cause()).contains("no PWM out");
    }

    @Test
    void aTerminalWithoutAPlaceMattersOnlyOnADevice() {
        var open = good().with(new Patch.Row("lamp", "", "", ""));
        assertThat(only(open).cause()).contains("no peripheral and pin");
        assertThat(PatchCheck.check(Boards.shipped(), program(), open, false)).isEmpty();
    }

    @Test
    void aRowWithoutItsTerminalIsADoubt() {
        assertThat(only(good().with(new Patch.Row("ghost", "G.E16", "E16", ""))).isError()).isFalse();
    }

    @Test
    void anUnknownBoardInThePatch() {
        assertThat(only(new Patch("abacus", good().rows())).cause()).contains("abacus");
    }

    @Test
    void aPlainPortOnADevice() {
        var p = new PartBuilder("c").block("in", "inlet").block("t", "tap").wire("in.y", "t.u").program();
        assertThat(PatchCheck.check(Boards.shipped(), p, new Patch("swage32", List.of()), true)).singleElement()
                .satisfies(f -> assertThat(f.cause()).contains("is no terminal"));
    }

    @Test
    void aFrequencyOutOfReach() {
        var p = new PartBuilder("c").block("leg", "pwm out", "frequency=1 Hz").block("c", "constant").wire("c.y", "leg.u").program();
        assertThat(PatchCheck.check(Boards.shipped(), p, new Patch("swage32", List.of(new Patch.Row("leg", "T1.A", "N1", ""))), true)).singleElement()
                .satisfies(f -> assertThat(f.cause()).contains("cannot make 1.0 Hz"));
    }

    private static String facts(String port) {
        return PatchNumbers.of(SWAGE, program().port(port).orElseThrow()).toString();
    }

    @Test
    void theNumbersThatFollow() {
        assertThat(facts("shunt")).contains("counts per unit 62.06").contains("one count is 0.01611").contains("-33.00 … 33.00");
        assertThat(facts("shaft")).contains("counts per turn 2048").contains("3.068 mrad").contains("32 turns");
        assertThat(facts("leg")).contains("real frequency 20000 Hz").contains("counts per period 8400");
        assertThat(facts("key")).contains("3.300 V");
    }

    @Test
    void aModelSeenThroughTheBoardQuantises() {
        var p = program();
        var t = new BoardTerminals(JvmCompiler.compile(p).instantiate(), p, SWAGE);
        var shunt = p.port("shunt").orElseThrow().slot();
        t.set(shunt, 1.7001);
        t.sample();
        t.step();
        t.advance();
        double lsb = PinMath.adcVoltsPerCount(SWAGE);
        assertThat(t.get(shunt)).isEqualTo(Math.rint(1.7001 / lsb) * lsb);
        assertThat(t.get(p.port("leg").orElseThrow().slot())).isEqualTo(0.5);
        t.init();
        assertThat(t.get(shunt)).isZero();
    }

    @Test
    void clinker16IsAsItsSheetSays() {
        var clinker = Boards.shipped().find("clinker16").orElseThrow();
        assertThat(clinker.pins()).hasSize(28);
        assertThat(clinker.clockHz()).isEqualTo(24e6);
        assertThat(clinker.flashBytes()).isEqualTo(64 * 1024);
        assertThat(clinker.ramBytes()).isEqualTo(4 * 1024);
        assertThat(clinker.floatBits()).isZero();
        assertThat(clinker.channels(TerminalKind.PWM_OUT)).hasSize(4);
        assertThat(clinker.channels(TerminalKind.ENCODER_IN)).isEmpty();
        // 24 MHz, centre aligned 20 kHz: 75 counts behind a divider of 8, 6.23 bits.
        var timer = PinMath.pwm(clinker, 20_000, true);
        assertThat(timer.prescaler()).isEqualTo(8);
        assertThat(timer.period()).isEqualTo(75);
        assertThat(timer.hertz()).isEqualTo(20_000);
    }

    private static String file(String name) throws java.io.IOException {
        try (var in = Boards.class.getResourceAsStream("clinker16.json")) {
            return new String(in.readAllBytes(), java.nio.charset.StandardCharsets.UTF_8).replace("\"clinker16\"", '"' + name + '"').replace("Clinker 16", "My board");
        }
    }

    private static java.util.List<boldanvil.core.finding.Finding> wrong(String text) {
        return Boards.of(boldanvil.core.diagram.Project.empty("p").withBoards(java.util.Map.of("mine", text))).findings();
    }

    @Test
    void aBoardOfOnesOwnIsACopiedFile() throws java.io.IOException {
        var boards = Boards.of(boldanvil.core.diagram.Project.empty("p").withBoards(java.util.Map.of("mine", file("mine").replace("24000000", "32e6"))));
        assertThat(boards.findings()).isEmpty();
        assertThat(boards.names()).containsExactly("swage32", "clinker16", "mine");
        assertThat(boards.find("mine").orElseThrow().clockHz()).isEqualTo(32e6);
        assertThat(Boards.shipped().find("mine")).isEmpty();
    }

    @Test
    void aBrokenBoardFileIsAFindingWithPlaceAndCure() throws java.io.IOException {
        String good = file("mine");
        assertThat(wrong(good.replace("\"ramBytes\": 4096,", "\"ramBytes\": 4096"))).singleElement().satisfies(f -> {
            assertThat(f.place()).startsWith("boards/mine.json:8:");
            assertThat(f.cause()).contains("no valid JSON");
        });
        assertThat(wrong(good.replace("\"ramBytes\": 4096", "\"ramBytes\": -1"))).singleElement().satisfies(f -> assertThat(f.place()).endsWith("at /ramBytes"));
        assertThat(wrong(good.replace("\"T0.A\", \"kind\": \"PWM out\", \"pins\": [\"R1\"]", "\"T0.A\", \"kind\": \"PWM out\", \"pins\": [\"R99\"]"))).singleElement()
                .satisfies(f -> assertThat(f.cause()).contains("'T0.A'").contains("'R99'"));
        assertThat(wrong(good.replace("{\"name\": \"L2\"", "{\"name\": \"L1\""))).anyMatch(f -> f.cause().contains("'L1' is there twice"));
        assertThat(wrong(good.replace("[1, 8, 64", "[1, 64, 8"))).anyMatch(f -> f.cause().contains("prescalers do not rise"));
        assertThat(wrong(good.replace("\"kind\": \"PWM out\", \"pins\": [\"R1\"]", "\"kind\": \"encoder in\", \"pins\": [\"R1,R2\"]")))
                .anyMatch(f -> f.cause().contains("how wide"));
        assertThat(wrong(file("other"))).anyMatch(f -> f.cause().contains("describes the board 'other'"));
        assertThat(Boards.of(boldanvil.core.diagram.Project.empty("p").withBoards(java.util.Map.of("swage32", file("swage32")))).findings())
                .anyMatch(f -> f.cause().contains("ships with the product"));
    }

    @Test
    void aProjectKeepsItsBoardFilesAndReviewsThem(@org.junit.jupiter.api.io.TempDir java.nio.file.Path folder) throws java.io.IOException {
        var project = boldanvil.core.diagram.Project.empty("p").withBoards(java.util.Map.of("mine", file("mine"), "bad", "{"));
        boldanvil.core.files.ProjectWriter.write(project, folder);
        assertThat(boldanvil.core.files.ProjectReader.read(folder)).isEqualTo(project);
        assertThat(boldanvil.core.build.Review.of(project).findings()).singleElement().satisfies(f -> assertThat(f.place()).startsWith("boards/bad.json:1:"));
    }
}
