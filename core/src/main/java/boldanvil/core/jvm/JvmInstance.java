package boldanvil.core.jvm;

import boldanvil.core.program.Fault;
import boldanvil.core.program.Instance;
import boldanvil.core.program.Slot;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;

/** What generated classes share: slot numbers and the arithmetic that can fault. */
abstract class JvmInstance implements Instance {
    /** The program's fault slot; see {@link Fault}. */
    protected int fault;

    private Map<Slot, Integer> numbers = Map.of();

    final void bind(List<Slot> slots) {
        numbers = new IdentityHashMap<>();
        for (int i = 0; i < slots.size(); i++) {
            numbers.put(slots.get(i), i);
        }
    }

    @Override
    public final double get(Slot slot) {
        return read(numbers.get(slot));
    }

    @Override
    public final void set(Slot slot, double value) {
        write(numbers.get(slot), slot.type().convert(value));
    }

    protected abstract double read(int slot);

    protected abstract void write(int slot, double value);

    protected final int toInt32(double v) {
        if (v != v) {
            fault |= Fault.NOT_A_NUMBER;
        }
        return (int) v;
    }

    protected final int toUint16(double v) {
        return saturate16(toInt32(v));
    }

    protected static int saturate16(int v) {
        return Math.clamp(v, 0, 65_535);
    }

    protected final int divide(int a, int b) {
        if (b == 0) {
            fault |= Fault.DIVISION_BY_ZERO;
            return 0;
        }
        return a / b;
    }

    protected static double element(double[] table, int index) {
        return table[Math.clamp(index, 0, table.length - 1)];
    }
}
