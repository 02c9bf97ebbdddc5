package boldanvil.core.peripheral;

import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;

/** Timers that stamp edges. */
abstract class Stamping extends Peripheral {
    Stamping(TerminalKind kind) {
        super(kind);
    }

    @Override
    public final Sharing sharing() {
        return Sharing.WHOLE_TIMER;
    }

    /** The longest time to be measured, in seconds. */
    abstract double longest(Terminal t);

    /** The longest time as the user set it. */
    abstract String asked(Terminal t);

    @Override
    public final void check(PatchReport report, Terminal t) {
        if (report.setup().capture(t, longest(t)).isEmpty()) {
            report.error("The timer cannot count as long as " + asked(t) + ".", "Choose a smaller value.");
        }
    }

    @Override
    public final void setUp(BoardCode c, Terminal x) {
        c.text().line("board_capture_setup(" + c.timer(x) + "U, " + c.setup().capture(x, longest(x)).orElseThrow()
                .prescaler() + "U);" + c.where(x));
    }

    final String hertz(BoardCode c, Terminal x) {
        return BoardCode.number(c.setup().capture(x, longest(x)).orElseThrow().tickHertz());
    }
}
