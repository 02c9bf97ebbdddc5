package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.c.CGenerator;
import boldanvil.core.program.Port;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.ArrayList;
import java.util.List;

/** Outputs of a PWM timer: what those with one channel, with a pair and with three phases have in common. */
abstract class Pwm extends Peripheral {
    Pwm(TerminalKind kind) {
        super(kind);
    }

    @Override
    public boolean isPwm() {
        return true;
    }

    /** Numbers of a terminal's outputs within their timer, one for each port. */
    abstract int[] outputs(Board board, Terminal t, BoardSetup setup);

    @Override
    public void check(PatchReport report, Terminal t) {
        var setup = report.setup();
        double wanted = t.number("frequency");
        var timer = setup.pwm(t);
        if (timer.isEmpty()) {
            report.error("The timer cannot make " + Fact.sig(wanted) + " Hz.", "Choose a frequency the timer can reach.");
            return;
        }
        if (Math.abs(timer.get().hertz() - wanted) > 0.01 * wanted) {
            report.warning("The timer makes " + Fact.sig(timer.get().hertz()) + " Hz instead of " + Fact.sig(wanted) + " Hz.",
                    "Choose a frequency that divides the clock better.");
        }
        if (setup.deadTime(t).isEmpty()) {
            report.error("The timer cannot make a dead time of " + Fact.sig(t.number("dead time") * 1e6) + " µs.", "Choose a shorter one.");
        }
        double periods = setup.program().tickSeconds() * timer.get().hertz();
        if (!t.has("synchronised", "no") && Math.abs(periods - Math.rint(periods)) > 1e-6) {
            report.error("The task cannot be synchronised with the PWM: a step is " + Fact.sig(periods) + " periods.",
                    "Choose a frequency that is an integer multiple of 1 / sample time.");
        }
    }

    @Override
    public List<Fact> figures(BoardSetup setup, Terminal t) {
        List<Fact> facts = new ArrayList<>();
        setup.pwm(t).ifPresent(timer -> {
            double tick = setup.program().tickSeconds();
            facts.add(Fact.of("actual frequency", timer.hertz(), "Hz"));
            facts.add(Fact.of("error", (timer.hertz() / t.number("frequency") - 1) * 1e6, "ppm"));
            facts.add(Fact.of("counts per period", timer.period(), ""));
            facts.add(Fact.of("duty step", timer.dutyStep() * 100, "%"));
            facts.add(Fact.of("resolution", timer.bits(), "bits"));
            if (timer.prescaler() > 1) {
                facts.add(Fact.of("prescaler", timer.prescaler(), ""));
            }
            setup.deadTime(t).filter(d -> d.count() > 0).ifPresent(d -> {
                facts.add(Fact.of("dead time", d.seconds() * 1e9, "ns"));
                facts.add(Fact.of("requested", t.number("dead time") * 1e9, "ns"));
            });
            if (t.numbers().getOrDefault("phase", 0.0) != 0) {
                double counts = timer.period() * (timer.centre() ? 2 : 1);
                facts.add(Fact.of("phase", Math.rint(t.number("phase") * counts) / counts * 360, "°"));
            }
            facts.add(Fact.of("periods per tick", tick * timer.hertz(), ""));
            facts.add(Fact.of("new duty takes effect within", 1e6 * updateSeconds(timer), "µs"));
        });
        return facts;
    }

    /**
     * With the next update of the compare register: at the end of a period, of one that is centred also in its middle. Where the task is
     * not synchronised with the timer, it waits half of that in the mean.
     */
    @Override
    public double effectSeconds(BoardSetup setup, Terminal t, double written) {
        double every = setup.pwm(t).map(Pwm::updateSeconds).orElse(0.0);
        return every == 0 ? written : t.has("synchronised", "no") ? written + every / 2 : Math.ceil(written / every - 1e-9) * every;
    }

    private static double updateSeconds(PinMath.PwmTimer timer) {
        return 1 / timer.hertz() / (timer.centre() ? 2 : 1);
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return setup.pwm(t).<PinModel>map(p -> new Model(p, single)).orElse(null);
    }

    @Override
    public int[] registers(BoardSetup setup, Terminal t) {
        int timer = setup.board().timerNumber(setup.channel(t).orElseThrow());
        int[] outputs = outputs(setup.board(), t, setup);
        int[] registers = new int[outputs.length];
        for (int i = 0; i < outputs.length; i++) {
            registers[i] = Registers.compare(timer, outputs[i]);
        }
        return registers;
    }

    @Override
    public int restRegister(BoardSetup setup, Terminal t) {
        return Registers.REST + setup.board().timerNumber(setup.channel(t).orElseThrow());
    }

    @Override
    public void helpers(BoardCode c, Terminal x) {
        c.use("count_of", x.ports().getFirst());
    }

    @Override
    public void setUp(BoardCode c, Terminal x) {
        if (!c.once("pwm " + c.channel(x).unit())) {
            return;
        }
        var timer = c.setup().pwm(x).orElseThrow();
        long phase = Math.round(x.number("phase") * timer.period() * (timer.centre() ? 2 : 1));
        c.text().line("board_pwm_setup(" + c.timer(x) + "U, " + timer.prescaler() + "U, " + timer.period() + "U, " + timer.centre() + ", "
                + phase + "U); /* "
                + c.channel(x).unit() + ": " + timer.hertz() + " Hz */");
        var dead = c.setup().deadTime(x).orElseThrow();
        if (dead.count() > 0) {
            c.text().line("board_pwm_dead_time(" + c.timer(x) + "U, " + dead.prescaler() + "U, " + dead.count() + "U); /* "
                    + Math.round(dead.seconds() * 1e9) + " ns */");
        }
    }

    @Override
    public void write(BoardCode c, Terminal x) {
        int[] outputs = outputs(c.board(), x, c.setup());
        for (int i = 0; i < outputs.length; i++) {
            Port p = x.ports().get(i);
            String period = CGenerator.literal(x.ports().getFirst().slot().type(), c.setup().pwm(x).orElseThrow().period());
            c.text().line("board_pwm_write(" + c.timer(x) + "U, " + outputs[i] + "U, count_of(" + BoardCode.access(p) + " * " + period
                    + ", " + period + "));");
        }
    }

    @Override
    public void safe(BoardCode c, Terminal x) {
        if (c.once("rest " + c.timer(x))) {
            c.text().line("board_pwm_rest(" + c.timer(x) + "U, " + x.has("safe", "high") + ");" + c.where(x));
        }
    }

    /** One compare count for each duty cycle. */
    static final class Model extends PinModel {
        private final PinMath.PwmTimer timer;
        private final boolean single;

        Model(PinMath.PwmTimer timer, boolean single) {
            this.timer = timer;
            this.single = single;
        }

        @Override
        public long[] counts(double[] duties) {
            long[] compare = new long[duties.length];
            for (int i = 0; i < compare.length; i++) {
                compare[i] = single ? timer.compare((float) duties[i]) : timer.compare(duties[i]);
            }
            return compare;
        }

        @Override
        public double[] signals(long[] counts) {
            double[] duties = new double[counts.length];
            for (int i = 0; i < duties.length; i++) {
                duties[i] = timer.duty((int) counts[i]);
            }
            return duties;
        }
    }
}
