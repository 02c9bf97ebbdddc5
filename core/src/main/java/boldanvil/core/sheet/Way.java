package boldanvil.core.sheet;

import boldanvil.core.diagram.Lane;
import boldanvil.core.sheet.SheetScene.Point;
import java.util.ArrayList;
import java.util.List;

/** The ways of wires as points and as lanes. */
public final class Way {
    private Way() {}

    /**
     * The way over lanes from one end to the other; empty where the lanes do not fit the ends, as after a block was turned.
     *
     * @param from where the wire begins
     * @param leavesAside whether it leaves there horizontally
     * @param arrivesAside whether it arrives horizontally
     */
    public static List<Point> over(List<Lane> lanes, Point from, boolean leavesAside, Point to, boolean arrivesAside) {
        if (lanes.isEmpty() || lanes.getFirst().upright() != leavesAside || lanes.getLast().upright() != arrivesAside) {
            return List.of();
        }
        List<Point> points = new ArrayList<>(List.of(from));
        Point at = from;
        for (int i = 0; i < lanes.size(); i++) {
            Lane lane = lanes.get(i);
            if (i > 0 && lanes.get(i - 1).upright() == lane.upright()) {
                return List.of();
            }
            at = lane.upright() ? new Point(lane.at(), at.y()) : new Point(at.x(), lane.at());
            points.add(at);
        }
        points.add(lanes.getLast().upright() ? new Point(at.x(), to.y()) : new Point(to.x(), at.y()));
        points.add(to);
        return corners(points);
    }

    /** The lanes of a way: its segments without the first and the last one. */
    public static List<Lane> lanes(List<Point> way) {
        List<Lane> lanes = new ArrayList<>();
        for (int i = 1; i + 2 < way.size(); i++) {
            Point a = way.get(i);
            Point b = way.get(i + 1);
            lanes.add(a.x() == b.x() ? new Lane(true, a.x()) : new Lane(false, a.y()));
        }
        return lanes;
    }

    /**
     * The lanes after one segment of a way is moved across itself. The first and the last segment stay at their ports; a piece of them is
     * left there.
     *
     * @param segment from 0 at the start
     * @param to x of an upright segment, y of one that runs sideways
     */
    public static List<Lane> moved(List<Point> way, int segment, double to) {
        Point a = way.get(segment);
        Point b = way.get(segment + 1);
        boolean upright = a.x() == b.x();
        List<Lane> lanes = new ArrayList<>(lanes(way));
        boolean first = segment == 0;
        boolean last = segment == way.size() - 2;
        if (!first && !last) {
            lanes.set(segment - 1, new Lane(upright, to));
            return lanes;
        }
        double stub = 20;
        if (last) {
            lanes.add(new Lane(upright, to));
            lanes.add(new Lane(!upright, upright ? b.y() - stub * Math.signum(b.y() - a.y()) : b.x() - stub * Math.signum(b.x() - a.x())));
            if (first) {
                lanes.addFirst(new Lane(!upright, upright ? a.y() + stub * Math.signum(b.y() - a.y())
                        : a.x() + stub * Math.signum(b.x() - a.x())));
            }
            return lanes;
        }
        lanes.addFirst(new Lane(upright, to));
        lanes.addFirst(new Lane(!upright, upright ? a.y() + stub * Math.signum(b.y() - a.y())
                : a.x() + stub * Math.signum(b.x() - a.x())));
        return lanes;
    }

    /** Leaves out points on straight lines. */
    public static List<Point> corners(List<Point> points) {
        List<Point> corners = new ArrayList<>();
        for (Point p : points) {
            int n = corners.size();
            if (n >= 2) {
                Point u = corners.get(n - 2);
                Point v = corners.get(n - 1);
                boolean straight = u.x() == v.x() && v.x() == p.x() || u.y() == v.y() && v.y() == p.y();
                if (straight) {
                    corners.removeLast();
                }
            }
            if (corners.isEmpty() || !corners.getLast().equals(p)) {
                corners.add(p);
            }
        }
        return corners;
    }
}
