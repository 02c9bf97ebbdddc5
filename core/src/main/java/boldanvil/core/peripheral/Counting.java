package boldanvil.core.peripheral;

import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;

/** Counters that wrap in hardware and are extended in software. */
abstract class Counting extends Peripheral {
    Counting(TerminalKind kind) {
        super(kind);
    }

    @Override
    public final Sharing sharing() {
        return Sharing.WHOLE_TIMER;
    }

    @Override
    public final long mask(BoardSetup setup, Terminal t) {
        return setup.timer(t).orElseThrow().top();
    }

    /** The C that reads the counter. */
    abstract String counter(BoardCode c, Terminal x);

    static String top(BoardCode c, Terminal x) {
        return c.board().timers().get(c.timer(x)).top() + "U";
    }

    @Override
    public void members(BoardCode c, Terminal x) {
        c.text().line("int32_t count_" + c.timer(x) + ";").line("uint32_t last_" + c.timer(x) + ";");
    }

    @Override
    public void helpers(BoardCode c, Terminal x) {
        c.use("moved");
    }

    @Override
    public void setUp(BoardCode c, Terminal x) {
        c.text().line("board.count_" + c.timer(x) + " = 0;").line("board.last_" + c.timer(x) + " = " + counter(c, x) + ";");
    }

    /** Begins a block in which {@code now} is the counter and the extended count is up to date. */
    final void count(BoardCode c, Terminal x) {
        int unit = c.timer(x);
        c.text().open("{").line("uint32_t now = " + counter(c, x) + ";").line(
                "board.count_" + unit + " += moved(now, board.last_" + unit + ", " + top(c, x) + ");")
                .line("board.last_" + unit + " = now;");
    }
}
