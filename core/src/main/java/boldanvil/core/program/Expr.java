package boldanvil.core.program;

import java.util.List;
import java.util.Objects;

/**
 * A typed expression without side effects. Build with the methods of this interface: they check types and fold
 * constants.
 */
public sealed interface Expr {
    Type type();

    /** A constant. */
    record Literal(Type type, double value) implements Expr {
        public Literal {
            value = type.convert(value);
        }
    }

    /** The value of a slot. */
    record Read(Slot slot) implements Expr {
        @Override
        public Type type() {
            return slot.type();
        }
    }

    /** Two operands of one type. */
    record Binary(Op op, Expr a, Expr b) implements Expr {
        public Binary {
            require(a.type() == b.type(), op + " of " + a.type() + " and " + b.type());
            require(op.isLogic() ? a.type() == Type.BOOL : op == Op.EQ || op == Op.NE || a.type() != Type.BOOL,
                    op + " of " + a.type());
        }

        @Override
        public Type type() {
            return op.isArithmetic() ? a.type() : Type.BOOL;
        }
    }

    /** Logical complement. */
    record Not(Expr a) implements Expr {
        public Not {
            require(a.type() == Type.BOOL, "NOT of " + a.type());
        }

        @Override
        public Type type() {
            return Type.BOOL;
        }
    }

    /** One of two values; both are evaluated in meaning, neither has side effects. */
    record Select(Expr condition, Expr yes, Expr no) implements Expr {
        public Select {
            require(condition.type() == Type.BOOL, "condition of " + condition.type());
            require(yes.type() == no.type(), "choice between " + yes.type() + " and " + no.type());
        }

        @Override
        public Type type() {
            return yes.type();
        }
    }

    /** Conversion; see {@link Type#convert}. */
    record Convert(Type type, Expr a) implements Expr {}

    /** A mathematical function that Java and C compute alike (IEEE 754 exact). */
    record Call(Intrinsic intrinsic, Expr a) implements Expr {
        public Call {
            require(a.type().isFloat(), intrinsic + " of " + a.type());
        }

        @Override
        public Type type() {
            return a.type();
        }
    }

    /** A function written in IR. */
    record Apply(Function function, Expr a) implements Expr {
        public Apply {
            require(a.type() == function.parameter().type(), function.name() + " of " + a.type());
        }

        @Override
        public Type type() {
            return function.result().type();
        }
    }

    /** An element of a constant table; the index is held within the table. */
    record Element(Table table, Expr index) implements Expr {
        public Element {
            require(index.type() == Type.INT32, "index of " + index.type());
        }

        @Override
        public Type type() {
            return table.type();
        }
    }

    /** Operators of two operands. */
    enum Op {
        ADD, SUB, MUL, DIV, LT, LE, GT, GE, EQ, NE, AND, OR, XOR;

        public boolean isArithmetic() {
            return ordinal() <= DIV.ordinal();
        }

        public boolean isLogic() {
            return ordinal() >= AND.ordinal();
        }
    }

    /** Functions that are exact in every output. */
    enum Intrinsic { ABS, SQRT, FLOOR, CEIL }

    private static void require(boolean holds, String what) {
        if (!holds) {
            throw new IllegalArgumentException("Types do not fit: " + what);
        }
    }

    static Expr of(double value) {
        return new Literal(Type.FLOAT64, value);
    }

    static Expr of(Type type, double value) {
        return new Literal(type, value);
    }

    static Expr of(boolean value) {
        return new Literal(Type.BOOL, value ? 1 : 0);
    }

    static Expr read(Slot slot) {
        return new Read(Objects.requireNonNull(slot, "slot"));
    }

    default Expr plus(Expr b) {
        return Folding.binary(Op.ADD, this, b);
    }

    default Expr minus(Expr b) {
        return Folding.binary(Op.SUB, this, b);
    }

    default Expr times(Expr b) {
        return Folding.binary(Op.MUL, this, b);
    }

    default Expr over(Expr b) {
        return Folding.binary(Op.DIV, this, b);
    }

    default Expr times(double k) {
        return times(of(type(), k));
    }

    default Expr compare(Op op, Expr b) {
        return Folding.binary(op, this, b);
    }

    default Expr lt(Expr b) {
        return compare(Op.LT, b);
    }

    default Expr gt(Expr b) {
        return compare(Op.GT, b);
    }

    default Expr and(Expr b) {
        return Folding.binary(Op.AND, this, b);
    }

    default Expr or(Expr b) {
        return Folding.binary(Op.OR, this, b);
    }

    default Expr not() {
        return new Not(this);
    }

    /** This value where {@code condition} holds, {@code other} elsewhere. */
    default Expr when(Expr condition, Expr other) {
        if (condition instanceof Literal l) {
            return l.value() != 0 ? this : other;
        }
        return equals(other) ? this : new Select(condition, this, other);
    }

    default Expr as(Type to) {
        if (type() == to) {
            return this;
        }
        return this instanceof Literal l ? new Literal(to, l.value()) : new Convert(to, this);
    }

    default Expr call(Intrinsic f) {
        return new Call(f, this);
    }

    /** The smaller of the two; this one where they are equal or not comparable. */
    default Expr min(Expr b) {
        return b.when(b.lt(this), this);
    }

    /** The larger of the two; this one where they are equal or not comparable. */
    default Expr max(Expr b) {
        return b.when(b.gt(this), this);
    }

    /** Held between two bounds; this one where nothing can be compared. */
    default Expr clamp(Expr low, Expr high) {
        return low.when(lt(low), high.when(gt(high), this));
    }

    /** The direct sub-expressions. */
    default List<Expr> children() {
        return switch (this) {
            case Literal _, Read _ -> List.of();
            case Binary e -> List.of(e.a(), e.b());
            case Not e -> List.of(e.a());
            case Select e -> List.of(e.condition(), e.yes(), e.no());
            case Convert e -> List.of(e.a());
            case Call e -> List.of(e.a());
            case Apply e -> List.of(e.a());
            case Element e -> List.of(e.index());
        };
    }
}
