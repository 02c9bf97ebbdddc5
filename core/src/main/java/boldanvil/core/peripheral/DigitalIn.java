package boldanvil.core.peripheral;

import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;

/** A level. */
final class DigitalIn extends Levels {
    DigitalIn() {
        super(TerminalKind.DIGITAL_IN);
    }

    @Override
    public void check(PatchReport report, Terminal t) {
        checkPull(report, t);
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return new Model();
    }

    @Override
    public int[] registers(BoardSetup setup, Terminal t) {
        return new int[] {Registers.LEVEL_IN + pin(setup, t)};
    }

    @Override
    public void setUp(BoardCode c, Terminal x) {
        setUpPull(c, x);
    }

    @Override
    public void read(BoardCode c, Terminal x) {
        c.set(x.ports().getFirst(), "board_digital_read(" + c.pin(x) + "U)");
    }

    /** One bit. */
    static final class Model extends PinModel {
        @Override
        public long[] counts(double[] level) {
            return new long[] {level[0] != 0 ? 1 : 0};
        }

        @Override
        public double[] signals(long[] counts) {
            return new double[] {counts[0]};
        }
    }
}
