package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;
import static boldanvil.core.stock.Parameter.real;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Type;
import java.util.List;

/** Decisions. */
final class Logic {
    static final BlockType COMPARE = BlockType.named("compare", "Compare", Family.LOGIC)
            .units(Kinds.compared("a", "b"))
            .help("y is true if the chosen relation holds between a and b.")
            .with(choice("relation", "The relation.", ">", "≥", "<", "≤", "=", "≠"))
            .face(Face.NONE.in("a", Accept.NUMBER).in("b", Accept.NUMBER).out("y")).summary("a {relation} b").type(Type.BOOL)
            .does(e -> {
                if (e.in("a").type().isFloat() && e.in("b").type() == e.in("a").type()) {
                    e.crossing(e.in("a").minus(e.in("b")));
                }
                e.output("y", e.in("a").compare(relation(e.text("relation")), e.in("b")));
            });

    static final BlockType LOGIC = BlockType.named("logic", "Logic", Family.LOGIC)
            .help("y = the inputs combined by and, or, xor, nand, nor; or not of the one input.")
            .with(choice("operation", "How the inputs are combined.", "and", "or", "xor", "nand", "nor", "not"),
                    choice("inputs", "Number of inputs; not has one.", "2", "3", "4"))
            .face(s -> {
                Face f = Face.NONE;
                for (int i = 1; i <= inputs(s.text("operation"), s.text("inputs")); i++) {
                    f = f.in("u" + i, Accept.LOGIC);
                }
                return f.out("y");
            })
            .summary("{operation}").type(Type.BOOL)
            .does(e -> {
                String operation = e.text("operation");
                var joined = e.ins("u", inputs(operation, e.text("inputs"))).stream().reduce((a, b) -> switch (operation) {
                    case "or", "nor" -> a.or(b);
                    case "xor" -> a.compare(Op.NE, b);
                    default -> a.and(b);
                }).orElseThrow();
                e.output("y", operation.startsWith("n") ? joined.not() : joined);
            });

    static final BlockType SWITCH = BlockType.named("switch", "Switch", Family.LOGIC).picture(Pictures::toggle)
            .units(Kinds.kept("y", "yes", "no"))
            .help("y = yes while the condition holds, else no.")
            .face(Face.NONE.in("yes", Accept.ANY).in("if", Accept.LOGIC).in("no", Accept.ANY).out("y")).summary("if: yes, else no")
            .type((in, _, _) -> in.get(0) != null ? in.get(0) : in.get(2))
            .does(e -> e.output("y", e.in("yes").when(e.in("if"), e.in("no"))));

    static final BlockType LATCH = BlockType.named("latch", "Latch", Family.LOGIC)
            .help("y becomes true with set and false with reset, and keeps its value in between. The dominant input has "
                    + "priority when both are true (IEC 61131-3: SR and RS).")
            .with(choice("dominant", "The input with priority.", "set", "reset"))
            .face(Face.NONE.in("set", Accept.LOGIC).in("reset", Accept.LOGIC).out("y")).summary("{dominant} wins").type(Type.BOOL)
            .discreteOnly()
            .does(e -> {
                var kept = e.state("kept", Type.BOOL, 0);
                var value = e.text("dominant").equals("set")
                        ? e.in("set").or(e.in("reset").not().and(Expr.read(kept)))
                        : e.in("reset").not().and(e.in("set").or(Expr.read(kept)));
                var now = e.temp("now", value);
                e.output("y", now);
                e.update(kept, Expr.read(e.slotOf("y")));
            });

    static final BlockType THRESHOLD = BlockType.named("threshold", "Threshold", Family.LOGIC).picture(Pictures::threshold)
            .units(Kinds.compared("u", "value"))
            .help("y is true if the chosen relation holds between u and the value.")
            .with(choice("relation", "The relation.", ">", "≥", "<", "≤", "=", "≠"), real("value", "0", "", "The value.").offered())
            .face(Face.NONE.in("u", Accept.NUMBER).out("y")).summary("u {relation} {value}").type(Type.BOOL)
            .does(e -> {
                var u = e.in("u");
                var value = e.param("value", u.type());
                if (u.type().isFloat()) {
                    e.crossing(u.minus(value));
                }
                e.output("y", u.compare(relation(e.text("relation")), value));
            });

    static final BlockType EDGE = BlockType.named("edge", "Edge detection", Family.LOGIC).picture(Pictures::edge)
            .help("y is true for one sample when u has become true (rising), false (falling), or has changed (any). Before the first "
            + "sample u "
                    + "counts as 'before' (IEC 61131-3: R_TRIG and F_TRIG).")
            .with(choice("edge", "The edge to detect.", "rising", "falling", "any"),
            choice("before", "u before the first sample.", "off", "on"))
            .face(Face.NONE.in("u", Accept.LOGIC).out("y")).summary("{edge} edge").type(Type.BOOL).discreteOnly()
            .does(e -> {
                var last = e.state("last", Type.BOOL, e.text("before").equals("on") ? 1 : 0);
                var u = e.in("u");
                var before = Expr.read(last);
                e.output("y", switch (e.text("edge")) {
                    case "falling" -> before.and(u.not());
                    case "any" -> u.compare(Op.NE, before);
                    default -> u.and(before.not());
                });
                e.update(last, u);
            });

    static final BlockType BITS = BlockType.named("bits", "Bitwise logic", Family.LOGIC)
            .help("y = the bits of a and b combined one by one; not: the complement of a. nand, nor as usual.")
            .with(choice("operation", "The operation.", "and", "or", "xor", "nand", "nor", "not"))
            .face(s -> s.text("operation").equals("not") ? Face.NONE.in("a", Accept.NUMBER).out("y")
                    : Face.NONE.in("a", Accept.NUMBER).in("b", Accept.NUMBER).out("y")).summary("bits {operation}")
            .does(e -> {
                var a = e.in("a");
                if (!integer(e, a)) {
                    return;
                }
                String operation = e.text("operation");
                Expr y = switch (operation) {
                    case "and", "nand" -> new Expr.Binary(Op.BAND, a, e.in("b"));
                    case "or", "nor" -> new Expr.Binary(Op.BOR, a, e.in("b"));
                    case "xor" -> new Expr.Binary(Op.BXOR, a, e.in("b"));
                    default -> a;
                };
                e.output("y", operation.startsWith("n") ? new Expr.Binary(Op.BXOR, y, ones(a.type())) : y);
            });

    static final BlockType SHIFT = BlockType.named("shift", "Shift bits", Family.LOGIC)
            .help("y = u shifted by a number of bits. Left fills with 0; right fills with the sign of a signed type. A shift by 32 or more "
                    + "bits leaves only the fill bits. rotate moves the bits of an unsigned type in a circle.")
            .with(choice("direction", "Direction.", "left", "right", "rotate left", "rotate right"),
                    real("by", "1", "1", "Number of bits.").atLeast(0).atMost(63))
            .face(Face.NONE.in("u", Accept.NUMBER).out("y")).summary("{direction} by {by}")
            .does(e -> {
                var u = e.in("u");
                if (!integer(e, u)) {
                    return;
                }
                Type t = u.type();
                int by = (int) e.value("by");
                int n = 8 * t.bytes();
                String direction = e.text("direction");
                if (direction.startsWith("rotate")) {
                    if (t.isSigned()) {
                        e.problem("The bits of a signed " + t.label() + " cannot be rotated.", "Convert the input to uint" + n + ".");
                        return;
                    }
                    int left = (direction.endsWith("left") ? by : n - by % n) % n;
                    e.output("y", new Expr.Binary(Op.BOR, new Expr.Binary(Op.SHL, u, Expr.of(t, left)),
                            new Expr.Binary(Op.SHR, u, Expr.of(t, n - left))));
                    return;
                }
                e.output("y", new Expr.Binary(direction.equals("left") ? Op.SHL : Op.SHR, u, Expr.of(t, Math.min(by, 32))));
            });

    static final BlockType PACK_BITS = BlockType.named("pack bits", "Pack bits", Family.LOGIC)
            .help("y = an unsigned integer whose bit 0 is b0, bit 1 is b1, and so on; open inputs are 0.")
            .with(choice("type", "Type of the output.", "uint8", "uint16", "uint32"),
            choice("bits", "Number of inputs.", "4", "8", "16", "32"))
            .face(s -> {
                Face f = Face.NONE;
                for (int i = 0; i < Integer.parseInt(s.text("bits")); i++) {
                    f = f.optional("b" + i, Accept.LOGIC);
                }
                return f.out("y");
            }).summary("{bits} bits to {type}").type((_, s, _) -> Type.labelled(s.text("type")))
            .does(e -> {
                Type t = e.typeOf("y");
                int n = Integer.parseInt(e.text("bits"));
                if (n > 8 * t.bytes()) {
                    e.problem(n + " bits do not fit into " + t.label() + ".", "Choose a wider type, or fewer bits.");
                    return;
                }
                Expr y = null;
                for (int i = 0; i < n; i++) {
                    if (e.connected("b" + i)) {
                        var bit = Expr.of(t, 1L << i).when(e.in("b" + i), Expr.of(t, 0));
                        y = y == null ? bit : new Expr.Binary(Op.BOR, y, bit);
                    }
                }
                e.output("y", y == null ? Expr.of(t, 0) : y);
            });

    static final BlockType UNPACK_BITS = BlockType.named("unpack bits", "Unpack bits", Family.LOGIC)
            .help("b0, b1 … = the bits of an integer, the lowest first.")
            .with(choice("bits", "Number of outputs.", "4", "8", "16", "32"))
            .face(s -> {
                Face f = Face.NONE.in("u", Accept.INTEGER);
                for (int i = 0; i < Integer.parseInt(s.text("bits")); i++) {
                    f = f.out("b" + i);
                }
                return f;
            }).summary("{bits} bits").type(Type.BOOL)
            .does(e -> {
                var u = e.in("u");
                for (int i = 0; i < Integer.parseInt(e.text("bits")); i++) {
                    // Beyond the type's own bits there is nothing but the sign, which does not count.
                    e.output("b" + i, i >= 8 * u.type().bytes() ? Expr.of(false) : new Expr.Binary(Op.BAND,
                            new Expr.Binary(Op.SHR, u, Expr.of(u.type(), i)), Expr.of(u.type(), 1)).compare(Op.NE, Expr.of(u.type(), 0)));
                }
            });

    static final BlockType PACK_WORDS = BlockType.named("to words", "Value to words", Family.LOGIC)
            .help("y1, y2 … = the bits of u in words of 8, 16 or 32 bits, the lowest word first or last (IEEE 754 interchange formats; "
            + "two's "
                    + "complement). For a protocol that carries a float64 in registers, for example.")
            .with(choice("from", "Type of the input.", "float64", "float32", "int32", "uint32", "int16", "uint16"),
                    choice("words", "Type of the words.", "uint16", "uint8", "uint32"),
                    choice("order", "Which word comes first.", "lowest first", "highest first"))
            .face(s -> {
                Face f = Face.NONE.in("u", Type.labelled(s.text("from")));
                for (int i = 1; i <= words(s); i++) {
                    f = f.out("y" + i);
                }
                return f;
            }).summary("{from} to {words}").type((_, s, _) -> Type.labelled(s.text("words")))
            .does(Logic::toWords);

    static final BlockType UNPACK_WORDS = BlockType.named("from words", "Words to value", Family.LOGIC)
            .help("y = the value whose bits are in the words u1, u2 …; the reverse of 'Value to words'.")
            .with(choice("to", "Type of the output.", "float64", "float32", "int32", "uint32", "int16", "uint16"),
                    choice("words", "Type of the words.", "uint16", "uint8", "uint32"),
                    choice("order", "Which word comes first.", "lowest first", "highest first"))
            .face(s -> {
                Face f = Face.NONE;
                for (int i = 1; i <= words(s); i++) {
                    f = f.in("u" + i, Type.labelled(s.text("words")));
                }
                return f.out("y");
            }).summary("{words} to {to}").type((_, s, _) -> Type.labelled(s.text("to")))
            .does(Logic::fromWords);

    static final BlockType SELECTOR = BlockType.named("multiplexer", "Multiplexer", Family.LOGIC).picture(Pictures::multiplexer)
            .formerly("selector")
            .units(f -> f.out("y", f.alike(java.util.Arrays.stream(f.inputs()).filter(i -> !i.equals("n")).toArray(String[]::new))))
            .help("y = the input whose number, from 1, arrives at n; the last input if there is no input with that number.")
            .with(choice("inputs", "Number of inputs.", "2", "3", "4", "5", "6", "7", "8"))
            .face(s -> {
                Face f = Face.NONE.in("n", Accept.INTEGER);
                for (int i = 1; i <= Integer.parseInt(s.text("inputs")); i++) {
                    f = f.in("u" + i, Accept.ANY);
                }
                return f.out("y");
            }).summary("one of {inputs}")
            .does(e -> {
                int count = Integer.parseInt(e.text("inputs"));
                var n = e.in("n");
                Expr y = e.in("u" + count);
                for (int i = count - 1; i >= 1; i--) {
                    y = e.in("u" + i).when(n.eq(Expr.of(n.type(), i)), y);
                }
                e.output("y", y);
            });

    static final List<BlockType> TYPES = List.of(COMPARE, THRESHOLD, LOGIC, SWITCH, SELECTOR, EDGE, LATCH, BITS, SHIFT, PACK_BITS,
            UNPACK_BITS,
            PACK_WORDS, UNPACK_WORDS);

    private Logic() {}

    private static int inputs(String operation, String count) {
        return operation.equals("not") ? 1 : Integer.parseInt(count);
    }

    private static Op relation(String text) {
        return switch (text) {
            case "≥" -> Op.GE;
            case "<" -> Op.LT;
            case "≤" -> Op.LE;
            case "=" -> Op.EQ;
            case "≠" -> Op.NE;
            default -> Op.GT;
        };
    }

    private static Expr ones(Type t) {
        return Expr.of(t, t.isSigned() ? -1 : t.greatest());
    }

    private static boolean integer(Emitter e, Expr u) {
        if (!u.type().isInteger()) {
            e.problem("The input carries " + u.type().label() + ", which has no bits to combine.",
                    "Insert a Type conversion block before it.");
        }
        return u.type().isInteger();
    }

    private static int words(Settings s) {
        Type value = Type.labelled(s.text(s.type().id().equals("to words") ? "from" : "to"));
        Type word = Type.labelled(s.text("words"));
        return Math.max(1, value.bytes() / word.bytes());
    }

    /** The port of the word with a number, counted from the lowest. */
    private static int port(Emitter e, int word, int count) {
        return e.text("order").equals("lowest first") ? word + 1 : count - word;
    }

    private static void toWords(Emitter e) {
        var u = e.in("u");
        Type word = Type.labelled(e.text("words"));
        int count = Math.max(1, u.type().bytes() / word.bytes());
        // What is not a number has many forms; one of them is sent.
        var none = u.compare(Op.NE, u);
        List<Expr> halves = switch (u.type()) {
            case FLOAT64 -> List.of(Expr.of(Type.UINT32, 0).when(none, new Expr.Bits(Expr.Form.LOW_OF_FLOAT64, List.of(u))),
                    Expr.of(Type.UINT32, 0x7FF80000L).when(none, new Expr.Bits(Expr.Form.HIGH_OF_FLOAT64, List.of(u))));
            case FLOAT32 -> List.of(Expr.of(Type.UINT32, 0x7FC00000L).when(none, new Expr.Bits(Expr.Form.FLOAT32_TO_UINT32, List.of(u))));
            default -> List.of(u.wrap(Type.UINT32));
        };
        int perHalf = 4 / word.bytes();
        for (int i = 0; i < count; i++) {
            var half = e.temp("half" + i / perHalf, halves.get(Math.min(i / perHalf, halves.size() - 1)));
            int shift = 8 * word.bytes() * (i % perHalf);
            var moved = shift == 0 ? half : new Expr.Binary(Op.SHR, half, Expr.of(Type.UINT32, shift));
            e.output("y" + port(e, i, count), moved.wrap(word));
        }
    }

    private static void fromWords(Emitter e) {
        Type to = e.typeOf("y");
        Type word = Type.labelled(e.text("words"));
        int count = Math.max(1, to.bytes() / word.bytes());
        int perHalf = 4 / word.bytes();
        Expr[] halves = new Expr[2];
        for (int i = 0; i < count; i++) {
            int shift = 8 * word.bytes() * (i % perHalf);
            var wide = e.in("u" + port(e, i, count)).wrap(Type.UINT32);
            var moved = shift == 0 ? wide : new Expr.Binary(Op.SHL, wide, Expr.of(Type.UINT32, shift));
            int h = i / perHalf;
            halves[h] = halves[h] == null ? moved : new Expr.Binary(Op.BOR, halves[h], moved);
        }
        e.output("y", switch (to) {
            case FLOAT64 -> new Expr.Bits(Expr.Form.HALVES_TO_FLOAT64, List.of(halves[1], halves[0]));
            case FLOAT32 -> new Expr.Bits(Expr.Form.UINT32_TO_FLOAT32, List.of(halves[0]));
            default -> halves[0].wrap(to);
        });
    }
}
