package boldanvil.core.linear;

import org.ejml.data.DMatrixRMaj;
import org.ejml.dense.row.decomposition.hessenberg.HessenbergSimilarDecomposition_DDRM;
import org.ejml.simple.SimpleMatrix;
import org.hipparchus.complex.Complex;

/**
 * The frequency response of a system, C (s I − A)⁻¹ B + D, at many frequencies. A is brought to the form of Hessenberg once, so that a
 * frequency costs some n² operations (Laub, Efficient multivariable frequency response computations, IEEE Trans. Automatic Control 26,
 * 1981). Safe for use by several threads.
 */
public final class Response {
    private final double[][] h;
    private final double[][] b;
    private final double[][] c;
    private final SimpleMatrix d;
    private final double period;

    public Response(StateSpace s) {
        int n = s.states();
        period = s.period();
        d = s.d();
        if (n < 3) {
            h = rows(s.a());
            b = rows(s.b());
            c = rows(s.c());
            return;
        }
        var hessenberg = new HessenbergSimilarDecomposition_DDRM();
        DMatrixRMaj copy = s.a().getDDRM().copy();
        hessenberg.decompose(copy);
        SimpleMatrix q = SimpleMatrix.wrap(hessenberg.getQ(null));
        h = rows(SimpleMatrix.wrap(hessenberg.getH(null)));
        b = rows(q.transpose().mult(s.b()));
        c = rows(s.c().mult(q));
    }

    private static double[][] rows(SimpleMatrix m) {
        double[][] all = new double[m.getNumRows()][m.getNumCols()];
        for (int i = 0; i < all.length; i++) {
            for (int j = 0; j < all[i].length; j++) {
                all[i][j] = m.get(i, j);
            }
        }
        return all;
    }

    /** The response of the first output to the first input at a frequency in rad/s. */
    public Complex at(double omega) {
        return all(omega)[0][0];
    }

    /** The response of each output to each input at a frequency in rad/s. */
    public Complex[][] all(double omega) {
        return at(period > 0 ? new Complex(Math.cos(omega * period), Math.sin(omega * period)) : new Complex(0, omega));
    }

    /** The transfer matrix at a point s or z. */
    public Complex[][] at(Complex s) {
        int n = h.length;
        int inputs = d.getNumCols();
        double[][] re = new double[n][n];
        double[][] im = new double[n][n];
        double[][] xr = new double[n][];
        double[][] xi = new double[n][inputs];
        for (int i = 0; i < n; i++) {
            for (int j = 0; j < n; j++) {
                re[i][j] = -h[i][j];
            }
            re[i][i] += s.getRealPart();
            im[i][i] = s.getImaginaryPart();
            xr[i] = b[i].clone();
        }
        eliminate(re, im, xr, xi);
        Complex[][] all = new Complex[c.length][inputs];
        for (int o = 0; o < c.length; o++) {
            for (int u = 0; u < inputs; u++) {
                double sr = d.get(o, u);
                double si = 0;
                for (int i = 0; i < n; i++) {
                    sr += c[o][i] * xr[i][u];
                    si += c[o][i] * xi[i][u];
                }
                all[o][u] = new Complex(sr, si);
            }
        }
        return all;
    }

    /** Solves with a matrix that has one diagonal below the main one, or is small. */
    private static void eliminate(double[][] re, double[][] im, double[][] xr, double[][] xi) {
        int n = re.length;
        for (int k = 0; k < n - 1; k++) {
            if (Math.hypot(re[k + 1][k], im[k + 1][k]) > Math.hypot(re[k][k], im[k][k])) {
                swap(re, k);
                swap(im, k);
                swap(xr, k);
                swap(xi, k);
            }
            if (re[k + 1][k] == 0 && im[k + 1][k] == 0) {
                continue;
            }
            double size = re[k][k] * re[k][k] + im[k][k] * im[k][k];
            double fr = (re[k + 1][k] * re[k][k] + im[k + 1][k] * im[k][k]) / size;
            double fi = (im[k + 1][k] * re[k][k] - re[k + 1][k] * im[k][k]) / size;
            subtract(re[k + 1], im[k + 1], re[k], im[k], fr, fi, k);
            subtract(xr[k + 1], xi[k + 1], xr[k], xi[k], fr, fi, 0);
        }
        for (int i = n - 1; i >= 0; i--) {
            double size = re[i][i] * re[i][i] + im[i][i] * im[i][i];
            for (int u = 0; u < xr[i].length; u++) {
                double sr = xr[i][u];
                double si = xi[i][u];
                for (int j = i + 1; j < n; j++) {
                    sr -= re[i][j] * xr[j][u] - im[i][j] * xi[j][u];
                    si -= re[i][j] * xi[j][u] + im[i][j] * xr[j][u];
                }
                xr[i][u] = (sr * re[i][i] + si * im[i][i]) / size;
                xi[i][u] = (si * re[i][i] - sr * im[i][i]) / size;
            }
        }
    }

    private static void swap(double[][] rows, int k) {
        double[] kept = rows[k];
        rows[k] = rows[k + 1];
        rows[k + 1] = kept;
    }

    private static void subtract(double[] re, double[] im, double[] byRe, double[] byIm, double fr, double fi, int from) {
        for (int j = from; j < re.length; j++) {
            re[j] -= fr * byRe[j] - fi * byIm[j];
            im[j] -= fr * byIm[j] + fi * byRe[j];
        }
    }
}
