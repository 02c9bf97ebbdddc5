package boldanvil.core.sheet;

import boldanvil.core.sheet.SheetScene.Point;
import java.util.List;

/** A rectangle on a sheet; x and y are its upper left corner. */
public record Box(double x, double y, double width, double height) {
    public static final Box EMPTY = new Box(0, 0, 0, 0);

    public double right() {
        return x + width;
    }

    public double bottom() {
        return y + height;
    }

    /** The smallest one around points; empty around none. */
    public static Box aroundPoints(List<Point> points) {
        return around(points.stream().map(p -> new Box(p.x(), p.y(), 0, 0)).toList());
    }

    /** The smallest one around others; empty around none. */
    public static Box around(List<Box> boxes) {
        if (boxes.isEmpty()) {
            return EMPTY;
        }
        double left = Double.MAX_VALUE;
        double top = Double.MAX_VALUE;
        double right = -Double.MAX_VALUE;
        double bottom = -Double.MAX_VALUE;
        for (Box b : boxes) {
            left = Math.min(left, b.x);
            top = Math.min(top, b.y);
            right = Math.max(right, b.right());
            bottom = Math.max(bottom, b.bottom());
        }
        return new Box(left, top, right - left, bottom - top);
    }

    /** The same with a margin on each side. */
    public Box grown(double margin) {
        return new Box(x - margin, y - margin, width + 2 * margin, height + 2 * margin);
    }

    public Box at(double nx, double ny) {
        return new Box(nx, ny, width, height);
    }

    public boolean contains(double px, double py) {
        return px >= x && px <= right() && py >= y && py <= bottom();
    }

    /** Whether another one lies wholly within. */
    public boolean contains(Box other) {
        return other.x >= x && other.right() <= right() && other.y >= y && other.bottom() <= bottom();
    }

    /** Whether they share a place, or are closer to each other than a gap. */
    public boolean meets(Box other, double gap) {
        return x < other.right() + gap && other.x < right() + gap && y < other.bottom() + gap && other.y < bottom() + gap;
    }
}
