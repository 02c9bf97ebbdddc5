package boldanvil.core.estimate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import boldanvil.core.board.Boards;
import boldanvil.core.diagram.Patch;
import boldanvil.core.finding.Place;
import boldanvil.core.patch.AutoPatch;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.testing.PartBuilder;
import java.util.List;
import org.junit.jupiter.api.Test;

class LinkBudgetTest {
    private static List<LinkBudget.Row> rows(String board, PartBuilder b) {
        var p = b.program();
        var on = Boards.shipped().require(Place.named("here"), board);
        return LinkBudget.of(new BoardSetup(on, AutoPatch.complete(on, p, new Patch(board, List.of())).patch(), p));
    }

    private static LinkBudget.Row row(List<LinkBudget.Row> rows, String link) {
        return rows.stream().filter(r -> r.link().equals(link)).findFirst().orElseThrow();
    }

    @Test
    void tapsOfEachTaskTravelInPacketsOfTheirOwn() {
        var b = new PartBuilder("p").sampleTime("100 us").block("s", "sine").block("a", "tap").block("b", "tap").wire("s.y", "a.u")
                .wire("s.y", "b.u")
                .block("slow", "sine", "sample time=1 ms").block("c", "tap", "sample time=1 ms").wire("slow.y", "c.u");
        // Two float64 every 100 µs and one every millisecond, each packet with 8 bytes more.
        var probe = row(rows("swage32", b), "probe");
        assertThat(probe.asked()).isCloseTo((16 + 8) * 10_000 + (8 + 8) * 1_000, within(1e-6));
        assertThat(probe.possible()).isEqualTo(400_000);
        assertThat(probe.isEnough()).isTrue();
        assertThat(row(rows("clinker16", b), "probe").isEnough()).isFalse();
    }

    @Test
    void aPacketInEachStepAgainstItsLine() {
        var b = new PartBuilder("p").block("s", "sine").block("out", "packet out", "fields=a: float32", "header=AA", "checksum=CRC-16",
                "rate=1 MHz").wire("s.y", "out.a");
        var line = rows("swage32", b).getLast();
        assertThat(line.link()).isEqualTo("U1.out");
        assertThat(line.asked()).isCloseTo(7_000, within(1e-6));
        assertThat(line.possible()).isCloseTo(100_000, within(1e-6));
    }

    @Test
    void messagesShareTheirBus() {
        var b = new PartBuilder("p").sampleTime("500 us").block("s", "sine").block("one", "frame out")
                .block("two", "frame out", "dbc=BO_ 7 two: 2 c\n SG_ x : 0|16@1+ (1,0) [0|0] \"\" p")
                .wire("s.y", "one.speed").wire("s.y", "one.current").wire("s.y", "two.x");
        var bus = rows("swage32", b).getLast();
        // 135 and 75 bits of 500,000 a second, 2000 times a second: 84 % of the bus.
        assertThat(bus.asked() / bus.possible()).isCloseTo((135 + 75) * 2_000 / 500e3, within(1e-9));
        assertThat(bus.asked()).isCloseTo(20_000, within(1e-6));
    }
}
