package boldanvil.core.peripheral;

import boldanvil.core.escape.Escape;
import boldanvil.core.board.Board;
import boldanvil.core.board.Channel;
import boldanvil.core.c.CGenerator;
import boldanvil.core.output.CodeText;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.Type;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;

/** The C file that joins a part to its board, as peripherals write to it. */
public final class BoardCode {
    private final BoardSetup setup;
    private final CodeText t;
    private final Set<String> done = new HashSet<>();
    private final Map<String, String> functions = new LinkedHashMap<>();

    public BoardCode(BoardSetup setup, CodeText t) {
        this.setup = setup;
        this.t = t;
    }

    public BoardSetup setup() {
        return setup;
    }

    public CodeText text() {
        return t;
    }

    /** The board the part is for. */
    public Board board() {
        return setup.board();
    }

    public Program program() {
        return setup.program();
    }

    /** True at the first call with this key, so that what a unit has in common is written once. */
    public boolean once(String key) {
        return done.add(key);
    }

    /** The channel a terminal has; it has one by the time code is generated. */
    public Channel channel(Terminal x) {
        return setup.channel(x).orElseThrow();
    }

    /** Number of a terminal's timer. */
    public int timer(Terminal x) {
        return board().timerNumber(channel(x));
    }

    /** The number of the first pin of a terminal. */
    public int pin(Terminal x) {
        return board().pinNumber(setup.pins(x).getFirst());
    }

    public static boolean isSingle(Port p) {
        return p.slot().type() == Type.FLOAT32;
    }

    /** A whole number of hardware as one of a port's precision, times a constant. */
    public static String scaled(Port p, String count, double factor) {
        return "(" + (isSingle(p) ? "float" : "double") + ")" + count + " * " + CGenerator.literal(p.slot().type(), factor);
    }

    /** A C literal of type double. */
    public static String number(double v) {
        return CGenerator.literal(Type.FLOAT64, v);
    }

    /** A comment with the terminal's way. */
    public String where(Terminal x) {
        return " /* " + Escape.cComment(x.path() + ": " + channel(x).id() + ", pin " + String.join(",", setup.pins(x))) + " */";
    }

    /** The C expression of the signal of a port. */
    public static String access(Port p) {
        return CGenerator.access("board.part", p.slot());
    }

    /** A double as a value of the precision of a port. */
    public static String cast(Port p, String value) {
        return isSingle(p) ? "(float)(" + value + ")" : value;
    }

    /** Writes the statement that sets the signal of a port. */
    public void set(Port p, String value) {
        t.line(access(p) + " = " + cast(p, value) + ";");
    }

    /** Asks for a function of {@code board_functions.c}, with all it needs. */
    public void use(String function) {
        functions.putIfAbsent(function, "");
    }

    /** Asks for a function of {@code board_functions.c} in the precision of a port. */
    public void use(String function, Port p) {
        functions.merge(function, isSingle(p) ? "float" : "double", (a, b) -> a.equals("float") || b.equals("float") ? "float" : b);
    }

    /** Writes the functions that were asked for. */
    public void functions() {
        CodeText.sections(BoardCode.class, "board_functions.c").forEach((name, text) -> {
            if (functions.containsKey(name)) {
                t.lines(functions.get(name).equals("float") ? text.replace("double ", "float ").replace("floor(", "floorf(")
                        .replaceAll("(\\d\\.\\d)", "$1F") : text).line("");
            }
        });
    }
}
