package boldanvil.app.sheet;

import boldanvil.core.sheet.Box;
import javafx.geometry.Point2D;

/** Which part of a sheet is shown, and how large. */
final class SheetView {
    private static final double SMALLEST = 0.1;
    private static final double LARGEST = 3;
    private static final double FIT_SMALLEST = 0.3;
    /** What always stays in the window of the sheet, in pixels. */
    private static final double KEPT = 90;

    private double zoom = 1;
    private double panX = 20;
    private double panY = 20;
    private double width = 100;
    private double height = 100;
    private Box bounds = Box.EMPTY;
    /** Whether it still is as it was fitted. */
    private boolean fitted;

    boolean isFitted() {
        return fitted;
    }

    double zoom() {
        return zoom;
    }

    double panX() {
        return panX;
    }

    double panY() {
        return panY;
    }

    /** @param content what is on the sheet */
    void size(double w, double h, Box content) {
        width = Math.max(100, w);
        height = Math.max(100, h);
        bounds = content;
    }

    /** Zooms so that a rectangle shows, never larger than life. */
    void fit(Box r) {
        fitted = true;
        if (r.equals(Box.EMPTY)) {
            zoom = 1;
            panX = 20;
            panY = 20;
            return;
        }
        zoom = Math.clamp(Math.min(width / (r.width() + 70), height / (r.height() + 80)), FIT_SMALLEST, 1.0);
        panX = width / 2 - zoom * (r.x() + r.width() / 2);
        panY = height / 2 - zoom * (r.y() + r.height() / 2);
    }

    /** Zooms by a factor around a point of the window. */
    void zoom(double factor, double x, double y) {
        Point2D p = toSheet(x, y);
        zoom = Math.clamp(zoom * factor, SMALLEST, LARGEST);
        pan(x - p.getX() * zoom, y - p.getY() * zoom);
    }

    /** Moves the sheet; a strip of it always stays in the window. */
    void pan(double x, double y) {
        fitted = false;
        panX = Math.clamp(x, KEPT - bounds.right() * zoom, Math.max(width - KEPT - bounds.x() * zoom,
                KEPT - bounds.right() * zoom));
        panY = Math.clamp(y, KEPT - bounds.bottom() * zoom, Math.max(height - KEPT - bounds.y() * zoom,
                KEPT - bounds.bottom() * zoom));
    }

    /** Shows a point of the sheet in the middle. */
    void centre(double x, double y) {
        pan(width / 2 - x * zoom, height / 2 - y * zoom);
    }

    Point2D toSheet(double x, double y) {
        return new Point2D((x - panX) / zoom, (y - panY) / zoom);
    }

    /** Whether everything on the sheet is in the window. */
    boolean showsAll() {
        return bounds.x() * zoom + panX >= -1 && bounds.y() * zoom + panY >= -1 && bounds.right() * zoom + panX <= width + 1
                && bounds.bottom() * zoom + panY <= height + 1;
    }
}
