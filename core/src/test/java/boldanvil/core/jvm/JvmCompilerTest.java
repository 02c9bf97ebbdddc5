package boldanvil.core.jvm;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.core.instance.Instance;
import boldanvil.core.maths.MathFunctions;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Table;
import boldanvil.core.program.Type;
import boldanvil.core.testing.CompiledC;
import boldanvil.core.testing.PartBuilder;
import boldanvil.core.testing.RandomSheets;
import boldanvil.core.testing.Reference;
import boldanvil.core.testing.Stepper;
import java.util.ArrayList;
import java.util.List;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.DoubleRange;
import net.jqwik.api.constraints.LongRange;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;

class JvmCompilerTest {
    private static final double[] NUMBERS = {0, -0.0, 1, -1, 2, 0.5, 3.7, -3.7, 1e10, -1e10, 65535, 65536, 2147483647, -2147483648.0,
        Double.NaN, Double.POSITIVE_INFINITY, Double.NEGATIVE_INFINITY, Double.MIN_VALUE, Double.MAX_VALUE};
    private static final Origin HERE = Origin.of("test");

    /** A program that sets {@code y} once in its step. */
    private static Program program(List<Slot> inputs, Slot y, Expr value, List<Table> tables) {
        var fault = Slot.of("fault", Slot.Role.STATE, Type.INT32);
        List<Slot> slots = new ArrayList<>(inputs);
        slots.add(y);
        slots.add(fault);
        var body = List.<Stmt>of(new Stmt.Assign(y, value, HERE));
        var functions = value instanceof Expr.Apply a ? List.of(a.function()) : List.<boldanvil.core.program.Function>of();
        return new Program("p", "P", 1_000_000, slots, List.of(new Procedure("init", "", List.of()),
                new Procedure("sample", "", List.of()), new Procedure("step", "", body), new Procedure("advance", "", List.of())),
                functions, tables, List.of(), null, List.of(), List.of(), List.of(), fault);
    }

    private static Program program(List<Slot> inputs, Slot y, Expr value) {
        return program(inputs, y, value, List.of());
    }

    @Property(tries = 60)
    void takenBackItRunsAgainTheSame(@ForAll @LongRange(min = 0, max = 1_000_000) long seed) {
        var program = RandomSheets.part(seed, 30).program();
        Instance i = JvmCompiler.compile(program).instantiate();
        CompiledC.lines(program, i, 7, v -> v);
        double[] state = i.save();
        List<String> first = CompiledC.lines(program, i, 30, v -> v);
        i.restore(state);
        assertThat(CompiledC.lines(program, i, 30, v -> v)).isEqualTo(first);
    }

    @Test
    void arraysAreTakenBackWithEachElement() {
        var program = new PartBuilder("p").block("u", "inlet").block("m", "moving", "n=5").block("y", "outlet").wire("u.y", "m.u")
                .wire("m.y", "y.u").program();
        Instance i = JvmCompiler.compile(program).instantiate();
        var stepper = new Stepper(program, i);
        for (int k = 1; k <= 7; k++) {
            stepper.set("u", k * k).ticks(1);
        }
        double[] state = i.save();
        var slot = program.slots().stream().filter(Slot::isArray).findFirst().orElseThrow();
        double[] kept = i.elements(slot);
        assertThat(kept).contains(9, 16, 25, 36, 49);
        double next = stepper.set("u", 100).step().out("y");
        stepper.ticks(5);
        i.restore(state);
        assertThat(i.elements(slot)).isEqualTo(kept);
        assertThat(stepper.set("u", 100).step().out("y")).isEqualTo(next).isEqualTo((16 + 25 + 36 + 49 + 100) / 5.0);
    }

    private static void sameForAll(Program p, Slot a, Slot b, Slot y) {
        Instance jvm = JvmCompiler.compile(p).instantiate();
        Instance reference = new Reference(p);
        for (double u : NUMBERS) {
            for (double v : NUMBERS) {
                for (Instance i : List.of(jvm, reference)) {
                    i.init();
                    i.set(a, u);
                    i.set(b, v);
                    i.step();
                }
                // As objects, so that NaN equals NaN and −0 differs from 0.
                assertThat(Double.valueOf(jvm.get(y))).as("%s, %s", u, v).isEqualTo(Double.valueOf(reference.get(y)));
                assertThat(jvm.get(p.fault())).as("fault of %s, %s", u, v).isEqualTo(reference.get(p.fault()));
            }
        }
    }

    @ParameterizedTest
    @EnumSource(Op.class)
    void operatorsAgreeWithTheReferenceForEveryType(Op op) {
        for (Type t : Type.values()) {
            if (t.isWide() || op.isBits() && !t.isInteger() || op.isLogic() != (t == Type.BOOL)
                    && !(t == Type.BOOL && (op == Op.EQ || op == Op.NE))) {
                continue;
            }
            var a = Slot.of("a", Slot.Role.INPUT, t);
            var b = Slot.of("b", Slot.Role.INPUT, t);
            var y = Slot.of("y", Slot.Role.OUTPUT, op.isArithmetic() ? t : Type.BOOL);
            sameForAll(program(List.of(a, b), y, new Expr.Binary(op, Expr.read(a), Expr.read(b))), a, b, y);
        }
    }

    @ParameterizedTest
    @EnumSource(Type.class)
    void conversionsAgreeWithTheReference(Type to) {
        for (Type from : Type.values()) {
            if (from.isWide() || to.isWide()) {
                continue;
            }
            var a = Slot.of("a", Slot.Role.INPUT, from);
            var b = Slot.of("b", Slot.Role.INPUT, from);
            var y = Slot.of("y", Slot.Role.OUTPUT, to);
            sameForAll(program(List.of(a, b), y, Expr.read(a).as(to)), a, b, y);
        }
    }

    @ParameterizedTest
    @EnumSource(Expr.Intrinsic.class)
    void intrinsicsAgreeWithTheReference(Expr.Intrinsic f) {
        for (Type t : new Type[] {Type.FLOAT32, Type.FLOAT64}) {
            var a = Slot.of("a", Slot.Role.INPUT, t);
            var b = Slot.of("b", Slot.Role.INPUT, t);
            var y = Slot.of("y", Slot.Role.OUTPUT, t);
            sameForAll(program(List.of(a, b), y, Expr.read(a).call(f)), a, b, y);
        }
    }

    @ParameterizedTest
    @CsvSource({"2147483647, 1, -2147483648", "-2147483648, -1, 2147483647"})
    void integerSumsWrap(int a, int b, int sum) {
        assertThat(int32(Op.ADD, a, b).get(0)).isEqualTo(sum);
    }

    @Test
    void integerDivisionByZeroIsZeroAndAFault() {
        assertThat(int32(Op.DIV, 7, 0)).containsExactly(0.0, (double) Fault.raise(0, Fault.DIVISION_BY_ZERO, 1));
        assertThat(int32(Op.DIV, -7, 2)).containsExactly(-3.0, 0.0);
        assertThat(int32(Op.DIV, Integer.MIN_VALUE, -1).get(0)).isEqualTo(Integer.MIN_VALUE);
    }

    private static List<Double> int32(Op op, int a, int b) {
        var x = Slot.of("x", Slot.Role.INPUT, Type.INT32);
        var y = Slot.of("y", Slot.Role.OUTPUT, Type.INT32);
        var p = program(List.of(x), y, new Expr.Binary(op, Expr.read(x), Expr.of(Type.INT32, b)));
        Instance i = JvmCompiler.compile(p).instantiate();
        i.set(x, a);
        i.step();
        return List.of(i.get(y), i.get(p.fault()));
    }

    @Test
    void aTableHoldsItsIndexWithin() {
        var x = Slot.of("x", Slot.Role.INPUT, Type.INT32);
        var y = Slot.of("y", Slot.Role.OUTPUT, Type.FLOAT64);
        var table = new Table("t", Type.FLOAT64, new double[] {10, 20, 30});
        Instance i = JvmCompiler.compile(program(List.of(x), y, new Expr.Element(table, Expr.read(x)), List.of(table))).instantiate();
        for (int[] pair : new int[][] {{-5, 10}, {0, 10}, {1, 20}, {2, 30}, {99, 30}}) {
            i.set(x, pair[0]);
            i.step();
            assertThat(i.get(y)).isEqualTo(pair[1]);
        }
    }

    private static double apply(boldanvil.core.program.Function f, double v) {
        var x = Slot.of("x", Slot.Role.INPUT, Type.FLOAT64);
        var y = Slot.of("y", Slot.Role.OUTPUT, Type.FLOAT64);
        Instance i = JvmCompiler.compile(program(List.of(x), y, new Expr.Apply(f, Expr.read(x)))).instantiate();
        i.set(x, v);
        i.step();
        return i.get(y);
    }

    @Property(tries = 300)
    void sineAndCosineAreWithinTwoUnitsInTheLastPlace(@ForAll @DoubleRange(min = -1e5, max = 1e5) double v) {
        double sine = StrictMath.sin(v);
        double cosine = StrictMath.cos(v);
        assertThat(Math.abs(apply(MathFunctions.SINE, v) - sine)).isLessThanOrEqualTo(2 * Math.ulp(Math.max(Math.abs(sine), 1e-9)));
        assertThat(Math.abs(apply(MathFunctions.COSINE, v) - cosine)).isLessThanOrEqualTo(2 * Math.ulp(Math.max(Math.abs(cosine), 1e-9)));
    }

    @Test
    void sineAtKnownAngles() {
        assertThat(apply(MathFunctions.SINE, 0)).isZero();
        assertThat(apply(MathFunctions.SINE, Math.PI / 2)).isEqualTo(1);
        assertThat(apply(MathFunctions.COSINE, 0)).isEqualTo(1);
        assertThat(apply(MathFunctions.SINE, Double.NaN)).isNaN();
    }

    @Test
    void aLongSheetIsCutIntoMethodsAndStillRuns() {
        var b = new PartBuilder("long").block("in", "inlet").block("out", "outlet");
        String last = "in.y";
        for (int i = 0; i < 3_000; i++) {
            b.block("g" + i, "sum", "signs=++").wire(last, "g" + i + ".u1").wire("in.y", "g" + i + ".u2");
            last = "g" + i + ".y";
        }
        var p = b.wire(last, "out.u").program();
        Instance i = JvmCompiler.compile(p).instantiate();
        i.set(p.port("in").orElseThrow().slot(), 1);
        i.sample();
        i.step();
        assertThat(i.get(p.port("out").orElseThrow().slot())).isEqualTo(3_001);
    }

    @Test
    void instancesShareNothing() {
        var compiled = JvmCompiler.compile(new PartBuilder("c").block("count", "counter").block("out", "outlet")
                .wire("count.y", "out.u").program());
        var one = compiled.instantiate();
        var two = compiled.instantiate();
        one.step();
        one.step();
        assertThat(one).isNotSameAs(two);
        assertThat(two.getClass()).isSameAs(one.getClass());
    }

    @Test
    void initGoesBackToTheBeginning() {
        var p = new PartBuilder("c").block("count", "counter").block("out", "outlet").wire("count.y", "out.u").program();
        var i = JvmCompiler.compile(p).instantiate();
        for (int k = 0; k < 5; k++) {
            i.step();
        }
        assertThat(i.get(p.port("out").orElseThrow().slot())).isEqualTo(4);
        i.init();
        i.step();
        assertThat(i.get(p.port("out").orElseThrow().slot())).isZero();
    }

    @Test
    void aReaderGivesEveryTapOfItsGroup() {
        var b = new PartBuilder("p").block("run", "tunable", "value=3").block("a", "tap").block("t", "time").block("c", "tap");
        for (int i = 0; i < 700; i++) {
            b.block("k" + i, "constant", "value=" + i).block("x" + i, "tap").wire("k" + i + ".y", "x" + i + ".u");
        }
        Program p = b.wire("run.y", "a.u").wire("t.y", "c.u").program();
        Instance instance = JvmCompiler.compile(p).instantiate();
        for (int k = 0; k < 4; k++) {
            instance.sample();
            instance.step();
            for (var g : boldanvil.core.program.TapGroup.of(p)) {
                double[] row = new double[g.taps().size() + 1];
                instance.reader(g).read(row, 1);
                for (int i = 0; i < g.taps().size(); i++) {
                    assertThat(row[i + 1]).isEqualTo(instance.get(g.taps().get(i).slot()));
                }
            }
            instance.advance();
        }
        assertThat(p.taps()).hasSize(702);
    }

    @ParameterizedTest
    @org.junit.jupiter.params.provider.ValueSource(ints = {0, 1, -1, 32_767, 32_768, -32_768, -32_769, 40_001, 65_535, 65_536, 98_305,
            1_000_000_007,
        Integer.MAX_VALUE, Integer.MIN_VALUE, -65_536, -65_535})
    void everyWholeNumberIsItself(int n) {
        var y = Slot.of("y", Slot.Role.OUTPUT, Type.INT32);
        Instance instance = JvmCompiler.compile(program(List.of(), y, Expr.of(Type.INT32, n))).instantiate();
        instance.step();
        assertThat(instance.get(y)).isEqualTo(n);
    }
}
