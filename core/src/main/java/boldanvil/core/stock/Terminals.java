package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;
import static boldanvil.core.stock.Parameter.real;
import static boldanvil.core.stock.Parameter.text;

import boldanvil.core.quantity.Dimension;
import boldanvil.core.program.Expr;
import boldanvil.core.program.TerminalKind;
import boldanvil.core.program.Type;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** Blocks that stand for peripherals. Their outer sides, {@code pin} and {@code pin …}, are wires on the system sheet. */
final class Terminals {
    private static final String TWO_POINTS = "two points";

    static final BlockType ANALOG_IN = BlockType.named("analog in", "Analog in", Family.TERMINAL).picture(Pictures::analogIn)
            .units(Kinds.stated("y"))
            .help("y = (v − offset) / sensitivity, v being the voltage at the pin; or, calibrated at two points, the line on which v1 "
            + "gives y1 "
                    + "and v2 gives y2. On a device the converter samples the pin at the trigger for at least the sampling time; the "
                    + "patch sheet "
                    + "shows resolution and delay. Inputs that use the same converter at the same moment are converted one after the "
                    + "other. Noise "
                    + "is added at the pin wherever the board is simulated.")
            .with(choice("scaling", "How y is computed from the voltage.", "offset and sensitivity", TWO_POINTS),
                    real("offset", "0 V", "V", "Voltage at y = 0.").offered(),
                    real("sensitivity", "1", "V/({unit})", "Change of voltage for each unit of y.").offered(),
                    real("v1", "0 V", "V", "Voltage at the first point of the calibration."), real("y1", "0", "{unit}", "Value there."),
                    real("v2", "1 V", "V", "Voltage at the second point."), real("y2", "1", "{unit}", "Value there."),
                    text("unit", "V", "Unit of y."),
                    real("sampling", "250 ns", "s", "Minimum sampling time of the input; longer for sensors of high impedance.").atLeast(0)
                    .atMost(1),
                    choice("trigger", "What starts the conversion: the task, or a moment of the PWM period where a converter can be "
                    + "triggered so.", "task", "centre", "period"),
                    real("noise", "0 V", "V", "RMS of the noise at the pin.").atLeast(0))
            .face(Face.NONE.out("y")).summary(s -> s.text("scaling").equals(TWO_POINTS)
            ? s.text("v1") + " ↦ " + s.text("y1") + ", " + s.text("v2") + " ↦ " + s.text("y2")
                    : "(v − " + s.text("offset") + ") / " + s.text("sensitivity"))
            .real().terminal(TerminalKind.ANALOG_IN, TerminalPin.in("", null, "V"))
            .does(e -> {
                var t = e.typeOf("y");
                if (e.text("scaling").equals(TWO_POINTS)) {
                    if (e.value("v1") == e.value("v2") || e.value("y1") == e.value("y2")) {
                        e.problem("The two points of the calibration are identical.", "Measure at two different values.");
                    }
                    double slope = (e.value("y2") - e.value("y1")) / (e.value("v2") - e.value("v1"));
                    e.output("y", e.in("pin").minus(Expr.of(t, e.value("v1"))).times(slope).plus(Expr.of(t, e.value("y1"))));
                    return;
                }
                if (e.value("sensitivity") == 0) {
                    e.problem("The sensitivity is 0.", "Enter the volts per unit.");
                }
                var above = e.in("pin").minus(e.param("offset", t));
                e.output("y", e.param("sensitivity", t) instanceof Expr.Literal s ? above.times(1 / s.value())
                        : above.over(e.param("sensitivity", t)));
            });

    static final BlockType ANALOG_OUT = BlockType.named("analog out", "Analog out", Family.TERMINAL).picture(Pictures::analogOut)
            .formerParameter("least", "minimum").formerParameter("greatest", "maximum")
            .help("Voltage at the pin v = offset + sensitivity · u, limited to minimum and maximum. On a device it has the resolution of "
            + "the converter.")
            .with(real("offset", "0 V", "V", "Voltage at u = 0.").offered(),
            real("sensitivity", "1", "V per unit", "Change of voltage for each unit of u.").offered(),
                    real("minimum", "0 V", "V", "Minimum voltage."), real("maximum", "3.3 V", "V", "Maximum voltage."),
                    real("safe", "0 V", "V", "Voltage in the safe state."))
            .face(Face.NONE.in("u", Accept.REAL)).limits("minimum", "maximum").summary("{offset} + {sensitivity} u")
            .terminal(TerminalKind.ANALOG_OUT, TerminalPin.out("", null, "V"))
            .does(e -> {
                if (e.value("sensitivity") == 0) {
                    e.problem("The sensitivity is 0.", "Enter the volts per unit.");
                }
                var t = e.real();
                e.output("pin", e.in("u").times(e.param("sensitivity", t)).plus(e.param("offset", t))
                        .clamp(e.param("minimum", t), e.param("maximum", t)));
            });

    private static final String PAIR = "complementary pair";
    private static final String TRIPS = "trip input";

    /** The parameters of every PWM terminal. */
    private static Parameter[] pwm(Parameter... more) {
        var all = new ArrayList<>(List.of(real("frequency", "20 kHz", "Hz", "Switching frequency wanted.").atLeast(1),
                real("minimum", "0", "1", "Minimum duty cycle.").atLeast(0).atMost(1),
                real("maximum", "1", "1", "Maximum duty cycle.").atLeast(0).atMost(1),
                choice("alignment", "Position of the pulse in the period.", "edge", "centre"),
                real("dead time", "1 us", "s", "Time for which neither output of a pair is on.").atLeast(0).atMost(1),
                real("phase", "0", "1", "Start of the period, as a fraction of it.").atLeast(0).atMost(1),
                choice("synchronised", "Whether the task runs at the start or the centre of the PWM period.", "no", "at the period",
                "at the centre"),
                choice("trip", "Whether the timer's trip input switches the outputs off by hardware; it has a pin and a wire of its own.",
                "none", TRIPS),
                choice("safe", "Level of the outputs in the safe state.", "low", "high")));
        all.addAll(List.of(more));
        return all.toArray(Parameter[]::new);
    }

    static final BlockType PWM_OUT = BlockType.named("pwm out", "PWM out", Family.TERMINAL).picture(Pictures::pwm)
            .formerParameter("least", "minimum").formerParameter("greatest", "maximum")
            .help("Outputs the duty cycle u, 0 to 1, limited to minimum and maximum. Averaged over the period: the wire carries the duty "
            + "cycle, and "
                    + "of a complementary pair a second wire that of the low side, both shortened by the dead time where the board is "
                    + "simulated. A wire "
                    + "to a Capture in or Edge delay in also carries frequency and dead time. Terminals on one timer have one frequency "
                    + "and alignment.")
            .with(pwm(choice("outputs", "One output, or one and its complement with dead time between.", "single", PAIR)))
            .face(Face.NONE.in("u", Accept.REAL)).limits("minimum", "maximum").summary("{frequency}, {alignment}")
            .terminal(s -> s.text("outputs").equals(PAIR) ? TerminalKind.PWM_PAIR_OUT : TerminalKind.PWM_OUT,
                    s -> withTrip(s, s.text("outputs").equals(PAIR) ? List.of(TerminalPin.out("", null, ""),
                    TerminalPin.out("low", null, "")) : List.of(TerminalPin.out("", null, ""))))
            .does(e -> {
                e.output("pin", duty(e, "u"));
                if (e.text("outputs").equals(PAIR)) {
                    e.output("pin low", tripped(e, Expr.of(e.real(), 1).minus(held(e, "u"))));
                }
            });

    private static List<TerminalPin> withTrip(Settings s, List<TerminalPin> outputs) {
        var all = new ArrayList<>(outputs);
        if (s.text("trip").equals(TRIPS)) {
            all.add(TerminalPin.in("trip", Type.BOOL, "").orElse(0).as(TerminalKind.TRIP_IN));
        }
        return all;
    }

    private static Expr held(Emitter e, String input) {
        return e.in(input).clamp(e.param("minimum", e.real()), e.param("maximum", e.real()));
    }

    private static Expr duty(Emitter e, String input) {
        return tripped(e, held(e, input));
    }

    /** A duty cycle, or the safe level while the trip input is on. */
    private static Expr tripped(Emitter e, Expr duty) {
        return e.text("trip").equals(TRIPS) ? Expr.of(e.real(), e.text("safe").equals("high") ? 1 : 0).when(e.in("pin trip"), duty) : duty;
    }

    static final BlockType THREE_PHASE = BlockType.named("three-phase pwm", "Three-phase PWM", Family.TERMINAL).picture(Pictures::pwm)
            .formerParameter("least", "minimum").formerParameter("greatest", "maximum")
            .help("Three half bridges on one timer: duty cycles a, b and c, 0 to 1, each limited to minimum and maximum, with "
            + "complementary outputs "
                    + "and dead time. Three wires carry the duty cycles.")
            .with(pwm()).face(Face.NONE.in("a", Accept.REAL).in("b", Accept.REAL).in("c", Accept.REAL)).limits("minimum", "maximum")
            .summary("3 × {frequency}, {alignment}")
            .terminal(_ -> TerminalKind.THREE_PHASE_OUT, s -> withTrip(s, List.of(TerminalPin.out("A", null, ""),
            TerminalPin.out("B", null, ""), TerminalPin.out("C", null, ""))))
            .does(e -> {
                for (String leg : List.of("a", "b", "c")) {
                    e.output("pin " + leg.toUpperCase(Locale.ROOT), duty(e, leg));
                }
            });

    static final BlockType PULSE_OUT = BlockType.named("pulse out", "Pulse out", Family.TERMINAL).picture(Pictures::pulses)
            .formerParameter("least", "minimum").formerParameter("greatest", "maximum")
            .help("Pulses of frequency u with a duty cycle of one half. Below minimum there are no pulses; above maximum the frequency is "
            + "limited. The wire carries the frequency.")
            .with(real("minimum", "100 Hz", "Hz", "Minimum frequency; below it there are no pulses.").atLeast(1e-3),
            real("maximum", "100 kHz", "Hz", "Maximum frequency.").atLeast(1e-3))
            .face(Face.NONE.in("u", Accept.REAL)).limits("minimum", "maximum").summary("{minimum} … {maximum}")
            .terminal(TerminalKind.PULSE_OUT, TerminalPin.out("", null, "Hz"))
            .does(e -> {
                var u = e.in("u");
                e.output("pin", Expr.of(e.real(), 0).when(u.lt(e.param("minimum", e.real())), u.min(e.param("maximum", e.real()))));
            });

    private static final String SETS_ZERO = "sets zero";

    static final BlockType ENCODER_IN = BlockType.named("encoder in", "Encoder in", Family.TERMINAL).picture(Pictures::quadrature)
            .units(f -> f.out("y", Dimension.NONE))
            .help("y = shaft angle in radians. On a device: counts of an incremental encoder with this many lines, counted fourfold, "
            + "times 2π / (4 · lines). "
                    + "With an index, y is the angle since the start until the first index pulse, and then the angle since that index; "
                    + "found is true from then "
                    + "on. Pulses shorter than the filter are not counted.")
            .with(real("lines", "512", "1", "Lines per turn.").atLeast(1).atMost(65536),
                    choice("index", "Effect of the index pulse, once per turn.", "none", SETS_ZERO),
                    real("filter", "0 s", "s", "Minimum length of a pulse that is counted.").atLeast(0).atMost(1))
            .face(s -> s.text("index").equals(SETS_ZERO) ? Face.NONE.out("y").out("found") : Face.NONE.out("y"))
            .summary("{lines}, fourfold")
            .types((o, _, _, real) -> o == 0 ? real : Type.BOOL)
            .terminal(s -> s.text("index").equals(SETS_ZERO) ? TerminalKind.INDEXED_ENCODER_IN : TerminalKind.ENCODER_IN,
                    s -> s.text("index").equals(SETS_ZERO) ? List.of(TerminalPin.in("", null, "rad"),
                    TerminalPin.in("index", Type.UINT8, "").within())
                            : List.of(TerminalPin.in("", null, "rad")))
            .does(e -> {
                if (!e.text("index").equals(SETS_ZERO)) {
                    e.output("y", e.in("pin"));
                    return;
                }
                indexed(e);
            });

    /**
     * The index of an ideal encoder stands at every full turn; a device delivers 1 before and 2 after it was found and the angle was set to
     * zero.
     */
    private static void indexed(Emitter e) {
        var real = e.real();
        double turn = 2 * Math.PI;
        var started = e.state("started", Type.BOOL, 0);
        var zero = e.state("zero", real, 0);
        var seen = e.state("seen", Type.BOOL, 0);
        var last = e.state("turn", real, 0);
        var angle = e.in("pin");
        var onDevice = Expr.of(Type.UINT8, 0).lt(e.in("pin index"));
        var now = e.temp("now", angle.times(1 / turn).call(Expr.Intrinsic.FLOOR));
        var crossed = e.temp("crossed", Expr.read(started).and(now.compare(Expr.Op.NE, Expr.read(last))).and(Expr.read(seen).not()));
        var base = e.temp("base", now.max(Expr.read(last)).times(turn).when(crossed,
                angle.when(Expr.read(started).not(), Expr.read(zero))));
        e.output("y", angle.when(onDevice, angle.minus(base)));
        e.output("found", Expr.of(Type.UINT8, 1).lt(e.in("pin index")).or(onDevice.not().and(Expr.read(seen).or(crossed))));
        e.update(zero, base);
        e.update(seen, Expr.read(seen).or(crossed));
        e.update(last, now);
        e.update(started, Expr.of(true));
    }

    static final BlockType CAPTURE_IN = BlockType.named("capture in", "Capture in", Family.TERMINAL).picture(Pictures::pulses)
            .help("f = frequency and d = duty cycle of the pulses at the pin, T = their period, 0 while there are none. On a device a "
            + "timer counts from edge to edge, "
                    + "with the fastest clock that can measure the slowest pulses. The wire carries the frequency. A wire from a PWM out "
                    + "also carries its duty cycle; "
                    + "otherwise connect a wire to the port 'duty'.")
            .with(real("slowest", "100 Hz", "Hz", "Lowest frequency to be measured.").atLeast(1e-3))
            .face(Face.NONE.out("f").out("d").out("T")).summary("from {slowest}").real()
            .terminal(TerminalKind.CAPTURE_IN, TerminalPin.in("", null, "Hz"), TerminalPin.in("duty", null, "").orElse(0.5))
            .does(e -> {
                var f = e.in("pin");
                var none = Expr.of(e.real(), 0);
                var pulses = e.temp("pulses", none.lt(f));
                e.output("f", f);
                e.output("d", e.in("pin duty").when(pulses, none));
                e.output("T", Expr.of(e.real(), 1).over(f.when(pulses, Expr.of(e.real(), 1))).when(pulses, none));
            });

    static final BlockType DELAY_IN = BlockType.named("delay in", "Edge delay in", Family.TERMINAL)
            .help("y = time from a falling edge at the first pin to the next rising edge at the second, as between the outputs of a half "
            + "bridge. On a device a timer "
                    + "with two channels stamps both edges. The wire carries the time; a wire from a complementary PWM pair carries its "
                    + "dead time.")
            .with(real("longest", "10 us", "s", "Longest time to be measured.").atLeast(1e-9).atMost(1e3))
            .face(Face.NONE.out("y")).summary("up to {longest}").real().terminal(TerminalKind.DELAY_IN, TerminalPin.in("", null, "s"))
            .does(e -> e.output("y", e.in("pin")));

    static final BlockType COUNTER_IN = BlockType.named("counter in", "Counter in", Family.TERMINAL).picture(Pictures::pulses)
            .help("y = number of pulses since the start. On a device a timer counts rising edges; its counter is extended, so y does not "
            + "wrap with it. The wire carries "
                    + "the number of pulses so far, with their fraction.")
            .face(Face.NONE.out("y")).summary("pulses").type(Type.INT32).terminal(TerminalKind.COUNTER_IN, TerminalPin.in("", null, ""))
            .does(e -> e.output("y", e.in("pin").call(Expr.Intrinsic.FLOOR).as(Type.INT32)));

    static final BlockType DIGITAL_IN = BlockType.named("digital in", "Digital in", Family.TERMINAL).picture(Pictures::digital)
            .help("y = level at the pin, or its inverse. With a debounce time, y follows after the level has been stable for that time.")
            .with(choice("active", "Level that means true.", "high", "low"),
                    choice("pull", "Pull resistor on the device.", "none", "up", "down"),
                    real("debounce", "0 s", "s", "Time a new level must stay; rounded up to whole sample times.").atLeast(0).atMost(60))
            .face(Face.NONE.out("y")).summary("active {active}").type(Type.BOOL)
            .terminal(TerminalKind.DIGITAL_IN, TerminalPin.in("", Type.BOOL, ""))
            .does(e -> {
                Expr level = e.text("active").equals("high") ? e.in("pin") : e.in("pin").not();
                if (e.value("debounce") <= 0) {
                    e.output("y", level);
                    return;
                }
                var steps = Expr.of(Type.UINT32, Math.ceil(e.value("debounce") / e.sampleTime() - 1e-9));
                var stable = e.state("stable", Type.BOOL, 0);
                var since = e.state("since", Type.UINT32, 0);
                var differs = e.temp("differs", level.compare(Expr.Op.NE, Expr.read(stable)));
                var counted = e.temp("counted", Expr.read(since).plus(Expr.of(Type.UINT32, 1)).when(differs, Expr.of(Type.UINT32, 0)));
                var over = e.temp("over", differs.and(steps.lt(counted)));
                var y = e.temp("now", level.when(over, Expr.read(stable)));
                e.output("y", y);
                e.update(stable, y);
                e.update(since, Expr.of(Type.UINT32, 0).when(over, counted));
            });

    static final BlockType DIGITAL_OUT = BlockType.named("digital out", "Digital out", Family.TERMINAL).picture(Pictures::digital)
            .help("Level at the pin = u, or its inverse. Before the first step and in the safe state the pin has the level named safe.")
            .with(choice("active", "Level that means true.", "high", "low"),
            choice("safe", "Level of the pin in the safe state.", "low", "high"))
            .face(Face.NONE.in("u", Accept.LOGIC)).summary("active {active}")
            .terminal(TerminalKind.DIGITAL_OUT, TerminalPin.out("", Type.BOOL, ""))
            .does(e -> e.output("pin", e.text("active").equals("high") ? e.in("u") : e.in("u").not()));

    static final BlockType EDGE_IN = BlockType.named("edge in", "Edge in", Family.TERMINAL).picture(Pictures::edge)
            .help("A pin interrupt: y is true in the step that follows an edge at the pin, even if the level has returned since. Connect "
            + "it to the control input of a "
                    + "subsystem that runs on the rising edge to start a separate task.")
            .with(choice("edge", "The edges to detect.", "rising", "falling", "both"),
            choice("pull", "Pull resistor on the device.", "none", "up", "down"))
            .face(Face.NONE.out("y")).summary("{edge}").type(Type.BOOL)
            .terminal(TerminalKind.EDGE_IN, TerminalPin.in("", Type.BOOL, ""), TerminalPin.in("latched", Type.BOOL, "").within())
            .does(e -> {
                var last = e.state("last", Type.BOOL, 0);
                var level = e.in("pin");
                var rise = level.and(Expr.read(last).not());
                var fall = level.not().and(Expr.read(last));
                var edge = switch (e.text("edge")) {
                    case "rising" -> rise;
                    case "falling" -> fall;
                    default -> rise.or(fall);
                };
                e.output("y", edge.or(e.in("pin latched")));
                e.update(last, level);
            });

    static final BlockType HEALTH = BlockType.named("health", "Device health", Family.TERMINAL)
            .help("Diagnostic values of the device: load = share of the processor the last step took, overruns = steps missed since the "
            + "start, stack = bytes of stack never "
                    + "used, cause = why it was last reset: 0 power, 1 watchdog, 2 brown-out, 3 command. Models have no processor; all "
                    + "values are 0. Generated code never uses a "
                    + "heap.")
            .face(Face.NONE.out("load").out("overruns").out("stack").out("cause")).summary("of the device")
            .types((o, _, _, real) -> o == 0 ? real : o == 3 ? Type.UINT8 : Type.UINT32)
            .terminal(TerminalKind.HEALTH, TerminalPin.in("load", null, "").within(), TerminalPin.in("overruns", Type.UINT32, "").within(),
                    TerminalPin.in("stack", Type.UINT32, "").within(), TerminalPin.in("cause", Type.UINT8, "").within())
            .does(e -> List.of("load", "overruns", "stack", "cause").forEach(o -> e.output(o, e.in("pin " + o))));

    static final BlockType WATCHDOG = BlockType.named("watchdog", "Watchdog", Family.TERMINAL)
            .help("Resets the device and sets its outputs to their safe state when no step with alive = true has completed within the "
            + "timeout. If alive is not "
                    + "connected, it is true. Models have no watchdog.")
            .with(real("timeout", "50 ms", "s", "Timeout; the device uses the next longer one it can set.").atLeast(1e-6).atMost(60))
            .face(Face.NONE.optional("alive", Accept.LOGIC)).summary("after {timeout}")
            .terminal(TerminalKind.WATCHDOG, TerminalPin.out("alive", Type.BOOL, "").within())
            .does(e -> e.output("pin alive", e.connected("alive") ? e.in("alive") : Expr.of(true)));

    static final List<BlockType> TYPES = List.of(ANALOG_IN, ANALOG_OUT, PWM_OUT, THREE_PHASE, PULSE_OUT, ENCODER_IN, CAPTURE_IN, DELAY_IN,
            COUNTER_IN, DIGITAL_IN,
            DIGITAL_OUT, EDGE_IN, HEALTH, WATCHDOG);

    private Terminals() {}
}
