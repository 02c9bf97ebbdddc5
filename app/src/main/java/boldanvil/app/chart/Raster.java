package boldanvil.app.chart;

import java.nio.IntBuffer;
import java.util.Arrays;
import javafx.scene.image.PixelBuffer;
import javafx.scene.image.PixelFormat;
import javafx.scene.image.WritableImage;
import javafx.scene.paint.Color;

/**
 * An image that traces are drawn into pixel by pixel. A trace is a span of rows in each column of pixels, with soft ends; for many traces
 * with thousands of points that is ten times as fast as stroking paths.
 */
final class Raster {
    private final int width;
    private final int height;
    private final int[] pixels;
    private final PixelBuffer<IntBuffer> buffer;
    private final WritableImage image;
    private int top;
    private int bottom;
    private int left;
    private int right;

    Raster(int width, int height) {
        this.width = width;
        this.height = height;
        pixels = new int[width * height];
        buffer = new PixelBuffer<>(width, height, IntBuffer.wrap(pixels), PixelFormat.getIntArgbPreInstance());
        image = new WritableImage(buffer);
        clip(0, 0, width, height);
    }

    WritableImage image() {
        return image;
    }

    int width() {
        return width;
    }

    int height() {
        return height;
    }

    /** A colour as this image keeps it; opaque. */
    static int argb(Color c) {
        return 0xFF000000 | (int) Math.round(c.getRed() * 255) << 16 | (int) Math.round(c.getGreen() * 255) << 8 | (int) Math.round(
                c.getBlue() * 255);
    }

    /** Where may be drawn from now on, in pixels. */
    void clip(double x, double y, double w, double h) {
        left = Math.clamp(Math.round(x), 0, width);
        top = Math.clamp(Math.round(y), 0, height);
        right = Math.clamp(Math.round(x + w), left, width);
        bottom = Math.clamp(Math.round(y + h), top, height);
    }

    void fill(int argb) {
        if (left == 0 && right == width) {
            Arrays.fill(pixels, top * width, bottom * width, argb);
            return;
        }
        for (int y = top; y < bottom; y++) {
            Arrays.fill(pixels, y * width + left, y * width + right, argb);
        }
    }

    /** Moves what lies within the clip to the left. */
    void shift(int columns) {
        if (columns <= 0 || columns >= right - left) {
            return;
        }
        for (int y = top; y < bottom; y++) {
            System.arraycopy(pixels, y * width + left + columns, pixels, y * width + left, right - left - columns);
        }
    }

    void horizontal(double y, int argb) {
        int row = (int) Math.round(y);
        if (row >= top && row < bottom) {
            Arrays.fill(pixels, row * width + left, row * width + right, argb);
        }
    }

    /** A line from top to bottom, with gaps where {@code off} is above 0. */
    void vertical(double x, int argb, int on, int off) {
        int column = (int) Math.round(x);
        if (column < left || column >= right) {
            return;
        }
        for (int y = top; y < bottom; y++) {
            if (off == 0 || (y - top) % (on + off) < on) {
                pixels[y * width + column] = argb;
            }
        }
    }

    /** Rows of one column, with soft ends. */
    void span(int x, double from, double to, int argb) {
        if (x < left || x >= right || !(to > from) || to <= top || from >= bottom) {
            return;
        }
        double a = Math.max(from, top);
        double b = Math.min(to, bottom);
        int first = (int) a;
        int last = (int) Math.ceil(b) - 1;
        if (first == last) {
            blend(first * width + x, argb, b - a);
            return;
        }
        blend(first * width + x, argb, first + 1 - a);
        for (int y = first + 1; y < last; y++) {
            pixels[y * width + x] = argb;
        }
        blend(last * width + x, argb, b - last);
    }

    /** Mixes red and blue in one multiplication, green in another; what was transparent becomes so by its share. */
    private void blend(int at, int argb, double share) {
        int s = (int) (share * 256);
        int p = pixels[at];
        int redBlue = (p & 0xFF00FF) + (((argb & 0xFF00FF) - (p & 0xFF00FF)) * s >> 8) & 0xFF00FF;
        int green = (p & 0x00FF00) + (((argb & 0x00FF00) - (p & 0x00FF00)) * s >> 8) & 0x00FF00;
        int alpha = (p >>> 24) + ((0xFF - (p >>> 24)) * s >> 8);
        pixels[at] = alpha << 24 | redBlue | green;
    }

    /** A straight line; left to right. */
    void line(double x0, double y0, double x1, double y1, double thickness, int argb, int[] dashes) {
        if (x1 < left || x0 >= right) {
            return;
        }
        double half = thickness / 2;
        double slope = x1 > x0 ? (y1 - y0) / (x1 - x0) : 0;
        int first = Math.max(left, (int) Math.floor(x0));
        int last = Math.min(right - 1, (int) Math.floor(x1));
        for (int x = first; x <= last; x++) {
            double ya = x1 > x0 ? y0 + slope * (Math.max(x0, x) - x0) : y0;
            double yb = x1 > x0 ? y0 + slope * (Math.min(x1, x + 1) - x0) : y1;
            if (isOn(x, dashes)) {
                span(x, Math.min(ya, yb) - half, Math.max(ya, yb) + half, argb);
            }
        }
    }

    /** Whether a dashed line is drawn at a column. */
    static boolean isOn(int x, int[] dashes) {
        return dashes == null || x % (dashes[0] + dashes[1]) < dashes[0];
    }

    void dot(double x, double y, double radius, int argb) {
        for (int c = (int) Math.floor(x - radius); c <= x + radius; c++) {
            double dx = c + 0.5 - x;
            double dy = Math.sqrt(Math.max(0, radius * radius - dx * dx));
            span(c, y - dy, y + dy, argb);
        }
    }

    /** Shows what has been drawn; on the window's thread. */
    void show() {
        buffer.updateBuffer(_ -> null);
    }
}
