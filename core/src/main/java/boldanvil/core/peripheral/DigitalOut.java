package boldanvil.core.peripheral;

import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;

/** A level that is set. */
final class DigitalOut extends Levels {
    DigitalOut() {
        super(TerminalKind.DIGITAL_OUT);
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return new DigitalIn.Model();
    }

    @Override
    public int[] registers(BoardSetup setup, Terminal t) {
        return new int[] {Registers.LEVEL_OUT + pin(setup, t)};
    }

    @Override
    public void write(BoardCode c, Terminal x) {
        c.text().line("board_digital_write(" + c.pin(x) + "U, " + BoardCode.access(x.ports().getFirst()) + ");");
    }

    @Override
    public void safe(BoardCode c, Terminal x) {
        c.text().line("board_digital_write(" + c.pin(x) + "U, " + x.has("safe", "high") + ");" + c.where(x));
    }
}
