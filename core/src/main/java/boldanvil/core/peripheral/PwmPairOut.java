package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.List;

/** An output of a PWM timer and its complement, with dead time between them. */
final class PwmPairOut extends Pwm {
    PwmPairOut() {
        super(TerminalKind.PWM_PAIR_OUT);
    }

    @Override
    public List<Channel> channels(Board board) {
        return TimerChannels.timers(board, "pwm").filter(t -> t.deadTime() != null)
                .flatMap(t -> t.channels().stream().filter(x -> !x.complements().isEmpty())
                .map(x -> new Channel(t.name() + "." + x.id(), kind(), t.name(), TimerChannels.ways(List.of(x.pins(), x.complements())))))
                .toList();
    }

    @Override
    public String pinRole(int pin) {
        return pin == 0 ? " high" : " low";
    }

    /** Together with its like, since a timer has one frequency. */
    @Override
    public int rank(Board board, String pin, int neighbours) {
        return -neighbours;
    }

    @Override
    int[] outputs(Board board, Terminal t, BoardSetup setup) {
        return new int[] {board.outputNumber(setup.channel(t).orElseThrow())};
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return setup.pwm(t).flatMap(p -> setup.deadTime(t).<PinModel>map(d -> new Model(p, d, setup.timerHertz(t), single))).orElse(null);
    }

    /**
     * A compare count; the second signal is the complement's share of the period. The high side is on for the compare time less the
     * dead time, the low side for the rest less the dead time.
     */
    private static final class Model extends PinModel {
        private final PinMath.PwmTimer timer;
        private final double deadShare;
        private final boolean single;

        Model(PinMath.PwmTimer timer, PinMath.Dead dead, double clockHertz, boolean single) {
            this.timer = timer;
            this.single = single;
            deadShare = (double) dead.count() * dead.prescaler() / clockHertz * timer.hertz();
        }

        @Override
        public long[] counts(double[] duties) {
            return new long[] {single ? timer.compare((float) duties[0]) : timer.compare(duties[0])};
        }

        @Override
        public double[] signals(long[] counts) {
            double duty = timer.duty((int) counts[0]);
            return new double[] {duty == 1 ? 1 : Math.max(0, duty - (duty > 0 ? deadShare : 0)), duty == 0 ? 1
                    : Math.max(0, 1 - duty - (duty < 1 ? deadShare : 0))};
        }
    }
}
