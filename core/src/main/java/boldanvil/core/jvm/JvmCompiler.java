package boldanvil.core.jvm;

import boldanvil.core.program.Function;
import boldanvil.core.program.Instance;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.lang.classfile.ClassBuilder;
import java.lang.classfile.ClassFile;
import java.lang.classfile.CodeBuilder;
import java.lang.classfile.Label;
import java.lang.classfile.instruction.SwitchCase;
import java.lang.constant.ClassDesc;
import java.lang.constant.ConstantDescs;
import java.lang.constant.MethodTypeDesc;
import java.lang.invoke.MethodHandles;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;

/** Makes a Java class of a program. */
public final class JvmCompiler {
    /** Statements per method: well below 8000 bytes of code, where HotSpot gives up compiling. */
    static final int CHUNK = 100;
    /** Slots per accessor method. */
    private static final int ACCESS_CHUNK = 500;

    static final ClassDesc SELF = ClassDesc.of("boldanvil.core.jvm.Generated");
    static final ClassDesc BASE = ClassDesc.of("boldanvil.core.jvm.JvmInstance");
    static final MethodTypeDesc VOID = MethodTypeDesc.of(ConstantDescs.CD_void);

    private final Program program;

    private JvmCompiler(Program program) {
        this.program = program;
    }

    /** A compiled program of which instances can be made. */
    public static final class Compiled {
        private final Class<?> type;
        private final Program program;

        private Compiled(Class<?> type, Program program) {
            this.type = type;
            this.program = program;
        }

        /** A new instance with its own memory, already at its beginning. */
        public Instance instantiate() {
            try {
                var instance = (JvmInstance) type.getDeclaredConstructor().newInstance();
                instance.bind(program.slots());
                instance.init();
                return instance;
            } catch (ReflectiveOperationException e) {
                throw new IllegalStateException("The generated class of " + program.name() + " cannot be made", e);
            }
        }
    }

    /** Compiles a program. */
    public static Compiled compile(Program program) {
        byte[] bytes = new JvmCompiler(program).bytes();
        try {
            var lookup = MethodHandles.lookup().defineHiddenClass(bytes, true);
            return new Compiled(lookup.lookupClass(), program);
        } catch (IllegalAccessException e) {
            throw new IllegalStateException(e);
        }
    }

    private byte[] bytes() {
        return ClassFile.of(ClassFile.StackMapsOption.GENERATE_STACK_MAPS).build(SELF, cb -> {
            cb.withSuperclass(BASE).withFlags(ClassFile.ACC_FINAL | ClassFile.ACC_PUBLIC);
            cb.withMethodBody(ConstantDescs.INIT_NAME, VOID, ClassFile.ACC_PUBLIC, code ->
                    code.aload(0).invokespecial(BASE, ConstantDescs.INIT_NAME, VOID).return_());
            for (Slot s : program.slots()) {
                if (s != program.fault()) {
                    cb.withField(field(s), desc(s.type()), 0);
                }
            }
            tables(cb);
            program.functions().forEach(f -> function(cb, f));
            program.procedures().stream().filter(p -> !p.name().equals(Program.INIT)).forEach(p -> procedure(cb, p));
            initialiser(cb);
            accessors(cb);
        });
    }

    private void tables(ClassBuilder cb) {
        for (var t : program.tables()) {
            cb.withField("t_" + t.name(), ConstantDescs.CD_double.arrayType(), ClassFile.ACC_STATIC | ClassFile.ACC_FINAL);
        }
        cb.withMethodBody(ConstantDescs.CLASS_INIT_NAME, VOID, ClassFile.ACC_STATIC, code -> {
            for (var t : program.tables()) {
                code.loadConstant(t.size()).newarray(java.lang.classfile.TypeKind.DOUBLE);
                for (int i = 0; i < t.size(); i++) {
                    code.dup().loadConstant(i).loadConstant(t.value(i)).dastore();
                }
                code.putstatic(SELF, "t_" + t.name(), ConstantDescs.CD_double.arrayType());
            }
            code.return_();
        });
    }

    private void function(ClassBuilder cb, Function f) {
        var type = MethodTypeDesc.of(desc(f.result().type()), desc(f.parameter().type()));
        cb.withMethodBody(f.name(), type, ClassFile.ACC_STATIC, code -> {
            var body = new BodyWriter(code, program);
            body.parameter(f.parameter(), 0);
            body.statements(f.body());
            body.expr(f.result());
            body.returnValue(f.result().type());
        });
    }

    private void procedure(ClassBuilder cb, Procedure p) {
        var chunks = chunks(p.body());
        if (chunks.size() == 1) {
            method(cb, p.name(), p.body());
            return;
        }
        for (int i = 0; i < chunks.size(); i++) {
            method(cb, p.name() + "$" + i, chunks.get(i));
        }
        cb.withMethodBody(p.name(), VOID, ClassFile.ACC_PUBLIC, code -> {
            for (int i = 0; i < chunks.size(); i++) {
                code.aload(0).invokevirtual(SELF, p.name() + "$" + i, VOID);
            }
            code.return_();
        });
    }

    private void method(ClassBuilder cb, String name, List<Stmt> body) {
        cb.withMethodBody(name, VOID, ClassFile.ACC_PUBLIC, code -> {
            new BodyWriter(code, program).statements(body);
            code.return_();
        });
    }

    /** Cuts between blocks, never within one: locals of a block stay in one method. */
    private static List<List<Stmt>> chunks(List<Stmt> body) {
        List<List<Stmt>> chunks = new ArrayList<>();
        int start = 0;
        for (int i = 1; i < body.size(); i++) {
            if (i - start >= CHUNK && !body.get(i).origin().equals(body.get(i - 1).origin())) {
                chunks.add(body.subList(start, i));
                start = i;
            }
        }
        chunks.add(body.subList(start, body.size()));
        return chunks;
    }

    private void initialiser(ClassBuilder cb) {
        var slots = program.slots();
        int parts = (slots.size() + ACCESS_CHUNK - 1) / ACCESS_CHUNK;
        for (int p = 0; p < parts; p++) {
            var some = slots.subList(p * ACCESS_CHUNK, Math.min(slots.size(), (p + 1) * ACCESS_CHUNK));
            cb.withMethodBody("init$" + p, VOID, ClassFile.ACC_PRIVATE, code -> {
                for (Slot s : some) {
                    code.aload(0);
                    BodyWriter.constant(code, s.type(), s.initial());
                    code.putfield(owner(s), fieldOf(s), desc(s.type()));
                }
                code.return_();
            });
        }
        cb.withMethodBody(Program.INIT, VOID, ClassFile.ACC_PUBLIC, code -> {
            for (int p = 0; p < parts; p++) {
                code.aload(0).invokevirtual(SELF, "init$" + p, VOID);
            }
            code.return_();
        });
    }

    private void accessors(ClassBuilder cb) {
        var readType = MethodTypeDesc.of(ConstantDescs.CD_double, ConstantDescs.CD_int);
        var writeType = MethodTypeDesc.of(ConstantDescs.CD_void, ConstantDescs.CD_int, ConstantDescs.CD_double);
        dispatch(cb, "read", readType, (code, s) -> {
            code.aload(0).getfield(owner(s), fieldOf(s), desc(s.type()));
            BodyWriter.widen(code, s.type());
            code.dreturn();
        }, code -> code.dconst_0().dreturn());
        dispatch(cb, "write", writeType, (code, s) -> {
            code.aload(0).dload(2);
            BodyWriter.narrow(code, s.type());
            code.putfield(owner(s), fieldOf(s), desc(s.type()));
            code.return_();
        }, CodeBuilder::return_);
    }

    /** A method that switches on the slot number, in a chain of methods where there are many slots. */
    private void dispatch(ClassBuilder cb, String name, MethodTypeDesc type,
            java.util.function.BiConsumer<CodeBuilder, Slot> access, Consumer<CodeBuilder> otherwise) {
        var slots = program.slots();
        int parts = Math.max(1, (slots.size() + ACCESS_CHUNK - 1) / ACCESS_CHUNK);
        boolean wide = type.parameterCount() == 2;
        for (int p = 0; p < parts; p++) {
            int from = p * ACCESS_CHUNK;
            int to = Math.min(slots.size(), from + ACCESS_CHUNK);
            boolean last = p == parts - 1;
            String next = name + "$" + (p + 1);
            cb.withMethodBody(p == 0 ? name : name + "$" + p, type, ClassFile.ACC_PROTECTED, code -> {
                List<SwitchCase> cases = new ArrayList<>();
                for (int i = from; i < to; i++) {
                    cases.add(SwitchCase.of(i, code.newLabel()));
                }
                Label other = code.newLabel();
                code.iload(1).tableswitch(from, Math.max(from, to - 1), other, cases);
                for (int i = from; i < to; i++) {
                    code.labelBinding(cases.get(i - from).target());
                    access.accept(code, slots.get(i));
                }
                code.labelBinding(other);
                if (last) {
                    otherwise.accept(code);
                } else {
                    code.aload(0).iload(1);
                    if (wide) {
                        code.dload(2).invokevirtual(SELF, next, type).return_();
                    } else {
                        code.invokevirtual(SELF, next, type).dreturn();
                    }
                }
            });
        }
    }

    private String fieldOf(Slot s) {
        return s == program.fault() ? "fault" : field(s);
    }

    private ClassDesc owner(Slot s) {
        return s == program.fault() ? BASE : SELF;
    }

    static String field(Slot s) {
        return "s_" + s.name();
    }

    static ClassDesc desc(Type t) {
        return switch (t) {
            case BOOL, UINT16, INT32 -> ConstantDescs.CD_int;
            case FLOAT32 -> ConstantDescs.CD_float;
            case FLOAT64 -> ConstantDescs.CD_double;
        };
    }
}
