package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Type;
import java.util.List;

/** Decisions. */
final class Logic {
    static final BlockType COMPARE = BlockType.named("compare", "Compare", Family.LOGIC)
            .help("y = whether a stands in the chosen relation to b.")
            .with(choice("relation", "The relation.", ">", "≥", "<", "≤", "=", "≠"))
            .face(Face.NONE.in("a", Accept.NUMBER).in("b", Accept.NUMBER).out("y")).says("a {relation} b").type(Type.BOOL)
            .does(e -> e.output("y", e.in("a").compare(switch (e.text("relation")) {
                case "≥" -> Op.GE;
                case "<" -> Op.LT;
                case "≤" -> Op.LE;
                case "=" -> Op.EQ;
                case "≠" -> Op.NE;
                default -> Op.GT;
            }, e.in("b"))));

    static final BlockType LOGIC = BlockType.named("logic", "Logic", Family.LOGIC)
            .help("y = the inputs joined by and, or, xor, nand, nor; or not of the one input.")
            .with(choice("operation", "How the inputs are joined.", "and", "or", "xor", "nand", "nor", "not"),
                    choice("inputs", "Number of inputs; not has one.", "2", "3", "4"))
            .face(s -> {
                Face f = Face.NONE;
                for (int i = 1; i <= inputs(s.text("operation"), s.text("inputs")); i++) {
                    f = f.in("u" + i, Accept.LOGIC);
                }
                return f.out("y");
            })
            .says("{operation}").type(Type.BOOL)
            .does(e -> {
                String operation = e.text("operation");
                var joined = e.ins("u", inputs(operation, e.text("inputs"))).stream().reduce((a, b) -> switch (operation) {
                    case "or", "nor" -> a.or(b);
                    case "xor" -> a.compare(Op.NE, b);
                    default -> a.and(b);
                }).orElseThrow();
                e.output("y", operation.startsWith("n") ? joined.not() : joined);
            });

    static final BlockType SWITCH = BlockType.named("switch", "Switch", Family.LOGIC)
            .help("y = yes while the condition holds, else no.")
            .face(Face.NONE.in("yes", Accept.ANY).in("if", Accept.LOGIC).in("no", Accept.ANY).out("y")).says("if: yes, else no")
            .type((in, _, _) -> in.get(0) != null ? in.get(0) : in.get(2))
            .does(e -> e.output("y", e.in("yes").when(e.in("if"), e.in("no"))));

    static final BlockType LATCH = BlockType.named("latch", "Latch", Family.LOGIC)
            .help("y becomes true with set and false with reset, and keeps its value in between. The dominant input wins "
                    + "when both hold (IEC 61131-3: SR and RS).")
            .with(choice("dominant", "The input that wins.", "set", "reset"))
            .face(Face.NONE.in("set", Accept.LOGIC).in("reset", Accept.LOGIC).out("y")).says("{dominant} wins").type(Type.BOOL)
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

    static final List<BlockType> TYPES = List.of(COMPARE, LOGIC, SWITCH, LATCH);

    private Logic() {}

    private static int inputs(String operation, String count) {
        return operation.equals("not") ? 1 : Integer.parseInt(count);
    }
}
