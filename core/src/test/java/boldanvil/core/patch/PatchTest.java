package boldanvil.core.patch;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.peripheral.Peripherals;
import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.diagram.Patch;
import boldanvil.core.finding.Finding;
import boldanvil.core.finding.FindingException;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.program.Program;
import boldanvil.core.testing.PartBuilder;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Checks of a patch, ways out of conflicts, the search for places, and the change of board. */
class PatchTest {
    private static final Boards BOARDS = Boards.shipped();
    private static final Board SWAGE = BOARDS.find("swage32").orElseThrow();
    private static final Board CLINKER = BOARDS.find("clinker16").orElseThrow();

    private static PartBuilder sheet(String... more) {
        var b = new PartBuilder("c").block("shunt", "analog in", "offset=1.65 V", "sensitivity=0.05 V/A", "unit=A")
                .block("shaft", "encoder in")
                .block("key", "digital in").block("leg", "pwm out").block("lamp", "digital out").block("i", "tap")
                .block("half", "constant", "value=0.5")
                .block("t", "tap").wire("shunt.y", "i.u").wire("shaft.y", "t.u").wire("half.y", "leg.u").wire("key.y", "lamp.u");
        for (String m : more) {
            String[] words = m.split("\\|");
            b.block(words[0], words[1], List.of(words).subList(2, words.length).toArray(String[]::new));
            if (words[1].endsWith("out") && !words[1].equals("digital out")) {
                b.wire("half.y", words[0] + ".u");
            } else if (words[1].equals("digital out")) {
                b.wire("key.y", words[0] + ".u");
            } else {
                b.block("see " + words[0], "tap").wire(words[0] + ".y", "see " + words[0] + ".u");
            }
        }
        return b;
    }

    private static Patch good() {
        return new Patch("swage32", List.of(row("shunt", "ADC1.2", "W3"), row("shaft", "Q1", "N13,N14"), row("key", "IO.E13", "E13"),
                row("leg", "T1.A", "N1"), row("lamp", "IO.S12", "S12")));
    }

    private static Patch.Row row(String terminal, String peripheral, String pin) {
        return new Patch.Row(terminal, peripheral, pin, "");
    }

    private static Finding only(Program p, Patch patch) {
        var findings = PatchCheck.check(BOARDS, p, patch, true);
        assertThat(findings).hasSize(1);
        return findings.getFirst();
    }

    private static Finding only(Patch patch) {
        return only(sheet().program(), patch);
    }

    /** Every problem of a patch can be resolved by its first proposal, repeated until there is none. */
    private static Patch mended(Program p, Patch patch) {
        for (int i = 0; i < 20; i++) {
            var errors = PatchCheck.problems(BOARDS, p, patch, true).stream().filter(t -> t.finding().isError()).toList();
            if (errors.isEmpty()) {
                return patch;
            }
            patch = PatchCheck.proposals(BOARDS, p, patch, errors.getFirst()).getFirst().patch();
        }
        throw new AssertionError("still wrong");
    }

    @Test
    void aGoodPatchHasNoFindings() {
        assertThat(PatchCheck.check(BOARDS, sheet().program(), good(), true)).isEmpty();
    }

    @Test
    void twoTerminalsOnOnePin() {
        var patch = good().with(row("lamp", "IO.E13", "E13"));
        Finding f = only(patch);
        assertThat(f.place().text()).isEqualTo("patch · c/lamp");
        assertThat(f.cause()).contains("Pin E13").contains("'key'");
        assertThat(mended(sheet().program(), patch).row("key")).isEqualTo(patch.row("key"));
    }

    @Test
    void aConflictIsMendedByMovingOneOfTheTwo() {
        var p = sheet().program();
        var patch = good().with(row("lamp", "IO.E13", "E13"));
        var problem = PatchCheck.problems(BOARDS, p, patch, true).getFirst();
        var proposals = PatchCheck.proposals(BOARDS, p, patch, problem);
        assertThat(proposals).hasSize(2).extracting(PatchCheck.Proposal::words)
                .allMatch(w -> w.startsWith("Move 'lamp' to IO.") || w.startsWith("Move 'key' to IO."));
        assertThat(proposals).allSatisfy(x -> assertThat(PatchCheck.check(BOARDS, p, x.patch(), true)).isEmpty());
    }

    @Test
    void anEncoderTakesBothItsPins() {
        Finding f = only(good().with(row("shaft", "Q2", "E1,E2")).with(row("key", "IO.E2", "E2")));
        assertThat(f.cause()).contains("E2");
    }

    @Test
    void aPinTheChannelDoesNotHave() {
        assertThat(only(good().with(row("shunt", "ADC1.2", "W9"))).cure()).contains("W3");
    }

    @Test
    void aChannelOfAnotherKind() {
        assertThat(only(good().with(row("leg", "ADC1.5", "W6"))).cause()).contains("cannot be used as PWM out");
    }

    @Test
    void aTerminalWithoutAPlaceMattersOnlyOnADevice() {
        var open = good().with(row("lamp", "", ""));
        assertThat(only(open).cause()).contains("no peripheral and pin");
        assertThat(PatchCheck.check(BOARDS, sheet().program(), open, false)).isEmpty();
    }

    @Test
    void aRowWithoutItsTerminalIsADoubt() {
        assertThat(only(good().with(row("ghost", "IO.E16", "E16"))).isError()).isFalse();
    }

    @Test
    void anUnknownBoardInThePatch() {
        assertThat(only(new Patch("abacus", good().rows())).cause()).contains("abacus");
    }

    @Test
    void aPlainPortOnADevice() {
        var p = new PartBuilder("c").block("in", "inlet").block("t", "tap").wire("in.y", "t.u").program();
        assertThat(only(p, new Patch("swage32", List.of())).cause()).contains("is not a terminal");
    }

    /** A second terminal, its place, and what is said of the two together or of it alone. */
    @ParameterizedTest
    @CsvSource(delimiter = ';', value = {
        "two|pwm out|frequency=10 kHz; T1.B; N3; another frequency: 20000 instead of 10000",
        "two|pwm out|alignment=centre; T1.B; N3; another alignment: edge",
        "two|pwm out|phase=0.25; T1.B; N3; another phase",
        "two|pwm out|frequency=1 Hz; T2.A; N7; cannot make 1 Hz",
        "two|pwm out|frequency=19 MHz; T2.A; N7; makes 18666667 Hz instead of 19000000 Hz",
        "two|pwm out|synchronised=at the period|frequency=1500 Hz; T2.A; N7; a step is 1.500 periods",
        "two|pwm out|outputs=complementary pair|dead time=30 us; T2.A; N7,N8; dead time of 30 µs",
        "two|pulse out; T1; N1; Pin N1 is used by terminal 'leg'",
        "two|pulse out|minimum=0.1 Hz; Q2; N15; cannot make 0.1",
        "two|delay in; Q1; N13,N14; 'shaft'",
        "two|analog in|trigger=centre|noise=1 mV; ADC2.0; W9; ",
        "two|analog in|sampling=1 s; ADC2.0; W9; samples for 4.571 µs at most",
        "two|digital in|pull=down; IO.E14; E14; ",
        "two|encoder in|filter=5 us; Q2; N15,N16; longest filter is 800 ns"})
    void whatTerminalsAskOfTheirPeripherals(String terminal, String peripheral, String pin, String cause) {
        var p = sheet(terminal).program();
        var patch = good().with(row("two", peripheral.strip(), pin.strip()));
        if (cause == null || cause.isBlank()) {
            assertThat(PatchCheck.check(BOARDS, p, patch, true)).isEmpty();
        } else {
            assertThat(PatchCheck.check(BOARDS, p, patch, true)).anySatisfy(f -> assertThat(f.cause()).contains(cause.strip()));
        }
    }

    @Test
    void anAnalogInputTriggeredByPwmNeedsOneOnATimerThatCan() {
        var p = new PartBuilder("c").block("v", "analog in", "trigger=centre").block("t", "tap").wire("v.y", "t.u").program();
        assertThat(only(p, new Patch("swage32", List.of(row("v", "ADC1.0", "W1")))).cause()).contains("No PWM output uses a timer");
    }

    @Test
    void aTripInputIsThatOfItsOutputsTimer() {
        var p = sheet("two|pwm out|trip=trip input").program();
        var patch = good().with(row("two", "T2.A", "N7"));
        assertThat(only(p, patch).place().text()).isEqualTo("patch · c/two trip");
        assertThat(PatchCheck.check(BOARDS, p, patch.with(row("two trip", "T1.trip", "S13")), true))
                .anySatisfy(f -> assertThat(f.cause()).contains("must be that of the timer of its outputs, T2"));
        var done = AutoPatch.complete(SWAGE, p, patch).patch();
        assertThat(done.row("two trip")).contains(row("two trip", "T2.trip", "S14"));
        assertThat(PatchCheck.check(BOARDS, p, done, true)).isEmpty();
        assertThat(AutoPatch.complete(CLINKER, p, new Patch("clinker16", List.of())).findings())
                .anySatisfy(f -> assertThat(f.cause()).isEqualTo("Clinker 16 has no trip in."));
    }

    @Test
    void conversionsOnOneConverterWaitForEachOther() {
        var p = sheet("second|analog in").program();
        var setup = new BoardSetup(SWAGE, good().with(row("second", "ADC1.3", "W4")), p);
        double one = (8 + 13) / 28e6;
        assertThat(setup.queueSeconds(p.terminal("shunt").orElseThrow())).isZero();
        assertThat(setup.queueSeconds(p.terminal("second").orElseThrow())).isEqualTo(one);
        assertThat(Peripherals.figures(setup, p.terminal("second").orElseThrow()).toString()).contains("waits 0.7500 µs")
                .contains("ready after 1.500 µs");
        var apart = new BoardSetup(SWAGE, good().with(row("second", "ADC2.3", "W12")), p);
        assertThat(apart.queueSeconds(p.terminal("second").orElseThrow())).isZero();
    }

    @Test
    void aConversionThatEndsAfterTheStepIsAnError() {
        var b = new PartBuilder("c").sampleTime("20 us");
        for (int i = 0; i < 3; i++) {
            b.block("v" + i, "analog in").block("t" + i, "tap").wire("v" + i + ".y", "t" + i + ".u");
        }
        var p = b.program();
        var found = PatchCheck.check(BOARDS, p, AutoPatch.complete(CLINKER, p, new Patch("clinker16", List.of())).patch(), true);
        // 13 µs each at 1 MHz.
        assertThat(found).anySatisfy(f -> assertThat(f.cause()).contains("ends 26 µs after the trigger, after the step of 20 µs"));
    }

    @Test
    void pullsInterruptLinesAndWatchdogsOfTheSmallBoard() {
        var b = new PartBuilder("c").block("a", "edge in", "pull=down").block("b", "edge in").block("w", "watchdog", "timeout=40 s")
                .block("n", "constant");
        for (String x : List.of("a", "b")) {
            b.block("t" + x, "tap").wire(x + ".y", "t" + x + ".u");
        }
        var patch = new Patch("clinker16", List.of(row("a", "IO.L1", "L1"), row("b", "IO.L9", "L9")));
        assertThat(PatchCheck.check(BOARDS, b.program(), patch, true)).extracting(Finding::cause).anyMatch(c -> c.contains("no pull down"))
                .anyMatch(c -> c.contains("shares interrupt line 1 of 8 with terminal 'a'"))
                .anyMatch(c -> c.contains("cannot wait 40000 ms"));
    }

    @Test
    void autoFindsAPlaceForEveryTerminal() {
        var p = sheet("two|analog in", "pair|pwm out|outputs=complementary pair", "step|pulse out").program();
        var done = AutoPatch.complete(SWAGE, p, new Patch("swage32", List.of()));
        assertThat(done.findings()).isEmpty();
        assertThat(PatchCheck.check(BOARDS, p, done.patch(), true)).isEmpty();
        assertThat(done.patch().rows()).extracting(Patch.Row::terminal).startsWith("shunt", "shaft", "key", "leg");
        // Two analog inputs are on two converters, so neither waits.
        assertThat(done.patch().row("shunt").orElseThrow().peripheral().charAt(3))
                .isNotEqualTo(done.patch().row("two").orElseThrow().peripheral().charAt(3));
    }

    @Test
    void autoKeepsWhatIsFixedAndItsWires() {
        var fixed = new Patch("swage32", List.of(new Patch.Row("leg", "T2.C", "N11", "to the driver"),
                new Patch.Row("lamp", "", "", "red lamp")));
        var done = AutoPatch.complete(SWAGE, sheet().program(), fixed).patch();
        assertThat(done.row("leg")).contains(new Patch.Row("leg", "T2.C", "N11", "to the driver"));
        assertThat(done.row("lamp").orElseThrow().wire()).isEqualTo("red lamp");
        assertThat(done.row("lamp").orElseThrow().isPlaced()).isTrue();
    }

    @Test
    void autoExplainsWhatItCannotPlace() {
        var b = new PartBuilder("c").block("k", "constant");
        for (int i = 0; i < 6; i++) {
            b.block("leg" + i, "pwm out", "frequency=" + (1 + i) + " kHz").wire("k.y", "leg" + i + ".u");
        }
        var done = AutoPatch.complete(CLINKER, b.program(), new Patch("clinker16", List.of()));
        // Two timers, each with one frequency: four terminals are left over.
        assertThat(done.findings()).hasSize(4).allSatisfy(f -> assertThat(f.cause())
                .contains("None of the 4 PWM out channels of Clinker 16 is free").contains("another frequency"));
        assertThat(done.patch().rows().stream().filter(Patch.Row::isPlaced)).hasSize(2);
        var none = AutoPatch.complete(CLINKER, sheet("three|pwm out|outputs=complementary pair").program(),
                new Patch("clinker16", List.of()));
        assertThat(none.findings()).singleElement().satisfies(f -> assertThat(f.cause()).isEqualTo("Clinker 16 has no PWM pair out."));
    }

    /** Random sets of terminals: what is placed has no conflict, and where all fit by construction, all are placed. */
    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8})
    void autoNeverMakesAConflict(long seed) {
        var random = new Random(seed);
        List<String> kinds = List.of("analog in", "pwm out|frequency=8 kHz", "pwm out|frequency=16 kHz", "digital in", "digital out",
                "encoder in", "capture in", "edge in", "counter in");
        List<String> more = new ArrayList<>();
        for (int i = 0; i < 10; i++) {
            String k = kinds.get(random.nextInt(kinds.size()));
            more.add("m" + i + "|" + (k.startsWith("capture") ? "encoder in" : k));
        }
        var p = sheet(more.toArray(String[]::new)).program();
        var done = AutoPatch.complete(SWAGE, p, new Patch("swage32", List.of()));
        var unplaced = done.findings().stream().map(Finding::place).toList();
        assertThat(PatchCheck.check(BOARDS, p, done.patch(), true)).allSatisfy(f -> assertThat(unplaced).contains(f.place()));
    }

    @Test
    void terminalsChangePlacesByTheirPins() {
        var p = sheet("two|pwm out").program();
        var patch = good().with(row("two", "T1.B", "N3"));
        var swapped = PinSwap.plan(BOARDS, p, patch, "N1", "N3");
        assertThat(swapped.row("leg")).contains(row("leg", "T1.B", "N3"));
        assertThat(swapped.row("two")).contains(row("two", "T1.A", "N1"));
        assertThat(PinSwap.plan(BOARDS, p, swapped, "N1", "N3").rows()).isEqualTo(patch.rows());
        assertThat(PinSwap.plan(BOARDS, p, patch, "E13", "E16").row("key")).contains(row("key", "IO.E16", "E16"));
        // A digital input onto a PWM pin: the PWM output finds another.
        var moved = PinSwap.plan(BOARDS, p, patch, "E13", "N1");
        assertThat(moved.row("key")).contains(row("key", "IO.N1", "N1"));
        assertThat(PatchCheck.check(BOARDS, p, moved, true)).isEmpty();
    }

    @Test
    void aPinThatCannotDoItIsRefusedWithItsReason() {
        var p = sheet().program();
        assertThatThrownBy(() -> PinSwap.plan(BOARDS, p, good(), "W3", "E13")).isInstanceOf(FindingException.class)
                .hasMessageContaining("'shunt' cannot use pin E13: it would be analog in, and the pin is digital only, used by 'key'");
        assertThatThrownBy(() -> PinSwap.plan(BOARDS, p, good(), "W4", "W3")).hasMessageContaining("No terminal is at pin W4");
    }

    @Test
    void aBoardIsChangedAndBackAgain() {
        var p = sheet().program();
        var there = BoardChange.plan(BOARDS, p, good(), "clinker16");
        assertThat(there.findings()).isEmpty();
        assertThat(there.patch().board()).isEqualTo("clinker16");
        assertThat(PatchCheck.check(BOARDS, p, there.patch(), true)).isEmpty();
        assertThat(there.rows().stream().filter(r -> r.terminal().equals("leg")).findFirst().orElseThrow().values())
                .anyMatch(v -> v.startsWith("resolution 13.04 → ") && v.endsWith("bits"))
                .anyMatch(v -> v.startsWith("counts per period 8400 → 150"));
        assertThat(there.rows().stream().filter(r -> r.terminal().equals("shunt")).findFirst().orElseThrow().values())
                .anyMatch(v -> v.startsWith("count 0.8057 → 4.883"));
        var back = BoardChange.plan(BOARDS, p, there.patch(), "swage32");
        assertThat(back.patch().rows()).isEqualTo(good().rows());
        assertThat(back.patch().on("clinker16").orElseThrow().rows()).isEqualTo(there.patch().rows());
    }

    @Test
    void whatHasNoPlaceOnAnotherBoardIsSaid() {
        var p = sheet("pair|pwm out|outputs=complementary pair").program();
        var there = BoardChange.plan(BOARDS, p, good().with(row("pair", "T2.A", "N7,N8")), "clinker16");
        assertThat(there.findings()).singleElement().satisfies(f -> assertThat(f.place().text()).isEqualTo("patch · c/pair"));
        assertThat(there.rows().stream().filter(r -> r.terminal().equals("pair")).findFirst().orElseThrow().to()).isEmpty();
        assertThatThrownBy(() -> BoardChange.plan(BOARDS, p, good(), "abacus")).isInstanceOf(FindingException.class);
    }

    private static String facts(String terminal) {
        var p = sheet().program();
        return Peripherals.figures(new BoardSetup(SWAGE, good(), p), p.terminal(terminal).orElseThrow()).toString();
    }

    @Test
    void theNumbersThatFollow() {
        assertThat(facts("shunt")).contains("counts per unit 62.06").contains("resolution 0.01611").contains("-33 … 33 units")
                .contains("ready after 0.7500 µs");
        assertThat(facts("shaft")).contains("counts per turn 2048").contains("3.068 mrad").contains("32 turns")
                .contains("speed step 3.068 rad/s");
        assertThat(facts("leg")).contains("actual frequency 20000 Hz").contains("counts per period 8400").contains("resolution 13.04 bits")
                .contains("error 0 ppm");
        assertThat(facts("key")).contains("3.300 V");
    }
}
