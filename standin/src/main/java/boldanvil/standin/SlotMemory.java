package boldanvil.standin;

import boldanvil.core.program.Layout;
import boldanvil.core.program.Slot;
import java.lang.foreign.MemorySegment;
import java.lang.foreign.ValueLayout;

/** Slots in native memory. */
final class SlotMemory {
    private static final ValueLayout.OfDouble DOUBLE = ValueLayout.JAVA_DOUBLE_UNALIGNED;

    private final MemorySegment memory;
    private final Layout layout;

    SlotMemory(MemorySegment memory, Layout layout) {
        this.memory = memory;
        this.layout = layout;
    }

    double get(Slot s) {
        long at = layout.offset(s);
        return switch (s.type()) {
            case BOOL -> memory.get(ValueLayout.JAVA_BYTE, at) != 0 ? 1 : 0;
            case INT8 -> memory.get(ValueLayout.JAVA_BYTE, at);
            case UINT8 -> memory.get(ValueLayout.JAVA_BYTE, at) & 0xFF;
            case INT16 -> memory.get(ValueLayout.JAVA_SHORT_UNALIGNED, at);
            case UINT16 -> memory.get(ValueLayout.JAVA_SHORT_UNALIGNED, at) & 0xFFFF;
            case UINT32 -> memory.get(ValueLayout.JAVA_INT_UNALIGNED, at) & 0xFFFF_FFFFL;
            case INT32 -> memory.get(ValueLayout.JAVA_INT_UNALIGNED, at);
            case INT64, UINT64 -> s.type().value(memory.get(ValueLayout.JAVA_LONG_UNALIGNED, at));
            case FLOAT32 -> memory.get(ValueLayout.JAVA_FLOAT_UNALIGNED, at);
            case FLOAT64 -> memory.get(DOUBLE, at);
        };
    }

    void set(Slot s, double value) {
        long at = layout.offset(s);
        double v = s.type().convert(value);
        switch (s.type()) {
            case BOOL, INT8, UINT8 -> memory.set(ValueLayout.JAVA_BYTE, at, (byte) (int) v);
            case INT16, UINT16 -> memory.set(ValueLayout.JAVA_SHORT_UNALIGNED, at, (short) (int) v);
            case INT32, UINT32 -> memory.set(ValueLayout.JAVA_INT_UNALIGNED, at, (int) (long) v);
            case INT64, UINT64 -> memory.set(ValueLayout.JAVA_LONG_UNALIGNED, at, s.type().bits(v));
            case FLOAT32 -> memory.set(ValueLayout.JAVA_FLOAT_UNALIGNED, at, (float) v);
            case FLOAT64 -> memory.set(DOUBLE, at, v);
        }
    }
}
