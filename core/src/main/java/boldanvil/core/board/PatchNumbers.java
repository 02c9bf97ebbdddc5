package boldanvil.core.board;

import boldanvil.core.program.Port;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** What follows from a terminal's place on a board, as rows of name, value and unit. */
public final class PatchNumbers {
    /** A number with its name and unit, formatted. */
    public record Fact(String name, String value, String unit) {
        @Override
        public String toString() {
            return name + " " + value + (unit.isEmpty() ? "" : " " + unit);
        }
    }

    private PatchNumbers() {}

    /** The facts of one terminal; empty for a port that is none. */
    public static List<Fact> of(Board b, Port port) {
        List<Fact> facts = new ArrayList<>();
        var numbers = port.numbers();
        if (port.terminal() == null) {
            return facts;
        }
        switch (port.terminal()) {
            case ANALOG_IN -> {
                double lsb = PinMath.adcVoltsPerCount(b);
                double sensitivity = numbers.get("sensitivity");
                double offset = numbers.get("offset");
                facts.add(new Fact("count", sig(lsb * 1e3), "mV"));
                facts.add(new Fact("counts per unit", sig(Math.abs(sensitivity) / lsb), ""));
                facts.add(new Fact("one count is", sig(lsb / Math.abs(sensitivity)), "units"));
                facts.add(new Fact("range", sig((0 - offset) / sensitivity) + " … " + sig((b.adcVolts() - offset) / sensitivity),
                        "units"));
                facts.add(new Fact("conversion", sig(b.adcSeconds() * 1e6), "µs"));
            }
            case PWM_OUT -> {
                var timer = timer(b, port);
                if (timer != null) {
                    facts.add(new Fact("real frequency", sig(timer.hertz()), "Hz"));
                    facts.add(new Fact("counts per period", Integer.toString(timer.period()), ""));
                    facts.add(new Fact("duty step", sig(timer.dutyStep() * 1e6), "ppm"));
                    facts.add(new Fact("prescaler", Integer.toString(timer.prescaler()), ""));
                }
            }
            case ENCODER_IN -> {
                double lines = numbers.get("lines");
                facts.add(new Fact("counts per turn", sig(4 * lines), ""));
                facts.add(new Fact("one count is", sig(PinMath.radiansPerCount(lines) * 1e3), "mrad"));
                facts.add(new Fact("counter wraps after", sig((1L << b.encoderBits()) / (4 * lines)), "turns"));
            }
            case DIGITAL_IN, DIGITAL_OUT -> facts.add(new Fact("high level", sig(b.highVolts()), "V"));
        }
        return facts;
    }

    /** The timer setting of a PWM terminal; null when its frequency is out of reach. */
    public static PinMath.PwmTimer timer(Board b, Port port) {
        return PinMath.pwm(b, port.numbers().get("frequency"), port.numbers().containsKey("alignment=centre"));
    }

    private static String sig(double v) {
        if (v == 0) {
            return "0";
        }
        if (v == Math.rint(v) && Math.abs(v) < 1e7) {
            return String.format(Locale.ROOT, "%.0f", v);
        }
        int digits = Math.max(0, 3 - (int) Math.floor(Math.log10(Math.abs(v))));
        return String.format(Locale.ROOT, "%." + Math.min(digits, 9) + "f", v);
    }
}
