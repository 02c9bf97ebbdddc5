package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/** Pulses of variable frequency. */
final class PulseOut extends Peripheral {
    PulseOut() {
        super(TerminalKind.PULSE_OUT);
    }

    @Override
    public List<Channel> channels(Board board) {
        return TimerChannels.timers(board, "pulse").map(t -> TimerChannels.first(t, kind())).toList();
    }

    @Override
    public Sharing sharing() {
        return Sharing.WHOLE_TIMER;
    }

    @Override
    public void check(PatchReport report, Terminal t) {
        for (String end : List.of("minimum", "maximum")) {
            if (report.setup().pulse(t, t.number(end)).period() == 0) {
                report.error("The timer cannot make " + Fact.sig(t.number(end)) + " Hz.", "Narrow the range.");
            }
        }
    }

    @Override
    public List<Fact> figures(BoardSetup setup, Terminal t) {
        List<Fact> facts = new ArrayList<>();
        for (String end : List.of("minimum", "maximum")) {
            var p = setup.pulse(t, t.number(end));
            facts.add(new Fact("at " + Fact.sig(t.number(end)) + " Hz", p.period() == 0 ? "out of range" : Fact.sig(p.hertz()),
                    p.period() == 0 ? "" : "Hz"));
            if (p.period() > 0) {
                facts.add(Fact.of("step there", p.hertz() / p.period(), "Hz"));
            }
        }
        return facts;
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return setup.timer(t).<PinModel>map(x -> new Model(x, setup.timerHertz(t))).orElse(null);
    }

    @Override
    public int[] registers(BoardSetup setup, Terminal t) {
        int timer = setup.board().timerNumber(setup.channel(t).orElseThrow());
        return new int[] {Registers.PRESCALER + timer, Registers.PERIOD + timer};
    }

    @Override
    public void write(BoardCode c, Terminal x) {
        var timer = c.setup().timer(x).orElseThrow();
        c.text().open("{").line("static const uint16_t prescalers[] = {" + timer.prescalers().stream().map(p -> p + "U")
                .collect(Collectors.joining(", ")) + "};")
                .line("double hertz = (double)" + BoardCode.access(x.ports().getFirst()) + ";").line("uint16_t prescaler = 1U;")
                .line("uint32_t period = 0U;").line("uint8_t i;")
                .open("for (i = 0U; hertz > 0.0 && period == 0U && i < " + timer.prescalers().size() + "U; i++) {")
                .line("double counts = floor(" + BoardCode.number(c.setup().timerHertz(x)) + " / (double)prescalers[i] / hertz + 0.5);")
                .open("if (counts >= 2.0 && counts <= " + BoardCode.number(timer.top()) + ") {").line("prescaler = prescalers[i];")
                .line("period = (uint32_t)counts;").close("}")
                .close("}").line("board_pulse_write(" + c.timer(x) + "U, prescaler, period);").close("}");
    }

    @Override
    public void safe(BoardCode c, Terminal x) {
        c.text().line("board_pulse_write(" + c.timer(x) + "U, 1U, 0U);" + c.where(x));
    }

    /** Prescaler and period; period 0 is off. */
    private static final class Model extends PinModel {
        private final Board.Timer timer;
        private final double clockHertz;

        Model(Board.Timer timer, double clockHertz) {
            this.timer = timer;
            this.clockHertz = clockHertz;
        }

        @Override
        public long[] counts(double[] hertz) {
            var p = PinMath.pulse(timer, clockHertz, hertz[0]);
            return new long[] {p.prescaler(), p.period()};
        }

        @Override
        public double[] signals(long[] counts) {
            return new double[] {counts[1] == 0 ? 0 : clockHertz / counts[0] / counts[1]};
        }
    }
}
