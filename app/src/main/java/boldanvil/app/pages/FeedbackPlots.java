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
import javafx.scene.layout.ColumnConstraints;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.RowConstraints;
import org.hipparchus.complex.Complex;

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
        follow = view(host, "feedback-follow");
        resist = view(host, "feedback-resist");
        poles = view(host, "feedback-map");
        magnitude = view(host, "feedback-magnitude");
        add(follow, 0, 0);
        add(resist, 0, 1);
        add(poles, 1, 0);
        add(magnitude, 1, 1);
        for (int i = 0; i < 2; i++) {
            var column = new ColumnConstraints();
            column.setPercentWidth(50);
            var row = new RowConstraints();
            row.setPercentHeight(50);
            getColumnConstraints().add(column);
            getRowConstraints().add(row);
        }
    }

    private static CurveView view(PageHost host, String id) {
        var v = new CurveView(host::theme);
        v.setId(id);
        return v;
    }

    void draw() {
        if (session.result().isEmpty()) {
            return;
        }
        var r = session.result().get();
        follow.show(both("After a step of the reference: output solid, input dashed", r.follow()));
        resist.show(both("After a step added to the input: output solid, input dashed", r.resist()));
        List<Curve> all = new ArrayList<>();
        double[] turn = new double[181];
        for (int i = 0; i < turn.length; i++) {
            turn[i] = 2 * Math.PI * i / 180;
        }
        all.add(new Curve(Arrays.stream(turn).map(Math::cos).toArray(), Arrays.stream(turn).map(Math::sin).toArray(), Style.FAINT, 0));
        all.add(points(r.feedback().plant().system().poles(), Style.DOTS, 3));
        all.add(points(r.feedback().estimatorPoles(), Style.CROSSES, 1));
        all.add(points(r.feedback().regulatorPoles(), Style.RINGS, 0));
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

    private static Curve points(Complex[] all, Style style, int colour) {
        return new Curve(Arrays.stream(all).mapToDouble(Complex::getRealPart).toArray(),
                Arrays.stream(all).mapToDouble(Complex::getImaginaryPart).toArray(), style, colour);
    }
}
