package boldanvil.app.sheet;

import boldanvil.app.model.SheetScene;
import boldanvil.app.model.SheetScene.Node;
import boldanvil.app.model.SheetScene.Point;
import boldanvil.app.model.SheetScene.PortKind;
import boldanvil.core.diagram.Wire;
import boldanvil.core.diagram.Side;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.PriorityQueue;

/**
 * Finds orthogonal ways for the wires of a sheet on a 10-unit grid, around plates, with few bends, few crossings and no two
 * signals on top of each other (A*, Hart, Nilsson and Raphael, 1968). Wires of one output share their way where they can.
 */
public final class WireRouter {
    /** An end of a wire: where it is, and the direction that leads away from the plate there. */
    record End(Point at, int outwards) {}

    private static final int GRID = 10;
    private static final int MARGIN = 8;
    private static final int STEP = 10;
    private static final int SHARED_STEP = 4;
    private static final int TURN = 45;
    private static final int CROSSING = 25;
    private static final int OVERLAP = 120;
    private static final int[] DX = {1, 0, -1, 0};
    private static final int[] DY = {0, 1, 0, -1};

    private final SheetScene scene;
    private final Map<String, Node> nodes = new HashMap<>();
    private final int left;
    private final int top;
    private final int width;
    private final int height;
    private final boolean[] blocked;
    /** Which net runs through a cell sideways and up or down; 0 for none. */
    private final int[] sideways;
    private final int[] upright;

    private WireRouter(SheetScene scene) {
        this.scene = scene;
        scene.nodes().forEach(n -> nodes.put(n.id(), n));
        double minX = scene.nodes().stream().mapToDouble(Node::x).min().orElse(0);
        double minY = scene.nodes().stream().mapToDouble(Node::y).min().orElse(0);
        double maxX = scene.nodes().stream().mapToDouble(n -> n.x() + n.width()).max().orElse(0);
        double maxY = scene.nodes().stream().mapToDouble(n -> n.y() + n.height()).max().orElse(0);
        left = (int) Math.floor(minX / GRID) - MARGIN;
        top = (int) Math.floor(minY / GRID) - MARGIN;
        width = (int) Math.ceil(maxX / GRID) + MARGIN - left + 1;
        height = (int) Math.ceil(maxY / GRID) + MARGIN - top + 1;
        blocked = new boolean[width * height];
        sideways = new int[width * height];
        upright = new int[width * height];
        scene.nodes().forEach(this::block);
    }

    /** The way of each wire that has both ends, from output to input, or between the contacts of a net. */
    public static Map<Wire, List<Point>> route(SheetScene scene) {
        var router = new WireRouter(scene);
        Map<Wire, List<Point>> routes = new HashMap<>();
        List<Wire> wires = new ArrayList<>(scene.links().stream().map(SheetScene.Link::wire).toList());
        wires.sort(Comparator.comparingDouble(router::span));
        for (Wire w : wires) {
            var ends = ends(scene, w);
            if (ends != null) {
                routes.put(w, router.way(ends[0], ends[1], (w.from() + "\0" + w.fromPort()).hashCode() | 1));
            }
        }
        return routes;
    }

    /** Both ends of a wire, or null when one is missing. */
    static End[] ends(SheetScene scene, Wire w) {
        var from = end(scene, w.from(), w.fromPort(), w.isNet() ? PortKind.CONTACT : PortKind.OUTPUT);
        var to = end(scene, w.to(), w.toPort(), w.isNet() ? PortKind.CONTACT : PortKind.INPUT);
        return from.isEmpty() || to.isEmpty() ? null : new End[] {from.get(), to.get()};
    }

    private static Optional<End> end(SheetScene scene, String node, String port, PortKind kind) {
        return scene.node(node).flatMap(n -> n.port(kind, port).map(p -> new End(n.at(p), outwards(p.side()))));
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
    static List<Point> plain(Point a, Point b) {
        double middle = b.x() > a.x() + 20 ? (a.x() + b.x()) / 2 : a.x() + 15;
        if (b.x() > a.x() + 20) {
            return List.of(a, new Point(middle, a.y()), new Point(middle, b.y()), b);
        }
        double y = (a.y() + b.y()) / 2;
        return List.of(a, new Point(middle, a.y()), new Point(middle, y), new Point(b.x() - 15, y), new Point(b.x() - 15, b.y()), b);
    }

    private double span(Wire w) {
        var e = ends(scene, w);
        return e == null ? 0 : Math.abs(e[0].at().x() - e[1].at().x()) + Math.abs(e[0].at().y() - e[1].at().y());
    }

    private void block(Node n) {
        for (int gx = 0; gx < width; gx++) {
            double x = (gx + left) * GRID;
            if (x <= n.x() - GRID || x >= n.x() + n.width() + GRID) {
                continue;
            }
            for (int gy = 0; gy < height; gy++) {
                double y = (gy + top) * GRID;
                if (y > n.y() - GRID && y < n.y() + n.height() + (n.chip().isEmpty() ? GRID : 3 * GRID)) {
                    blocked[gy * width + gx] = true;
                }
            }
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
        int[] cost = new int[width * height * 4];
        int[] before = new int[width * height * 4];
        Arrays.fill(cost, Integer.MAX_VALUE);
        var open = new PriorityQueue<long[]>(Comparator.comparingLong(e -> e[0]));
        int start = (sy * width + sx) * 4 + from.outwards();
        int goal = ty * width + tx;
        cost[start] = 0;
        before[start] = -1;
        open.add(new long[] {0, start});
        while (!open.isEmpty()) {
            long[] head = open.poll();
            int state = (int) head[1];
            int cell = state / 4;
            int direction = state % 4;
            int x = cell % width;
            int y = cell / width;
            if (cell == goal && direction == arrival) {
                return points(a, b, before, state, net);
            }
            if (head[0] > cost[state] + estimate(x, y, tx, ty)) {
                continue;
            }
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
                int nextState = nextCell * 4 + d;
                // Arriving at the goal, the wire must run straight into the port.
                if (nextCell == goal && d != arrival) {
                    int turned = goal * 4 + arrival;
                    if (next + TURN < cost[turned]) {
                        cost[turned] = next + TURN;
                        before[turned] = state;
                        open.add(new long[] {next + TURN, turned});
                    }
                } else if (next < cost[nextState]) {
                    cost[nextState] = next;
                    before[nextState] = state;
                    open.add(new long[] {next + estimate(nx, ny, tx, ty), nextState});
                }
            }
        }
        return plain(a, b);
    }

    private boolean inside(int x, int y) {
        return x >= 0 && y >= 0 && x < width && y < height;
    }

    private static int estimate(int x, int y, int tx, int ty) {
        return SHARED_STEP * (Math.abs(x - tx) + Math.abs(y - ty));
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

    private List<Point> points(Point a, Point b, int[] before, int last, int net) {
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
        return corners(cells);
    }

    private void mark(int cell, int direction, int net) {
        if (direction % 2 == 0) {
            sideways[cell] = net;
        } else {
            upright[cell] = net;
        }
    }

    /** Leaves out points on straight lines. */
    private static List<Point> corners(List<Point> cells) {
        List<Point> corners = new ArrayList<>();
        for (Point p : cells) {
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
