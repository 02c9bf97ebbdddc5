package boldanvil.core.jvm;

import boldanvil.core.instance.Instance;
import boldanvil.core.program.FaultPlaces;
import boldanvil.core.program.Function;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Table;
import boldanvil.core.program.Tap;
import boldanvil.core.program.TapGroup;
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
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;

/** Makes a Java class of a program. */
public final class JvmCompiler {
    /** Slots per accessor method. */
    private static final int ACCESS_CHUNK = 500;

    static final ClassDesc SELF = ClassDesc.of("boldanvil.core.jvm.Generated");
    static final ClassDesc BASE = ClassDesc.of("boldanvil.core.jvm.JvmInstance");
    static final MethodTypeDesc VOID = MethodTypeDesc.of(ConstantDescs.CD_void);

    private final Program program;

    private final FaultPlaces places;
    private final Chunker chunks;
    private final Pages pages;
    private final List<TapGroup> groups;
    private final Map<Table, Integer> tables = new IdentityHashMap<>();

    private JvmCompiler(Program program) {
        this.program = program;
        this.places = FaultPlaces.of(program);
        this.chunks = new Chunker(program);
        this.pages = new Pages(program, chunks.shared());
        this.groups = TapGroup.of(program);
        for (var t : program.tables()) {
            tables.put(t, tables.size());
        }
    }

    /** A compiled program of which instances can be made. */
    public static final class Compiled {
        private final Class<?> type;
        private final Program program;
        private final Pages pages;
        private final List<TapGroup> groups;
        private final double[][] tables;

        private Compiled(Class<?> type, Program program, Pages pages, List<TapGroup> groups) {
            this.type = type;
            this.program = program;
            this.pages = pages;
            this.groups = groups;
            this.tables = program.tables().stream().map(t -> java.util.stream.IntStream.range(0, t.size()).mapToDouble(t::value).toArray())
                    .toArray(double[][]::new);
        }

        /** A new instance with its own memory, already at its beginning. */
        public Instance instantiate() {
            try {
                var instance = (JvmInstance) type.getDeclaredConstructor().newInstance();
                pages.provide(instance, tables);
                instance.bind(groups, program.slots().stream().filter(Slot::isArray).toList());
                instance.init();
                return instance;
            } catch (ReflectiveOperationException e) {
                throw new IllegalStateException("The generated class of " + program.name() + " cannot be made", e);
            }
        }
    }

    /** Compiles a program. */
    public static Compiled compile(Program program) {
        var compiler = new JvmCompiler(program);
        byte[] bytes = compiler.bytes();
        try {
            var lookup = MethodHandles.lookup().defineHiddenClass(bytes, true);
            return new Compiled(lookup.lookupClass(), program, compiler.pages, compiler.groups);
        } catch (IllegalAccessException e) {
            throw new IllegalStateException(e);
        }
    }

    private byte[] bytes() {
        return ClassFile.of(ClassFile.StackMapsOption.GENERATE_STACK_MAPS).build(SELF, cb -> {
            cb.withSuperclass(BASE).withFlags(ClassFile.ACC_FINAL | ClassFile.ACC_PUBLIC);
            cb.withMethodBody(ConstantDescs.INIT_NAME, VOID, ClassFile.ACC_PUBLIC, code -> {
                code.aload(0).invokespecial(BASE, ConstantDescs.INIT_NAME, VOID);
                program.slots().stream().filter(Slot::isArray).forEach(s -> {
                    code.aload(0).loadConstant(s.length()).newarray(Instructions.kind(s.type())).putfield(SELF, field(s), desc(s));
                    code.aload(0).aload(0).getfield(SELF, field(s), desc(s)).invokevirtual(BASE, "hold",
                            MethodTypeDesc.of(ConstantDescs.CD_void, ConstantDescs.CD_Object));
                });
                code.return_();
            });
            for (Slot s : program.slots()) {
                if (s != program.fault() && !pages.holds(s)) {
                    cb.withField(field(s), desc(s), 0);
                }
            }
            chunks.shared().stream().filter(s -> !pages.holds(s)).forEach(s -> cb.withField(field(s), desc(s), 0));
            program.functions().forEach(f -> function(cb, f));
            chunks.methods().forEach(p -> method(cb, p));
            initialiser(cb);
            accessors(cb);
            readers(cb);
        });
    }

    private void function(ClassBuilder cb, Function f) {
        cb.withMethodBody(f.name(), signature(f), 0,
                code -> new BodyWriter(code, program, places, Set.of(), pages, tables).function(f));
    }

    private void method(ClassBuilder cb, Procedure p) {
        cb.withMethodBody(p.name(), VOID, ClassFile.ACC_PUBLIC, code -> {
            new BodyWriter(code, program, places, chunks.shared(), pages, tables).body(p.body(), List.of());
            code.return_();
        });
    }

    private void initialiser(ClassBuilder cb) {
        var slots = pages.fields();
        int parts = (slots.size() + ACCESS_CHUNK - 1) / ACCESS_CHUNK;
        for (int p = 0; p < parts; p++) {
            var some = slots.subList(p * ACCESS_CHUNK, Math.min(slots.size(), (p + 1) * ACCESS_CHUNK));
            cb.withMethodBody("init$" + p, VOID, ClassFile.ACC_PRIVATE, code -> {
                some.forEach(s -> initialise(code, s));
                code.return_();
            });
        }
        cb.withMethodBody("initFields", VOID, ClassFile.ACC_PROTECTED, code -> {
            for (int p = 0; p < parts; p++) {
                code.aload(0).invokevirtual(SELF, "init$" + p, VOID);
            }
            code.return_();
        });
    }

    private void initialise(CodeBuilder code, Slot s) {
        if (!s.isArray()) {
            code.aload(0);
            Instructions.constant(code, s.type(), s.initial());
            code.putfield(owner(s), fieldOf(s), desc(s));
            return;
        }
        var kind = Instructions.kind(s.type());
        code.aload(0).getfield(SELF, field(s), desc(s));
        Instructions.constant(code, s.type(), s.initial());
        code.invokestatic(ClassDesc.of("java.util.Arrays"), "fill", MethodTypeDesc.of(ConstantDescs.CD_void, desc(s), desc(s.type())));
        for (int i = 1; i < s.length(); i++) {
            if (s.initial(i) != s.initial()) {
                code.aload(0).getfield(SELF, field(s), desc(s)).loadConstant(i);
                Instructions.constant(code, s.type(), s.initial(i));
                code.arrayStore(kind);
            }
        }
    }

    private void accessors(ClassBuilder cb) {
        var readType = MethodTypeDesc.of(ConstantDescs.CD_double, ConstantDescs.CD_int);
        var writeType = MethodTypeDesc.of(ConstantDescs.CD_void, ConstantDescs.CD_int, ConstantDescs.CD_double);
        dispatch(cb, "read", readType, (code, s) -> {
            reference(code, s);
            Instructions.widen(code, s.type());
            code.dreturn();
        }, code -> code.dconst_0().dreturn());
        dispatch(cb, "write", writeType, (code, s) -> {
            if (s.isArray()) {
                code.aload(0).getfield(SELF, field(s), desc(s)).iconst_0();
            } else {
                code.aload(0);
            }
            code.dload(2);
            Instructions.narrow(code, s.type());
            if (s.isArray()) {
                code.arrayStore(Instructions.kind(s.type()));
            } else {
                code.putfield(owner(s), fieldOf(s), desc(s));
            }
            code.return_();
        }, CodeBuilder::return_);
    }

    /** For each group of taps a method that writes their values, without a look-up for each. */
    private void readers(ClassBuilder cb) {
        var readType = MethodTypeDesc.of(ConstantDescs.CD_void, ConstantDescs.CD_double.arrayType(), ConstantDescs.CD_int);
        var choiceType = readType.insertParameterTypes(0, ConstantDescs.CD_int);
        List<List<String>> methods = new ArrayList<>();
        for (int g = 0; g < groups.size(); g++) {
            List<Tap> taps = groups.get(g).taps();
            List<String> parts = new ArrayList<>();
            for (int from = 0; from < taps.size(); from += ACCESS_CHUNK) {
                int first = from;
                String name = "taps$" + g + "$" + from;
                parts.add(name);
                cb.withMethodBody(name, readType, ClassFile.ACC_PRIVATE, code -> {
                    for (int i = first; i < Math.min(taps.size(), first + ACCESS_CHUNK); i++) {
                        Pages.number(code.aload(1).iload(2), i).iadd();
                        reference(code, taps.get(i).slot());
                        Instructions.widen(code, taps.get(i).slot().type());
                        code.dastore();
                    }
                    code.return_();
                });
            }
            methods.add(parts);
        }
        cb.withMethodBody("taps", choiceType, ClassFile.ACC_PROTECTED, code -> {
            for (int g = 0; g < methods.size(); g++) {
                Label next = code.newLabel();
                code.iload(1).loadConstant(g).if_icmpne(next);
                methods.get(g).forEach(m -> code.aload(0).aload(2).iload(3).invokevirtual(SELF, m, readType));
                code.return_().labelBinding(next);
            }
            code.return_();
        });
    }

    /** The value of a slot, of an array its first. */
    private void reference(CodeBuilder code, Slot s) {
        if (pages.holds(s)) {
            pages.load(code, s.type());
            Pages.number(code, pages.place(s)).arrayLoad(Instructions.kind(s.type()));
            return;
        }
        code.aload(0).getfield(owner(s), fieldOf(s), desc(s));
        if (s.isArray()) {
            code.iconst_0().arrayLoad(Instructions.kind(s.type()));
        }
    }

    /** A method that switches on the slot number, in a chain of methods where there are many slots. */
    private void dispatch(ClassBuilder cb, String name, MethodTypeDesc type,
            java.util.function.BiConsumer<CodeBuilder, Slot> access, Consumer<CodeBuilder> otherwise) {
        var slots = pages.fields();
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
            case FLOAT32 -> ConstantDescs.CD_float;
            case FLOAT64 -> ConstantDescs.CD_double;
            case INT64, UINT64 -> ConstantDescs.CD_long;
            default -> ConstantDescs.CD_int;
        };
    }

    static ClassDesc desc(Slot s) {
        return s.isArray() ? desc(s.type()).arrayType() : desc(s.type());
    }

    static MethodTypeDesc signature(Function f) {
        return MethodTypeDesc.of(desc(f.result().type()), f.parameters().stream().map(p -> desc(p.type())).toList());
    }
}
