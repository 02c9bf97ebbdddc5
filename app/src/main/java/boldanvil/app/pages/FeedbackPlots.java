package boldanvil.app.pages;

import boldanvil.app.chart.CurveView;
import boldanvil.app.chart.CurveView.Curve;
import boldanvil.app.chart.CurveView.Mark;
import boldanvil.app.chart.CurveView.Plot;
import boldanvil.app.chart.CurveView.Style;
import boldanvil.app.model.FeedbackSession;
import boldanvil.app.page.PageHost;
import boldanvil.core.linear.Bode;
import boldanvil.core.linear.TimeResponse;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import javafx.scene.layout.GridPane;

/** What a state feedback does: following, resisting, its poles, and the loop at the plant's input. */
final class FeedbackPlots extends GridPane {
    private static final double NAN = Double.NaN;

    private final FeedbackSession session;
    private final CurveView follow;
    private final CurveView resist;
    private final CurveView poles;
    private final CurveView magnitude;

    FeedbackPlots(PageHost host, FeedbackSession session) {
        this.session = session;
        follow = Plots.view(host, "feedback-follow");
        resist = Plots.view(host, "feedback-resist");
        poles = Plots.view(host, "feedback-map");
        magnitude = Plots.view(host, "feedback-magnitude");
        add(follow, 0, 0);
        add(resist, 0, 1);
        add(poles, 1, 0);
        add(magnitude, 1, 1);
        Plots.divide(this, 50, 50);
    }

    void draw() {
        if (session.latest().result().isEmpty()) {
            return;
        }
        var r = session.latest().result().get();
        follow.show(both("After a step of the reference: output solid, input dashed", r.follow()));
        resist.show(both("After a step added to the input: output solid, input dashed", r.resist()));
        List<Curve> all = new ArrayList<>();
        all.add(Plots.circle());
        all.add(Plots.points(r.feedback().plant().system().poles(), Style.DOTS, 3));
        all.add(Plots.points(r.feedback().estimatorPoles(), Style.CROSSES, 1));
        all.add(Plots.points(r.feedback().regulatorPoles(), Style.RINGS, 0));
        double[] limits = {-1.15, 1.15};
        poles.show(new Plot("Poles in z: plant •, regulator ○, estimator ×", "Real part", false, true, all, List.of(), limits, limits));
        double[] omega = r.at().loop().omega();
        double[] db = Arrays.stream(r.at().loop().magnitude()).map(Bode::decibels).toArray();
        List<Mark> marks = new ArrayList<>(List.of(new Mark(NAN, 0, "")));
        r.at().margins().phase().ifPresent(c -> marks.add(new Mark(c.omega(), NAN, Math.round(Math.toDegrees(c.value())) + "° margin")));
        magnitude.show(Plot.of("Loop at the plant's input: magnitude, dB", "Frequency, rad/s", true,
                List.of(new Curve(omega, db, Style.LINE, 0)), marks).between(null, new double[] {-80, 80}));
    }

    private static Plot both(String title, List<TimeResponse> all) {
        double[] t = all.getFirst().t();
        return Plot.of(title, "Time, s", false, List.of(new Curve(t, all.getLast().y(), Style.DASHED, 1),
                new Curve(t, all.getFirst().y(), Style.LINE, 0)), List.of(new Mark(NAN, 0, ""))).between(new double[] {0, t[t.length - 1]},
                null);
    }
}
