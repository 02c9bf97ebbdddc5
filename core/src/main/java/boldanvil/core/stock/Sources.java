package boldanvil.core.stock;

import static boldanvil.core.stock.Parameter.choice;
import static boldanvil.core.stock.Parameter.real;
import static boldanvil.core.stock.Parameter.reals;
import static boldanvil.core.stock.Parameter.source;
import static boldanvil.core.stock.Parameter.text;

import boldanvil.core.maths.MathFunctions;
import boldanvil.core.program.Expr.Intrinsic;
import boldanvil.core.program.Expr.Op;
import boldanvil.core.program.Expr;
import boldanvil.core.program.Type;
import boldanvil.core.quantity.Dimension;
import java.util.ArrayList;
import java.util.List;

/** Blocks without inputs. */
final class Sources {
    /** Instants closer than this count as the same; it absorbs the rounding of tick times. Seconds. */
    private static final double SAME_INSTANT = 1e-9;
    private static final Parameter TYPE =
            choice("type", "Type of the value.", "real", "float64", "float32", "int8", "uint8", "int16", "uint16", "int32",
                    "uint32", "bool");

    private static final Face COUNTER_FACE = new Face(List.of(new Face.In("go", Accept.LOGIC, false, true),
            new Face.In("reset", Accept.LOGIC, false, true)), List.of("y"));

    static final BlockType CONSTANT = BlockType.named("constant", "Constant", Family.SOURCE)
            .units(f -> f.out("y", f.param("value")))
            .help("y = value; a list of values makes a vector. It never changes, so it needs no computing time.")
            .with(reals("value", "1", "", "The value, or a list of values.").offered(), TYPE)
            .face(Face.NONE.out("y")).summary("{value}").type((_, s, real) -> typeNamed(s.text("type"), real))
            .role(BlockType.Role.CONSTANT)
            .does(e -> e.output("y", e.param("value", e.typeOf("y"))));

    static final BlockType TUNABLE = BlockType.named("tunable", "Tunable", Family.SOURCE)
            .units(Kinds.stated("y"))
            .help("y = value, which may be changed while running, between its limits: a set-point, a gain, a switch.")
            .with(real("value", "0", "{unit}", "The value at the start.").always(),
            text("unit", "", "Unit of the value, and of numbers without one."),
                    real("low", "-inf", "{unit}", "Minimum value that may be set."),
                    real("high", "inf", "{unit}", "Maximum value that may be set."), TYPE)
            .face(Face.NONE.out("y")).summary("live {value}").type((_, s, real) -> typeNamed(s.text("type"), real))
            .role(BlockType.Role.CONSTANT)
            .does(e -> e.output("y", e.param("value", e.typeOf("y"))));

    static final BlockType STEP = BlockType.named("step", "Step", Family.SOURCE).picture(Pictures::step)
            .units(Kinds.kept("y", "before", "after"))
            .help("y = before up to the instant 'at', then after.")
            .with(real("at", "1 s", "s", "The instant of the step."),
                    real("before", "0", "", "Value before.").offered(), real("after", "1", "", "Value from then on.").offered(), TYPE)
            .face(Face.NONE.out("y")).summary("{before} → {after} at {at}")
            .type((_, s, real) -> typeNamed(s.text("type"), real))
            .does(e -> {
                Type t = e.typeOf("y");
                e.crossing(e.time().minus(Expr.of(e.value("at") - SAME_INSTANT)));
                e.output("y", e.param("after", t).when(
                        e.time().compare(Op.GE, Expr.of(e.value("at") - SAME_INSTANT)), e.param("before", t)));
            });

    static final BlockType PULSE = BlockType.named("pulse", "Pulse train", Family.SOURCE).picture(Pictures::pulse)
            .units(Kinds.kept("y", "amplitude"))
            .help("y = amplitude during the first share of each period, 0 in the rest; nothing before the delay.")
            .with(real("amplitude", "1", "", "Height.").offered(), real("period", "1 s", "s", "Period.").atLeast(1e-6),
                    real("share", "0.5", "1", "High part of the period, 0 to 1.").atLeast(0).atMost(1),
                    real("delay", "0 s", "s", "When the first pulse begins."))
            .face(Face.NONE.out("y")).summary("{amplitude} every {period}").real()
            .does(e -> {
                Type t = e.typeOf("y");
                var cycles = e.temp("cycles", e.time().minus(Expr.of(e.value("delay") - SAME_INSTANT))
                        .over(Expr.of(e.value("period"))));
                var phase = cycles.minus(cycles.call(Intrinsic.FLOOR));
                var high = cycles.compare(Op.GE, Expr.of(0.0)).and(phase.lt(Expr.of(e.value("share"))));
                e.output("y", e.param("amplitude", t).when(high, Expr.of(t, 0)));
            });

    static final BlockType SINE = BlockType.named("sine", "Sine", Family.SOURCE).picture(Pictures::sine)
            .units(Kinds.kept("y", "amplitude", "bias"))
            .help("y = amplitude · sin(2π · frequency · t + phase) + bias.")
            .with(real("amplitude", "1", "", "Amplitude.").offered(), real("frequency", "1 Hz", "Hz", "Frequency."),
                    real("phase", "0", "rad", "Phase at t = 0."), real("bias", "0", "", "Mean value.").offered())
            .face(Face.NONE.out("y")).summary("{amplitude} sin, {frequency}").real()
            .does(e -> {
                Type t = e.typeOf("y");
                var angle = e.time().times(2 * Math.PI * e.value("frequency")).plus(Expr.of(e.value("phase")));
                var sine = new Expr.Apply(MathFunctions.SINE, angle).as(t);
                e.output("y", e.param("amplitude", t).times(sine).plus(e.param("bias", t)));
            });

    static final BlockType COUNTER = BlockType.named("counter", "Sample counter", Family.SOURCE).picture(Pictures::counter)
            .help("Counts samples: 0, 1, 2 … limit − 1, then 0 again. Counts while go is true or not connected; reset "
                    + "makes it 0 at the next sample.")
            .with(real("limit", "100", "1", "Number of values.").atLeast(1).atMost(2e9))
            .face(COUNTER_FACE).summary("0, 1 … below {limit}").type(Type.INT32)
            .discreteOnly()
            .does(e -> {
                var count = e.state("count", Type.INT32, 0);
                var now = Expr.read(count);
                e.output("y", now);
                var next = now.plus(Expr.of(Type.INT32, 1));
                var wrapped = Expr.of(Type.INT32, 0)
                        .when(next.compare(Op.GE, Expr.of(Type.INT32, Math.floor(e.value("limit")))), next);
                var going = e.connected("go") ? wrapped.when(e.in("go"), now) : wrapped;
                e.update(count, e.connected("reset") ? Expr.of(Type.INT32, 0).when(e.in("reset"), going) : going);
            });

    static final BlockType RAMP = BlockType.named("ramp", "Ramp", Family.SOURCE).picture(Pictures::ramp)
            .units(f -> {
                Dimension d = f.alike("before", "limit");
                f.out("y", d);
                f.must("slope", UnitFlow.over(d, Dimension.TIME));
            })
            .help("y = before until the instant; from then on it rises by slope per second, up to the limit.")
            .with(real("at", "1 s", "s", "When it begins."), real("slope", "1", "per s", "Rise per second.").offered(),
                    real("before", "0", "", "Value before.").offered(), real("limit", "inf", "", "Final value.").offered())
            .face(Face.NONE.out("y")).summary("{slope} per s from {at}").real()
            .does(e -> {
                Type t = e.typeOf("y");
                var since = e.time().minus(Expr.of(e.value("at")));
                e.crossing(since);
                var run = e.temp("run", since.max(Expr.of(0.0)).as(t));
                var y = e.temp("free", e.param("before", t).plus(e.param("slope", t).times(run)));
                var limit = e.param("limit", t);
                var falls = e.param("slope", t).lt(Expr.of(t, 0));
                e.output("y", limit.when(y.lt(limit).and(limit.lt(e.param("before", t))), y).when(falls, y.min(limit)));
            });

    static final BlockType SQUARE = BlockType.named("square", "Square wave", Family.SOURCE).picture(Pictures::square)
            .units(Kinds.kept("y", "amplitude", "bias"))
            .help("y = bias + amplitude in the first half of each period, bias − amplitude in the second.")
            .with(real("amplitude", "1", "", "Amplitude.").offered(), real("frequency", "1 Hz", "Hz", "Frequency.").atLeast(0),
                    real("bias", "0", "", "Mean value.").offered())
            .face(Face.NONE.out("y")).summary("±{amplitude}, {frequency}").real()
            .does(e -> {
                Type t = e.typeOf("y");
                var phase = phase(e, Expr.of(SAME_INSTANT));
                e.output("y", e.param("bias", t).plus(e.param("amplitude", t).when(phase.lt(Expr.of(0.5)),
                        e.param("amplitude", t).negated())));
            });

    static final BlockType TRIANGLE = BlockType.named("triangle", "Triangle wave", Family.SOURCE).picture(Pictures::triangle)
            .units(Kinds.kept("y", "amplitude", "bias"))
            .help("y goes from bias − amplitude up to bias + amplitude and down again in each period, in straight lines.")
            .with(real("amplitude", "1", "", "Amplitude.").offered(), real("frequency", "1 Hz", "Hz", "Frequency.").atLeast(0),
                    real("bias", "0", "", "Mean value.").offered())
            .face(Face.NONE.out("y")).summary("±{amplitude}, {frequency}").real()
            .does(e -> {
                Type t = e.typeOf("y");
                var phase = phase(e, Expr.of(0.0));
                var half = phase.minus(Expr.of(0.5)).call(Intrinsic.ABS);
                var shape = e.temp("shape", Expr.of(1.0).minus(half.times(4)).as(t));
                e.output("y", e.param("bias", t).plus(e.param("amplitude", t).times(shape)));
            });

    static final BlockType CHIRP = BlockType.named("chirp", "Chirp", Family.SOURCE).picture(Pictures::chirp)
            .units(Kinds.kept("y", "amplitude"))
            .help("y = amplitude · sin(φ), the frequency rising in a straight line from 'from' to 'to' within the duration: "
                    + "φ = 2π (from · t + (to − from) t² / (2 · duration)). It then stays at 'to'.")
            .with(real("amplitude", "1", "", "Amplitude.").offered(), real("from", "1 Hz", "Hz", "Frequency at the start."),
                    real("to", "100 Hz", "Hz", "Frequency at the end."), real("duration", "10 s", "s", "Time of the sweep.").atLeast(1e-6))
            .face(Face.NONE.out("y")).summary("{from} → {to} in {duration}").real()
            .does(e -> {
                Type t = e.typeOf("y");
                double d = e.value("duration");
                var now = e.temp("swept", e.time().min(Expr.of(d)));
                var turns = now.times(e.value("from")).plus(now.times(now).times((e.value("to") - e.value("from")) / (2 * d)))
                        .plus(e.time().minus(now).times(e.value("to")));
                e.output("y", e.param("amplitude", t).times(MathFunctions.apply(MathFunctions.SINE, turns.times(2 * Math.PI)).as(t)));
            });

    static final BlockType NOISE = BlockType.named("noise", "Noise", Family.SOURCE).picture(Pictures::noise)
            .help("A new random value at every sample, the same for the same seed. Uniform: between mean − spread and mean + spread. "
                    + "Gaussian: with standard deviation spread (Box and Muller, 1958). Band-limited: Gaussian with the power density "
                    + "spread², standard deviation spread/√T. Generator: xorshift with 32 bits, period 2³² − 1 (Marsaglia, Xorshift RNGs, "
                    + "2003).")
            .with(choice("kind", "The distribution.", "Gaussian", "uniform", "band-limited"),
            real("mean", "0", "", "Mean value.").offered(),
                    real("spread", "1", "", "Spread, as the kind defines it.").atLeast(0).offered(),
                    real("seed", "1", "1", "Start of the sequence; a whole number.").atLeast(1).atMost(4e9))
            .face(Face.NONE.out("y")).summary("{kind} ±{spread}").real()
            .does(Sources::noise);

    static final BlockType TIME = BlockType.named("time", "Time", Family.SOURCE).picture(Pictures::time)
            .units(f -> f.out("y", Dimension.TIME))
            .help("y = seconds since the start of the run.")
            .face(Face.NONE.out("y")).summary("t in s").real().does(e -> e.output("y", e.time().as(e.typeOf("y"))));

    static final BlockType PLAYBACK = BlockType.named("playback", "Playback", Family.SOURCE).picture(Pictures::playback)
            .help("y = the column of a table over time. The data are lines of comma-separated values: times in seconds, rising, in the "
            + "first "
                    + "column, and a first line with names. Between two times the value is held or interpolated linearly; after the last "
                    + "it is "
                    + "held, or the table repeats. Load a file in the text editor.")
            .with(source("data", "time,value\n0,0\n1,1\n", "The table as comma-separated values."),
                    text("column", "", "Name of the column; the second where it is empty."),
                    choice("between", "Between two times.", "line", "hold"), choice("end", "After the last time.", "hold", "repeat"))
            .face(Face.NONE.out("y")).summary("{column} {between}, then {end}").real()
            .does(Sources::playback);

    static final List<BlockType> TYPES = List.of(CONSTANT, TUNABLE, STEP, RAMP, PULSE, SQUARE, TRIANGLE, SINE, CHIRP, NOISE, COUNTER, TIME,
            PLAYBACK);

    private Sources() {}

    static Type typeNamed(String label, Type real) {
        Type t = Type.labelled(label);
        return t == null ? real : t;
    }

    /** How much of the present period has passed, 0 to 1. */
    private static Expr phase(Emitter e, Expr ahead) {
        var cycles = e.temp("cycles", e.time().plus(ahead).times(e.value("frequency")));
        return e.temp("phase", cycles.minus(cycles.call(Intrinsic.FLOOR)));
    }

    private static Expr xorshift(Emitter e, String name, Expr x) {
        var word = x;
        int[] shifts = {13, -17, 5};
        for (int i = 0; i < 3; i++) {
            var by = Expr.of(Type.UINT32, Math.abs(shifts[i]));
            word = e.temp(name + i, new Expr.Binary(Op.BXOR, word, new Expr.Binary(shifts[i] > 0 ? Op.SHL : Op.SHR, word, by)));
        }
        return word;
    }

    private static void noise(Emitter e) {
        Type t = e.typeOf("y");
        Expr[] words = words(e);
        var u1 = words[0].as(Type.FLOAT64).times(1 / 4294967296.0);
        Expr shape;
        double scale = 1;
        if (e.text("kind").equals("uniform")) {
            shape = u1.times(2).minus(Expr.of(1.0));
        } else {
            shape = normal(words);
            double period = e.sampleTime() > 0 ? e.sampleTime() : e.tick();
            scale = e.text("kind").equals("Gaussian") ? 1 : 1 / Math.sqrt(period);
        }
        e.output("y", e.param("mean", t).plus(e.param("spread", t).times(e.temp("shape", shape.as(t)).times(scale))));
    }

    /** Two random words of each sample, from the block's seed. */
    private static Expr[] words(Emitter e) {
        // A small seed gives small first numbers; a multiplication spreads it over all bits.
        long seed = (long) e.value("seed") * 2_654_435_761L & 0xFFFF_FFFFL;
        var state = e.state("word", Type.UINT32, seed == 0 ? 1 : seed);
        var first = Expr.read(state);
        var second = xorshift(e, "second", first);
        e.update(state, xorshift(e, "next", second));
        return new Expr[] {first, second};
    }

    private static Expr normal(Expr[] words) {
        var angle = words[1].as(Type.FLOAT64).times(2 * Math.PI / 4294967296.0);
        var radius = MathFunctions.apply(MathFunctions.LOGARITHM, words[0].as(Type.FLOAT64).times(1 / 4294967296.0)).times(-2)
                .call(Intrinsic.SQRT);
        return radius.times(MathFunctions.apply(MathFunctions.COSINE, angle));
    }

    /** A normally distributed value of standard deviation 1 at each sample, from the block's parameter 'seed'. */
    static Expr normal(Emitter e) {
        return normal(words(e));
    }

    private static void playback(Emitter e) {
        List<double[]> rows = new ArrayList<>();
        String cause = readTable(e.text("data"), e.text("column").strip(), rows);
        if (cause != null) {
            e.problem(cause, "Give lines such as '0.5,1.25' with increasing times, below a line of names.");
            return;
        }
        Type t = e.typeOf("y");
        int n = rows.size();
        double first = rows.getFirst()[0];
        double last = rows.getLast()[0];
        var times = e.table("times", Type.FLOAT64, rows.stream().mapToDouble(r -> r[0]).toArray());
        var values = e.table("values", t, rows.stream().mapToDouble(r -> r[1]).toArray());
        Expr now = e.time();
        if (e.text("end").equals("repeat") && last > first) {
            var turns = now.minus(Expr.of(first)).plus(Expr.of(SAME_INSTANT)).over(Expr.of(last - first)).call(Intrinsic.FLOOR);
            now = now.minus(turns.times(last - first));
        }
        var at = e.temp("at", now.clamp(Expr.of(first), Expr.of(last)));
        var i = Search.interval(e, times, at.plus(Expr.of(SAME_INSTANT)));
        var y0 = e.temp("y0", new Expr.Element(values, i));
        if (n == 1 || e.text("between").equals("hold")) {
            var end = new Expr.Element(values, Expr.of(Type.INT32, n - 1));
            e.output("y", n == 1 ? y0 : end.when(at.compare(Op.GE, Expr.of(last - SAME_INSTANT)), y0));
            return;
        }
        var next = i.plus(Expr.of(Type.INT32, 1));
        var t0 = e.temp("t0", new Expr.Element(times, i));
        var share = at.minus(t0).over(new Expr.Element(times, next).minus(t0)).as(t);
        e.output("y", y0.plus(new Expr.Element(values, next).minus(y0).times(share)));
    }

    /** Reads two columns; says what is wrong, or null. */
    private static String readTable(String data, String column, List<double[]> rows) {
        List<String> lines = data.lines().filter(l -> !l.isBlank()).toList();
        if (lines.size() < 2) {
            return "The table has no values.";
        }
        List<String> names = List.of(lines.getFirst().split(",")).stream().map(String::strip).toList();
        int at = column.isEmpty() ? 1 : names.indexOf(column);
        if (at < 1 || at >= names.size()) {
            return "The table has no column '" + column + "' beside its times.";
        }
        for (int i = 1; i < lines.size(); i++) {
            String[] cells = lines.get(i).split(",");
            try {
                rows.add(new double[] {Double.parseDouble(cells[0].strip()), Double.parseDouble(cells[at].strip())});
            } catch (NumberFormatException | ArrayIndexOutOfBoundsException x) {
                return "Line " + (i + 1) + " of the table, '" + lines.get(i) + "', has no number in column " + (at + 1) + ".";
            }
            if (i > 1 && !(rows.get(i - 1)[0] > rows.get(i - 2)[0])) {
                return "The time in line " + (i + 1) + " of the table does not increase.";
            }
        }
        return null;
    }
}
