package boldanvil.core.program;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import boldanvil.core.maths.MathFunctions;
import boldanvil.core.program.Expr.Literal;
import boldanvil.core.program.Expr.Op;
import org.junit.jupiter.api.Test;

class ExprTest {
    private final Slot x = Slot.of("x", Slot.Role.INPUT, Type.FLOAT64);
    private final Slot n = Slot.of("n", Slot.Role.INPUT, Type.INT32);
    private final Slot b = Slot.of("b", Slot.Role.INPUT, Type.BOOL);

    private static double literal(Expr e) {
        return ((Literal) e).value();
    }

    @Test
    void floatingConstantsAreFolded() {
        assertThat(literal(Expr.of(2.0).plus(Expr.of(3.0)))).isEqualTo(5);
        assertThat(literal(Expr.of(2.0).minus(Expr.of(3.0)))).isEqualTo(-1);
        assertThat(literal(Expr.of(2.0).times(Expr.of(3.0)))).isEqualTo(6);
        assertThat(literal(Expr.of(1.0).over(Expr.of(4.0)))).isEqualTo(0.25);
        assertThat(literal(Expr.of(1.0).lt(Expr.of(4.0)))).isEqualTo(1);
        assertThat(literal(Expr.of(true).and(Expr.of(false)))).isZero();
        assertThat(literal(Expr.of(true).or(Expr.of(false)))).isEqualTo(1);
    }

    @Test
    void singlePrecisionIsFoldedInSinglePrecision() {
        Expr third = Expr.of(Type.FLOAT32, 1).over(Expr.of(Type.FLOAT32, 3));
        assertThat(literal(third)).isEqualTo(1F / 3F);
    }

    @Test
    void integerArithmeticIsLeftToRunTimeForItsFaults() {
        assertThat(Expr.of(Type.INT32, 1).over(Expr.of(Type.INT32, 0))).isInstanceOf(Expr.Binary.class);
    }

    @Test
    void factorsOfOneVanish() {
        assertThat(Expr.read(x).times(1)).isEqualTo(Expr.read(x));
        assertThat(Expr.of(1.0).times(Expr.read(x))).isEqualTo(Expr.read(x));
        assertThat(Expr.read(x).over(Expr.of(1.0))).isEqualTo(Expr.read(x));
    }

    @Test
    void addingZeroStaysBecauseOfNegativeZero() {
        assertThat(Expr.read(x).plus(Expr.of(0.0))).isInstanceOf(Expr.Binary.class);
    }

    @Test
    void comparisonsThatCanOnlyGoOneWayAreSettled() {
        var s = Slot.of("s", Slot.Role.INPUT, Type.UINT16);
        assertThat(literal(Expr.read(n).compare(Op.GE, Expr.read(n)))).isEqualTo(1);
        assertThat(literal(Expr.read(n).compare(Op.NE, Expr.read(n)))).isZero();
        assertThat(literal(Expr.read(s).lt(Expr.of(Type.UINT16, 0)))).isZero();
        assertThat(literal(Expr.of(Type.UINT16, 65_535).compare(Op.GE, Expr.read(s)))).isEqualTo(1);
        assertThat(Expr.read(b).and(Expr.of(true))).isEqualTo(Expr.read(b));
        assertThat(literal(Expr.of(false).and(Expr.read(b)))).isZero();
        assertThat(literal(Expr.read(b).or(Expr.of(true)))).isEqualTo(1);
    }

    @Test
    void aNumberThatMayBeNoNumberIsStillComparedWithItself() {
        assertThat(Expr.read(x).compare(Op.EQ, Expr.read(x))).isInstanceOf(Expr.Binary.class);
    }

    @Test
    void aKnownConditionChoosesAtOnce() {
        assertThat(Expr.of(1.0).when(Expr.of(true), Expr.read(x))).isEqualTo(Expr.of(1.0));
        assertThat(Expr.of(1.0).when(Expr.of(false), Expr.read(x))).isEqualTo(Expr.read(x));
    }

    @Test
    void conversionToTheSameTypeIsNothing() {
        assertThat(Expr.read(x).as(Type.FLOAT64)).isEqualTo(Expr.read(x));
        assertThat(literal(Expr.of(2.7).as(Type.INT32))).isEqualTo(2);
    }

    @Test
    void mixedTypesAreRefused() {
        assertThatThrownBy(() -> Expr.read(x).plus(Expr.read(n))).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> Expr.read(x).and(Expr.read(b))).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> Expr.read(b).plus(Expr.read(b))).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> Expr.read(x).not()).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> Expr.read(n).call(Expr.Intrinsic.SQRT)).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> Expr.read(x).when(Expr.read(x), Expr.of(0.0))).isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> new Stmt.Assign(n, Expr.read(x), Origin.of("here")))
                .isInstanceOf(IllegalArgumentException.class).hasMessageContaining("here");
    }

    @Test
    void logicAllowsEqualityOfBooleans() {
        assertThat(Expr.read(b).compare(Op.EQ, Expr.of(true)).type()).isEqualTo(Type.BOOL);
        assertThatThrownBy(() -> Expr.read(b).compare(Op.LT, Expr.of(true))).isInstanceOf(IllegalArgumentException.class);
    }

    @Test
    void everyKindOfExpressionNamesItsChildren() {
        var f = MathFunctions.SINE;
        var table = new Table("t", Type.FLOAT64, new double[] {1, 2});
        assertThat(Expr.of(1.0).children()).isEmpty();
        assertThat(Expr.read(x).plus(Expr.read(x)).children()).hasSize(2);
        assertThat(new Expr.Apply(f, Expr.read(x)).children()).hasSize(1);
        assertThat(new Expr.Element(table, Expr.read(n)).children()).hasSize(1);
        assertThat(Expr.read(x).when(Expr.read(b), Expr.of(0.0)).children()).hasSize(3);
        assertThat(Expr.read(n).as(Type.FLOAT64).children()).hasSize(1);
        assertThat(Expr.read(b).not().children()).hasSize(1);
    }

    @Test
    void aTableNeedsAValue() {
        assertThatThrownBy(() -> new Table("t", Type.FLOAT64, new double[0])).isInstanceOf(IllegalArgumentException.class);
    }
}
