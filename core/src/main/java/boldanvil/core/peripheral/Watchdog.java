package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.List;

/** Resets the device when no step was completed in time; has no pin. */
final class Watchdog extends Peripheral {
    Watchdog() {
        super(TerminalKind.WATCHDOG);
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
    public void check(PatchReport report, Terminal t) {
        var setup = report.setup();
        if (setup.board().watchdog() == null) {
            report.error(setup.board().title() + " has no watchdog.", "Choose another board, or remove the block from the sheet.");
        } else if (setup.watchdog(t).isEmpty()) {
            report.error("The watchdog cannot wait " + Fact.sig(t.number("timeout") * 1e3) + " ms.", "Choose a shorter timeout.");
        } else if (t.number("timeout") < 2 * setup.program().tickSeconds()) {
            report.warning("The watchdog times out within two steps.",
                    "Choose a timeout of several steps; otherwise one late step resets the device.");
        }
    }

    @Override
    public List<Fact> figures(BoardSetup setup, Terminal t) {
        return setup.watchdog(t).map(d -> List.of(Fact.of("requested", t.number("timeout") * 1e3, "ms"),
                Fact.of("times out after", d.seconds() * 1e3, "ms"),
                Fact.of("ticks until then", Math.floor(d.seconds() / setup.program().tickSeconds()), ""))).orElse(List.of());
    }

    @Override
    public void setUp(BoardCode c, Terminal x) {
        var dog = c.setup().watchdog(x).orElseThrow();
        c.text().line("board_watchdog_setup(" + dog.prescaler() + "U, " + dog.reload() + "U); /* " + dog.seconds() * 1e3 + " ms */");
    }

    @Override
    public void write(BoardCode c, Terminal x) {
        c.text().open("if (" + BoardCode.access(x.ports().getFirst()) + ") {").line("board_watchdog();").close("}");
    }
}
