package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.List;

/** Frequency and duty cycle of pulses. */
final class CaptureIn extends Stamping {
    CaptureIn() {
        super(TerminalKind.CAPTURE_IN);
    }

    @Override
    public List<Channel> channels(Board board) {
        return TimerChannels.timers(board, "capture").map(t -> TimerChannels.first(t, kind())).toList();
    }

    @Override
    double longest(Terminal t) {
        return 1 / t.number("slowest");
    }

    @Override
    String asked(Terminal t) {
        return "a period of " + Fact.sig(t.number("slowest")) + " Hz";
    }

    @Override
    public List<Fact> figures(BoardSetup setup, Terminal t) {
        double slow = t.number("slowest");
        return setup.capture(t, longest(t)).map(c -> List.of(Fact.of("counts at", c.tickHertz() / 1e6, "MHz"),
                Fact.of("slowest", c.slowestHertz(), "Hz"),
                Fact.of("step at " + Fact.sig(slow) + " Hz", slow * slow / c.tickHertz(), "Hz"),
                Fact.of("duty step there", slow / c.tickHertz() * 1e6, "ppm"))).orElse(List.of());
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return setup.capture(t, longest(t)).<PinModel>map(Model::new).orElse(null);
    }

    @Override
    public int[] registers(BoardSetup setup, Terminal t) {
        int timer = setup.board().timerNumber(setup.channel(t).orElseThrow());
        return new int[] {Registers.CAPTURE_PERIOD + timer, Registers.CAPTURE_HIGH + timer};
    }

    @Override
    public void read(BoardCode c, Terminal x) {
        c.text().open("{").line("uint32_t high;").line("uint32_t period = board_capture_read(" + c.timer(x) + "U, &high);");
        c.set(x.ports().getFirst(), "period == 0U ? 0.0 : " + hertz(c, x) + " / (double)period");
        c.set(x.ports().get(1), "period == 0U ? 0.0 : (double)high / (double)period");
        c.text().close("}");
    }

    /** Counts of a period and of its high part. */
    private static final class Model extends PinModel {
        private final PinMath.CaptureTimer timer;

        Model(PinMath.CaptureTimer timer) {
            this.timer = timer;
        }

        @Override
        public long[] counts(double[] pulses) {
            long period = timer.period(pulses[0]);
            return new long[] {period, Math.round(Math.clamp(pulses[1], 0, 1) * period)};
        }

        @Override
        public double[] signals(long[] counts) {
            return new double[] {counts[0] == 0 ? 0 : timer.tickHertz() / counts[0], counts[0] == 0 ? 0 : (double) counts[1] / counts[0]};
        }
    }
}
