package boldanvil.core.peripheral;

import boldanvil.core.frame.Codec;
import boldanvil.core.program.Terminal;
import boldanvil.core.program.TerminalKind;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Peripherals that carry values as bytes over a line or a bus. Their texts have been checked when their sheet was lowered.
 */
public abstract class Line extends Peripheral {
    Line(TerminalKind kind) {
        super(kind);
    }

    /** How a terminal's values lie in bytes. */
    public abstract Codec codec(Terminal t);

    /**
     * How long one transfer takes, in seconds.
     *
     * @param rate bits per second of the line
     */
    public abstract double seconds(Terminal t, double rate);

    /** The rate of the line in bits per second; empty where the board cannot make one near the one that is set. */
    public abstract Optional<Double> rate(BoardSetup setup, Terminal t);

    /** Whether each direction has a wire of its own; else all terminals of the unit share it. */
    public boolean isPointToPoint() {
        return false;
    }

    /** Most bytes per second a line carries of such transfers. */
    public double possible(Terminal t, double rate) {
        return codec(t).bytes() / seconds(t, rate);
    }

    /** Whether a transfer may take longer than a step. */
    boolean mayLag() {
        return true;
    }

    /** Reports what is wrong with the rate that was reached. */
    void checkRate(PatchReport report, Terminal t, double reached) { }

    @Override
    public final void check(PatchReport report, Terminal t) {
        var setup = report.setup();
        var rate = rate(setup, t);
        if (rate.isEmpty()) {
            report.error("The unit cannot make " + Fact.sig(t.number("rate")) + " Hz.", "Choose an available rate.");
            return;
        }
        checkRate(report, t, rate.get());
        double step = setup.program().tickSeconds();
        double busy = report.placed().stream().filter(o -> sharesLine(setup, o, t))
                .mapToDouble(o -> ((Line) Peripherals.of(o)).seconds(o, rate.get())).sum();
        if (busy > step) {
            String cause = "Its line is busy for " + Fact.sig(busy * 1e6) + " µs of each step of " + Fact.sig(step * 1e6) + " µs";
            if (mayLag()) {
                report.warning(cause + "; the values of some steps are not transmitted.",
                        "Choose a faster rate or fewer values, or accept the loss.");
            } else {
                report.error(cause + ".", "Choose a faster rate, or read fewer registers.");
            }
        }
    }

    /** Terminals on one bus take turns within a step; others have their line alone. */
    private boolean sharesLine(BoardSetup setup, Terminal o, Terminal t) {
        if (o.name().equals(t.name())) {
            return true;
        }
        return sharing() == Sharing.BUS && Peripherals.of(o).sharing() == Sharing.BUS && Peripherals.of(o) instanceof Line
                && setup.channel(o).orElseThrow().unit().equals(setup.channel(t).orElseThrow().unit());
    }

    /** Figures besides those of the line. */
    abstract void figures(BoardSetup setup, Terminal t, int steps, List<Fact> facts);

    @Override
    public final List<Fact> figures(BoardSetup setup, Terminal t) {
        List<Fact> facts = new ArrayList<>(List.of(Fact.of("bytes", codec(t).bytes(), "")));
        rate(setup, t).ifPresent(rate -> {
            facts.add(Fact.of("rate", rate, "Hz"));
            facts.add(Fact.of("error", (rate / t.number("rate") - 1) * 100, "%"));
            double seconds = seconds(t, rate);
            facts.add(Fact.of("on the line", seconds * 1e6, "µs"));
            figures(setup, t, steps(seconds, setup.program().tickSeconds()), facts);
        });
        return facts;
    }

    /** Figures of lines whose values arrive some steps later. */
    final void arrival(BoardSetup setup, Terminal t, int steps, List<Fact> facts) {
        facts.add(Fact.of("arrives after", steps, steps == 1 ? "step" : "steps"));
        facts.add(Fact.of("payload", codec(t).bytes() / (steps * setup.program().tickSeconds()), "bytes/s"));
    }

    /** How many steps of a part a transfer takes, at least one. */
    public static int steps(double seconds, double tickSeconds) {
        return (int) Math.max(1, Math.ceil(seconds / tickSeconds - 1e-9));
    }

    final int steps(BoardSetup setup, Terminal t, double rate) {
        return steps(seconds(t, rate), setup.program().tickSeconds());
    }
}
