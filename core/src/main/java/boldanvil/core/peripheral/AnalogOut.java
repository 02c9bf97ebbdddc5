package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.c.CGenerator;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.program.Type;
import java.util.List;

/** A digital-to-analog converter. */
final class AnalogOut extends Peripheral {
    AnalogOut() {
        super(TerminalKind.ANALOG_OUT);
    }

    @Override
    public List<Channel> channels(Board board) {
        return board.analogOutputs().stream().map(o -> new Channel(o.name(), kind(), o.name(), o.pins())).toList();
    }

    @Override
    public String level(BoardSetup setup, Terminal t) {
        return range(setup, t);
    }

    static String range(BoardSetup setup, Terminal t) {
        return "0 … " + Fact.sig(setup.scale(t).map(PinMath.Scale::volts).orElse(0.0)) + " V";
    }

    @Override
    public List<Fact> figures(BoardSetup setup, Terminal t) {
        return setup.scale(t).map(s -> List.of(Fact.of("count", s.voltsPerCount() * 1e3, "mV"),
                Fact.of("resolution", s.voltsPerCount() / Math.abs(t.number("sensitivity")), "units"),
                Fact.range((0 - t.number("offset")) / t.number("sensitivity"),
                (s.volts((1 << s.bits()) - 1) - t.number("offset")) / t.number("sensitivity"), "units")))
                .orElse(List.of());
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return setup.scale(t).<PinModel>map(s -> new Model(s, single)).orElse(null);
    }

    @Override
    public int[] registers(BoardSetup setup, Terminal t) {
        return new int[] {Registers.DAC + setup.board().analogOutputNumber(setup.channel(t).orElseThrow())};
    }

    @Override
    public void helpers(BoardCode c, Terminal x) {
        c.use("count_of", x.ports().getFirst());
    }

    private static String output(BoardCode c, Terminal x) {
        return c.board().analogOutputNumber(c.channel(x)) + "U";
    }

    @Override
    public void write(BoardCode c, Terminal x) {
        var scale = c.setup().scale(x).orElseThrow();
        Type type = x.ports().getFirst().slot().type();
        c.text().line("board_dac_write(" + output(c, x) + ", (uint16_t)count_of(" + BoardCode.access(x.ports().getFirst()) + " / "
                + CGenerator.literal(type, scale.voltsPerCount()) + ", " + CGenerator.literal(type, (1L << scale.bits()) - 1) + "));");
    }

    @Override
    public void safe(BoardCode c, Terminal x) {
        c.text().line("board_dac_write(" + output(c, x) + ", " + c.setup().scale(x).orElseThrow()
                .count(x.number("safe")) + "U);" + c.where(x));
    }

    /** One count of an analog output. */
    private static final class Model extends PinModel {
        private final PinMath.Scale scale;
        private final boolean single;

        Model(PinMath.Scale scale, boolean single) {
            this.scale = scale;
            this.single = single;
        }

        @Override
        public long[] counts(double[] volts) {
            return new long[] {single ? scale.count((float) volts[0]) : scale.count(volts[0])};
        }

        @Override
        public double[] signals(long[] counts) {
            return new double[] {scale.volts((int) counts[0])};
        }
    }
}
