package boldanvil.core.jvm;

import java.lang.constant.ConstantDescs;
import java.lang.constant.ClassDesc;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Type;
import java.lang.classfile.CodeBuilder;
import java.lang.classfile.TypeKind;
import java.lang.constant.MethodTypeDesc;

/** Short sequences of instructions for the types of the IR. */
final class Instructions {
    private static final ClassDesc INTEGER = ClassDesc.of("java.lang.Integer");
    private Instructions() {}

    static void constant(CodeBuilder code, Type t, double v) {
        switch (t) {
            case FLOAT32 -> code.loadConstant((float) v);
            case FLOAT64 -> code.loadConstant(v);
            case INT64, UINT64 -> code.loadConstant(t.bits(v));
            default -> Pages.number(code, (int) (long) v);
        }
    }

    /** From a slot's type on the stack to double. */
    static void widen(CodeBuilder code, Type from) {
        switch (from) {
            case FLOAT32 -> code.f2d();
            case FLOAT64 -> { }
            case INT64 -> code.l2d();
            case UINT64 -> code.invokestatic(JvmCompiler.BASE, "ofUnsigned", MethodTypeDesc.of(ConstantDescs.CD_double,
                    ConstantDescs.CD_long));
            case UINT32 -> code.invokestatic(INTEGER, "toUnsignedLong", MethodTypeDesc.of(ConstantDescs.CD_long, ConstantDescs.CD_int))
                    .l2d();
            default -> code.i2d();
        }
    }

    /** From a double on the stack, known to fit, to a slot's type. */
    static void narrow(CodeBuilder code, Type to) {
        switch (to) {
            case FLOAT32 -> code.d2f();
            case FLOAT64 -> { }
            case INT64 -> code.d2l();
            case UINT64 -> code.invokestatic(JvmCompiler.BASE, "toUnsigned", MethodTypeDesc.of(ConstantDescs.CD_long,
                    ConstantDescs.CD_double));
            case UINT32 -> code.d2l().l2i();
            default -> code.d2i();
        }
    }

    static TypeKind kind(Type t) {
        return switch (t) {
            case FLOAT32 -> TypeKind.FLOAT;
            case FLOAT64 -> TypeKind.DOUBLE;
            case INT64, UINT64 -> TypeKind.LONG;
            default -> TypeKind.INT;
        };
    }

    static TypeKind kind(Slot s) {
        return s.isArray() ? TypeKind.REFERENCE : kind(s.type());
    }

    /** The int on the stack cut to an integer type. */
    static void cut(CodeBuilder code, Type t) {
        switch (t) {
            case INT8 -> code.i2b();
            case UINT8 -> code.loadConstant(255).iand();
            case INT16 -> code.i2s();
            case UINT16 -> code.i2c();
            default -> { }
        }
    }
}
