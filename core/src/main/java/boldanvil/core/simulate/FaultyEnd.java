package boldanvil.core.simulate;

import boldanvil.core.program.Type;
import java.util.ArrayDeque;
import java.util.Random;
import java.util.function.DoubleSupplier;

/**
 * The end of a wire that has a fault, and what it remembers. A wire has two of them, since it passes a value on twice in a tick: what was
 * sent a tick before by one way must not be taken for what is sent now by the other. Random numbers follow from the wire's name, so a run
 * can be repeated.
 */
final class FaultyEnd {
    private record Sent(long nanos, double value) {}

    private final WireFault fault;
    private final long fromNanos;
    private final Type type;
    private final DoubleSupplier other;
    private final Random random;
    private final ArrayDeque<Sent> past = new ArrayDeque<>();
    private double arrived;
    /** Value of the present tick, drawn once. */
    private double drawn;
    private int bit;

    /**
     * @param type of the input the wire ends at
     * @param other gives the signal of the other wire of a swapped one; null for other kinds
     * @param before what arrived last before the fault
     */
    FaultyEnd(WireFault fault, String wire, Type type, DoubleSupplier other, long fromNanos, double before) {
        this.fault = fault;
        this.type = type;
        this.other = other;
        this.fromNanos = fromNanos;
        random = new Random(wire.hashCode() * 31L + fault.kind().ordinal());
        arrived = before;
    }

    /**
     * What arrives; called once in a tick.
     *
     * @param sent what is sent now
     * @param now simulated time of the tick
     */
    double arrives(double sent, long now) {
        drawn = fault.kind() == WireFault.Kind.NOISE ? random.nextGaussian() : random.nextDouble();
        bit = random.nextInt(type == Type.BOOL ? 1 : type.bytes() * 8);
        double seconds = (now - fromNanos) / 1e9;
        boolean there = fault.isPresent(seconds);
        double x = there ? faulty(sent, now, seconds) : sent;
        if (remembers()) {
            past.addLast(new Sent(now, sent));
        }
        double y = there ? held(x) : sent;
        if (!there || fault.kind() != WireFault.Kind.STUCK) {
            arrived = y;
        }
        return y;
    }

    private boolean remembers() {
        return fault.kind() == WireFault.Kind.LATE || fault.kind() == WireFault.Kind.REPEATED;
    }

    private double faulty(double sent, long now, double seconds) {
        return switch (fault.kind()) {
            case OFFSET -> sent + fault.value();
            case GAIN -> sent * fault.value();
            case DRIFT -> sent + fault.value() * seconds;
            case STUCK -> arrived;
            case LEVEL -> fault.value();
            case NOISE -> sent + fault.value() * drawn;
            case LATE -> before(sent, now);
            case LOST -> drawn < fault.share() ? arrived : sent;
            case REPEATED -> drawn < fault.share() ? before(sent, now) : sent;
            case DAMAGED -> drawn < fault.share() ? damaged(sent) : sent;
            case SWAPPED -> other.getAsDouble();
            case HALT, RESET -> sent;
        };
    }

    /** What was sent the delay ago; what arrived before the fault, as long as there is nothing older. */
    private double before(double sent, long now) {
        long wanted = now - Math.round(fault.seconds() * 1e9);
        if (wanted >= now) {
            return sent;
        }
        while (past.size() > 1 && second().nanos() <= wanted) {
            past.removeFirst();
        }
        return past.isEmpty() || past.peekFirst().nanos() > wanted ? arrived : past.peekFirst().value();
    }

    private Sent second() {
        var i = past.iterator();
        i.next();
        return i.next();
    }

    /** One bit of the value, as it lies in memory, is turned over. */
    private double damaged(double sent) {
        return switch (type) {
            case BOOL -> sent == 0 ? 1 : 0;
            case FLOAT32 -> Float.intBitsToFloat(Float.floatToRawIntBits((float) sent) ^ 1 << bit);
            case FLOAT64 -> Double.longBitsToDouble(Double.doubleToRawLongBits(sent) ^ 1L << bit);
            default -> type.value(type.wrap(type.bits(sent) ^ 1L << bit));
        };
    }

    /** A value as the input takes it: whole where it is an integer. */
    private double held(double x) {
        return type == Type.BOOL ? (x >= 0.5 ? 1 : 0) : type.isInteger() ? type.convert(Math.rint(x)) : x;
    }
}
