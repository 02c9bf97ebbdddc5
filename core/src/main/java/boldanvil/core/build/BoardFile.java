package boldanvil.core.build;

import boldanvil.core.board.Board;
import boldanvil.core.board.PatchNumbers;
import boldanvil.core.board.PinMath;
import boldanvil.core.c.CFile;
import boldanvil.core.c.CGenerator;
import boldanvil.core.c.CText;
import boldanvil.core.diagram.Patch;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.program.Type;
import java.util.List;
import java.util.TreeSet;

/** Writes the file that joins a part to its board: start-up, schedule, and the way from counts to signals and back. */
final class BoardFile {
    private final Program program;
    private final Board board;
    private final Patch patch;
    private final CText t = new CText();

    private BoardFile(Program program, Board board, Patch patch) {
        this.program = program;
        this.board = board;
        this.patch = patch;
    }

    /** @param patch complete and without conflicts */
    static CFile of(Program program, Board board, Patch patch) {
        return new BoardFile(program, board, patch).file();
    }

    static String name(Board board) {
        return board.name() + "_board.c";
    }

    private CFile file() {
        t.line("/*").line(" * " + CText.comment(program.title()) + " on " + board.title() + ".")
                .line(" * board_tick belongs into an interrupt every " + program.tickNanos() / 1000.0 + " us.").line(" */")
                .line("#include \"board_io.h\"").line("#include \"" + program.name() + ".h\"").line("")
                .line("#include <math.h>").line("");
        var encoders = terminals(TerminalKind.ENCODER_IN);
        t.line("/* All memory there is. */").open("static struct {");
        t.line(CGenerator.contextType(program) + " part;");
        for (Port p : encoders) {
            t.line("int32_t count_" + Registers.unit(channel(p)) + ";")
                    .line("uint16_t last_" + Registers.unit(channel(p)) + ";");
        }
        t.close("} board;").line("");
        if (!terminals(TerminalKind.PWM_OUT).isEmpty()) {
            t.lines("""
                    static uint16_t compare_of(double duty, double period)
                    {
                        double count = floor(duty * period + 0.5);
                        return count > 0.0 ? (uint16_t)(count < period ? count : period) : 0U;
                    }
                    """).line("");
        }
        start(encoders);
        tick();
        t.line("void *board_memory(void)").open("{").line("return &board.part;").close("}");
        return t.file(name(board));
    }

    private List<Port> terminals(TerminalKind kind) {
        return program.ports().stream().filter(p -> p.terminal() == kind).toList();
    }

    private String channel(Port p) {
        return patch.row(p.name()).orElseThrow().peripheral();
    }

    private int pin(Port p) {
        String pin = patch.row(p.name()).orElseThrow().pin();
        return board.pins().stream().map(Board.Pin::name).toList().indexOf(pin);
    }

    private void start(List<Port> encoders) {
        t.line("void board_start(void)").open("{").line(program.name() + "_init(&board.part);");
        var set = new TreeSet<Integer>();
        for (Port p : terminals(TerminalKind.PWM_OUT)) {
            int timerNumber = Registers.unit(channel(p));
            var timer = PatchNumbers.timer(board, p);
            if (set.add(timerNumber)) {
                t.at(p.path()).line("board_pwm_setup(" + timerNumber + "U, " + timer.prescaler() + "U, " + timer.period() + "U, "
                        + p.numbers().containsKey("alignment=centre") + "); /* " + timer.hertz() + " Hz */").at(null);
            }
        }
        for (Port p : encoders) {
            int unit = Registers.unit(channel(p));
            t.at(p.path()).line("board.count_" + unit + " = 0;")
                    .line("board.last_" + unit + " = board_encoder_read(" + unit + "U);").at(null);
        }
        t.close("}").line("");
    }

    private void tick() {
        t.line("void board_tick(void)").open("{");
        for (Port p : program.ports()) {
            if (p.isInput()) {
                t.at(p.path());
                read(p);
                t.at(null);
            }
        }
        for (String entry : List.of(Program.SAMPLE, Program.STEP, Program.ADVANCE)) {
            t.line(program.name() + "_" + entry + "(&board.part);");
        }
        for (Port p : program.ports()) {
            if (!p.isInput()) {
                t.at(p.path());
                write(p);
                t.at(null);
            }
        }
        t.line("board_watchdog();").close("}").line("");
    }

    private void read(Port p) {
        String target = CGenerator.access("board.part", p.slot());
        String real = p.slot().type() == Type.FLOAT32 ? "(float)" : "";
        String where = "/* " + CText.comment(p.path()) + ": " + channel(p) + ", pin "
                + patch.row(p.name()).orElseThrow().pin() + " */";
        switch (p.terminal()) {
            case ANALOG_IN -> t.line(where).line(target + " = " + real + "((double)board_adc_read(" + Registers.unit(channel(p))
                    + "U, " + Registers.index(channel(p)) + "U) * " + PinMath.adcVoltsPerCount(board) + ");");
            case ENCODER_IN -> {
                int unit = Registers.unit(channel(p));
                t.line(where).open("{")
                        .line("uint16_t now = board_encoder_read(" + unit + "U);")
                        .line("board.count_" + unit + " += (int16_t)(uint16_t)(now - board.last_" + unit + ");")
                        .line("board.last_" + unit + " = now;")
                        .line(target + " = " + real + "((double)board.count_" + unit + " * "
                                + PinMath.radiansPerCount(p.numbers().get("lines")) + ");")
                        .close("}");
            }
            case DIGITAL_IN -> t.line(where).line(target + " = board_digital_read(" + pin(p) + "U);");
            default -> throw new IllegalStateException(p.path());
        }
    }

    private void write(Port p) {
        String source = CGenerator.access("board.part", p.slot());
        if (p.terminal() == TerminalKind.DIGITAL_OUT) {
            t.line("board_digital_write(" + pin(p) + "U, " + source + ");");
            return;
        }
        t.line("board_pwm_write(" + Registers.unit(channel(p)) + "U, " + Registers.index(channel(p)) + "U, compare_of((double)"
                + source + ", " + PatchNumbers.timer(board, p).period() + ".0));");
    }
}
