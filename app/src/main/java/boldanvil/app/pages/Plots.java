package boldanvil.app.pages;

import boldanvil.app.chart.CurveView;
import boldanvil.app.chart.CurveView.Curve;
import boldanvil.app.chart.CurveView.Style;
import boldanvil.app.page.PageHost;
import java.util.Arrays;
import javafx.scene.layout.ColumnConstraints;
import javafx.scene.layout.GridPane;
import javafx.scene.layout.Priority;
import javafx.scene.layout.RowConstraints;
import org.hipparchus.complex.Complex;

/** What the plots of the Loop page have in common. */
final class Plots {
    private Plots() {}

    static CurveView view(PageHost host, String id) {
        var v = new CurveView(host::theme);
        v.setId(id);
        return v;
    }

    /** Two columns of like width, and rows of some per cent of the height. */
    static void divide(GridPane grid, double... heights) {
        for (int i = 0; i < 2; i++) {
            var column = new ColumnConstraints();
            column.setPercentWidth(50);
            grid.getColumnConstraints().add(column);
        }
        for (double h : heights) {
            var row = new RowConstraints();
            row.setPercentHeight(h);
            row.setVgrow(Priority.ALWAYS);
            grid.getRowConstraints().add(row);
        }
    }

    /** The unit circle. */
    static Curve circle() {
        double[] x = new double[181];
        double[] y = new double[181];
        for (int i = 0; i < x.length; i++) {
            x[i] = Math.cos(2 * Math.PI * i / 180);
            y[i] = Math.sin(2 * Math.PI * i / 180);
        }
        return new Curve(x, y, Style.FAINT, 0);
    }

    /** Numbers in their plane. */
    static Curve points(Complex[] all, Style style, int colour) {
        return new Curve(real(all), imaginary(all), style, colour);
    }

    static double[] real(Complex[] all) {
        return Arrays.stream(all).mapToDouble(Complex::getRealPart).toArray();
    }

    static double[] imaginary(Complex[] all) {
        return Arrays.stream(all).mapToDouble(Complex::getImaginaryPart).toArray();
    }
}
