package boldanvil.core.build;

import boldanvil.core.escape.Escape;
import boldanvil.core.board.Board;
import boldanvil.core.board.ClockTree;
import boldanvil.core.c.CGenerator;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.output.CodeText;
import boldanvil.core.peripheral.BoardCode;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.peripheral.Peripheral;
import boldanvil.core.peripheral.Peripherals;
import boldanvil.core.program.Program;
import boldanvil.core.program.Terminal;
import java.util.List;
import java.util.TreeSet;
import java.util.function.BiConsumer;

/**
 * Writes the file that joins a part to its board: start-up, schedule, and the way from counts to signals and back. What each terminal needs
 * is written by its {@link Peripheral}.
 */
final class BoardFile {
    private final Program program;
    private final Board board;
    private final BoardSetup setup;
    private final CodeText t = new CodeText();
    private final BoardCode code;

    private BoardFile(BoardSetup setup) {
        this.setup = setup;
        program = setup.program();
        board = setup.board();
        code = new BoardCode(setup, t);
    }

    /** @param setup with a patch that is complete and without conflicts */
    static GeneratedFile of(BoardSetup setup) {
        return new BoardFile(setup).file();
    }

    static String name(Board board) {
        return board.name().replace('-', '_') + "_board.c";
    }

    private GeneratedFile file() {
        t.line("/*").line(" * " + Escape.cComment(program.title()) + " on " + Escape.cComment(board.title()) + ".")
                .line(" * Call board_tick in an interrupt " + moment() + "every " + program.tickNanos() / 1000.0 + " us.").line(" */")
                .line("#include \"board_io.h\"").line("#include \"" + program.name() + ".h\"").line("");
        var headers = new TreeSet<>(List.of("math.h"));
        program.terminals().forEach(x -> headers.addAll(Peripherals.of(x).includes()));
        headers.forEach(h -> t.line("#include <" + h + ">"));
        t.line("").line("/* The whole memory of the part. */").open("static struct {").line(CGenerator.contextType(program) + " part;");
        each(program.terminals(), (p, x) -> p.members(code, x));
        t.close("} board;").line("");
        each(program.terminals(), (p, x) -> p.helpers(code, x));
        code.functions();
        function("board_safe", () -> each(program.terminals(), (p, x) -> p.safe(code, x)));
        function("board_start", this::start);
        function("board_tick", this::tick);
        t.line("void *board_memory(void)").open("{").line("return &board.part;").close("}");
        return t.file(name(board));
    }

    /** The moment of a PWM period at which the step begins; empty where none is set. */
    private String moment() {
        return program.terminals().stream().filter(x -> Peripherals.of(x).isPwm() && !x.has("synchronised", "no")).findFirst()
                .map(x -> "of " + setup.channel(x).orElseThrow().unit() + " " + x.texts().get("synchronised") + ", ").orElse("");
    }

    private void function(String name, Runnable body) {
        t.line("void " + name + "(void)").open("{");
        body.run();
        t.close("}").line("");
    }

    private void each(List<Terminal> terminals, BiConsumer<Peripheral, Terminal> what) {
        for (Terminal x : terminals) {
            t.at(x.path());
            what.accept(Peripherals.of(x), x);
            t.at(null);
        }
    }

    private void start() {
        t.line("board_safe();").line(program.name() + "_init(&board.part);");
        clocks();
        each(program.terminals(), (p, x) -> p.setUp(code, x));
    }

    private void clocks() {
        var clock = setup.clock();
        int source = board.clock().sources().stream().map(ClockTree.Source::name).toList().indexOf(clock.source().name());
        t.line("board_clock_setup(" + source + "U, " + clock.divide() + "U, " + clock.multiply() + "U, " + clock.post() + "U); /* "
                + Escape.cComment(clock.words()) + " */");
        int n = 0;
        for (var d : clock.domains().entrySet()) {
            t.line("board_clock_divide(" + n++ + "U, " + d.getValue().divider() + "U); /* " + Escape.cComment(d.getKey()) + " "
                    + d.getValue().hertz() / 1e6 + " MHz */");
        }
    }

    private void tick() {
        each(program.terminals().stream().filter(Terminal::isInput).toList(), (p, x) -> {
            if (p.hasPins()) {
                t.line(code.where(x).strip());
            }
            p.read(code, x);
        });
        for (String entry : List.of(Program.SAMPLE, Program.STEP, Program.ADVANCE)) {
            t.line(program.name() + "_" + entry + "(&board.part);");
        }
        each(program.terminals().stream().filter(x -> !x.isInput()).toList(), (p, x) -> p.write(code, x));
    }
}
