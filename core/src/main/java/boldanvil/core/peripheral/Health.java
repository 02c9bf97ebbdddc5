package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.List;

/** Diagnostic values of the device; has no pin. */
final class Health extends Peripheral {
    Health() {
        super(TerminalKind.HEALTH);
    }

    @Override
    public boolean hasPins() {
        return false;
    }

    @Override
    public List<Channel> channels(Board board) {
        return List.of();
    }

    @Override
    public void read(BoardCode c, Terminal x) {
        c.set(x.ports().getFirst(), "(double)board_load() / 10000.0");
        c.set(x.ports().get(1), "board_overruns()");
        c.set(x.ports().get(2), "board_stack_free()");
        c.set(x.ports().get(3), "board_reset_cause()");
    }
}
