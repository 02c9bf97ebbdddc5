package boldanvil.app.pages;

import boldanvil.app.chart.CurveView;
import boldanvil.app.chart.CurveView.Curve;
import boldanvil.app.chart.CurveView.Mark;
import boldanvil.app.chart.CurveView.Plot;
import boldanvil.app.chart.CurveView.Style;
import boldanvil.app.model.Figures;
import boldanvil.app.model.LoopSession;
import boldanvil.app.model.LoopSession.Design;
import boldanvil.app.model.LoopView;
import boldanvil.app.page.PageHost;
import boldanvil.core.linear.Bode;
import boldanvil.core.linear.TimeResponse;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.Function;
import java.util.stream.IntStream;
import javafx.geometry.Insets;
import javafx.geometry.Pos;
import javafx.scene.control.ChoiceBox;
import javafx.scene.control.Label;
import javafx.scene.layout.BorderPane;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.HBox;
import org.hipparchus.complex.Complex;

/** The curves of the Loop page: magnitude and phase on the left, poles and a choice of others on the right. */
final class LoopPlots extends GridPane {
    private static final double NAN = Double.NaN;
    /** Decibels that a magnitude shows at most above and below 0. */
    private static final double HIGHEST = 90;

    /** Degrees below which a phase says no more. */
    private static final double LOWEST = -400;

    /** What the last plot shows. */
    private enum Last {
        STEP("Step response"), ERROR("Error after a step"), RAMP("Error after a ramp"), IMPULSE("Impulse response"),
                EFFORT("Controller effort"), NYQUIST("Nyquist curve"), SENSITIVITY("Sensitivity"), NICHOLS("Magnitude over phase");

        private final String label;

        Last(String label) {
            this.label = label;
        }

        @Override
        public String toString() {
            return label;
        }
    }

    /** Where poles are shown. */
    private enum Plane {
        Z("Poles in z"), S("Poles in s, ln z / T");

        private final String label;

        Plane(String label) {
            this.label = label;
        }

        @Override
        public String toString() {
            return label;
        }
    }

    private final LoopSession session;
    private final CurveView magnitude;
    private final CurveView phase;
    private final CurveView poles;
    private final CurveView last;
    private final ChoiceBox<Last> choice = new ChoiceBox<>();
    private final ChoiceBox<Plane> plane = new ChoiceBox<>();
    private double grabbed = NAN;
    private double gainThen = 1;

    LoopPlots(PageHost host, LoopSession session) {
        this.session = session;
        magnitude = Plots.view(host, "loop-magnitude");
        phase = Plots.view(host, "loop-phase");
        poles = Plots.view(host, "loop-poles");
        last = Plots.view(host, "loop-last");
        choice.setId("loop-last-choice");
        choice.getItems().setAll(Last.values());
        choice.setValue(Last.STEP);
        choice.valueProperty().addListener((_, _, _) -> draw());
        var lower = new BorderPane(last);
        lower.setTop(choiceLine(choice));
        add(magnitude, 0, 0);
        add(phase, 0, 1);
        plane.setId("loop-plane");
        plane.getItems().setAll(Plane.values());
        plane.setValue(Plane.Z);
        plane.valueProperty().addListener((_, _, _) -> draw());
        var upper = new BorderPane(poles);
        upper.setTop(choiceLine(plane));
        add(upper, 1, 0);
        add(lower, 1, 1);
        Plots.divide(this, 50, 50);
        magnitude.onDrag((_, up) -> {
            grabbed = up;
            gainThen = session.shown().map(d -> d.at().gain()).orElse(1.0);
        }, (_, up) -> session.gain(gainThen * Math.pow(10, (up - grabbed) / 20)));
        poles.onDrag(this::pull, this::pull);
    }

    private static HBox choiceLine(ChoiceBox<?> what) {
        var line = new HBox(8, new Label("Show"), what);
        line.setAlignment(Pos.CENTER_LEFT);
        line.setPadding(new Insets(4, 10, 0, 10));
        return line;
    }

    private void pull(double x, double y) {
        session.shown().ifPresent(d -> {
            Complex place = new Complex(x, y);
            session.gain(d.view().gainNear(plane.getValue() == Plane.Z ? place : place.multiply(d.view().loop().lifted().period()).exp()));
        });
    }

    void draw() {
        if (session.shown().isEmpty()) {
            return;
        }
        Design d = session.shown().get();
        magnitude.show(magnitude(d));
        phase.show(phase(d));
        poles.show(plane.getValue() == Plane.Z ? poles(d) : rates(d));
        last.show(switch (choice.getValue()) {
            case STEP -> step(d);
            case ERROR -> course(d, "Closed loop: error after a step of 1", LoopPlots::error);
            case RAMP -> course(d, "Closed loop: error after a ramp of 1 per second, s", LoopPlots::rampError);
            case EFFORT -> effort(d);
            case IMPULSE -> course(d, "Closed loop: response to an impulse, 1/s", LoopPlots::impulse);
            case NYQUIST -> nyquist(d);
            case SENSITIVITY -> sensitivity(d);
            case NICHOLS -> nichols(d);
        });
    }

    /** A curve of what is shown, a dotted one of that as built, and dashed ones of what is kept. */
    private List<Curve> compared(Design d, Function<LoopView.At, double[]> x, Function<LoopView.At, double[]> y) {
        List<Curve> all = new ArrayList<>();
        session.varied().forEach(at -> all.add(new Curve(x.apply(at), y.apply(at), Style.FAINT, 0)));
        for (int k = 0; k < session.kept().size(); k++) {
            var at = session.kept().get(k).at();
            all.add(new Curve(x.apply(at), y.apply(at), Style.DASHED, k + 1));
        }
        d.built().ifPresent(b -> all.add(new Curve(x.apply(b.at()), y.apply(b.at()), Style.DOTTED, 5)));
        all.add(new Curve(x.apply(d.at()), y.apply(d.at()), Style.LINE, 0));
        return all;
    }

    /** What was measured within the limits of a plot, where at least half of the output follows from the input. */
    private List<Curve> measured(Design d, Function<Complex, Double> of) {
        List<Curve> all = new ArrayList<>();
        session.measured().ifPresent(m -> {
            double low = d.at().loop().omega()[0];
            double high = d.at().loop().omega()[d.at().loop().omega().length - 1];
            int[] kept = IntStream.range(0, m.omega().length).filter(i -> m.omega()[i] >= low && m.omega()[i] <= high
                    && m.coherence()[i] > 0.5)
                    .toArray();
            all.add(new Curve(Arrays.stream(kept).mapToDouble(i -> m.omega()[i]).toArray(),
                    Arrays.stream(kept).mapToDouble(i -> of.apply(m.response()[i])).toArray(), Style.DOTS, 4));
        });
        return all;
    }

    /** Degrees of a measured response, from −360 to 0. */
    private static double turned(Complex g) {
        double v = Math.toDegrees(g.getArgument());
        return v > 0 ? v - 360 : v;
    }

    private static double[] omega(LoopView.At at) {
        return at.loop().omega();
    }

    private static double[] decibels(LoopView.At at) {
        return Arrays.stream(at.loop().magnitude()).map(Bode::decibels).toArray();
    }

    private static double[] degrees(LoopView.At at) {
        return Arrays.stream(at.loop().phase()).map(Math::toDegrees).toArray();
    }

    private Plot magnitude(Design d) {
        List<Mark> marks = new ArrayList<>(List.of(new Mark(NAN, 0, "")));
        d.at().margins().phase().ifPresent(c -> marks.add(new Mark(c.omega(), NAN, Figures.text(c.omega(), 4, "rad/s"))));
        double[] all = compared(d, LoopPlots::omega, LoopPlots::decibels).stream().flatMapToDouble(c -> Arrays.stream(c.y()))
                .filter(Double::isFinite).toArray();
        double high = Math.clamp(Arrays.stream(all).max().orElse(20), 20, HIGHEST);
        double low = Math.clamp(Arrays.stream(all).min().orElse(-20), -HIGHEST, -20);
        double room = (high - low) * 0.05 + 1;
        List<Curve> curves = compared(d, LoopPlots::omega, LoopPlots::decibels);
        curves.addAll(measured(d, g -> Bode.decibels(g.norm())));
        return Plot.of("Open loop: magnitude, dB", "", true, curves, marks)
                .between(null, new double[] {low - room, high + room});
    }

    private Plot phase(Design d) {
        List<Mark> marks = new ArrayList<>(List.of(new Mark(NAN, -180, "−180°")));
        d.at().margins().phase().ifPresent(c -> marks.add(new Mark(c.omega(), NAN, Figures.text(Math.toDegrees(c.value()), 3)
                + "° margin")));
        d.at().margins().up().ifPresent(c -> marks.add(new Mark(c.omega(), NAN, Figures.text(Bode.decibels(c.value()), 3) + " dB margin")));
        List<Curve> all = compared(d, LoopPlots::omega, LoopPlots::degrees);
        all.addAll(measured(d, LoopPlots::turned));
        double[] values = all.stream().flatMapToDouble(c -> Arrays.stream(c.y())).filter(Double::isFinite).toArray();
        double low = Math.max(Arrays.stream(values).min().orElse(-200), LOWEST);
        double high = Math.max(Arrays.stream(values).max().orElse(0), -150);
        return Plot.of("Open loop: phase, °", "Frequency, rad/s", true, all, marks).between(null, new double[] {low - 10, high + 10});
    }

    private Plot poles(Design d) {
        List<Curve> all = new ArrayList<>();
        all.add(Plots.circle());
        for (double damping : new double[] {0.2, 0.4, 0.6, 0.8}) {
            all.addAll(damped(damping));
        }
        Complex[][] branches = d.view().locus().branches();
        for (int b = 0; b < branches.length; b++) {
            Complex[] branch = Arrays.stream(branches[b]).filter(java.util.Objects::nonNull).toArray(Complex[]::new);
            all.add(Plots.points(branch, Style.LINE, b + 1));
        }
        all.add(Plots.points(d.view().loop().lifted().poles(), Style.CROSSES, 1));
        all.add(Plots.points(d.view().zeros(), Style.DOTS, 3));
        d.at().closed().ifPresent(c -> all.add(Plots.points(c.poles(), Style.RINGS, 0)));
        double[] limits = {-1.15, 1.15};
        return new Plot("Poles in z over " + Figures.text(d.view().loop().lifted().period(), 4, "s") + ": open ×, zeros •, closed ○",
                "Real part; spirals: damping 0.2, 0.4, 0.6, 0.8",
                false,
                true, all, List.of(), limits, limits);
    }

    /** The same as rates of motions: ln z / T, in rad/s, with rays of equal damping. */
    private Plot rates(Design d) {
        double period = d.view().loop().lifted().period();
        double reach = Math.PI / period;
        List<Curve> all = new ArrayList<>();
        all.add(new Curve(new double[] {0, 0}, new double[] {-reach, reach}, Style.FAINT, 0));
        for (double damping : new double[] {0.2, 0.4, 0.6, 0.8}) {
            double x = -2 * reach * damping;
            double y = 2 * reach * Math.sqrt(1 - damping * damping);
            all.add(new Curve(new double[] {x, 0, x}, new double[] {y, 0, -y}, Style.FAINT, 0));
        }
        Complex[][] branches = d.view().locus().branches();
        for (int b = 0; b < branches.length; b++) {
            Complex[] rates = rates(Arrays.stream(branches[b]).filter(java.util.Objects::nonNull).toArray(Complex[]::new), period);
            all.add(Plots.points(rates, Style.LINE, b + 1));
        }
        Complex[] open = rates(d.view().loop().lifted().poles(), period);
        all.add(Plots.points(open, Style.CROSSES, 1));
        d.at().closed().ifPresent(c -> {
            Complex[] closed = rates(c.poles(), period);
            all.add(Plots.points(closed, Style.RINGS, 0));
        });
        return new Plot("Poles in s, rad/s: open ×, closed ○", "Real part, rad/s; rays: damping 0.2, 0.4, 0.6, 0.8", false, true, all,
                List.of(),
                new double[] {-1.2 * reach, 0.4 * reach}, new double[] {-1.05 * reach, 1.05 * reach});
    }

    private static Complex[] rates(Complex[] poles, double period) {
        return Arrays.stream(poles).filter(p -> p.norm() > 1e-12).map(p -> p.log().divide(period)).toArray(Complex[]::new);
    }

    /** Where poles have a damping ratio: a spiral into the origin, and its mirror image. */
    private static List<Curve> damped(double damping) {
        double slope = damping / Math.sqrt(1 - damping * damping);
        double[] x = new double[60];
        double[] y = new double[60];
        for (int i = 0; i < x.length; i++) {
            double angle = Math.PI * i / (x.length - 1);
            x[i] = Math.exp(-slope * angle) * Math.cos(angle);
            y[i] = Math.exp(-slope * angle) * Math.sin(angle);
        }
        return List.of(new Curve(x, y, Style.FAINT, 0), new Curve(x, Arrays.stream(y).map(v -> -v).toArray(), Style.FAINT, 0));
    }

    private Plot step(Design d) {
        String up = "Closed loop: what comes back after a step of 1";
        if (d.at().step().isEmpty()) {
            return Plot.of(up, "Time, s", false, List.of(), List.of());
        }
        double[] t = d.at().step().get().t();
        double end = t[t.length - 1];
        List<Curve> all = compared(d, a -> a.step().map(s -> s.t()).orElse(new double[0]), a -> a.step().map(s -> s.y())
                .orElse(new double[0]));
        var plot = Plot.of(up, "Time, s", false, all, List.of(new Mark(NAN, 1, "")));
        double high = d.at().isStable() ? NAN : 5;
        return plot.between(new double[] {0, end}, Double.isNaN(high) ? null : new double[] {-high, high});
    }

    private Plot course(Design d, String up, Function<TimeResponse, double[]> of) {
        if (d.at().step().isEmpty()) {
            return Plot.of(up, "Time, s", false, List.of(), List.of());
        }
        double[] t = d.at().step().get().t();
        List<Curve> all = compared(d, a -> a.step().map(TimeResponse::t).orElse(new double[0]), a -> a.step().map(of)
                .orElse(new double[0]));
        return Plot.of(up, "Time, s", false, all, List.of(new Mark(NAN, 0, "")))
                .between(new double[] {0, t[t.length - 1]}, d.at().isStable()
                ? null : new double[] {-5, 5});
    }

    /** What the controller gives after a step of its reference: its response to the error. */
    private Plot effort(Design d) {
        String up = "Controller: output after a step of 1 of its reference";
        var c = session.controller();
        if (d.at().step().isEmpty() || c.isEmpty() || d.gains().isEmpty()) {
            return Plot.of(up, "Time, s", false, List.of(), List.of());
        }
        TimeResponse step = d.at().step().get();
        double[] u = TimeResponse.of(c.get().system(c.get().scaled(d.gains(), d.at().gain()), d.view().loop().samplePeriod()), error(step));
        return Plot.of(up, "Time, s", false, List.of(new Curve(step.t(), u, Style.LINE, 0)), List.of(new Mark(NAN, 0, "")))
                .between(new double[] {0, step.t()[step.t().length - 1]}, null);
    }

    /** What a step leaves. */
    private static double[] error(TimeResponse step) {
        return Arrays.stream(step.y()).map(v -> 1 - v).toArray();
    }

    /** The sum of what a step leaves: a ramp is a step at each sample. */
    private static double[] rampError(TimeResponse step) {
        double[] e = error(step);
        double period = step.t().length < 2 ? 0 : step.t()[1] - step.t()[0];
        double sum = 0;
        for (int i = 0; i < e.length; i++) {
            sum += e[i] * period;
            e[i] = sum;
        }
        return e;
    }

    /** The change of the step response from sample to sample: an impulse of area one. */
    private static double[] impulse(TimeResponse step) {
        double[] y = step.y();
        double period = step.t().length < 2 ? 1 : step.t()[1] - step.t()[0];
        double[] all = new double[y.length];
        for (int i = 0; i < y.length; i++) {
            all[i] = (y[i] - (i == 0 ? 0 : y[i - 1])) / period;
        }
        return all;
    }

    private Plot nyquist(Design d) {
        double reach = 2.5;
        return new Plot("Open loop: imaginary part", "Real part", false, true,
                compared(d, a -> Plots.real(a.points()), a -> Plots.imaginary(a.points())),
                List.of(new Mark(-1, 0, "−1")), new double[] {-reach, reach}, new double[] {-reach, reach});
    }

    private Plot sensitivity(Design d) {
        var peak = d.at().margins().peak();
        return Plot.of("Sensitivity, dB: below 0 disturbances are reduced", "Frequency, rad/s", true, compared(d, LoopPlots::omega,
                a -> Arrays.stream(a.sensitivity()).map(Bode::decibels).toArray()), List.of(new Mark(NAN, 0, ""),
                new Mark(peak.omega(), NAN, "peak " + Figures.text(peak.value(), 3))));
    }

    private Plot nichols(Design d) {
        return Plot.of("Open loop: magnitude, dB", "Phase, °", false, compared(d, LoopPlots::degrees, LoopPlots::decibels),
                List.of(new Mark(-180, 0, "−180°, 0 dB"), new Mark(NAN, 0, ""))).between(null, new double[] {-60, 60});
    }
}
