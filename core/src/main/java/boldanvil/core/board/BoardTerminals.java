package boldanvil.core.board;

import boldanvil.core.program.Instance;
import boldanvil.core.program.Port;
import boldanvil.core.program.Program;
import boldanvil.core.program.Slot;
import java.util.IdentityHashMap;
import java.util.Map;
import java.util.function.DoubleUnaryOperator;

/**
 * An instance seen through a board's peripherals: what goes in is quantised as the converter and the encoder counter do,
 * what comes out as the PWM timer does. Ports that are no terminals pass as they are.
 */
public final class BoardTerminals implements Instance {
    private final Instance inner;
    private final Map<Slot, DoubleUnaryOperator> conversions = new IdentityHashMap<>();

    public BoardTerminals(Instance inner, Program program, Board board) {
        this.inner = inner;
        for (Port p : program.ports()) {
            if (p.terminal() != null) {
                conversions.put(p.slot(), conversion(board, p));
            }
        }
    }

    private static DoubleUnaryOperator conversion(Board b, Port p) {
        return switch (p.terminal()) {
            case ANALOG_IN -> v -> PinMath.adcCount(b, v) * PinMath.adcVoltsPerCount(b);
            case ENCODER_IN -> {
                double lines = p.numbers().get("lines");
                yield v -> PinMath.encoderCount(lines, v) * PinMath.radiansPerCount(lines);
            }
            case PWM_OUT -> {
                var timer = PatchNumbers.timer(b, p);
                yield timer == null ? v -> v : v -> timer.duty(timer.compare(v));
            }
            case DIGITAL_IN, DIGITAL_OUT -> v -> v;
        };
    }

    @Override
    public void init() {
        inner.init();
    }

    @Override
    public void sample() {
        inner.sample();
    }

    @Override
    public void step() {
        inner.step();
    }

    @Override
    public void advance() {
        inner.advance();
    }

    @Override
    public double get(Slot slot) {
        double v = inner.get(slot);
        return slot.role() == Slot.Role.OUTPUT ? conversions.getOrDefault(slot, DoubleUnaryOperator.identity()).applyAsDouble(v) : v;
    }

    @Override
    public void set(Slot slot, double value) {
        inner.set(slot, slot.role() == Slot.Role.INPUT
                ? conversions.getOrDefault(slot, DoubleUnaryOperator.identity()).applyAsDouble(value) : value);
    }
}
