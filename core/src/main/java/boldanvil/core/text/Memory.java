package boldanvil.core.text;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Origin;
import boldanvil.core.program.Slot;
import boldanvil.core.program.Stmt;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Makes the slots of variables, and reads and sets them. */
final class Memory {
    /** Makes one slot. */
    interface Maker {
        /** @param initial one value for each element */
        Slot make(String name, Type type, double[] initial);
    }

    /** Elements of one slot. */
    static final int LARGEST = 100_000;

    private Memory() {}

    /** What keeps its values from step to step. */
    static Maker lasting(Host host) {
        return (name, type, initial) -> initial.length == 1 ? host.state(name, type, initial[0]) : host.array(name, type, initial);
    }

    /** A slot with the same value for each of some instances. */
    static Slot slot(Host host, String name, Type type, int instances, double initial) {
        double[] all = new double[instances];
        Arrays.fill(all, initial);
        return lasting(host).make(name, type, all);
    }

    /**
     * The storage of a variable.
     *
     * @param outer how many of it there are, one behind the other
     * @param initial values of one of them, see {@link InitialValues}
     */
    static Storage allocate(DataType t, String name, int outer, Map<String, double[]> initial, Maker maker) {
        return allocate(t, name, outer, initial, "", maker);
    }

    private static Storage allocate(DataType t, String name, int outer, Map<String, double[]> initial, String path, Maker maker) {
        return switch (t) {
            case DataType.Plain p -> new Storage.Cell(maker.make(name, p.type().type(), repeated(initial.get(path), outer)), p);
            case DataType.Chars c -> new Storage.Text(maker.make(name, c.wide() ? Type.UINT16 : Type.UINT8,
                    repeated(initial.get(path), outer)), c);
            case DataType.Row r -> new Storage.Row(r, allocate(r.element(), name, outer, initial, path, maker));
            case DataType.Structure s -> {
                Map<String, Storage> members = new LinkedHashMap<>();
                s.fields().forEach((key, f) -> members.put(key, allocate(f.type(), name + "_" + f.name(), outer, initial,
                        path + "." + key, maker)));
                yield new Storage.Fields(s, members);
            }
            case DataType.Block _ -> throw new IllegalArgumentException("function block within a variable");
        };
    }

    private static double[] repeated(double[] values, int times) {
        double[] all = new double[values.length * times];
        for (int i = 0; i < times; i++) {
            System.arraycopy(values, 0, all, i * values.length, values.length);
        }
        return all;
    }

    /** The same memory at an address. */
    static Storage located(DataType t, Slot area, int bit) {
        return switch (t) {
            case DataType.Plain p -> new Storage.Located(area, bit, p);
            case DataType.Row r -> new Storage.Row(r, located(r.element(), area, bit));
            default -> throw new IllegalArgumentException("at an address: " + t);
        };
    }

    /** An element of a slot; {@code index} null for the first. */
    static Expr load(Slot s, Expr index) {
        return s.isArray() ? Expr.at(s, index == null ? Expr.of(Type.INT32, 0) : index) : Expr.read(s);
    }

    static Stmt store(Slot s, Expr index, Expr value, Origin origin) {
        return s.isArray() ? new Stmt.Store(s, index == null ? Expr.of(Type.INT32, 0) : index, value, origin)
                : new Stmt.Assign(s, value, origin);
    }

    /** The value at an address, put together from its bytes, least first. */
    static Expr load(Storage.Located l, Expr index) {
        Type t = l.type().type().type();
        if (t == Type.BOOL) {
            Expr bit = bit(l, index);
            Expr of = Expr.at(l.area(), byteOf(bit));
            return new Expr.Binary(Expr.Op.BAND, shiftedRight(of.wrap(Type.UINT32), bit), Expr.of(Type.UINT32, 1))
                    .compare(Expr.Op.NE, Expr.of(Type.UINT32, 0));
        }
        Expr first = first(l, index);
        Expr low = bytes(l.area(), first, Math.min(4, t.bytes()));
        return switch (t) {
            case INT64, UINT64 -> new Expr.Binary(Expr.Op.BOR, new Expr.Binary(Expr.Op.SHL, bytes(l.area(), first.plus(Expr.of(Type.INT32,
                    4)), 4).wrap(t), Expr.of(t, 32)), low.wrap(t));
            case FLOAT32 -> new Expr.Bits(Expr.Form.UINT32_TO_FLOAT32, List.of(low));
            case FLOAT64 -> new Expr.Bits(Expr.Form.HALVES_TO_FLOAT64, List.of(bytes(l.area(), first.plus(Expr.of(Type.INT32, 4)), 4),
                    low));
            default -> low.wrap(t);
        };
    }

    private static Expr bit(Storage.Located l, Expr index) {
        Expr at = Expr.of(Type.INT32, l.bit());
        return index == null ? at : index.plus(at);
    }

    private static Expr byteOf(Expr bit) {
        return bit instanceof Expr.Literal l ? Expr.of(Type.INT32, Math.floor(l.value() / 8))
                : new Expr.Binary(Expr.Op.SHR, bit, Expr.of(Type.INT32, 3));
    }

    private static Expr within(Expr bit) {
        return bit instanceof Expr.Literal l ? Expr.of(Type.UINT32, l.value() % 8)
                : new Expr.Binary(Expr.Op.BAND, bit, Expr.of(Type.INT32, 7)).wrap(Type.UINT32);
    }

    private static Expr shiftedRight(Expr word, Expr bit) {
        return new Expr.Binary(Expr.Op.SHR, word, within(bit));
    }

    private static Expr first(Storage.Located l, Expr index) {
        Expr at = Expr.of(Type.INT32, l.bit() / 8);
        return index == null ? at : index.times(Expr.of(Type.INT32, l.type().type().type().bytes())).plus(at);
    }

    private static Expr bytes(Slot area, Expr first, int count) {
        Expr sum = null;
        for (int i = 0; i < count; i++) {
            Expr one = Expr.at(area, i == 0 ? first : first.plus(Expr.of(Type.INT32, i))).wrap(Type.UINT32);
            Expr placed = i == 0 ? one : new Expr.Binary(Expr.Op.SHL, one, Expr.of(Type.UINT32, 8 * i));
            sum = sum == null ? placed : new Expr.Binary(Expr.Op.BOR, sum, placed);
        }
        return sum;
    }

    /** What sets the value at an address; {@code value} is read several times. */
    static List<Stmt> store(Storage.Located l, Expr index, Expr value, Origin origin) {
        Type t = l.type().type().type();
        List<Stmt> out = new ArrayList<>();
        if (t == Type.BOOL) {
            Expr bit = bit(l, index);
            Expr of = byteOf(bit);
            Expr mask = new Expr.Binary(Expr.Op.SHL, Expr.of(Type.UINT32, 1), within(bit));
            Expr old = Expr.at(l.area(), of).wrap(Type.UINT32);
            Expr set = new Expr.Binary(Expr.Op.BOR, old, mask);
            Expr clear = new Expr.Binary(Expr.Op.BAND, old, new Expr.Binary(Expr.Op.BXOR, mask, Expr.of(Type.UINT32, 0xFFFF_FFFFL)));
            out.add(new Stmt.Store(l.area(), of, set.when(value, clear).wrap(Type.UINT8), origin));
            return out;
        }
        Expr first = first(l, index);
        switch (t) {
            case FLOAT32 -> bytes(out, l.area(), first, new Expr.Bits(Expr.Form.FLOAT32_TO_UINT32, List.of(value)), 4, origin);
            case FLOAT64 -> {
                bytes(out, l.area(), first, new Expr.Bits(Expr.Form.LOW_OF_FLOAT64, List.of(value)), 4, origin);
                bytes(out, l.area(), first.plus(Expr.of(Type.INT32, 4)), new Expr.Bits(Expr.Form.HIGH_OF_FLOAT64, List.of(value)), 4,
                        origin);
            }
            case INT64, UINT64 -> {
                bytes(out, l.area(), first, value.wrap(Type.UINT32), 4, origin);
                bytes(out, l.area(), first.plus(Expr.of(Type.INT32, 4)), new Expr.Binary(Expr.Op.SHR, value, Expr.of(t, 32))
                        .wrap(Type.UINT32), 4, origin);
            }
            default -> bytes(out, l.area(), first, value.wrap(Type.UINT32), t.bytes(), origin);
        }
        return out;
    }

    private static void bytes(List<Stmt> out, Slot area, Expr first, Expr word, int count, Origin origin) {
        for (int i = 0; i < count; i++) {
            Expr part = i == 0 ? word : new Expr.Binary(Expr.Op.SHR, word, Expr.of(Type.UINT32, 8 * i));
            out.add(new Stmt.Store(area, i == 0 ? first : first.plus(Expr.of(Type.INT32, i)), part.wrap(Type.UINT8), origin));
        }
    }
}
