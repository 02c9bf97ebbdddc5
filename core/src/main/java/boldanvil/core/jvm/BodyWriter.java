package boldanvil.core.jvm;

import boldanvil.core.program.Declarations;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Fault;
import boldanvil.core.program.FaultPlaces;
import boldanvil.core.program.Function;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Table;
import boldanvil.core.program.Type;
import java.lang.classfile.CodeBuilder;
import java.lang.classfile.Label;
import java.lang.classfile.Opcode;
import java.lang.classfile.TypeKind;
import java.lang.classfile.instruction.OperatorInstruction;
import java.lang.constant.ClassDesc;
import java.lang.constant.ConstantDescs;
import java.lang.constant.MethodTypeDesc;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Writes statements and expressions into one method. Integers and booleans are {@code int} on the stack; a uint32 is the
 * {@code int} with the same bits.
 */
final class BodyWriter {
    private static final ClassDesc MATH = ClassDesc.of("java.lang.Math");
    private static final ClassDesc INTEGER = ClassDesc.of("java.lang.Integer");
    private static final ClassDesc D = ConstantDescs.CD_double;
    private static final ClassDesc F = ConstantDescs.CD_float;
    private static final ClassDesc I = ConstantDescs.CD_int;
    private static final ClassDesc L = ConstantDescs.CD_long;

    private final CodeBuilder code;
    private final Program program;
    private final FaultPlaces places;
    private final Set<Slot> shared;
    private final Pages pages;
    private final Map<Table, Integer> tables;
    private final Map<Slot, Integer> locals = new IdentityHashMap<>();
    private final Deque<Label> loopEnds = new ArrayDeque<>();
    private int place;

    /**
     * @param shared locals that live in fields
     * @param tables number of each table
     */
    BodyWriter(CodeBuilder code, Program program, FaultPlaces places, Set<Slot> shared, Pages pages, Map<Table, Integer> tables) {
        this.code = code;
        this.program = program;
        this.places = places;
        this.shared = shared;
        this.pages = pages;
        this.tables = tables;
    }

    /** The whole of a function: arguments, local arrays, body and result. */
    void function(Function f) {
        int register = 1;
        for (Slot p : f.parameters()) {
            locals.put(p, register);
            register += Instructions.kind(p).slotSize();
        }
        body(f.body(), f.parameters());
        place = places.numberOf(f.name());
        expr(f.result());
        code.return_(Instructions.kind(f.result().type()));
    }

    /** A whole body with its locals. */
    void body(List<Stmt> body, List<Slot> given) {
        for (Slot s : new Declarations(body, given).early()) {
            if (s.isArray()) {
                code.loadConstant(s.length()).newarray(Instructions.kind(s.type())).astore(local(s));
            } else if (!shared.contains(s)) {
                Instructions.constant(code, s.type(), 0);
                code.storeLocal(Instructions.kind(s), local(s));
            }
        }
        statements(body);
    }

    private void statements(List<Stmt> body) {
        body.forEach(this::statement);
    }

    private void statement(Stmt s) {
        place = places.numberOf(s.origin().path());
        switch (s) {
            case Stmt.Assign a -> assign(a.target(), a.value());
            case Stmt.Store t -> {
                array(t.array());
                index(t.index(), t.array().length());
                expr(t.value());
                code.arrayStore(Instructions.kind(t.array().type()));
            }
            case Stmt.If i -> {
                Label no = code.newLabel();
                Label end = code.newLabel();
                branchIfFalse(i.condition(), no);
                statements(i.yes());
                code.goto_(end).labelBinding(no);
                statements(i.no());
                code.labelBinding(end);
            }
            case Stmt.Repeat r -> repeat(r);
            case Stmt.While w -> loop(w);
            case Stmt.Group g -> statements(g.body());
            case Stmt.Written w -> statements(w.body());
            case Stmt.Break _ -> code.goto_(loopEnds.getFirst());
            case Stmt.Raise r -> raise(r.bit());
            case Stmt.Invoke i -> code.aload(0).invokevirtual(JvmCompiler.SELF, i.procedure(), JvmCompiler.VOID);
        }
    }

    private void raise(int bit) {
        Pages.number(code.aload(0).loadConstant(bit), place)
                .invokevirtual(JvmCompiler.BASE, "raise", MethodTypeDesc.of(ConstantDescs.CD_void, I, I));
    }

    private void repeat(Stmt.Repeat r) {
        Label top = code.newLabel();
        Label end = code.newLabel();
        assign(r.counter(), Expr.of(Type.INT32, 0));
        code.labelBinding(top);
        read(r.counter());
        code.loadConstant(r.count()).if_icmpge(end);
        loopEnds.push(end);
        statements(r.body());
        loopEnds.pop();
        assign(r.counter(), Expr.read(r.counter()).plus(Expr.of(Type.INT32, 1)));
        code.goto_(top).labelBinding(end);
    }

    private void loop(Stmt.While w) {
        int here = place;
        int rounds = code.allocateLocal(TypeKind.INT);
        Label top = code.newLabel();
        Label body = code.newLabel();
        Label end = code.newLabel();
        code.iconst_0().istore(rounds).labelBinding(top);
        branchIfFalse(w.condition(), end);
        code.iload(rounds).loadConstant(w.limit()).if_icmplt(body);
        raise(Fault.ENDLESS_LOOP);
        code.goto_(end).labelBinding(body).iinc(rounds, 1);
        loopEnds.push(end);
        statements(w.body());
        loopEnds.pop();
        place = here;
        code.goto_(top).labelBinding(end);
    }

    private void assign(Slot target, Expr value) {
        if (pages.holds(target)) {
            pages.load(code, target.type());
            Pages.number(code, pages.place(target));
            expr(value);
            code.arrayStore(Instructions.kind(target.type()));
        } else if (inField(target)) {
            code.aload(0);
            expr(value);
            code.putfield(owner(target), field(target), JvmCompiler.desc(target));
        } else {
            expr(value);
            code.storeLocal(Instructions.kind(target), local(target));
        }
    }

    private boolean inField(Slot s) {
        return s.inMemory() || shared.contains(s);
    }

    private int local(Slot s) {
        return locals.computeIfAbsent(s, _ -> code.allocateLocal(Instructions.kind(s)));
    }

    private void array(Slot s) {
        if (inField(s)) {
            code.aload(0).getfield(owner(s), field(s), JvmCompiler.desc(s));
        } else {
            code.aload(local(s));
        }
    }

    private void index(Expr index, int length) {
        if (index instanceof Expr.Literal l) {
            code.loadConstant(Math.clamp((int) l.value(), 0, length - 1));
            return;
        }
        expr(index);
        code.loadConstant(length).invokestatic(JvmCompiler.BASE, "index", MethodTypeDesc.of(I, I, I));
    }

    /** Leaves the value on the stack. */
    void expr(Expr e) {
        switch (e) {
            case Expr.Literal l -> literal(l);
            case Expr.Read r -> read(r.slot());
            case Expr.Binary b -> binary(b);
            case Expr.Not n -> {
                expr(n.a());
                code.iconst_1().ixor();
            }
            case Expr.Select s -> {
                Label no = code.newLabel();
                Label end = code.newLabel();
                branchIfFalse(s.condition(), no);
                expr(s.yes());
                code.goto_(end).labelBinding(no);
                expr(s.no());
                code.labelBinding(end);
            }
            case Expr.Convert c -> convert(c);
            case Expr.Wrap w -> {
                expr(w.a());
                if (w.type().isWide() && !w.a().type().isWide()) {
                    lengthen(w.a().type());
                } else if (!w.type().isWide() && w.a().type().isWide()) {
                    code.l2i();
                }
                Instructions.cut(code, w.type());
            }
            case Expr.Bits b -> bits(b);
            case Expr.Call c -> call(c);
            case Expr.Apply a -> apply(a);
            case Expr.Element t -> {
                code.aload(0).getfield(JvmCompiler.BASE, "tables", D.arrayType().arrayType()).loadConstant((int) tables.get(t.table()))
                        .aaload();
                if (t.within()) {
                    expr(t.index());
                } else {
                    index(t.index(), t.table().size());
                }
                code.daload();
                Instructions.narrow(code, t.type());
            }
            case Expr.At a -> {
                array(a.array());
                index(a.index(), a.array().length());
                code.arrayLoad(Instructions.kind(a.type()));
            }
        }
    }

    private void apply(Expr.Apply a) {
        code.aload(0);
        a.arguments().forEach(this::expr);
        code.invokevirtual(JvmCompiler.SELF, a.function().name(), JvmCompiler.signature(a.function()));
    }

    private void read(Slot s) {
        if (pages.holds(s)) {
            pages.load(code, s.type());
            Pages.number(code, pages.place(s)).arrayLoad(Instructions.kind(s.type()));
        } else if (inField(s)) {
            code.aload(0).getfield(owner(s), field(s), JvmCompiler.desc(s));
        } else {
            code.loadLocal(Instructions.kind(s), local(s));
        }
    }

    /** Many different numbers would not fit into a class; those beyond the first are in an array. */
    private void literal(Expr.Literal l) {
        Integer place = l.type().isFloat() ? pages.constant(l.value()) : null;
        if (place == null) {
            Instructions.constant(code, l.type(), l.value());
        } else {
            Pages.number(code.aload(0).getfield(JvmCompiler.BASE, "constants", D.arrayType()), place).daload();
            Instructions.narrow(code, l.type());
        }
    }

    private void binary(Expr.Binary b) {
        if (!b.op().isArithmetic() && !b.op().isLogic()) {
            Label no = code.newLabel();
            Label end = code.newLabel();
            branchIfFalse(b, no);
            code.iconst_1().goto_(end).labelBinding(no).iconst_0().labelBinding(end);
            return;
        }
        Type t = b.a().type();
        boolean divides = b.op() == Expr.Op.DIV || b.op() == Expr.Op.REM;
        if (divides && t.isInteger()) {
            String word = b.op() == Expr.Op.DIV ? "divide" : "remainder";
            code.aload(0);
            expr(b.a());
            expr(b.b());
            var n = t.isWide() ? L : I;
            Pages.number(code, place).invokevirtual(JvmCompiler.BASE, t == Type.UINT32 || t == Type.UINT64 ? word + "Unsigned" : word,
                    MethodTypeDesc.of(n, n, n, I));
            Instructions.cut(code, t);
            return;
        }
        expr(b.a());
        expr(b.b());
        switch (b.op()) {
            case ADD -> arithmetic(t, Opcode.DADD, Opcode.FADD, t.isWide() ? Opcode.LADD : Opcode.IADD);
            case SUB -> arithmetic(t, Opcode.DSUB, Opcode.FSUB, t.isWide() ? Opcode.LSUB : Opcode.ISUB);
            case MUL -> arithmetic(t, Opcode.DMUL, Opcode.FMUL, t.isWide() ? Opcode.LMUL : Opcode.IMUL);
            case DIV -> arithmetic(t, Opcode.DDIV, Opcode.FDIV, Opcode.IDIV);
            case REM -> arithmetic(t, Opcode.DREM, Opcode.FREM, Opcode.IREM);
            case AND, BAND -> code.with(OperatorInstruction.of(t.isWide() ? Opcode.LAND : Opcode.IAND));
            case OR, BOR -> code.with(OperatorInstruction.of(t.isWide() ? Opcode.LOR : Opcode.IOR));
            case XOR, BXOR -> code.with(OperatorInstruction.of(t.isWide() ? Opcode.LXOR : Opcode.IXOR));
            case SHL -> shift("shiftLeft", t);
            case SHR -> shift(t.isSigned() ? "shiftRight" : "shiftRightUnsigned", t);
            default -> throw new IllegalStateException();
        }
    }

    private void shift(String name, Type t) {
        var n = t.isWide() ? L : I;
        code.invokestatic(JvmCompiler.BASE, name, MethodTypeDesc.of(n, n, n));
        Instructions.cut(code, t);
    }

    private void arithmetic(Type t, Opcode d, Opcode f, Opcode i) {
        code.with(OperatorInstruction.of(t == Type.FLOAT64 ? d : t == Type.FLOAT32 ? f : i));
        Instructions.cut(code, t);
    }

    /** Jumps to {@code no} when the condition does not hold; a comparison with NaN does not hold, except for NE. */
    private void branchIfFalse(Expr condition, Label no) {
        if (condition instanceof Expr.Literal l) {
            if (l.value() == 0) {
                code.goto_(no);
            }
            return;
        }
        if (condition instanceof Expr.Binary b && b.op() == Expr.Op.AND) {
            branchIfFalse(b.a(), no);
            branchIfFalse(b.b(), no);
            return;
        }
        if (!(condition instanceof Expr.Binary b) || b.op().isLogic() || b.op().isArithmetic()) {
            expr(condition);
            code.ifeq(no);
            return;
        }
        expr(b.a());
        expr(b.b());
        Type t = b.a().type();
        if (t == Type.UINT32 && b.op() != Expr.Op.EQ && b.op() != Expr.Op.NE) {
            code.invokestatic(INTEGER, "compareUnsigned", MethodTypeDesc.of(I, I, I));
        } else if (t.isWide()) {
            if (t == Type.UINT64) {
                code.invokestatic(ClassDesc.of("java.lang.Long"), "compareUnsigned", MethodTypeDesc.of(I, L, L));
            } else {
                code.lcmp();
            }
        } else if (!t.isFloat()) {
            switch (b.op()) {
                case LT -> code.if_icmpge(no);
                case LE -> code.if_icmpgt(no);
                case GT -> code.if_icmple(no);
                case GE -> code.if_icmplt(no);
                case EQ -> code.if_icmpne(no);
                default -> code.if_icmpeq(no);
            }
            return;
        } else {
            boolean less = b.op() == Expr.Op.LT || b.op() == Expr.Op.LE;
            code.with(OperatorInstruction.of(t == Type.FLOAT64 ? less ? Opcode.DCMPG : Opcode.DCMPL
                    : less ? Opcode.FCMPG : Opcode.FCMPL));
        }
        switch (b.op()) {
            case LT -> code.ifge(no);
            case LE -> code.ifgt(no);
            case GT -> code.ifle(no);
            case GE -> code.iflt(no);
            case EQ -> code.ifne(no);
            default -> code.ifeq(no);
        }
    }

    private void convert(Expr.Convert c) {
        Type from = c.a().type();
        Type to = c.type();
        if (from.isFloat() && to.isInteger()) {
            code.aload(0);
            expr(c.a());
            if (from == Type.FLOAT32) {
                code.f2d();
            }
            String method = switch (to) {
                case INT64 -> "toInt64";
                case UINT64 -> "toUint64";
                case UINT32 -> "toUint32";
                default -> "toInt32";
            };
            Pages.number(code, place).invokevirtual(JvmCompiler.BASE, method, MethodTypeDesc.of(to.isWide() ? L : I, D, I));
            if (to.bytes() < 4) {
                saturate(Type.INT32, to);
            }
            return;
        }
        expr(c.a());
        if (from.isWide() || to.isWide()) {
            wide(from, to);
        } else if (to == Type.BOOL) {
            toBool(from);
        } else if (to == Type.FLOAT64) {
            Instructions.widen(code, from);
        } else if (to == Type.FLOAT32) {
            switch (from) {
                case FLOAT64 -> code.d2f();
                case UINT32 -> code.invokestatic(INTEGER, "toUnsignedLong", MethodTypeDesc.of(L, I)).l2f();
                case FLOAT32 -> { }
                default -> code.i2f();
            }
        } else if (from.isInteger() && (from.least() < to.least() || from.greatest() > to.greatest())) {
            saturate(from, to);
        }
    }

    /** What is on the stack, to or from an integer of 64 bits; from a real number it has gone another way. */
    private void wide(Type from, Type to) {
        if (!from.isWide()) {
            lengthen(from);
        } else if (to == Type.BOOL) {
            code.lconst_0().lcmp();
            toBool(Type.INT32);
            return;
        } else if (to.isFloat()) {
            Instructions.widen(code, from);
            if (to == Type.FLOAT32) {
                code.d2f();
            }
            return;
        }
        if (to == Type.UINT64 && from != Type.UINT64 && from.isSigned()) {
            code.invokestatic(JvmCompiler.BASE, "notNegative", MethodTypeDesc.of(L, L));
        } else if (from == Type.UINT64 && to != Type.UINT64) {
            code.invokestatic(JvmCompiler.BASE, "within63", MethodTypeDesc.of(L, L));
        }
        if (!to.isWide()) {
            code.loadConstant(to.least()).loadConstant(to.greatest())
                    .invokestatic(JvmCompiler.BASE, "saturate", MethodTypeDesc.of(I, L, L, L));
        }
    }

    private void lengthen(Type from) {
        if (from == Type.UINT32) {
            code.invokestatic(INTEGER, "toUnsignedLong", MethodTypeDesc.of(L, I));
        } else {
            code.i2l();
        }
    }

    private void saturate(Type from, Type to) {
        lengthen(from);
        code.loadConstant(to.least()).loadConstant(to.greatest())
                .invokestatic(JvmCompiler.BASE, "saturate", MethodTypeDesc.of(I, L, L, L));
    }

    private void toBool(Type from) {
        if (from == Type.BOOL) {
            return;
        }
        if (from == Type.FLOAT64) {
            code.dconst_0().dcmpl();
        } else if (from == Type.FLOAT32) {
            code.fconst_0().fcmpl();
        }
        Label no = code.newLabel();
        Label end = code.newLabel();
        code.ifeq(no).iconst_1().goto_(end).labelBinding(no).iconst_0().labelBinding(end);
    }

    private void bits(Expr.Bits b) {
        b.children().forEach(this::expr);
        switch (b.form()) {
            case FLOAT32_TO_UINT32 -> code.invokestatic(ClassDesc.of("java.lang.Float"), "floatToRawIntBits", MethodTypeDesc.of(I, F));
            case UINT32_TO_FLOAT32 -> code.invokestatic(ClassDesc.of("java.lang.Float"), "intBitsToFloat", MethodTypeDesc.of(F, I));
            case HIGH_OF_FLOAT64 -> code.invokestatic(JvmCompiler.BASE, "high", MethodTypeDesc.of(I, D));
            case LOW_OF_FLOAT64 -> code.invokestatic(JvmCompiler.BASE, "low", MethodTypeDesc.of(I, D));
            case HALVES_TO_FLOAT64 -> code.invokestatic(JvmCompiler.BASE, "halves", MethodTypeDesc.of(D, I, I));
        }
    }

    private void call(Expr.Call c) {
        expr(c.a());
        boolean single = c.type() == Type.FLOAT32;
        String name = c.intrinsic().name().toLowerCase(java.util.Locale.ROOT);
        if (c.intrinsic() == Expr.Intrinsic.ABS && single) {
            code.invokestatic(MATH, name, MethodTypeDesc.of(F, F));
            return;
        }
        if (single) {
            code.f2d();
        }
        code.invokestatic(MATH, name, MethodTypeDesc.of(D, D));
        if (single) {
            code.d2f();
        }
    }

    private String field(Slot s) {
        return s == program.fault() ? "fault" : JvmCompiler.field(s);
    }

    private ClassDesc owner(Slot s) {
        return s == program.fault() ? JvmCompiler.BASE : JvmCompiler.SELF;
    }
}
