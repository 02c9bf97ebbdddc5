package boldanvil.core.jvm;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.lang.classfile.CodeBuilder;
import java.lang.classfile.Label;
import java.lang.classfile.Opcode;
import java.lang.classfile.TypeKind;
import java.lang.constant.ClassDesc;
import java.lang.constant.ConstantDescs;
import java.lang.constant.MethodTypeDesc;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;

/** Writes statements and expressions into one method. Integers and booleans are {@code int} on the stack. */
final class BodyWriter {
    private static final ClassDesc MATH = ClassDesc.of("java.lang.Math");

    private final CodeBuilder code;
    private final Program program;
    private final Map<Slot, Integer> locals = new IdentityHashMap<>();

    BodyWriter(CodeBuilder code, Program program) {
        this.code = code;
        this.program = program;
    }

    void parameter(Slot slot, int register) {
        locals.put(slot, register);
    }

    void statements(List<Stmt> body) {
        body.forEach(this::statement);
    }

    private void statement(Stmt s) {
        switch (s) {
            case Stmt.Assign a -> assign(a.target(), a.value());
            case Stmt.If i -> {
                Label no = code.newLabel();
                Label end = code.newLabel();
                expr(i.condition());
                code.ifeq(no);
                statements(i.yes());
                code.goto_(end).labelBinding(no);
                statements(i.no());
                code.labelBinding(end);
            }
            case Stmt.Repeat r -> repeat(r);
            case Stmt.Invoke i -> code.aload(0).invokevirtual(JvmCompiler.SELF, i.procedure(), JvmCompiler.VOID);
        }
    }

    private void repeat(Stmt.Repeat r) {
        int counter = local(r.counter());
        Label top = code.newLabel();
        Label end = code.newLabel();
        code.iconst_0().istore(counter);
        code.labelBinding(top).iload(counter).loadConstant(r.count()).if_icmpge(end);
        statements(r.body());
        code.iinc(counter, 1).goto_(top).labelBinding(end);
    }

    private void assign(Slot target, Expr value) {
        if (target.inMemory()) {
            code.aload(0);
            expr(value);
            code.putfield(owner(target), field(target), JvmCompiler.desc(target.type()));
        } else {
            expr(value);
            code.storeLocal(kind(target.type()), local(target));
        }
    }

    private int local(Slot s) {
        return locals.computeIfAbsent(s, _ -> code.allocateLocal(kind(s.type())));
    }

    void returnValue(Type type) {
        code.return_(kind(type));
    }

    /** Leaves the value on the stack. */
    void expr(Expr e) {
        switch (e) {
            case Expr.Literal l -> constant(code, l.type(), l.value());
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
            case Expr.Call c -> call(c);
            case Expr.Apply a -> {
                expr(a.a());
                var f = a.function();
                code.invokestatic(JvmCompiler.SELF, f.name(), MethodTypeDesc.of(
                        JvmCompiler.desc(f.result().type()), JvmCompiler.desc(f.parameter().type())));
            }
            case Expr.Element t -> {
                code.getstatic(JvmCompiler.SELF, "t_" + t.table().name(), ConstantDescs.CD_double.arrayType());
                expr(t.index());
                code.invokestatic(JvmCompiler.BASE, "element", MethodTypeDesc.of(ConstantDescs.CD_double,
                        ConstantDescs.CD_double.arrayType(), ConstantDescs.CD_int));
                narrow(code, t.type());
            }
        }
    }

    private void read(Slot s) {
        if (s.inMemory()) {
            code.aload(0).getfield(owner(s), field(s), JvmCompiler.desc(s.type()));
        } else {
            code.loadLocal(kind(s.type()), local(s));
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
        boolean faulting = b.op() == Expr.Op.DIV && t.isInteger();
        if (faulting) {
            code.aload(0);
        }
        expr(b.a());
        expr(b.b());
        switch (b.op()) {
            case ADD -> arithmetic(t, Opcode.DADD, Opcode.FADD, Opcode.IADD);
            case SUB -> arithmetic(t, Opcode.DSUB, Opcode.FSUB, Opcode.ISUB);
            case MUL -> arithmetic(t, Opcode.DMUL, Opcode.FMUL, Opcode.IMUL);
            case DIV -> {
                if (faulting) {
                    code.invokevirtual(JvmCompiler.BASE, "divide", MethodTypeDesc.of(
                            ConstantDescs.CD_int, ConstantDescs.CD_int, ConstantDescs.CD_int));
                } else {
                    arithmetic(t, Opcode.DDIV, Opcode.FDIV, Opcode.IDIV);
                }
            }
            case AND -> code.iand();
            case OR -> code.ior();
            case XOR -> code.ixor();
            default -> throw new IllegalStateException();
        }
    }

    private void arithmetic(Type t, Opcode d, Opcode f, Opcode i) {
        code.with(java.lang.classfile.instruction.OperatorInstruction.of(
                t == Type.FLOAT64 ? d : t == Type.FLOAT32 ? f : i));
        if (t == Type.UINT16) {
            code.i2c();
        }
    }

    /** Jumps to {@code no} when the condition does not hold; a comparison with NaN does not hold, except for NE. */
    private void branchIfFalse(Expr condition, Label no) {
        if (!(condition instanceof Expr.Binary b) || b.op().isLogic()) {
            expr(condition);
            code.ifeq(no);
            return;
        }
        expr(b.a());
        expr(b.b());
        Type t = b.a().type();
        if (!t.isFloat()) {
            switch (b.op()) {
                case LT -> code.if_icmpge(no);
                case LE -> code.if_icmpgt(no);
                case GT -> code.if_icmple(no);
                case GE -> code.if_icmplt(no);
                case EQ -> code.if_icmpne(no);
                default -> code.if_icmpeq(no);
            }
            return;
        }
        boolean less = b.op() == Expr.Op.LT || b.op() == Expr.Op.LE;
        if (t == Type.FLOAT64) {
            if (less) {
                code.dcmpg();
            } else {
                code.dcmpl();
            }
        } else if (less) {
            code.fcmpg();
        } else {
            code.fcmpl();
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
            code.invokevirtual(JvmCompiler.BASE, to == Type.INT32 ? "toInt32" : "toUint16",
                    MethodTypeDesc.of(ConstantDescs.CD_int, ConstantDescs.CD_double));
            return;
        }
        expr(c.a());
        if (to == Type.BOOL) {
            toBool(from);
        } else if (to == Type.UINT16 && from == Type.INT32) {
            code.invokestatic(JvmCompiler.BASE, "saturate16",
                    MethodTypeDesc.of(ConstantDescs.CD_int, ConstantDescs.CD_int));
        } else if (to == Type.FLOAT64) {
            widen(code, from);
        } else if (to == Type.FLOAT32) {
            if (from == Type.FLOAT64) {
                code.d2f();
            } else if (from != Type.FLOAT32) {
                code.i2f();
            }
        }
    }

    private void toBool(Type from) {
        if (from.isFloat()) {
            Label no = code.newLabel();
            Label end = code.newLabel();
            if (from == Type.FLOAT64) {
                code.dconst_0().dcmpl();
            } else {
                code.fconst_0().fcmpl();
            }
            code.ifeq(no).iconst_1().goto_(end).labelBinding(no).iconst_0().labelBinding(end);
        } else if (from != Type.BOOL) {
            Label no = code.newLabel();
            Label end = code.newLabel();
            code.ifeq(no).iconst_1().goto_(end).labelBinding(no).iconst_0().labelBinding(end);
        }
    }

    private void call(Expr.Call c) {
        expr(c.a());
        boolean single = c.type() == Type.FLOAT32;
        String name = switch (c.intrinsic()) {
            case ABS -> "abs";
            case SQRT -> "sqrt";
            case FLOOR -> "floor";
            case CEIL -> "ceil";
        };
        if (c.intrinsic() == Expr.Intrinsic.ABS && single) {
            code.invokestatic(MATH, name, MethodTypeDesc.of(ConstantDescs.CD_float, ConstantDescs.CD_float));
            return;
        }
        if (single) {
            code.f2d();
        }
        code.invokestatic(MATH, name, MethodTypeDesc.of(ConstantDescs.CD_double, ConstantDescs.CD_double));
        if (single) {
            code.d2f();
        }
    }

    static void constant(CodeBuilder code, Type t, double v) {
        switch (t) {
            case BOOL, UINT16, INT32 -> code.loadConstant((int) v);
            case FLOAT32 -> code.loadConstant((float) v);
            case FLOAT64 -> code.loadConstant(v);
        }
    }

    /** From a slot's type on the stack to double. */
    static void widen(CodeBuilder code, Type from) {
        switch (from) {
            case BOOL, UINT16, INT32 -> code.i2d();
            case FLOAT32 -> code.f2d();
            case FLOAT64 -> { }
        }
    }

    /** From a double on the stack, known to fit, to a slot's type. */
    static void narrow(CodeBuilder code, Type to) {
        switch (to) {
            case BOOL, UINT16, INT32 -> code.d2i();
            case FLOAT32 -> code.d2f();
            case FLOAT64 -> { }
        }
    }

    private static TypeKind kind(Type t) {
        return switch (t) {
            case BOOL, UINT16, INT32 -> TypeKind.INT;
            case FLOAT32 -> TypeKind.FLOAT;
            case FLOAT64 -> TypeKind.DOUBLE;
        };
    }

    private String field(Slot s) {
        return s == program.fault() ? "fault" : JvmCompiler.field(s);
    }

    private ClassDesc owner(Slot s) {
        return s == program.fault() ? JvmCompiler.BASE : JvmCompiler.SELF;
    }
}
