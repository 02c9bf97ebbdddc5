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
            require(!op.isBits() || a.type().isInteger(), op + " of " + a.type());
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

    /** An integer cut to the bits of another integer type. */
    record Wrap(Type type, Expr a) implements Expr {
        public Wrap {
            require(type.isInteger() && a.type().isInteger(), "wrapping " + a.type() + " to " + type);
        }
    }

    /** The bits of a number read as another type. */
    record Bits(Form form, List<Expr> children) implements Expr {
        public Bits {
            children = List.copyOf(children);
            require(children.stream().map(Expr::type).toList().equals(form.from), form + " of " + children);
        }

        @Override
        public Type type() {
            return form.to;
        }
    }

    /** How bits can be read (IEEE 754 interchange formats). */
    enum Form {
        FLOAT32_TO_UINT32(Type.UINT32, Type.FLOAT32),
        UINT32_TO_FLOAT32(Type.FLOAT32, Type.UINT32),
        /** The half of a float64 that holds its sign. */
        HIGH_OF_FLOAT64(Type.UINT32, Type.FLOAT64),
        LOW_OF_FLOAT64(Type.UINT32, Type.FLOAT64),
        /** From the high half and the low half. */
        HALVES_TO_FLOAT64(Type.FLOAT64, Type.UINT32, Type.UINT32);

        private final Type to;
        private final List<Type> from;

        Form(Type to, Type... from) {
            this.to = to;
            this.from = List.of(from);
        }
    }

    /** An element of an array slot; the index is held within the array. */
    record At(Slot array, Expr index) implements Expr {
        public At {
            require(array.isArray() && index.type() == Type.INT32, array + " at " + index.type());
        }

        @Override
        public Type type() {
            return array.type();
        }
    }

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
    record Apply(Function function, List<Expr> arguments) implements Expr {
        public Apply {
            arguments = List.copyOf(arguments);
            require(arguments.stream().map(Expr::type).toList()
                    .equals(function.parameters().stream().map(Slot::type).toList()), function.name() + " of " + arguments);
        }

        public Apply(Function function, Expr... arguments) {
            this(function, List.of(arguments));
        }

        @Override
        public Type type() {
            return function.result().type();
        }
    }

    /**
     * An element of a constant table; the index is held within the table.
     *
     * @param within whether whoever wrote it made sure that the index is within the table, so that nothing need be done
     */
    record Element(Table table, Expr index, boolean within) implements Expr {
        public Element {
            require(index.type() == Type.INT32, "index of " + index.type());
        }

        public Element(Table table, Expr index) {
            this(table, index, false);
        }

        @Override
        public Type type() {
            return table.type();
        }
    }

    /** Operators of two operands. */
    enum Op {
        ADD, SUB, MUL, DIV,
        /** What a division leaves, with the sign of the dividend. */
        REM,
        /** Bitwise, on integers. */
        BAND, BOR, BXOR,
        /** Left and right by b bits, 0 to 31 and more; right keeps the sign of a signed type. */
        SHL, SHR,
        LT, LE, GT, GE, EQ, NE, AND, OR, XOR;

        /** Whether the result has the operands' type; it is bool otherwise. */
        public boolean isArithmetic() {
            return ordinal() <= SHR.ordinal();
        }

        public boolean isBits() {
            return ordinal() >= BAND.ordinal() && ordinal() <= SHR.ordinal();
        }

        public boolean isLogic() {
            return ordinal() >= AND.ordinal();
        }
    }

    /** Functions that are exact in every output. */
    enum Intrinsic {
        ABS, SQRT, FLOOR, CEIL,
        /** To the nearest integer, halves to the even one. */
        RINT
    }

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

    /** The integer type {@code to} with this integer's low bits. */
    default Expr wrap(Type to) {
        return type() == to ? this
                : this instanceof Literal l ? new Literal(to, to.value(to.wrap(type().bits(l.value())))) : new Wrap(to, this);
    }

    default Expr negated() {
        return type().isFloat() ? times(-1) : of(type(), 0).minus(this);
    }

    default Expr eq(Expr b) {
        return compare(Op.EQ, b);
    }

    default Expr rem(Expr b) {
        return Folding.binary(Op.REM, this, b);
    }

    /** An element of an array slot. */
    static Expr at(Slot array, Expr index) {
        return new At(array, index);
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
            case Wrap e -> List.of(e.a());
            case Bits e -> e.children();
            case At e -> List.of(e.index());
            case Binary e -> List.of(e.a(), e.b());
            case Not e -> List.of(e.a());
            case Select e -> List.of(e.condition(), e.yes(), e.no());
            case Convert e -> List.of(e.a());
            case Call e -> List.of(e.a());
            case Apply e -> e.arguments();
            case Element e -> List.of(e.index());
        };
    }
}
