package boldanvil.app.chart;

import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout.Decoder;
import boldanvil.core.diagram.BenchLayout.Kind;
import boldanvil.core.diagram.BenchLayout.Style;
import boldanvil.core.runs.Mark;
import boldanvil.core.samples.Column;
import boldanvil.core.samples.SampleStore;
import java.util.List;
import javafx.scene.Scene;
import javafx.stage.Stage;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.extension.ExtendWith;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.testfx.api.FxRobot;
import org.testfx.framework.junit5.ApplicationExtension;
import org.testfx.framework.junit5.Start;

/** What the charts draw, pixel by pixel. */
@ExtendWith(ApplicationExtension.class)
@Timeout(60)
class TraceViewTest {
    private static final List<Chart> CHARTS = List.of(new Chart("Fast", "", List.of("p.a", "p.b")),
            new Chart("Slow", "", List.of("p.slow")));

    private final SampleStore store = new SampleStore(List.of(new Column("p.a", ""), new Column("p.b", ""), new Column("p.slow", "")),
            List.of(new int[] {0, 1}, new int[] {2}), new double[] {1e-4, 0.1}, Integer.MAX_VALUE);
    private TraceView view;
    private Theme worn = Theme.DAY;
    private double now;

    @Start
    void start(Stage stage) {
        Theme.loadFonts();
        view = new TraceView(() -> worn);
        stage.setScene(new Scene(view, 640, 360));
        stage.show();
    }

    private void feed(double seconds) {
        int n = (int) Math.round(seconds * 1e4);
        for (int i = 0; i < n; i++) {
            double t = now;
            store.add(0, t, (to, at) -> {
                to[at] = Math.sin(7 * t) + 0.2 * Math.sin(900 * t);
                to[at + 1] = 0.5 * Math.cos(3 * t);
            });
            if (Math.round(t * 1e4) % 1_000 == 0) {
                store.add(1, t, (to, at) -> to[at] = Math.floor(t * 3) % 4);
            }
            now = Math.round(now * 1e4 + 1) / 1e4;
        }
    }

    private int[] pixels(TraceView v) {
        var image = v.raster().image();
        int w = (int) image.getWidth();
        int h = (int) image.getHeight();
        int[] p = new int[w * h];
        image.getPixelReader().getPixels(0, 0, w, h, javafx.scene.image.PixelFormat.getIntArgbInstance(), p, 0, w);
        return p;
    }

    /** A picture that was moved many times equals one that is drawn again. */
    @ParameterizedTest
    @ValueSource(doubles = {0.5, 2, 5})
    void movingThePictureGivesWhatDrawingItGives(double span, FxRobot robot) {
        robot.interact(() -> {
            view.setSpan(span);
            view.show(CHARTS, List.of(new TraceView.Layer("live", store)));
            feed(span + 0.3);
            view.setMarks(List.of(new Mark(span, Mark.Kind.NOTE, "here")));
            for (int i = 0; i < 20; i++) {
                feed(0.017);
                view.setEnd(store.end());
                view.paint();
            }
        });
        int[] moved = pixels(view);
        int[][] anew = new int[1][];
        robot.interact(() -> {
            view.setAutoscale(false);
            view.paint();
            anew[0] = pixels(view);
        });
        int different = 0;
        for (int i = 0; i < moved.length; i++) {
            different += moved[i] == anew[0][i] ? 0 : 1;
        }
        // Where the seam of the last pictures lies, a joint may differ by a pixel or two.
        assertThat(different).isLessThan(moved.length / 500);
    }

    @Test
    void aTraceIsDrawnWhereItsValuesAre(FxRobot robot) {
        robot.interact(() -> {
            feed(1);
            view.show(List.of(new Chart("One", "", List.of("p.b"))), List.of(new TraceView.Layer("live", store)));
            view.view().show(0, 1);
            view.paint();
        });
        // The cosine falls: its trace is higher on the left than on the right.
        assertThat(firstRow(view, 120)).isLessThan(firstRow(view, 560) - 40);
    }

    private int firstRow(TraceView v, int x) {
        int colour = Raster.argb(Theme.DAY.trace(0));
        var reader = v.raster().image().getPixelReader();
        for (int y = 0; y < v.raster().height(); y++) {
            if (reader.getArgb(x, y) == colour) {
                return y;
            }
        }
        throw new AssertionError("no trace in column " + x);
    }

    @Test
    void stylesLogicAndPerUnitDrawWithoutFail(FxRobot robot) {
        robot.interact(() -> {
            feed(2);
            for (Style s : Style.values()) {
                view.show(List.of(new Chart("x", Kind.TRACE, "", List.of("p.slow"), "", List.of("p.b"), s, 2, 0, Decoder.NONE, 1),
                        new Chart("m", Kind.TRACE, "", List.of("p.a"), "", List.of(), s, 0, 0.01, Decoder.NONE, 1),
                        new Chart("l", Kind.LOGIC, "", List.of("p.a", "p.slow", "p.none"), "", List.of(), s, 0, 0, Decoder.NONE, 1)),
                        List.of(new TraceView.Layer("live", store)));
                for (double span : new double[] {1e-3, 0.1, 10}) {
                    view.view().show(2 - span, 2);
                    view.setCursors(true);
                    view.setCursors(1.5, 1.6);
                    view.paint();
                }
            }
        });
        assertThat(view.measured()).containsExactly(1.5, 1.6);
        assertThat(view.frames()).isGreaterThan(9);
    }

    @Test
    void anotherThemeIsWornAtOnce(FxRobot robot) {
        robot.interact(() -> {
            view.setSpan(1);
            view.show(CHARTS, List.of(new TraceView.Layer("live", store)));
            feed(1.5);
            for (int i = 0; i < 3; i++) {
                feed(0.02);
                view.setEnd(store.end());
                view.paint();
            }
            worn = Theme.NIGHT;
            feed(0.02);
            view.setEnd(store.end());
            view.paint();
        });
        assertThat(view.raster().image().getPixelReader().getArgb(300, 2)).isEqualTo(Raster.argb(Theme.NIGHT.card()));
    }

    @Test
    void noRunIsAnEmptyChart(FxRobot robot) {
        robot.interact(() -> {
            view.show(CHARTS, List.of());
            view.show(List.of(), List.of());
            view.paint();
        });
        assertThat(view.charts()).isEmpty();
    }
}
