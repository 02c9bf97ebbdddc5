package boldanvil.core.target;

import boldanvil.core.diagram.Mapping;
import java.util.ArrayDeque;

/** A signal at a channel of a target: what the channel does to it between the wire and the part. */
final class Signal {
    /** A value and the instant from which it stands. */
    private record Due(double seconds, double value) {}

    private final TargetChannel channel;
    private final Mapping.Row row;
    private final double stamp;
    private final double pulseHertz;
    private final ArrayDeque<Due> coming = new ArrayDeque<>();
    private double standing;
    private double filtered;
    private double filteredAt = Double.NaN;

    /**
     * @param stampSeconds resolution of the target's edges
     * @param pulseHertz frequency of PWM on the wire; 0 for none
     */
    Signal(TargetChannel channel, Mapping.Row row, double stampSeconds, double pulseHertz) {
        this.channel = channel;
        this.row = row;
        stamp = stampSeconds;
        this.pulseHertz = pulseHertz;
    }

    double delaySeconds() {
        return channel.group().delayNanos() / 1e9;
    }

    /** A value as it comes through the channel. */
    double through(double value) {
        return switch (channel.kind()) {
            case ANALOG_IN, ANALOG_OUT -> {
                double range = channel.group().volts();
                double volts = Math.clamp(value * row.scale() + row.offset(), Math.max(-range, row.minimum()),
                        Math.min(range, row.maximum()));
                double count = channel.voltsPerCount();
                // As many counts below zero as from zero on, so the greatest is a count short of the range.
                yield (Math.min(Math.rint(volts / count) * count, range - count) - row.offset()) / row.scale();
            }
            case ENCODER_IN, ENCODER_OUT -> {
                double angle = 2 * Math.PI / (4 * row.lines());
                yield Math.floor(value / angle + 1e-9) * angle;
            }
            case PWM_OUT -> pulseHertz <= 0 ? value : Math.rint(Math.clamp(value, 0, 1) / (pulseHertz * stamp)) * (pulseHertz * stamp);
            default -> value;
        };
    }

    /** An analog input's filter: the first-order response to a wire that holds its value from one instant to the next. */
    double filtered(double value, double now) {
        if (row.filterHertz() <= 0 || channel.kind() != ChannelKind.ANALOG_IN) {
            return value;
        }
        if (Double.isNaN(filteredAt)) {
            filtered = value;
        } else {
            filtered += (value - filtered) * -Math.expm1(-2 * Math.PI * row.filterHertz() * (now - filteredAt));
        }
        filteredAt = now;
        return filtered;
    }

    /** An output stands at its pin from an instant on. */
    void send(double value, double fromSeconds) {
        coming.addLast(new Due(fromSeconds, through(value)));
    }

    /** What stands at the pin at an instant. */
    double at(double seconds) {
        while (!coming.isEmpty() && coming.peekFirst().seconds() <= seconds + 1e-12) {
            standing = coming.removeFirst().value();
        }
        return standing;
    }

    /** The pin takes its safe state at once. */
    void rest() {
        coming.clear();
        standing = 0;
    }

    /** The pin has a value from before the beginning on. */
    void stand(double value) {
        coming.clear();
        standing = through(value);
    }

    void init() {
        rest();
        filtered = 0;
        filteredAt = Double.NaN;
    }
}
