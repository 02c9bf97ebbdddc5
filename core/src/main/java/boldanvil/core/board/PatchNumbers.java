package boldanvil.core.board;

import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** What follows from a terminal's place on a board and from its settings, as rows of name, value and unit. */
public final class PatchNumbers {
    /** A number with its name and unit, formatted. */
    public record Fact(String name, String value, String unit) {
        @Override
        public String toString() {
            return name + " " + value + (unit.isEmpty() ? "" : " " + unit);
        }
    }

    private final BoardSetup setup;
    private final Terminal t;
    private final List<Fact> facts = new ArrayList<>();

    private PatchNumbers(BoardSetup setup, Terminal t) {
        this.setup = setup;
        this.t = t;
    }

    /** The facts of one terminal. */
    public static List<Fact> of(BoardSetup setup, Terminal t) {
        var n = new PatchNumbers(setup, t);
        n.collect();
        return n.facts;
    }

    private void add(String name, double value, String unit) {
        facts.add(new Fact(name, sig(value), unit));
    }

    private void collect() {
        double tick = setup.program().tickSeconds();
        switch (t.kind()) {
            case ANALOG_IN -> analogIn();
            case ANALOG_OUT -> setup.scale(t).ifPresent(s -> {
                add("count", s.voltsPerCount() * 1e3, "mV");
                add("one count is", s.voltsPerCount() / Math.abs(t.number("sensitivity")), "units");
                add("range", (0 - t.number("offset")) / t.number("sensitivity"), (s.volts((1 << s.bits()) - 1) - t.number("offset")) / t.number("sensitivity"), "units");
            });
            case PWM_OUT, PWM_PAIR_OUT, THREE_PHASE_OUT -> pwm(tick);
            case PULSE_OUT -> {
                for (String end : List.of("least", "greatest")) {
                    var p = setup.pulse(t, t.number(end));
                    facts.add(new Fact("at " + sig(t.number(end)) + " Hz", p.period() == 0 ? "out of reach" : sig(p.hertz()), p.period() == 0 ? "" : "Hz"));
                    if (p.period() > 0) {
                        add("step there", p.hertz() / p.period(), "Hz");
                    }
                }
            }
            case ENCODER_IN, INDEXED_ENCODER_IN -> {
                double rpc = PinMath.radiansPerCount(t.number("lines"));
                add("counts per turn", 4 * t.number("lines"), "");
                add("one count is", rpc * 1e3, "mrad");
                add("speed step", rpc / tick, "rad/s");
                setup.timer(t).ifPresent(x -> {
                    add("counter wraps after", (x.top() + 1) * rpc / (2 * Math.PI), "turns");
                    add("fastest between ticks", (x.top() + 1) / 2 * rpc / tick, "rad/s");
                });
                double filter = setup.filter(t);
                if (filter > 0) {
                    add("glitch filter", filter * 1e9, "ns");
                    add("fastest through it", rpc / filter, "rad/s");
                }
            }
            case CAPTURE_IN -> setup.capture(t).ifPresent(c -> {
                add("counts at", c.tickHertz() / 1e6, "MHz");
                add("slowest", c.slowestHertz(), "Hz");
                double slow = t.number("slowest");
                add("step at " + sig(slow) + " Hz", slow * slow / c.tickHertz(), "Hz");
                add("duty step there", slow / c.tickHertz() * 1e6, "ppm");
            });
            case DELAY_IN -> setup.capture(t).ifPresent(c -> {
                add("one count is", 1e9 / c.tickHertz(), "ns");
                add("longest", c.top() / c.tickHertz() * 1e6, "µs");
            });
            case COUNTER_IN -> setup.timer(t).ifPresent(x -> add("fastest between ticks", (x.top() + 1) / 2 / tick, "Hz"));
            case DIGITAL_IN, EDGE_IN -> {
                add("high level", setup.board().digital().highVolts(), "V");
                if (t.numbers().getOrDefault("debounce", 0.0) > 0) {
                    double steps = Math.ceil(t.number("debounce") / tick - 1e-9);
                    add("debounced in", steps * tick * 1e3, "ms");
                }
            }
            case TRIP_IN -> facts.add(new Fact("switches off", setup.channel(t).map(Channel::unit).orElse(""), ""));
            case DIGITAL_OUT -> add("high level", setup.board().digital().highVolts(), "V");
            case WATCHDOG -> setup.watchdog(t).ifPresent(d -> {
                add("asked", t.number("timeout") * 1e3, "ms");
                add("bites after", d.seconds() * 1e3, "ms");
                add("ticks until then", Math.floor(d.seconds() / tick), "");
            });
            case PACKET_OUT, PACKET_IN, I2C_IN, SPI_IN, FRAME_OUT, FRAME_IN -> line(tick);
            case HEALTH -> { }
        }
    }

    private void analogIn() {
        var scale = setup.scale(t);
        if (scale.isEmpty()) {
            return;
        }
        double lsb = scale.get().voltsPerCount();
        double sensitivity = t.number("sensitivity");
        double offset = t.number("offset");
        if (t.has("scaling", "two points")) {
            sensitivity = (t.number("v2") - t.number("v1")) / (t.number("y2") - t.number("y1"));
            offset = t.number("v1") - t.number("y1") * sensitivity;
        }
        add("count", lsb * 1e3, "mV");
        add("counts per unit", Math.abs(sensitivity) / lsb, "");
        add("one count is", lsb / Math.abs(sensitivity), "units");
        add("range", (0 - offset) / sensitivity, (scale.get().volts() - offset) / sensitivity, "units");
        setup.sampling(t).ifPresent(s -> {
            add("sampled for", s.samplingSeconds() * 1e6, "µs");
            double wait = setup.queueSeconds(t);
            if (wait > 0) {
                add("waits", wait * 1e6, "µs");
            }
            add("ready after", (wait + s.seconds()) * 1e6, "µs");
        });
        double noise = t.number("noise");
        if (noise > 0) {
            add("noise", noise / Math.abs(sensitivity), "units RMS");
        }
    }

    private void pwm(double tick) {
        setup.pwm(t).ifPresent(timer -> {
            double asked = t.number("frequency");
            add("real frequency", timer.hertz(), "Hz");
            add("off by", (timer.hertz() / asked - 1) * 1e6, "ppm");
            add("counts per period", timer.period(), "");
            add("duty step", timer.dutyStep() * 100, "%");
            add("resolution", timer.bits(), "bits");
            if (timer.prescaler() > 1) {
                add("prescaler", timer.prescaler(), "");
            }
            setup.deadTime(t).filter(d -> d.count() > 0).ifPresent(d -> {
                add("dead time", d.seconds() * 1e9, "ns");
                add("of asked", t.number("dead time") * 1e9, "ns");
            });
            if (t.numbers().getOrDefault("phase", 0.0) != 0) {
                double counts = timer.period() * (timer.centre() ? 2 : 1);
                add("phase", Math.rint(t.number("phase") * counts) / counts * 360, "°");
            }
            add("periods per tick", tick * timer.hertz(), "");
            add("new duty acts within", 1e6 / timer.hertz() / (timer.centre() ? 2 : 1), "µs");
        });
    }

    private void line(double tick) {
        int bytes = Lines.codec(t).bytes();
        add("bytes", bytes, "");
        setup.rate(t).ifPresent(rate -> {
            add("rate", rate, "Hz");
            double asked = t.number("rate");
            add("off by", (rate / asked - 1) * 100, "%");
            double seconds = Lines.seconds(t, rate);
            add("on the line", seconds * 1e6, "µs");
            int steps = Lines.steps(seconds, tick);
            if (t.kind() == TerminalKind.I2C_IN || t.kind() == TerminalKind.SPI_IN) {
                add("one count is", Math.abs(Lines.register(t).scale()), "units");
                add("new value every", Math.max(tick, Lines.update(t)) * 1e3, "ms");
            } else {
                add("arrives after", steps, steps == 1 ? "step" : "steps");
                add("payload", bytes / (steps * tick), "bytes/s");
            }
        });
    }

    private void add(String name, double from, double to, String unit) {
        facts.add(new Fact(name, sig(Math.min(from, to)) + " … " + sig(Math.max(from, to)), unit));
    }

    /** A number with four digits that count, or whole. */
    public static String sig(double v) {
        if (v == 0 || Math.abs(v) < 1e-9) {
            return "0";
        }
        if (Math.abs(v - Math.rint(v)) < 1e-9 * Math.abs(v) && Math.abs(v) < 1e7) {
            return String.format(Locale.ROOT, "%.0f", v);
        }
        int digits = Math.max(0, 3 - (int) Math.floor(Math.log10(Math.abs(v))));
        return String.format(Locale.ROOT, "%." + Math.min(digits, 9) + "f", v);
    }
}
