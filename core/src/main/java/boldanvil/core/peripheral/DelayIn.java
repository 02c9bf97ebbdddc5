package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.List;

/** Time from an edge at one pin to an edge at another. */
final class DelayIn extends Stamping {
    DelayIn() {
        super(TerminalKind.DELAY_IN);
    }

    @Override
    public List<Channel> channels(Board board) {
        return TimerChannels.timers(board, "capture").filter(t -> t.channels().size() > 1)
                .map(t -> TimerChannels.whole(t, kind(), TimerChannels.pairs(t))).toList();
    }

    @Override
    public String pinRole(int pin) {
        return pin == 0 ? " first" : " second";
    }

    @Override
    double longest(Terminal t) {
        return t.number("longest");
    }

    @Override
    String asked(Terminal t) {
        return Fact.sig(t.number("longest")) + " s";
    }

    @Override
    public List<Fact> figures(BoardSetup setup, Terminal t) {
        return setup.capture(t, longest(t)).map(c -> List.of(Fact.of("resolution", 1e9 / c.tickHertz(), "ns"),
                Fact.of("longest", c.top() / c.tickHertz() * 1e6, "µs")))
                .orElse(List.of());
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return setup.capture(t, longest(t)).<PinModel>map(Model::new).orElse(null);
    }

    @Override
    public int[] registers(BoardSetup setup, Terminal t) {
        return new int[] {Registers.DELAY + setup.board().timerNumber(setup.channel(t).orElseThrow())};
    }

    @Override
    public void read(BoardCode c, Terminal x) {
        c.set(x.ports().getFirst(), "(double)board_delay_read(" + c.timer(x) + "U) / " + hertz(c, x));
    }

    /** Counts between two edges. */
    private static final class Model extends PinModel {
        private final PinMath.CaptureTimer timer;

        Model(PinMath.CaptureTimer timer) {
            this.timer = timer;
        }

        @Override
        public long[] counts(double[] seconds) {
            double counts = Math.rint(seconds[0] * timer.tickHertz());
            return new long[] {Double.isNaN(counts) ? 0 : (long) Math.clamp(counts, 0, timer.top())};
        }

        @Override
        public double[] signals(long[] counts) {
            return new double[] {counts[0] / timer.tickHertz()};
        }
    }
}
