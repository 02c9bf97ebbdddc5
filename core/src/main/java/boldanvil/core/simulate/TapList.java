package boldanvil.core.simulate;

import boldanvil.core.hdf5.NumberType;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.program.Tap;
import boldanvil.core.program.Type;
import boldanvil.core.samples.Column;
import java.util.ArrayList;
import java.util.List;

/** The taps of a system in a fixed order; an index into it names a tap in a run. */
public record TapList(List<Entry> entries) {
    /** A tap and the part it belongs to. */
    public record Entry(String part, Tap tap) {
        public String address() {
            return part + "." + tap.name();
        }
    }

    public TapList {
        entries = List.copyOf(entries);
    }

    public static TapList of(LoweredSystem system) {
        List<Entry> all = new ArrayList<>();
        system.parts().forEach((id, lowered) ->
                lowered.program().ifPresent(p -> p.taps().forEach(t -> all.add(new Entry(id, t)))));
        return new TapList(all);
    }

    /** A column for each tap, in order. */
    public List<Column> columns() {
        return entries.stream().map(e -> new Column(e.address(), e.tap().unit(), storage(e.tap().slot().type()))).toList();
    }

    /** The narrowest type of a file that keeps every value. */
    private static NumberType storage(Type t) {
        return switch (t) {
            case BOOL, UINT8 -> NumberType.UINT8;
            case INT8, INT16, UINT16, INT32 -> NumberType.INT32;
            case FLOAT32 -> NumberType.FLOAT32;
            case UINT32, INT64, UINT64, FLOAT64 -> NumberType.FLOAT64;
        };
    }
}
