package boldanvil.core.patch;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.peripheral.Peripherals;
import boldanvil.core.board.Board;
import boldanvil.core.board.Boards;
import boldanvil.core.diagram.Patch;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.testing.PartBuilder;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What whoever builds the harness reads, and the numbers beside each kind of terminal. */
class WiringTableTest {
    private static final Board SWAGE = Boards.shipped().find("swage32").orElseThrow();

    private static BoardSetup setup(PartBuilder b, Patch patch) {
        var p = b.program();
        return new BoardSetup(SWAGE, AutoPatch.complete(SWAGE, p, patch).patch(), p);
    }

    @Test
    void eachPinOfATerminalHasItsRow() {
        var b = new PartBuilder("c").block("k", "constant", "value=0.5").block("bridge", "three-phase pwm", "trip=trip input")
                .wire("k.y", "bridge.a").wire("k.y", "bridge.b").wire("k.y", "bridge.c")
                .block("shaft", "encoder in", "index=sets zero").block("t", "tap").wire("shaft.y", "t.u")
                .block("key", "digital in", "active=low", "pull=up").block("u", "tap").wire("key.y", "u.u");
        var table = WiringTable.of(setup(b, new Patch("swage32", List.of(new Patch.Row("bridge", "T2", "N7,N8,N9,N10,N11,N12",
                "inverter")))));
        assertThat(table.title()).isEqualTo("Wiring of Part c on Swage 32");
        assertThat(table.rows()).hasSize(6 + 1 + 3 + 1);
        assertThat(table.rows().get(0)).containsExactly("N7", "7", "north", "bridge A high", "three-phase PWM out", "T2", "out",
                "0 / 3.300 V", "inverter");
        assertThat(table.rows().get(5).subList(0, 4)).containsExactly("N12", "12", "north", "bridge C low");
        assertThat(table.rows().get(6).subList(3, 7)).containsExactly("bridge trip", "trip in", "T2.trip", "in");
        assertThat(table.rows().get(9).get(3)).isEqualTo("shaft index");
        assertThat(table.rows().get(10).get(7)).isEqualTo("0 / 3.300 V, active low, pull up");
    }

    /** A terminal with its settings, and what its numbers must state; worked out by hand from the board's file. */
    @ParameterizedTest
    @CsvSource(delimiter = ';', value = {
        "analog in|scaling=two points|v1=0.5 V|y1=0|v2=2.5 V|y2=4; range -1 … 5.600 units",
        "analog in|noise=2 mV|sensitivity=0.05; noise 0.04000 units RMS",
        "analog in|sampling=1 us; sampled for 1.143 µs",
        "encoder in|lines=1000|filter=100 ns; glitch filter 100 ns, fastest through it 15708 rad/s, counts per turn 4000",
        "capture in|slowest=1 kHz; counts at 42 MHz, step at 1000 Hz 0.02381 Hz",
        "delay in|longest=100 us; resolution 5.952 ns, longest 390.1 µs",
        "counter in; maximum between ticks 32768000 Hz",
        "digital in|debounce=2500 us; debounced in 3 ms",
        "register in|device=level sensor; bytes 2, on the line 470 µs, new value every 20 ms",
        "register in|bus=SPI|rate=2 MHz; rate 1312500 Hz, on the line 18.29 µs",
        "packet in|fields=a: float32, b: uint8|rate=9600 Hz; bytes 8, on the line 8333 µs, arrives after 9 steps",
        "frame in|rate=1 MHz; on the line 135 µs, arrives after 1 step"})
    void theNumbersOfEachKind(String terminal, String stated) {
        String[] words = terminal.split("\\|");
        var b = new PartBuilder("c").block("x", words[0], List.of(words).subList(1, words.length).toArray(String[]::new));
        var setup = setup(b, new Patch("swage32", List.of()));
        String facts = String.join(", ", Peripherals.figures(setup, setup.program().terminal("x").orElseThrow()).stream()
                .map(Object::toString).toList());
        for (String one : stated.strip().split(", ")) {
            assertThat(facts).contains(one);
        }
    }
}
