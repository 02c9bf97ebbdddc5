package boldanvil.core.report;

import java.util.List;

/**
 * A chart to be written to a file: panes one above the other over a common axis.
 *
 * @param from left end of the axis
 * @param to right end
 */
public record Plot(String title, String axis, double from, double to, List<Pane> panes) {
    /**
     * A pane.
     *
     * @param low lower end of its scale
     * @param high upper end
     */
    public record Pane(String title, double low, double high, List<Curve> curves) {
        public Pane {
            curves = List.copyOf(curves);
        }
    }

    /**
     * A line through points.
     *
     * @param colour such as {@code #0B6AA2}
     * @param dashes lengths of dash and gap; empty for a solid line
     */
    public record Curve(String name, String colour, double[] dashes, double[] x, double[] y) {}

    public Plot {
        panes = List.copyOf(panes);
    }

    static String text(double v) {
        double r = Math.abs(v) < 1e-12 ? 0 : v;
        String s = String.format(java.util.Locale.ROOT, "%.6g", r);
        return s.contains("e") ? s : s.contains(".") ? s.replaceAll("0+$", "").replaceAll("\\.$", "") : s;
    }
}
