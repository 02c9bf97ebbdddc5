package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.program.TerminalKind;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;

/** Channels that timers offer. */
final class TimerChannels {
    private TimerChannels() {}

    /** Timers with a use, such as {@code pwm}. */
    static Stream<Board.Timer> timers(Board board, String use) {
        return board.timers().stream().filter(t -> t.uses().contains(use));
    }

    static Channel whole(Board.Timer t, TerminalKind kind, List<String> pins) {
        return new Channel(t.name(), kind, t.name(), pins);
    }

    /** The whole timer, at the pins of its first channel. */
    static Channel first(Board.Timer t, TerminalKind kind) {
        return whole(t, kind, t.channels().getFirst().pins());
    }

    /** Pins of the first two channels; alternatives belong together by their place in the lists. */
    static List<String> pairs(Board.Timer t) {
        List<String> pairs = new ArrayList<>();
        var a = t.channels().getFirst().pins();
        var b = t.channels().size() > 1 ? t.channels().get(1).pins() : List.<String>of();
        for (int i = 0; i < Math.min(a.size(), b.size()); i++) {
            pairs.add(a.get(i) + "," + b.get(i));
        }
        return pairs;
    }

    /** Every choice of one pin from each list, joined by commas. */
    static List<String> ways(List<List<String>> choices) {
        List<String> ways = List.of("");
        for (List<String> pins : choices) {
            List<String> next = new ArrayList<>();
            ways.forEach(w -> pins.forEach(p -> next.add(w.isEmpty() ? p : w + "," + p)));
            ways = next;
        }
        return ways;
    }
}
