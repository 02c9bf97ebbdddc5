package boldanvil.core.sheet;

import boldanvil.core.diagram.Side;
import boldanvil.core.diagram.Wire;
import boldanvil.core.sheet.SheetScene.Node;
import boldanvil.core.sheet.SheetScene.Point;
import boldanvil.core.sheet.SheetScene.PortKind;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Finds orthogonal ways for the wires of a sheet on a 10-unit grid, around plates, with few bends, few crossings and no two
 * signals on top of each other (A*, Hart, Nilsson and Raphael, 1968). Wires of one output share their way where they can.
 */
public final class WireRouter {
    /** An end of a wire: where it is, and the direction that leads away from the plate there. */
    public record End(Point at, int outwards) {}

    private static final int GRID = 10;
    private static final int MARGIN = 8;
    private static final int STEP = 10;
    private static final int SHARED_STEP = 4;
    /** Between a shared step and a usual one: with the former, a search looks at most of the sheet. */
    private static final int NEARLY_SHARED = 7;
    private static final int TURN = 45;
    private static final int CROSSING = 25;
    private static final int OVERLAP = 120;
    /** Cells of the largest sheet whose wires are led around plates; on a larger one they run as they come. */
    private static final long CELLS = 4_000_000;
    /** Cells of a way that is searched greedily, so that a long one on a full sheet does not look at most of it. */
    private static final int FAR = 30;
    /** Cells around the rectangle of both ends in which a way is looked for first. */
    private static final int NEAR = 14;
    private static final int[] DX = {1, 0, -1, 0};
    private static final int[] DY = {0, 1, 0, -1};

    private final Map<String, Node> nodes = new HashMap<>();
    private final int left;
    private final int top;
    private final int width;
    private final int height;
    private final boolean[] blocked;
    /** Which net runs through a cell sideways and up or down; 0 for none. */
    private final int[] sideways;
    private final int[] upright;
    /** Of states, cells with a direction: the search that reached one last, that was done with it, its cost and the state before it. */
    private final int[] reached;
    private final int[] closed;
    private final int[] cost;
    private final int[] before;
    private final CheapestFirst open = new CheapestFirst();
    private int search;
    /** The cells a search may use. */
    private int fromX;
    private int fromY;
    private int toX;
    private int toY;
    private int leastStep;
    /** Nets of which a wire has a way. */
    private final Set<Integer> started = new HashSet<>();

    private WireRouter(SheetScene scene, Box bounds) {
        scene.nodes().forEach(n -> nodes.put(n.id(), n));
        left = (int) Math.floor(bounds.x() / GRID) - MARGIN;
        top = (int) Math.floor(bounds.y() / GRID) - MARGIN;
        width = (int) Math.ceil(bounds.right() / GRID) + MARGIN - left + 1;
        height = (int) Math.ceil(bounds.bottom() / GRID) + MARGIN - top + 1;
        blocked = new boolean[width * height];
        sideways = new int[width * height];
        upright = new int[width * height];
        reached = new int[width * height * 4];
        closed = new int[width * height * 4];
        cost = new int[width * height * 4];
        before = new int[width * height * 4];
        within(0, 0, width - 1, height - 1);
        scene.nodes().forEach(this::block);
    }

    /**
     * The way of each wire that has both ends, from output to input, or between the contacts of a net. Wires laid by hand come first and
     * stay where they are; the others are led around plates.
     */
    public static Map<Wire, List<Point>> route(SheetScene scene) {
        Map<Wire, List<Point>> routes = new HashMap<>();
        Box bounds = scene.bounds();
        if ((bounds.width() / GRID + 2 * MARGIN) * (bounds.height() / GRID + 2 * MARGIN) > CELLS) {
            scene.links().forEach(l -> {
                var e = ends(scene, l.wire());
                if (e != null) {
                    routes.put(l.wire(), plain(e[0].at(), e[1].at()));
                }
            });
            return routes;
        }
        var router = new WireRouter(scene, bounds);
        List<Wire> free = new ArrayList<>();
        Map<Wire, End[]> ends = new HashMap<>();
        for (var link : scene.links()) {
            Wire w = link.wire();
            ends.put(w, router.ends(w));
            var way = laid(w, ends.get(w));
            if (way.isEmpty()) {
                free.add(w);
            } else {
                routes.put(w, way);
                router.occupy(way, number(w));
                router.started.add(number(w));
            }
        }
        free.sort(Comparator.comparingDouble(w -> span(ends.get(w))));
        for (Wire w : free) {
            var e = ends.get(w);
            if (e != null) {
                routes.put(w, router.way(e[0], e[1], number(w)));
            }
        }
        return routes;
    }

    private static int number(Wire w) {
        return Routes.net(w).hashCode() | 1;
    }

    /** The way of a wire that was laid by hand; empty for others. */
    public static List<Point> laid(Wire w, End[] e) {
        return e == null || w.lanes().isEmpty() ? List.of()
                : Way.over(w.lanes(), e[0].at(), e[0].outwards() % 2 == 0, e[1].at(), e[1].outwards() % 2 == 0);
    }

    /** Marks the cells under a way. */
    private void occupy(List<Point> way, int net) {
        for (int i = 1; i < way.size(); i++) {
            int x = (int) Math.round(way.get(i - 1).x() / GRID) - left;
            int y = (int) Math.round(way.get(i - 1).y() / GRID) - top;
            int tx = (int) Math.round(way.get(i).x() / GRID) - left;
            int ty = (int) Math.round(way.get(i).y() / GRID) - top;
            int dx = Integer.signum(tx - x);
            int dy = dx != 0 ? 0 : Integer.signum(ty - y);
            while (true) {
                if (inside(x, y)) {
                    mark(y * width + x, dx != 0 ? 0 : 1, net);
                }
                if (dx == 0 && dy == 0 || (dx != 0 ? x == tx : y == ty)) {
                    break;
                }
                x += dx;
                y += dy;
            }
        }
    }

    private End[] ends(Wire w) {
        return ends(nodes.get(w.from()), nodes.get(w.to()), w);
    }

    /** Both ends of a wire, or null when one is missing. */
    public static End[] ends(SheetScene scene, Wire w) {
        return ends(scene.node(w.from()).orElse(null), scene.node(w.to()).orElse(null), w);
    }

    /** Both ends of a wire between two plates, or null when a plate or a port is missing. */
    public static End[] ends(Node a, Node b, Wire w) {
        if (a == null || b == null) {
            return null;
        }
        var from = end(a, w.fromPort(), w.isNet() ? PortKind.CONTACT : PortKind.OUTPUT);
        var to = end(b, w.toPort(), w.isNet() ? PortKind.CONTACT : PortKind.INPUT);
        return from.isEmpty() || to.isEmpty() ? null : new End[] {from.get(), to.get()};
    }

    private static Optional<End> end(Node n, String port, PortKind kind) {
        return n.port(kind, port).map(p -> new End(n.at(p), outwards(p.side())));
    }

    private static int outwards(Side side) {
        return switch (side) {
            case RIGHT -> 0;
            case BOTTOM -> 1;
            case LEFT -> 2;
            case TOP -> 3;
        };
    }

    /** A way that looks at nothing in between: for wires that are being drawn or moved. */
    public static List<Point> plain(Point a, Point b) {
        double middle = b.x() > a.x() + 20 ? (a.x() + b.x()) / 2 : a.x() + 15;
        if (b.x() > a.x() + 20) {
            return List.of(a, new Point(middle, a.y()), new Point(middle, b.y()), b);
        }
        double y = (a.y() + b.y()) / 2;
        return List.of(a, new Point(middle, a.y()), new Point(middle, y), new Point(b.x() - 15, y), new Point(b.x() - 15, b.y()), b);
    }

    private static double span(End[] e) {
        return e == null ? 0 : Math.abs(e[0].at().x() - e[1].at().x()) + Math.abs(e[0].at().y() - e[1].at().y());
    }

    private void block(Node n) {
        int firstX = (int) Math.floor(n.x() / GRID) - left;
        int lastX = (int) Math.ceil((n.x() + n.width()) / GRID) - left;
        int firstY = (int) Math.floor(n.y() / GRID) - top;
        int lastY = (int) Math.ceil((n.y() + n.height()) / GRID) - top + (n.chip().isEmpty() ? 0 : 2);
        for (int gy = Math.max(0, firstY); gy <= Math.min(height - 1, lastY); gy++) {
            Arrays.fill(blocked, gy * width + Math.max(0, firstX), gy * width + Math.min(width - 1, lastX) + 1, true);
        }
    }

    private List<Point> way(End from, End to, int net) {
        Point a = from.at();
        Point b = to.at();
        int sx = (int) Math.round(a.x() / GRID) + DX[from.outwards()] - left;
        int sy = (int) Math.round(a.y() / GRID) + DY[from.outwards()] - top;
        int tx = (int) Math.round(b.x() / GRID) + DX[to.outwards()] - left;
        int ty = (int) Math.round(b.y() / GRID) + DY[to.outwards()] - top;
        int arrival = (to.outwards() + 2) % 4;
        if (!inside(sx, sy) || !inside(tx, ty)) {
            return plain(a, b);
        }
        int around = NEAR + (Math.abs(sx - tx) + Math.abs(sy - ty)) / 8;
        within(Math.min(sx, tx) - around, Math.min(sy, ty) - around, Math.max(sx, tx) + around, Math.max(sy, ty) + around);
        int last = search(sx, sy, from.outwards(), tx, ty, arrival, net);
        within(0, 0, width - 1, height - 1);
        last = last < 0 ? search(sx, sy, from.outwards(), tx, ty, arrival, net) : last;
        return last < 0 ? plain(a, b) : points(a, b, last, net);
    }

    private void within(int x0, int y0, int x1, int y1) {
        fromX = Math.max(0, x0);
        fromY = Math.max(0, y0);
        toX = Math.min(width - 1, x1);
        toY = Math.min(height - 1, y1);
    }

    /** The state in which a way arrives, or −1 where there is none. */
    private int search(int sx, int sy, int outwards, int tx, int ty, int arrival, int net) {
        search++;
        boolean far = Math.abs(sx - tx) + Math.abs(sy - ty) > FAR;
        leastStep = (started.add(net) ? STEP : NEARLY_SHARED) * (far ? 2 : 1);
        int start = (sy * width + sx) * 4 + outwards;
        int goal = ty * width + tx;
        open.clear();
        reach(start, 0, -1, 0);
        while (!open.isEmpty()) {
            int state = open.remove();
            int cell = state / 4;
            int direction = state % 4;
            int x = cell % width;
            int y = cell / width;
            if (cell == goal && direction == arrival) {
                return state;
            }
            if (closed[state] == search) {
                continue;
            }
            closed[state] = search;
            for (int d = 0; d < 4; d++) {
                int nx = x + DX[d];
                int ny = y + DY[d];
                if (d == (direction + 2) % 4 || !inside(nx, ny)) {
                    continue;
                }
                int nextCell = ny * width + nx;
                if (blocked[nextCell] && nextCell != goal) {
                    continue;
                }
                int next = cost[state] + price(cell, nextCell, d, net) + (d == direction ? 0 : TURN);
                // Arriving at the goal, the wire must run straight into the port.
                if (nextCell == goal && d != arrival) {
                    reach(goal * 4 + arrival, next + TURN, state, 0);
                } else {
                    reach(nextCell * 4 + d, next, state, estimate(nx, ny, tx, ty));
                }
            }
        }
        return -1;
    }

    /** Notes that a state can be reached at a cost, if that is the lowest so far. */
    private void reach(int state, int at, int from, int estimate) {
        if (reached[state] != search || at < cost[state]) {
            reached[state] = search;
            cost[state] = at;
            before[state] = from;
            open.add(at + estimate, state);
        }
    }

    private boolean inside(int x, int y) {
        return x >= fromX && y >= fromY && x <= toX && y <= toY;
    }

    /** What the rest of the way costs at least, or nearly so where a signal may share cells it runs through already. */
    private int estimate(int x, int y, int tx, int ty) {
        return leastStep * (Math.abs(x - tx) + Math.abs(y - ty)) + (x != tx && y != ty ? TURN : 0);
    }

    private int price(int from, int to, int direction, int net) {
        boolean horizontal = direction % 2 == 0;
        int[] along = horizontal ? sideways : upright;
        int[] across = horizontal ? upright : sideways;
        int price = STEP;
        if (along[to] == net && along[from] == net) {
            price = SHARED_STEP;
        } else if (along[to] != 0 && along[to] != net) {
            price += OVERLAP;
        }
        if (across[to] != 0 && across[to] != net) {
            price += CROSSING;
        }
        return price;
    }

    private List<Point> points(Point a, Point b, int last, int net) {
        List<Point> cells = new ArrayList<>();
        int previous = -1;
        for (int s = last; s >= 0; s = before[s]) {
            int cell = s / 4;
            mark(cell, s % 4, net);
            if (previous >= 0) {
                // A cell where the wire turns is occupied in both directions.
                mark(cell, previous % 4, net);
            }
            previous = s;
            cells.addFirst(new Point((cell % width + left) * (double) GRID, (cell / width + top) * (double) GRID));
        }
        cells.addFirst(a);
        cells.addLast(b);
        return Way.corners(cells);
    }

    private void mark(int cell, int direction, int net) {
        if (direction % 2 == 0) {
            sideways[cell] = net;
        } else {
            upright[cell] = net;
        }
    }
}
