package boldanvil.core.coverage;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.coverage.Coverage.OfBlock;
import boldanvil.core.coverage.Coverage.Share;
import boldanvil.core.coverage.Instrumenter.Instrumented;
import boldanvil.core.files.ProjectReader;
import boldanvil.core.instance.Instance;
import boldanvil.core.jvm.JvmCompiler;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Table;
import boldanvil.core.program.Type;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import org.junit.jupiter.api.Test;

class CoverageTest {
    private static final Origin AT = Origin.of("part/sheet/block");
    private final Slot a = Slot.of("a", Slot.Role.INPUT, Type.BOOL);
    private final Slot b = Slot.of("b", Slot.Role.INPUT, Type.BOOL);
    private final Slot c = Slot.of("c", Slot.Role.INPUT, Type.BOOL);
    private final Slot x = Slot.of("x", Slot.Role.INPUT, Type.FLOAT64);
    private final Slot y = Slot.of("y", Slot.Role.OUTPUT, Type.FLOAT64);
    private final Slot out = Slot.of("out", Slot.Role.OUTPUT, Type.BOOL);
    private final Slot fault = new Slot("fault", Slot.Role.STATE, Type.INT32, 0, "", "");

    private Program program(List<Table> tables, Stmt... body) {
        List<Procedure> procedures = List.of(new Procedure("init", "", List.of()), new Procedure("sample", "", List.of()),
                new Procedure("step", "", List.of(body)), new Procedure("advance", "", List.of()));
        return new Program("p", "P", 1_000_000, List.of(a, b, c, x, y, out, fault), procedures, List.of(), tables, List.of(), null,
                List.of(), List.of(), List.of(), fault);
    }

    /** Runs the inputs one after the other: bits of a, b and c, or values of x. */
    private OfBlock run(Program p, double... inputs) {
        Instrumented i = Instrumenter.of(p);
        Instance instance = JvmCompiler.compile(i.program()).instantiate();
        for (double v : inputs) {
            instance.set(a, (int) v & 1);
            instance.set(b, (int) v >> 1 & 1);
            instance.set(c, (int) v >> 2 & 1);
            instance.set(x, v);
            instance.step();
        }
        return i.of(instance.elements(i.hits())).blocks().getFirst();
    }

    private Stmt.Assign logic() {
        return new Stmt.Assign(out, Expr.read(a).and(Expr.read(b).or(Expr.read(c))), AT);
    }

    @Test
    void outcomesValuesAndEffectsOfALogicAreThoseOfTheTruthTable() {
        // a alone; a and b; b alone: c is never true, and its effect is not shown.
        var some = run(program(List.of(), logic()), 1, 3, 2);
        assertThat(some.path()).isEqualTo("part/sheet/block");
        assertThat(some.outcomes()).isEqualTo(new Share(2, 2));
        assertThat(some.values()).isEqualTo(new Share(5, 6));
        assertThat(some.effects()).isEqualTo(new Share(2, 3));
        assertThat(some.missing()).containsExactly("condition never true: c", "effect not shown: c");
        // Four combinations are enough for three conditions.
        var all = run(program(List.of(), logic()), 1, 3, 2, 5);
        assertThat(all.effects()).isEqualTo(new Share(3, 3));
        assertThat(all.missing()).isEmpty();
        assertThat(all.all().percent()).isEqualTo(100);
        var none = run(program(List.of(), logic()));
        assertThat(none.all().seen()).isZero();
        assertThat(none.missing()).contains("never reached: a and (b or c)");
    }

    @Test
    void theLimitsOfASaturationAreReachedOneByOne() {
        Expr low = Expr.of(-1.0);
        Expr high = Expr.of(1.0);
        Expr v = Expr.read(x);
        var limited = new Stmt.Assign(y, high.when(v.compare(Op.GT, high), low.when(v.compare(Op.LT, low), v)), AT);
        assertThat(run(program(List.of(), limited), 0.5).missing()).containsExactly("never true: x > 1", "never true: x < -1");
        assertThat(run(program(List.of(), limited), 0.5, 2).missing()).containsExactly("never true: x < -1");
        assertThat(run(program(List.of(), limited), 2).missing()).containsExactly("never false: x > 1", "never reached: x < -1");
        assertThat(run(program(List.of(), limited), 0.5, 2, -2).missing()).isEmpty();
    }

    @Test
    void entriesOfATableAreCounted() {
        var table = new Table("map", Type.FLOAT64, new double[] {1, 2, 3, 4, 5});
        var looked = new Stmt.Assign(y, new Expr.Element(table, Expr.read(x).as(Type.INT32)), AT);
        var some = run(program(List.of(table), looked), 1, 3, 99);
        assertThat(some.entries()).isEqualTo(new Share(3, 5));
        assertThat(some.missing()).containsExactly("3 of 5 entries of map read, from entry 2 to 5");
    }

    @Test
    void branchesAreCoveredWhereTheyAreReached() {
        var inner = new Stmt.If(Expr.read(b), List.of(new Stmt.Assign(y, Expr.of(2.0), AT)), List.of(), AT);
        var outer = new Stmt.If(Expr.read(a), List.of(inner), List.of(), AT);
        assertThat(run(program(List.of(), outer), 0, 2).missing()).containsExactly("never true: a", "never reached: b");
        assertThat(run(program(List.of(), outer), 0, 1, 3).missing()).isEmpty();
        // What only raises a fault is none of the sheet's decisions.
        var guard = new Stmt.If(Expr.read(c), List.of(new Stmt.Raise(0, AT)), List.of(), AT);
        assertThat(Instrumenter.of(program(List.of(), guard)).none().blocks()).isEmpty();
    }

    /** Against a plain count of what any set of inputs shows. */
    @Property(tries = 80)
    void severalRunsTogetherCoverWhatOneRunOfAllCovers(@ForAll @IntRange(max = 255) int first, @ForAll @IntRange(max = 255) int second) {
        Program p = program(List.of(), logic());
        Instrumented i = Instrumenter.of(p);
        List<Coverage> all = new ArrayList<>();
        for (int set : new int[] {first, second, first | second}) {
            Instance instance = JvmCompiler.compile(i.program()).instantiate();
            for (int v = 0; v < 8; v++) {
                if ((set >> v & 1) != 0) {
                    instance.set(a, v & 1);
                    instance.set(b, v >> 1 & 1);
                    instance.set(c, v >> 2 & 1);
                    instance.step();
                }
            }
            all.add(i.of(instance.elements(i.hits())));
        }
        assertThat(all.get(0).with(all.get(1)).blocks()).isEqualTo(all.get(2).blocks());
        assertThatThrownBy(() -> all.get(0).with(Instrumenter.of(program(List.of())).none())).isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    void aPartOfADemoComputesTheSameWithNotes() {
        var project = ProjectReader.read(Path.of("../demo/larkmere-lock"));
        Program p = LoweredSystem.of(project.as(project.rig("desk").orElseThrow())).program("controller").orElseThrow();
        Instrumented i = Instrumenter.of(p);
        Instance plain = JvmCompiler.compile(p).instantiate();
        Instance noting = JvmCompiler.compile(i.program()).instantiate();
        var random = new Random(3);
        for (int tick = 0; tick < 4_000; tick++) {
            for (var port : p.ports()) {
                if (port.isInput() && tick % 50 == 0) {
                    double v = port.slot().type() == Type.BOOL ? random.nextInt(2) : random.nextDouble() * 3;
                    plain.set(port.slot(), v);
                    noting.set(port.slot(), v);
                }
            }
            for (Instance x : List.of(plain, noting)) {
                x.sample();
                x.step();
                x.advance();
            }
            for (var tap : p.taps()) {
                assertThat(noting.get(tap.slot())).as(tap.name()).isEqualTo(plain.get(tap.slot()));
            }
        }
        var total = i.of(noting.elements(i.hits())).total();
        assertThat(total.outcomes().of()).isGreaterThan(40);
        assertThat(total.outcomes().seen()).isBetween(10, total.outcomes().of());
    }
}
