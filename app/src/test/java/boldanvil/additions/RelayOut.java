package boldanvil.additions;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.peripheral.BoardCode;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.Peripheral;
import boldanvil.core.peripheral.PinModel;
import boldanvil.core.peripheral.Registers;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.List;

/** A relay whose driver switches it on with a low level. */
public final class RelayOut extends Peripheral {
    static final TerminalKind KIND = new TerminalKind("relay out");

    public RelayOut() {
        super(KIND);
    }

    @Override
    public List<Channel> channels(Board board) {
        return board.pins().stream().filter(Board.Pin::digital)
                .map(p -> new Channel(Board.PIN_CHANNEL + p.name(), KIND, Board.PIN_CHANNEL + p.name(), List.of(p.name()))).toList();
    }

    @Override
    public PinModel model(BoardSetup setup, Terminal t, boolean single) {
        return new PinModel() {
            @Override
            public long[] counts(double[] signals) {
                return new long[] {signals[0] != 0 ? 0 : 1};
            }

            @Override
            public double[] signals(long[] counts) {
                return new double[] {1 - counts[0]};
            }
        };
    }

    @Override
    public int[] registers(BoardSetup setup, Terminal t) {
        return new int[] {Registers.LEVEL_OUT + setup.board().pinNumber(setup.pins(t).getFirst())};
    }

    @Override
    public void write(BoardCode c, Terminal t) {
        c.text().line("board_digital_write(" + c.pin(t) + "U, !" + BoardCode.access(t.ports().getFirst()) + ");" + c.where(t));
    }

    @Override
    public void safe(BoardCode c, Terminal t) {
        c.text().line("board_digital_write(" + c.pin(t) + "U, true);" + c.where(t));
    }
}
