package boldanvil.core.build;

import boldanvil.core.board.Board;
import boldanvil.core.board.BoardSetup;
import boldanvil.core.board.Channel;
import boldanvil.core.board.ClockTree;
import boldanvil.core.board.PinMath;
import boldanvil.core.c.CFile;
import boldanvil.core.c.CGenerator;
import boldanvil.core.c.CText;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.program.Type;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

/** Writes the file that joins a part to its board: start-up, schedule, and the way from counts to signals and back. */
final class BoardFile {
    /** Outputs whose values become counts. */
    private static final Set<TerminalKind> COUNTED = Set.of(TerminalKind.PWM_OUT, TerminalKind.PWM_PAIR_OUT, TerminalKind.THREE_PHASE_OUT, TerminalKind.ANALOG_OUT);

    private final Program program;
    private final Board board;
    private final BoardSetup setup;
    private final CText t = new CText();
    private final Set<String> setUp = new HashSet<>();
    private final LineCode lines;

    private BoardFile(BoardSetup setup) {
        this.setup = setup;
        program = setup.program();
        board = setup.board();
        lines = new LineCode(setup, t);
    }

    /** @param setup with a patch that is complete and without conflicts */
    static CFile of(BoardSetup setup) {
        return new BoardFile(setup).file();
    }

    static String name(Board board) {
        return board.name().replace('-', '_') + "_board.c";
    }

    private CFile file() {
        t.line("/*").line(" * " + CText.comment(program.title()) + " on " + CText.comment(board.title()) + ".")
                .line(" * board_tick belongs into an interrupt " + moment() + "every " + program.tickNanos() / 1000.0 + " us.").line(" */")
                .line("#include \"board_io.h\"").line("#include \"" + program.name() + ".h\"").line("")
                .line("#include <math.h>");
        if (any(TerminalKind.PACKET_IN, TerminalKind.PACKET_OUT)) {
            t.line("#include <string.h>");
        }
        t.line("");
        t.line("/* All memory there is. */").open("static struct {");
        t.line(CGenerator.contextType(program) + " part;");
        for (Terminal x : program.terminals()) {
            if (isCounting(x)) {
                t.line("int32_t count_" + timer(x) + ";").line("uint32_t last_" + timer(x) + ";");
            }
            if (x.kind() == TerminalKind.INDEXED_ENCODER_IN) {
                t.line("int32_t zero_" + timer(x) + ";").line("bool found_" + timer(x) + ";");
            }
        }
        t.close("} board;").line("");
        helpers();
        safe();
        start();
        tick();
        t.line("void *board_memory(void)").open("{").line("return &board.part;").close("}");
        return t.file(name(board));
    }

    /** The moment of a PWM period at which the step is to begin, where one is asked for. */
    private String moment() {
        return program.terminals().stream().filter(x -> x.kind() != TerminalKind.TRIP_IN && x.texts().getOrDefault("synchronised", "no").startsWith("at ")).findFirst()
                .map(x -> "of " + channel(x).unit() + " " + x.texts().get("synchronised") + ", ").orElse("");
    }

    private boolean any(TerminalKind... kinds) {
        return program.terminals().stream().anyMatch(x -> List.of(kinds).contains(x.kind()));
    }

    private static boolean isCounting(Terminal x) {
        return x.kind() == TerminalKind.ENCODER_IN || x.kind() == TerminalKind.INDEXED_ENCODER_IN || x.kind() == TerminalKind.COUNTER_IN;
    }

    private Channel channel(Terminal x) {
        return setup.channel(x).orElseThrow();
    }

    /** Number of a terminal's timer. */
    private int timer(Terminal x) {
        return board.timerNumber(channel(x));
    }

    /** Number of a PWM channel within its timer. */
    private int output(Terminal x) {
        return board.outputNumber(channel(x));
    }

    private int pin(Terminal x) {
        return board.pinNumber(setup.pins(x).getFirst());
    }

    /** Whether duty cycles and voltages are computed in float32, as the part is. */
    private boolean single() {
        return program.terminals().stream().filter(x -> COUNTED.contains(x.kind())).anyMatch(x -> isSingle(x.ports().getFirst()));
    }

    private static boolean isSingle(Port p) {
        return p.slot().type() == Type.FLOAT32;
    }

    /** A whole number of hardware as one of a port's precision, times a constant. */
    private static String scaled(Port p, String count, double factor) {
        return "(" + (isSingle(p) ? "float" : "double") + ")" + count + " * " + CGenerator.literal(p.slot().type(), factor);
    }

    private static String number(double v) {
        return CGenerator.literal(Type.FLOAT64, v);
    }

    private void helpers() {
        if (program.terminals().stream().anyMatch(x -> COUNTED.contains(x.kind()))) {
            String text = """
                    /* A value in units of one count, rounded to the nearest and held between 0 and the greatest count. */
                    static uint32_t count_of(double value, double greatest)
                    {
                        double count = floor(value + 0.5);
                        return count > 0.0 ? (uint32_t)(count < greatest ? count : greatest) : 0U;
                    }
                    """;
            t.lines(single() ? text.replace("double ", "float ").replace("floor(", "floorf(").replace("0.5", "0.5F").replace("0.0", "0.0F") : text).line("");
        }
        if (program.terminals().stream().anyMatch(BoardFile::isCounting)) {
            t.lines("""
                    /* How far a wrapping counter has moved, where that is less than half its range. */
                    static int32_t moved(uint32_t now, uint32_t last, uint32_t top)
                    {
                        uint32_t up = (now - last) & top;
                        return up > top / 2U ? -(int32_t)(top - up) - 1 : (int32_t)up;
                    }
                    """).line("");
        }
        lines.helpers();
    }

    private void safe() {
        t.line("void board_safe(void)").open("{");
        Set<Integer> timers = new HashSet<>();
        for (Terminal x : program.terminals()) {
            t.at(x.path());
            switch (x.kind()) {
                case PWM_OUT, PWM_PAIR_OUT, THREE_PHASE_OUT -> {
                    if (timers.add(timer(x))) {
                        t.line("board_pwm_rest(" + timer(x) + "U, " + x.has("safe", "high") + ");" + where(x));
                    }
                }
                case PULSE_OUT -> t.line("board_pulse_write(" + timer(x) + "U, 1U, 0U);" + where(x));
                case DIGITAL_OUT -> t.line("board_digital_write(" + pin(x) + "U, " + x.has("safe", "high") + ");" + where(x));
                case ANALOG_OUT -> t.line("board_dac_write(" + board.analogOutputNumber(channel(x)) + "U, " + setup.scale(x).orElseThrow().count(x.number("safe")) + "U);" + where(x));
                default -> { }
            }
            t.at(null);
        }
        t.close("}").line("");
    }

    private void start() {
        t.line("void board_start(void)").open("{").line("board_safe();").line(program.name() + "_init(&board.part);");
        clocks();
        for (Terminal x : program.terminals()) {
            t.at(x.path());
            setUp(x);
            t.at(null);
        }
        t.close("}").line("");
    }

    private void clocks() {
        var clock = setup.clock();
        int source = board.clock().sources().stream().map(ClockTree.Source::name).toList().indexOf(clock.source().name());
        t.line("board_clock_setup(" + source + "U, " + clock.divide() + "U, " + clock.multiply() + "U, " + clock.post() + "U); /* " + CText.comment(clock.words()) + " */");
        int n = 0;
        for (var d : clock.domains().entrySet()) {
            t.line("board_clock_divide(" + n++ + "U, " + d.getValue().divider() + "U); /* " + CText.comment(d.getKey()) + " " + d.getValue().hertz() / 1e6 + " MHz */");
        }
    }

    private void setUp(Terminal x) {
        switch (x.kind()) {
            case PWM_OUT, PWM_PAIR_OUT, THREE_PHASE_OUT -> {
                if (!setUp.add(channel(x).unit())) {
                    return;
                }
                var timer = setup.pwm(x).orElseThrow();
                long phase = Math.round(x.number("phase") * timer.period() * (timer.centre() ? 2 : 1));
                t.line("board_pwm_setup(" + timer(x) + "U, " + timer.prescaler() + "U, " + timer.period() + "U, " + timer.centre() + ", " + phase + "U); /* "
                        + channel(x).unit() + ": " + timer.hertz() + " Hz */");
                var dead = setup.deadTime(x).orElseThrow();
                if (dead.count() > 0) {
                    t.line("board_pwm_dead_time(" + timer(x) + "U, " + dead.prescaler() + "U, " + dead.count() + "U); /* " + Math.round(dead.seconds() * 1e9) + " ns */");
                }
            }
            case ANALOG_IN -> t.line("board_adc_setup(" + board.converterNumber(channel(x)) + "U, " + board.inputNumber(channel(x)) + "U, "
                    + setup.sampling(x).orElseThrow().choice() + "U, " + trigger(x) + "U);" + where(x));
            case ENCODER_IN, INDEXED_ENCODER_IN, COUNTER_IN -> {
                if (x.kind() != TerminalKind.COUNTER_IN) {
                    t.line("board_encoder_setup(" + timer(x) + "U, " + Math.round(setup.filter(x) * 1e9) + "U);" + where(x));
                }
                t.line("board.count_" + timer(x) + " = 0;").line("board.last_" + timer(x) + " = " + counter(x) + ";");
                if (x.kind() == TerminalKind.INDEXED_ENCODER_IN) {
                    t.line("board.zero_" + timer(x) + " = 0;").line("board.found_" + timer(x) + " = false;");
                }
            }
            case TRIP_IN -> t.line("board_pwm_trip(" + timer(x) + "U);" + where(x));
            case CAPTURE_IN, DELAY_IN -> t.line("board_capture_setup(" + timer(x) + "U, " + setup.capture(x).orElseThrow().prescaler() + "U);" + where(x));
            case DIGITAL_IN, EDGE_IN -> {
                t.line("board_digital_setup(" + pin(x) + "U, " + List.of("none", "up", "down").indexOf(x.texts().get("pull")) + "U);" + where(x));
                if (x.kind() == TerminalKind.EDGE_IN) {
                    t.line("board_edge_setup(" + pin(x) + "U, " + !x.has("edge", "falling") + ", " + !x.has("edge", "rising") + ");");
                }
            }
            case PACKET_IN, PACKET_OUT, FRAME_IN, FRAME_OUT -> {
                if (setUp.add(channel(x).unit())) {
                    lines.setUp(x);
                }
            }
            case WATCHDOG -> {
                var dog = setup.watchdog(x).orElseThrow();
                t.line("board_watchdog_setup(" + dog.prescaler() + "U, " + dog.reload() + "U); /* " + dog.seconds() * 1e3 + " ms */");
            }
            default -> { }
        }
    }

    /** Number of a converter's trigger in the board file. */
    private int trigger(Terminal x) {
        if (x.has("trigger", "task")) {
            return 0;
        }
        var timers = program.terminals().stream().filter(p -> p.numbers().containsKey("frequency")).map(p -> channel(p).unit()).collect(Collectors.toSet());
        var triggers = board.converter(channel(x).unit()).orElseThrow().triggers();
        for (int i = 0; i < triggers.size(); i++) {
            int space = triggers.get(i).lastIndexOf(' ');
            if (space > 0 && timers.contains(triggers.get(i).substring(0, space)) && triggers.get(i).endsWith(" " + x.texts().get("trigger"))) {
                return i;
            }
        }
        throw new IllegalStateException(x.path());
    }

    private void tick() {
        t.line("void board_tick(void)").open("{");
        for (Terminal x : program.terminals()) {
            if (x.isInput()) {
                t.at(x.path());
                read(x);
                t.at(null);
            }
        }
        for (String entry : List.of(Program.SAMPLE, Program.STEP, Program.ADVANCE)) {
            t.line(program.name() + "_" + entry + "(&board.part);");
        }
        for (Terminal x : program.terminals()) {
            if (!x.isInput()) {
                t.at(x.path());
                write(x);
                t.at(null);
            }
        }
        t.close("}").line("");
    }

    private String counter(Terminal x) {
        return (x.kind() == TerminalKind.COUNTER_IN ? "board_counter_read(" : "board_encoder_read(") + timer(x) + "U)";
    }

    /** A comment with the terminal's way. */
    private String where(Terminal x) {
        return " /* " + CText.comment(x.path() + ": " + channel(x).id() + ", pin " + String.join(",", setup.pins(x))) + " */";
    }

    private static String access(Port p) {
        return CGenerator.access("board.part", p.slot());
    }

    private void set(Port p, String value) {
        t.line(access(p) + " = " + (p.slot().type() == Type.FLOAT32 ? "(float)(" + value + ")" : value) + ";");
    }

    private void read(Terminal x) {
        Port first = x.ports().getFirst();
        if (x.kind().hasPins()) {
            t.line(where(x).strip());
        }
        switch (x.kind()) {
            case ANALOG_IN -> t.line(access(first) + " = " + scaled(first, "board_adc_read(" + board.converterNumber(channel(x)) + "U, " + board.inputNumber(channel(x)) + "U)",
                    setup.scale(x).orElseThrow().voltsPerCount()) + ";");
            case ENCODER_IN, INDEXED_ENCODER_IN, COUNTER_IN -> counted(x, first);
            case CAPTURE_IN -> {
                t.open("{").line("uint32_t high;").line("uint32_t period = board_capture_read(" + timer(x) + "U, &high);");
                set(first, "period == 0U ? 0.0 : " + number(setup.capture(x).orElseThrow().tickHertz()) + " / (double)period");
                set(x.ports().get(1), "period == 0U ? 0.0 : (double)high / (double)period");
                t.close("}");
            }
            case DELAY_IN -> set(first, "(double)board_delay_read(" + timer(x) + "U) / " + number(setup.capture(x).orElseThrow().tickHertz()));
            case TRIP_IN -> set(first, "board_pwm_tripped(" + timer(x) + "U)");
            case DIGITAL_IN -> set(first, "board_digital_read(" + pin(x) + "U)");
            case EDGE_IN -> {
                set(first, "board_digital_read(" + pin(x) + "U)");
                set(x.ports().get(1), "board_edge_take(" + pin(x) + "U)");
            }
            case PACKET_IN, FRAME_IN, I2C_IN, SPI_IN -> lines.read(x);
            case HEALTH -> {
                set(first, "(double)board_load() / 10000.0");
                set(x.ports().get(1), "board_overruns()");
                set(x.ports().get(2), "board_stack_free()");
                set(x.ports().get(3), "board_reset_cause()");
            }
            default -> throw new IllegalStateException(x.path());
        }
    }

    /** Counters that are extended in software, and the encoder's index. */
    private void counted(Terminal x, Port first) {
        int unit = timer(x);
        String top = board.timers().get(unit).top() + "U";
        t.open("{").line("uint32_t now = " + counter(x) + ";").line("board.count_" + unit + " += moved(now, board.last_" + unit + ", " + top + ");")
                .line("board.last_" + unit + " = now;");
        if (x.kind() == TerminalKind.COUNTER_IN) {
            set(first, "(double)board.count_" + unit);
        } else {
            String count = "board.count_" + unit;
            if (x.kind() == TerminalKind.INDEXED_ENCODER_IN) {
                t.line("uint32_t at;").open("if (!board.found_" + unit + " && board_encoder_index(" + unit + "U, &at)) {").line("board.found_" + unit + " = true;")
                        .line("board.zero_" + unit + " = board.count_" + unit + " - moved(now, at, " + top + ");").close("}");
                count = "(board.count_" + unit + " - board.zero_" + unit + ")";
                set(x.ports().get(1), "(uint8_t)(board.found_" + unit + " ? 2 : 1)");
            }
            t.line(access(first) + " = " + scaled(first, count, PinMath.radiansPerCount(x.number("lines"))) + ";");
        }
        t.close("}");
    }

    private void write(Terminal x) {
        String source = access(x.ports().getFirst());
        switch (x.kind()) {
            case DIGITAL_OUT -> t.line("board_digital_write(" + pin(x) + "U, " + source + ");");
            case PWM_OUT, PWM_PAIR_OUT -> compare(x, output(x), source);
            case THREE_PHASE_OUT -> {
                for (int i = 0; i < 3; i++) {
                    compare(x, i, access(x.ports().get(i)));
                }
            }
            case ANALOG_OUT -> {
                var scale = setup.scale(x).orElseThrow();
                Type type = x.ports().getFirst().slot().type();
                t.line("board_dac_write(" + board.analogOutputNumber(channel(x)) + "U, (uint16_t)count_of(" + source + " / " + CGenerator.literal(type, scale.voltsPerCount()) + ", "
                        + CGenerator.literal(type, (1L << scale.bits()) - 1) + "));");
            }
            case PULSE_OUT -> pulses(x, source);
            case PACKET_OUT, FRAME_OUT -> lines.write(x);
            case WATCHDOG -> t.open("if (" + source + ") {").line("board_watchdog();").close("}");
            default -> throw new IllegalStateException(x.path());
        }
    }

    private void compare(Terminal x, int output, String source) {
        String period = CGenerator.literal(x.ports().getFirst().slot().type(), setup.pwm(x).orElseThrow().period());
        t.line("board_pwm_write(" + timer(x) + "U, " + output + "U, count_of(" + source + " * " + period + ", " + period + "));");
    }

    private void pulses(Terminal x, String source) {
        var timer = setup.timer(x).orElseThrow();
        t.open("{").line("static const uint16_t prescalers[] = {" + timer.prescalers().stream().map(p -> p + "U").collect(Collectors.joining(", ")) + "};")
                .line("double hertz = (double)" + source + ";").line("uint16_t prescaler = 1U;").line("uint32_t period = 0U;").line("uint8_t i;")
                .open("for (i = 0U; hertz > 0.0 && period == 0U && i < " + timer.prescalers().size() + "U; i++) {")
                .line("double counts = floor(" + number(setup.timerHertz(x)) + " / (double)prescalers[i] / hertz + 0.5);")
                .open("if (counts >= 2.0 && counts <= " + number(timer.top()) + ") {").line("prescaler = prescalers[i];").line("period = (uint32_t)counts;").close("}")
                .close("}").line("board_pulse_write(" + timer(x) + "U, prescaler, period);").close("}");
    }
}
