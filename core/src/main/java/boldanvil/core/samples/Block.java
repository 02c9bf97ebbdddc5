package boldanvil.core.samples;

/** A stretch of samples of a track, one row of values after the other. */
final class Block {
    /** Rows of which the least and greatest values are kept. */
    static final int GROUP = Archive.FINEST;

    final double[] times;
    final double[] values;
    /** Least and greatest values of each full group of rows, column after column. */
    final double[] low;
    final double[] high;
    /** The first instant of each full group, close together. */
    final double[] starts;
    int size;

    Block(double[] times, double[] values, int size, int width) {
        this.times = times;
        this.values = values;
        low = new double[times.length / GROUP * width];
        high = new double[low.length];
        starts = new double[times.length / GROUP];
        for (this.size = 0; this.size < size; ) {
            this.size++;
            summarise(width);
        }
    }

    /** After a row has come. */
    void summarise(int width) {
        if (size % GROUP != 0) {
            return;
        }
        starts[size / GROUP - 1] = times[size - GROUP];
        int g = size / GROUP - 1;
        for (int c = 0; c < width; c++) {
            double l = Double.NaN;
            double h = Double.NaN;
            for (int i = size - GROUP; i < size; i++) {
                double v = values[i * width + c];
                l = Envelope.lower(l, v);
                h = Envelope.higher(h, v);
            }
            low[c * starts.length + g] = l;
            high[c * starts.length + g] = h;
        }
    }
}
