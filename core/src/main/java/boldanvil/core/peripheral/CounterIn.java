package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.List;

/** Pulses since the start. */
final class CounterIn extends Counting {
    CounterIn() {
        super(TerminalKind.COUNTER_IN);
    }

    @Override
    public List<Channel> channels(Board board) {
        return TimerChannels.timers(board, "counter").map(t -> TimerChannels.first(t, kind())).toList();
    }

    @Override
    public List<Fact> figures(BoardSetup setup, Terminal t) {
        return setup.timer(t).map(x -> List.of(Fact.of("maximum between ticks", (x.top() + 1) / 2 / setup.program().tickSeconds(), "Hz")))
                .orElse(List.of());
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return new Model();
    }

    @Override
    public int[] registers(BoardSetup setup, Terminal t) {
        return new int[] {Registers.COUNTER + setup.board().timerNumber(setup.channel(t).orElseThrow())};
    }

    @Override
    String counter(BoardCode c, Terminal x) {
        return "board_counter_read(" + c.timer(x) + "U)";
    }

    @Override
    public void read(BoardCode c, Terminal x) {
        count(c, x);
        c.set(x.ports().getFirst(), "(double)board.count_" + c.timer(x));
        c.text().close("}");
    }

    /** Pulses so far. */
    private static final class Model extends PinModel {
        @Override
        public long[] counts(double[] pulses) {
            double count = Math.floor(pulses[0]);
            return new long[] {Double.isNaN(count) ? 0 : (long) count};
        }

        @Override
        public double[] signals(long[] counts) {
            return new double[] {counts[0]};
        }
    }
}
