package boldanvil.core.peripheral;

import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.ArrayList;
import java.util.List;

/** Peripherals that are a pin alone. */
abstract class Levels extends Peripheral {
    Levels(TerminalKind kind) {
        super(kind);
    }

    @Override
    public final List<Channel> channels(Board board) {
        return board.pins().stream().filter(Board.Pin::digital).map(p -> new Channel(Board.PIN_CHANNEL + p.name(), kind(),
                Board.PIN_CHANNEL + p.name(), List.of(p.name()))).toList();
    }

    /** At pins that can do nothing else. */
    @Override
    public final int rank(Board board, String pin, int neighbours) {
        return board.functionsOf(pin).size();
    }

    static int pin(BoardSetup setup, Terminal t) {
        return setup.board().pinNumber(setup.pins(t).getFirst());
    }

    static void checkPull(PatchReport report, Terminal t) {
        var board = report.setup().board();
        if (!t.has("pull", "none") && !board.digital().pulls().contains(t.texts().get("pull"))) {
            report.error(board.title() + " has no pull " + t.texts().get("pull") + ".",
                    "Pulls are: " + String.join(", ", board.digital().pulls()) + ".");
        }
    }

    static void setUpPull(BoardCode c, Terminal x) {
        c.text().line("board_digital_setup(" + c.pin(x) + "U, " + List.of("none", "up", "down")
                .indexOf(x.texts().get("pull")) + "U);" + c.where(x));
    }

    @Override
    public final List<Fact> figures(BoardSetup setup, Terminal t) {
        List<Fact> facts = new ArrayList<>(List.of(Fact.of("high level", setup.board().digital().highVolts(), "V")));
        if (t.numbers().getOrDefault("debounce", 0.0) > 0) {
            double tick = setup.program().tickSeconds();
            facts.add(Fact.of("debounced in", Math.ceil(t.number("debounce") / tick - 1e-9) * tick * 1e3, "ms"));
        }
        return facts;
    }
}
