package boldanvil.core.jvm;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Program;
import boldanvil.core.program.Rewriter;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Type;
import java.lang.classfile.CodeBuilder;
import java.lang.constant.ConstantDescs;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What does not fit into a class, whose constant pool ends at 65,535 entries, and would be slow to write there: the slots of a
 * large program, and numbers beyond the first few thousand, are in arrays of the instance.
 */
final class Pages {
    /** Programs with no more slots have them as fields, which are a little faster. */
    private static final int FIELDS = 3_000;
    /** Numbers that are constants of the class. */
    private static final int CONSTANTS = 3_000;

    private final Map<Slot, Integer> numbers = new IdentityHashMap<>();
    private final List<Slot> fields = new ArrayList<>();
    private final Map<Double, Integer> constants = new LinkedHashMap<>();
    private int doubles;
    private int floats;
    private int ints;
    private int longs;

    Pages(Program program, Set<Slot> shared) {
        List<Slot> all = new ArrayList<>(program.slots());
        all.addAll(shared);
        boolean large = all.size() > FIELDS;
        for (Slot s : all) {
            if (s.isArray() || s == program.fault() || !large) {
                numbers.put(s, fields.size());
                fields.add(s);
                continue;
            }
            int place = switch (s.type()) {
                case FLOAT64 -> doubles++;
                case FLOAT32 -> floats++;
                case INT64, UINT64 -> longs++;
                default -> ints++;
            };
            numbers.put(s, ~place);
        }
        Map<Double, Integer> seen = new HashMap<>();
        program.procedures().forEach(p -> Rewriter.expressions(p.body(), e -> {
            if (e instanceof Expr.Literal l && l.type().isFloat() && seen.putIfAbsent(l.value(), 0) == null && seen.size() > CONSTANTS) {
                constants.putIfAbsent(l.value(), constants.size());
            }
        }));
    }

    /** Slots that are fields, in the order of their numbers. */
    List<Slot> fields() {
        return fields;
    }

    /** For each slot the number of its field, or the complement of its place in the array for its type. */
    Map<Slot, Integer> numbers() {
        return numbers;
    }

    /** Puts a whole number on the stack without a constant of the class, of which there might be too many. */
    static CodeBuilder number(CodeBuilder code, int n) {
        if (n == (short) n) {
            return code.loadConstant(n);
        }
        code.loadConstant(n >> 16).bipush(16).ishl();
        return (n & 0xFFFF) == 0 ? code : (n & 0xFFFF) == (short) n ? code.sipush(n & 0xFFFF).ior()
                : code.loadConstant((n & 0xFFFF) >> 1).iconst_1().ishl().loadConstant(n & 1).ior().ior();
    }

    /** Whether a slot is in an array. */
    boolean holds(Slot s) {
        return numbers.getOrDefault(s, 0) < 0;
    }

    int place(Slot s) {
        return ~numbers.get(s);
    }

    /** Where a number is in the array of constants; null where it is one of the class. */
    Integer constant(double value) {
        return constants.get(value);
    }

    /** Puts the array for a type on the stack. */
    void load(CodeBuilder code, Type t) {
        code.aload(0);
        switch (t) {
            case FLOAT64 -> code.getfield(JvmCompiler.BASE, "doubles", ConstantDescs.CD_double.arrayType());
            case FLOAT32 -> code.getfield(JvmCompiler.BASE, "floats", ConstantDescs.CD_float.arrayType());
            case INT64, UINT64 -> code.getfield(JvmCompiler.BASE, "longs", ConstantDescs.CD_long.arrayType());
            default -> code.getfield(JvmCompiler.BASE, "ints", ConstantDescs.CD_int.arrayType());
        }
    }

    /** Gives an instance its arrays. */
    void provide(JvmInstance instance, double[][] tables) {
        var beginning = new JvmInstance.Memory(new double[doubles], new float[floats], new int[ints], new long[longs]);
        numbers.forEach((s, n) -> {
            if (n >= 0) {
                return;
            }
            int place = ~n;
            switch (s.type()) {
                case FLOAT64 -> beginning.doubles()[place] = s.initial();
                case FLOAT32 -> beginning.floats()[place] = (float) s.initial();
                case INT64, UINT64 -> beginning.longs()[place] = s.type().bits(s.initial());
                default -> beginning.ints()[place] = (int) (long) s.initial();
            }
        });
        instance.provide(beginning, numbers, constants.keySet().stream().mapToDouble(Double::doubleValue).toArray(), tables);
    }
}
