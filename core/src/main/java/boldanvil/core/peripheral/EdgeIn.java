package boldanvil.core.peripheral;

import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;

/** A pin interrupt. */
final class EdgeIn extends Levels {
    EdgeIn() {
        super(TerminalKind.EDGE_IN);
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
        return new int[] {Registers.LEVEL_IN + pin(setup, t), Registers.EDGE + pin(setup, t)};
    }

    @Override
    public void setUp(BoardCode c, Terminal x) {
        setUpPull(c, x);
        c.text().line("board_edge_setup(" + c.pin(x) + "U, " + !x.has("edge", "falling") + ", " + !x.has("edge", "rising") + ");");
    }

    @Override
    public void read(BoardCode c, Terminal x) {
        c.set(x.ports().getFirst(), "board_digital_read(" + c.pin(x) + "U)");
        c.set(x.ports().get(1), "board_edge_take(" + c.pin(x) + "U)");
    }

    /** The level, and whether an edge came and went unseen between two ticks; wires that change at ticks make none. */
    private static final class Model extends PinModel {
        @Override
        public long[] counts(double[] level) {
            return new long[] {level[0] != 0 ? 1 : 0, 0};
        }

        @Override
        public double[] signals(long[] counts) {
            return new double[] {counts[0], counts[1]};
        }
    }
}
