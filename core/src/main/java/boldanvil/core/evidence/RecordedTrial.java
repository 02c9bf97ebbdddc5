package boldanvil.core.evidence;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.lower.LoweredSystem;
import boldanvil.core.quantity.Units;
import boldanvil.core.samples.Column;
import boldanvil.core.samples.Samples;
import boldanvil.core.samples.Series;
import boldanvil.core.simulate.Addresses;
import boldanvil.core.simulate.Intervention;
import boldanvil.core.simulate.Stimulus;
import boldanvil.core.simulate.WireFault;
import boldanvil.core.simulate.Wires;
import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.stream.IntStream;

/**
 * Makes a trial of a run: what was done becomes its steps, and what had settled before each change, and at the end, is proposed as an
 * expectation with a tolerance.
 */
public final class RecordedTrial {
    /** A signal has settled where the last part of a span varies by no more than this share of what it did in the whole run. */
    private static final double SETTLED = 0.05;
    private static final double LAST_PART = 0.2;
    private static final int FEWEST_SAMPLES = 8;
    /** Shorter spans say nothing about what settled. */
    private static final double SHORTEST = 0.05;

    /** A signal over the whole run. */
    private record Whole(double range, boolean isLogic) {
        static Whole of(Series s) {
            return new Whole(RecordedTrial.range(s), Arrays.stream(s.values()).allMatch(v -> v == 0 || v == 1));
        }
    }

    private final LoweredSystem system;
    private final Samples samples;
    private final List<Whole> wholes;
    private final double tolerance;
    private final StringBuilder text = new StringBuilder();

    private RecordedTrial(LoweredSystem system, Samples samples, double tolerance) {
        this.system = system;
        this.samples = samples;
        wholes = IntStream.range(0, samples.columns().size()).mapToObj(i -> Whole.of(samples.series(i))).toList();
        this.tolerance = tolerance;
    }

    /**
     * The text of a trial that does what was done.
     *
     * @param system the rig as it was run
     * @param interventions in their order
     * @param samples what was recorded
     * @param seconds length of the run
     * @param tolerance share of the range of each signal, such as 0.02
     */
    public static String of(String title, String rig, LoweredSystem system, List<Intervention> interventions, Samples samples,
            double seconds, double tolerance) {
        var made = new RecordedTrial(system, samples, tolerance);
        made.text.append("trial ").append(title).append("\nrigs ").append(rig).append("\nlimit ").append((long) Math.ceil(seconds) + 1)
                .append(" s\n\n");
        double reached = 0;
        for (Intervention i : interventions) {
            double at = i.atNanos() / 1e9;
            // What follows a wait takes effect a tick later.
            reached = made.pass(reached, at, system.tickNanos() / 1e9);
            made.line(made.step(i));
        }
        made.pass(reached, seconds, 0);
        return made.text.toString();
    }

    private void line(String s) {
        text.append(s).append('\n');
    }

    private double pass(double from, double to, double less) {
        BigDecimal span = BigDecimal.valueOf(to - from - less).setScale(9, RoundingMode.HALF_EVEN).stripTrailingZeros();
        if (span.signum() <= 0) {
            return to;
        }
        line("wait " + span.toPlainString() + " s");
        if (to - from >= SHORTEST) {
            for (int i = 0; i < samples.columns().size(); i++) {
                expect(i, from, to);
            }
        }
        return to;
    }

    private void expect(int column, double from, double to) {
        Column c = samples.columns().get(column);
        double range = wholes.get(column).range();
        Series last = samples.series(column, to - LAST_PART * (to - from), to - 1e-9);
        if (last.size() < FEWEST_SAMPLES || !(range > 0) || !(range(last) <= SETTLED * range)) {
            return;
        }
        double v = last.values()[last.size() - 1];
        double margin = Math.max(tolerance * range, 2 * range(last));
        line(wholes.get(column).isLogic() ? "expect " + (v != 0 ? "" : "not ") + c.name() : "expect " + c.name() + " = "
                + shown(v, c.unit(), 6) + " ± "
                + difference(margin, c.unit()));
    }

    private static double range(Series s) {
        double least = Double.POSITIVE_INFINITY;
        double most = Double.NEGATIVE_INFINITY;
        for (double v : s.values()) {
            least = Math.min(least, v);
            most = Math.max(most, v);
        }
        return most - least;
    }

    private static String exact(double si, String unit) {
        return with(plain(new BigDecimal(Double.toString(Units.fromSi(unit, si))).stripTrailingZeros()), unit);
    }

    private static String number(double v, int digits) {
        return plain(new BigDecimal(v).round(new MathContext(digits)).stripTrailingZeros());
    }

    private static String plain(BigDecimal n) {
        return n.abs().compareTo(new BigDecimal("1e-6")) < 0 && n.signum() != 0 || n.abs().compareTo(new BigDecimal("1e9")) > 0
                ? n.toString().toLowerCase(Locale.ROOT).replace("e+", "e") : n.toPlainString();
    }

    private static String with(String number, String unit) {
        return unit.isEmpty() ? number : number + " " + unit;
    }

    private static String shown(double si, String unit, int digits) {
        return with(number(Units.fromSi(unit, si), digits), unit);
    }

    /** A difference in a unit; of temperatures in kelvin. */
    private static String difference(double si, String unit) {
        var u = Units.find(unit);
        return u.isPresent() && !u.get().isPlain() ? number(si, 3) + " K"
                : with(number(u.isPresent() ? si / u.get().factor() : si, 3), unit);
    }

    private String step(Intervention i) {
        return switch (i.kind()) {
            case SET -> "set " + i.address() + " to " + tunable(i.address(), i.value());
            case RELEASE -> "release " + i.address();
            case DRIVE -> apply(i.address(), i.stimulus());
            case FAULT -> insert(i.address(), i.fault());
            case CLEAR -> "clear " + (i.address().isEmpty() ? "all" : i.address());
        };
    }

    private String unit(String address) {
        return Addresses.tunable(system, address).tunable().slot().unit();
    }

    /** To the last digit, so that the trial does what was done. */
    private String tunable(String address, double si) {
        return exact(si, unit(address));
    }

    private String apply(String address, Stimulus s) {
        String from = tunable(address, s.from());
        String to = tunable(address, s.to());
        String swing = difference(s.to() - s.from(), unit(address));
        String time = number(s.seconds(), 9) + " s";
        return switch (s.shape()) {
            case SINE -> "apply sine of " + swing + " at " + number(s.hertz(), 9) + " Hz around " + from + " to " + address + " for "
                    + time;
            case CHIRP -> "apply chirp of " + swing + " from " + number(s.hertz(), 9) + " Hz until " + number(s.endHertz(), 9)
                    + " Hz around "
                    + from + " to " + address + " for " + time;
            case RAMP -> s.repeat() ? "apply sawtooth from " + from + " until " + to + " to " + address + " every " + time
                    : "apply ramp from " + from + " until " + to + " to " + address + " for " + time;
            case STEP -> s.repeat() ? "apply square from " + from + " until " + to + " to " + address + " every " + time
                    : "set " + address + " to " + to;
            case STAIRCASE -> "apply staircase from " + from + " until " + to + " in " + s.steps() + " to " + address + " for " + time;
            case PLAYBACK, RELAY -> "# A " + s.shape().label() + " drove " + address + " here; a trial has no step for it.";
        };
    }

    private String insert(String address, WireFault f) {
        try {
            return "insert " + fault(system, address, f) + " on " + address + rhythm(f);
        } catch (FindingException e) {
            return "# A fault was put on " + address + ", which is no wire any more.";
        }
    }

    /** When an intermittent fault comes and goes, as a step of a trial says it; empty for one that stays. */
    public static String rhythm(WireFault f) {
        return f.period() > 0 ? " every " + number(f.period(), 9) + " s lasting " + number(f.duration(), 9) + " s" : "";
    }

    /**
     * A fault as a step of a trial says it, such as {@code offset of 0.1 V}.
     *
     * @throws FindingException when there is no such wire
     */
    public static String fault(LoweredSystem system, String address, WireFault f) {
        String unit = f.kind().isOfPart() ? "" : Wires.at(system, address, Place.named(address)).getFirst().to().slot().unit();
        return switch (f.kind()) {
            case OFFSET -> "offset of " + difference(f.value(), unit);
            case DRIFT -> "drift of " + difference(f.value(), unit);
            case NOISE -> "noise of " + difference(f.value(), unit);
            case GAIN -> "gain of " + exact(f.value(), "");
            case STUCK -> "stuck";
            case LEVEL -> "fixed at " + exact(f.value(), unit);
            case LATE -> "delay of " + number(f.seconds(), 9) + " s";
            case LOST -> "loss of " + number(f.share(), 9);
            case REPEATED -> "repetition of " + number(f.share(), 9) + " by " + number(f.seconds(), 9) + " s";
            case DAMAGED -> "damage of " + number(f.share(), 9);
            case SWAPPED -> "swap with " + f.other();
            case HALT -> "overrun of " + number(f.seconds(), 9) + " s";
            case RESET -> f.seconds() > 0 ? "reset of " + number(f.seconds(), 9) + " s" : "reset";
        };
    }
}
