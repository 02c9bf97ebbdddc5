package boldanvil.core.plc;

import boldanvil.core.instance.Instance;
import boldanvil.core.program.Type;
import boldanvil.core.text.PlcProgram.Variable;

/**
 * Reads and sets the variables of a running program. A value is a {@link Boolean}, a {@link Long} for integers, a {@link Double} for real
 * numbers, durations (in seconds) and dates, or a {@link String}.
 */
final class PlcMemory {
    private PlcMemory() {}

    static Object read(Instance instance, Variable v) {
        if (v.isText()) {
            var text = new StringBuilder();
            for (int i = 0; i < v.capacity(); i++) {
                int code = (int) instance.get(v.slot(), v.element() + i);
                if (code == 0) {
                    break;
                }
                text.append((char) code);
            }
            return text.toString();
        }
        if (v.carried().isWide()) {
            long bits = v.bit() < 0 ? instance.whole(v.slot(), v.element()) : bits(instance, v);
            return v.carried().exact(bits);
        }
        double x = number(instance, v);
        return v.carried() == Type.BOOL ? (Object) (x != 0) : v.carried().isFloat() ? (Object) x : (Object) (long) x;
    }

    /** A single value as a number; 1 for true. */
    static double number(Instance instance, Variable v) {
        if (v.bit() < 0) {
            return instance.get(v.slot(), v.element());
        }
        long bits = bits(instance, v);
        return switch (v.carried()) {
            case FLOAT32 -> Float.intBitsToFloat((int) bits);
            case FLOAT64 -> Double.longBitsToDouble(bits);
            case BOOL -> bits;
            default -> v.carried().value(v.carried().wrap(bits));
        };
    }

    private static long bits(Instance instance, Variable v) {
        int first = v.bit() / 8;
        if (v.carried() == Type.BOOL) {
            return (long) instance.get(v.slot(), first) >> v.bit() % 8 & 1;
        }
        long bits = 0;
        for (int i = v.carried().bytes() - 1; i >= 0; i--) {
            bits = bits << 8 | (long) instance.get(v.slot(), first + i);
        }
        return bits;
    }

    /** @throws IllegalArgumentException when the value is of another kind, or does not fit */
    static void write(Instance instance, Variable v, Object value) {
        if (v.isText()) {
            if (!(value instanceof String s) || s.length() > v.capacity()) {
                throw new IllegalArgumentException(v.path() + " is a text of up to " + v.capacity() + " characters");
            }
            for (int i = 0; i <= s.length(); i++) {
                instance.set(v.slot(), v.element() + i, i < s.length() ? s.charAt(i) : 0);
            }
            return;
        }
        double x = checked(v, value);
        if (v.carried().isWide() && value instanceof Number n) {
            setBits(instance, v, v.carried().bits(n));
        } else {
            set(instance, v, x);
        }
    }

    /** A value as the variable takes it. */
    static double checked(Variable v, Object value) {
        double x = switch (value) {
            case Boolean b when v.carried() == Type.BOOL -> b ? 1 : 0;
            case Number n when v.carried() != Type.BOOL -> n.doubleValue();
            default -> throw new IllegalArgumentException(v.path() + " is a " + v.type());
        };
        if (v.carried().isInteger() && !(value instanceof Number n && v.carried().holds(n))) {
            throw new IllegalArgumentException(v.path() + " is a " + v.type() + ", which does not have the value " + value);
        }
        return x;
    }

    static void set(Instance instance, Variable v, double x) {
        if (v.bit() < 0) {
            instance.set(v.slot(), v.element(), x);
            return;
        }
        int first = v.bit() / 8;
        if (v.carried() == Type.BOOL) {
            long old = (long) instance.get(v.slot(), first);
            long mask = 1L << v.bit() % 8;
            instance.set(v.slot(), first, x != 0 ? old | mask : old & ~mask);
            return;
        }
        long bits = switch (v.carried()) {
            case FLOAT32 -> Float.floatToRawIntBits((float) x);
            case FLOAT64 -> Double.doubleToRawLongBits(x);
            default -> v.carried().bits(x);
        };
        setBits(instance, v, bits);
    }

    private static void setBits(Instance instance, Variable v, long bits) {
        if (v.bit() < 0) {
            instance.whole(v.slot(), v.element(), bits);
            return;
        }
        for (int i = 0; i < v.carried().bytes(); i++) {
            instance.set(v.slot(), v.bit() / 8 + i, bits >> 8 * i & 0xFF);
        }
    }
}
