package boldanvil.core.jvm;

import boldanvil.core.instance.Instance;
import boldanvil.core.program.Fault;
import boldanvil.core.program.Slot;
import boldanvil.core.program.TapGroup;
import boldanvil.core.program.Type;
import java.lang.reflect.Array;
import java.lang.reflect.InvocationTargetException;
import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;

/** What generated classes share: slot numbers and the arithmetic that can fault. */
abstract class JvmInstance implements Instance {
    /** The program's fault slot; see {@link Fault}. */
    protected int fault;

    /** Slots that are no fields; see {@link Pages}. */
    protected double[] doubles;
    protected float[] floats;
    protected int[] ints;
    protected long[] longs;
    /** Numbers that are no constants of the class. */
    protected double[] constants;
    /** The program's tables, by number. */
    protected double[][] tables;

    private Map<Slot, Integer> numbers = Map.of();
    private Memory beginning;
    private Slot[] ordered;
    private List<TapGroup> groups = List.of();
    private final List<Object> arrays = new ArrayList<>();
    private List<Slot> arraySlots = List.of();
    private final Map<Slot, Integer> arrayNumbers = new IdentityHashMap<>();

    /** Values of slots that are no fields, by type. */
    record Memory(double[] doubles, float[] floats, int[] ints, long[] longs) {}

    /** @param someNumbers as {@link Pages#numbers} */
    final void provide(Memory memory, Map<Slot, Integer> someNumbers, double[] someConstants, double[][] someTables) {
        beginning = memory;
        doubles = memory.doubles().clone();
        floats = memory.floats().clone();
        ints = memory.ints().clone();
        longs = memory.longs().clone();
        numbers = someNumbers;
        constants = someConstants;
        tables = someTables;
    }

    final void bind(List<TapGroup> someGroups, List<Slot> someArrays) {
        groups = someGroups;
        arraySlots = someArrays;
    }

    @Override
    public final void init() {
        System.arraycopy(beginning.doubles(), 0, doubles, 0, doubles.length);
        System.arraycopy(beginning.floats(), 0, floats, 0, floats.length);
        System.arraycopy(beginning.ints(), 0, ints, 0, ints.length);
        System.arraycopy(beginning.longs(), 0, longs, 0, longs.length);
        initFields();
    }

    @Override
    public final void call(String procedure) {
        try {
            getClass().getMethod(procedure).invoke(this);
        } catch (NoSuchMethodException e) {
            throw new IllegalArgumentException("no procedure " + procedure, e);
        } catch (IllegalAccessException | InvocationTargetException e) {
            throw new IllegalStateException(e);
        }
    }

    /** Sets every slot that is a field to its beginning. */
    protected abstract void initFields();

    @Override
    public final double get(Slot slot) {
        int n = numbers.get(slot);
        if (n >= 0) {
            return read(n);
        }
        return switch (slot.type()) {
            case FLOAT64 -> doubles[~n];
            case FLOAT32 -> floats[~n];
            case UINT32 -> Integer.toUnsignedLong(ints[~n]);
            case INT64, UINT64 -> slot.type().value(longs[~n]);
            default -> ints[~n];
        };
    }

    @Override
    public final void set(Slot slot, double value) {
        int n = numbers.get(slot);
        double v = slot.type().convert(value);
        if (n >= 0) {
            write(n, v);
            return;
        }
        switch (slot.type()) {
            case FLOAT64 -> doubles[~n] = v;
            case FLOAT32 -> floats[~n] = (float) v;
            case INT64, UINT64 -> longs[~n] = slot.type().bits(v);
            default -> ints[~n] = (int) (long) v;
        }
    }

    /** Remembers an array of the class; called for each in the order of the program's slots. */
    protected final void hold(Object array) {
        arrays.add(array);
    }

    @Override
    public final double[] save() {
        int size = arrays.stream().mapToInt(Array::getLength).sum();
        double[] state = new double[numbers.size() + 1 + size];
        int i = 0;
        for (Slot s : slotsInOrder()) {
            state[i++] = get(s);
        }
        state[i++] = fault;
        for (Object array : arrays) {
            for (int k = 0; k < Array.getLength(array); k++) {
                state[i++] = Array.getDouble(array, k);
            }
        }
        return state;
    }

    @Override
    public final void restore(double[] state) {
        int i = 0;
        for (Slot s : slotsInOrder()) {
            set(s, state[i++]);
        }
        fault = (int) state[i++];
        for (Object array : arrays) {
            write(array, state, i);
            i += Array.getLength(array);
        }
    }

    private static void write(Object array, double[] values, int from) {
        for (int k = 0; k < Array.getLength(array); k++) {
            double v = values[from + k];
            switch (array) {
                case double[] a -> a[k] = v;
                case float[] a -> a[k] = (float) v;
                case int[] a -> a[k] = (int) (long) v;
                case long[] a -> a[k] = (long) v;
                default -> throw new IllegalStateException();
            }
        }
    }

    @Override
    public final double[] elements(Slot slot) {
        Object array = array(slot);
        return IntStream.range(0, slot.length()).mapToDouble(k -> slot.type() == Type.UINT32
                ? Integer.toUnsignedLong(Array.getInt(array, k)) : slot.type() == Type.UINT64 ? ofUnsigned(Array.getLong(array, k))
                : Array.getDouble(array, k)).toArray();
    }

    @Override
    public final long whole(Slot slot, int element) {
        if (!slot.type().isWide()) {
            return (long) get(slot, element);
        }
        int n = numbers.get(slot);
        return slot.isArray() ? Array.getLong(array(slot), element) : n < 0 ? longs[~n] : field(slot, null);
    }

    @Override
    public final void whole(Slot slot, int element, long value) {
        if (!slot.type().isWide()) {
            set(slot, element, value);
        } else if (slot.isArray()) {
            Array.setLong(array(slot), element, value);
        } else if (numbers.get(slot) < 0) {
            longs[~numbers.get(slot)] = value;
        } else {
            field(slot, value);
        }
    }

    /** Reads a field of 64 bits, or sets it first. */
    private long field(Slot slot, Long value) {
        try {
            var f = getClass().getDeclaredField(JvmCompiler.field(slot));
            if (value != null) {
                f.setLong(this, value);
            }
            return f.getLong(this);
        } catch (ReflectiveOperationException e) {
            throw new IllegalStateException(e);
        }
    }

    @Override
    public final void set(Slot slot, double[] elements) {
        write(array(slot), elements, 0);
    }

    @Override
    public final double get(Slot slot, int element) {
        if (!slot.isArray()) {
            return get(slot);
        }
        Object array = array(slot);
        return slot.type() == Type.UINT32 ? Integer.toUnsignedLong(Array.getInt(array, element))
                : slot.type() == Type.UINT64 ? ofUnsigned(Array.getLong(array, element)) : Array.getDouble(array, element);
    }

    @Override
    public final void set(Slot slot, int element, double value) {
        if (!slot.isArray()) {
            set(slot, value);
            return;
        }
        double v = slot.type().convert(value);
        switch (array(slot)) {
            case double[] a -> a[element] = v;
            case float[] a -> a[element] = (float) v;
            case int[] a -> a[element] = (int) (long) v;
            case long[] a -> a[element] = slot.type().bits(v);
            default -> throw new IllegalStateException();
        }
    }

    private Object array(Slot slot) {
        if (arrayNumbers.isEmpty()) {
            for (int i = 0; i < arraySlots.size(); i++) {
                arrayNumbers.put(arraySlots.get(i), i);
            }
        }
        return arrays.get(arrayNumbers.get(slot));
    }

    private Slot[] slotsInOrder() {
        if (ordered == null) {
            ordered = numbers.keySet().toArray(Slot[]::new);
        }
        return ordered;
    }

    @Override
    public final TapReader reader(TapGroup group) {
        int n = groups.indexOf(group);
        return n < 0 ? Instance.super.reader(group) : (into, at) -> taps(n, into, at);
    }

    protected abstract double read(int slot);

    /** Writes the values of a group's taps. */
    protected abstract void taps(int group, double[] into, int at);

    protected abstract void write(int slot, double value);

    protected final void raise(int bit, int place) {
        fault = Fault.raise(fault, bit, place);
    }

    protected final int toInt32(double v, int place) {
        if (Double.isNaN(v)) {
            raise(Fault.NOT_A_NUMBER, place);
        }
        return (int) v;
    }

    protected final int toUint32(double v, int place) {
        if (Double.isNaN(v)) {
            raise(Fault.NOT_A_NUMBER, place);
        }
        return saturate((long) v, 0, 0xFFFF_FFFFL);
    }

    protected static int saturate(long v, long least, long greatest) {
        return (int) Math.clamp(v, least, greatest);
    }

    protected static double ofUnsigned(long v) {
        return Type.UINT64.value(v);
    }

    protected static long toUnsigned(double v) {
        return Type.UINT64.bits(Type.UINT64.convert(v));
    }

    protected final long toInt64(double v, int place) {
        if (Double.isNaN(v)) {
            raise(Fault.NOT_A_NUMBER, place);
        }
        return (long) v;
    }

    protected final long toUint64(double v, int place) {
        if (Double.isNaN(v)) {
            raise(Fault.NOT_A_NUMBER, place);
        }
        return toUnsigned(v);
    }

    /** As an unsigned number of 64 bits; what is below 0 becomes 0. */
    protected static long notNegative(long v) {
        return Math.max(0, v);
    }

    /** Of an unsigned number of 64 bits what fits into 63. */
    protected static long within63(long v) {
        return v < 0 ? Long.MAX_VALUE : v;
    }

    private int byZero(int place) {
        raise(Fault.DIVISION_BY_ZERO, place);
        return 0;
    }

    protected final int divide(int a, int b, int place) {
        return b == 0 ? byZero(place) : a / b;
    }

    protected final int divideUnsigned(int a, int b, int place) {
        return b == 0 ? byZero(place) : Integer.divideUnsigned(a, b);
    }

    protected final int remainder(int a, int b, int place) {
        return b == 0 ? byZero(place) : a % b;
    }

    protected final int remainderUnsigned(int a, int b, int place) {
        return b == 0 ? byZero(place) : Integer.remainderUnsigned(a, b);
    }

    protected final long divide(long a, long b, int place) {
        return b == 0 ? byZero(place) : a / b;
    }

    protected final long divideUnsigned(long a, long b, int place) {
        return b == 0 ? byZero(place) : Long.divideUnsigned(a, b);
    }

    protected final long remainder(long a, long b, int place) {
        return b == 0 ? byZero(place) : a % b;
    }

    protected final long remainderUnsigned(long a, long b, int place) {
        return b == 0 ? byZero(place) : Long.remainderUnsigned(a, b);
    }

    protected static long shiftLeft(long a, long n) {
        return n < 0 || n > 63 ? 0 : a << n;
    }

    protected static long shiftRight(long a, long n) {
        return a >> (n < 0 || n > 63 ? 63 : n);
    }

    protected static long shiftRightUnsigned(long a, long n) {
        return n < 0 || n > 63 ? 0 : a >>> n;
    }

    protected static int shiftLeft(int a, int n) {
        return n < 0 || n > 31 ? 0 : a << n;
    }

    protected static int shiftRight(int a, int n) {
        return a >> (n < 0 || n > 31 ? 31 : n);
    }

    protected static int shiftRightUnsigned(int a, int n) {
        return n < 0 || n > 31 ? 0 : a >>> n;
    }

    protected static int high(double v) {
        return (int) (Double.doubleToRawLongBits(v) >>> 32);
    }

    protected static int low(double v) {
        return (int) Double.doubleToRawLongBits(v);
    }

    protected static double halves(int high, int low) {
        return Double.longBitsToDouble((long) high << 32 | low & 0xFFFF_FFFFL);
    }

    protected static int index(int i, int length) {
        return i < 0 ? 0 : i >= length ? length - 1 : i;
    }
}
