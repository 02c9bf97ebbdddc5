package boldanvil.core.sheet;

import boldanvil.core.diagram.Sheet;
import boldanvil.core.diagram.Wire;
import boldanvil.core.sheet.SheetScene.Point;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * The ways of the wires of a sheet.
 *
 * @param ways points of each wire, from its start to its end
 * @param branches where wires of one output part
 * @param hops where a wire crosses another one, by wire: the crossed x on its segments that run sideways, in their direction
 */
public record Routes(Map<Wire, List<Point>> ways, List<Point> branches, Map<Wire, List<Point>> hops) {

    public static final Routes NONE = new Routes(Map.of(), List.of(), Map.of());

    /** The ways of the wires of a sheet, as the router finds them. */
    public static Routes of(SheetScene scene) {
        return of(WireRouter.route(scene));
    }

    /** The ways together with their branches and crossings. */
    public static Routes of(Map<Wire, List<Point>> ways) {
        Map<String, Map<Long, Integer>> nets = new HashMap<>();
        Map<Long, List<String>> upright = new HashMap<>();
        ways.forEach((wire, way) -> {
            var cells = nets.computeIfAbsent(net(wire), _ -> new HashMap<>());
            for (int i = 1; i < way.size(); i++) {
                walk(way.get(i - 1), way.get(i), cells);
                remember(net(wire), way.get(i - 1), way.get(i), upright);
            }
        });
        List<Point> branches = new ArrayList<>();
        nets.values().forEach(cells -> cells.forEach((cell, directions) -> {
            if (Integer.bitCount(directions) >= 3) {
                branches.add(new Point((int) (cell >> 32) * Sheet.GRID, (int) (long) cell * Sheet.GRID));
            }
        }));
        Map<Wire, List<Point>> hops = new HashMap<>();
        ways.forEach((wire, way) -> {
            List<Point> mine = crossings(net(wire), way, upright);
            if (!mine.isEmpty()) {
                hops.put(wire, mine);
            }
        });
        return new Routes(Map.copyOf(ways), List.copyOf(branches), Map.copyOf(hops));
    }

    /** What wires of one signal have in common. */
    static String net(Wire w) {
        return w.from() + "\0" + w.fromPort();
    }

    private static void walk(Point a, Point b, Map<Long, Integer> cells) {
        int x = (int) Math.round(a.x() / Sheet.GRID);
        int y = (int) Math.round(a.y() / Sheet.GRID);
        int tx = (int) Math.round(b.x() / Sheet.GRID);
        int ty = (int) Math.round(b.y() / Sheet.GRID);
        int dx = Integer.signum(tx - x);
        int dy = dx != 0 ? 0 : Integer.signum(ty - y);
        int direction = dx > 0 ? 0 : dx < 0 ? 2 : dy > 0 ? 1 : 3;
        while (x != tx && dx != 0 || y != ty && dy != 0) {
            cells.merge(key(x, y), 1 << direction, (p, q) -> p | q);
            x += dx;
            y += dy;
            cells.merge(key(x, y), 1 << (direction + 2) % 4, (p, q) -> p | q);
        }
    }

    /** Notes which nets run up or down through each cell, without the ends of their segments. */
    private static void remember(String net, Point a, Point b, Map<Long, List<String>> upright) {
        if (a.x() != b.x()) {
            return;
        }
        int x = (int) Math.round(a.x() / Sheet.GRID);
        int from = (int) Math.round(Math.min(a.y(), b.y()) / Sheet.GRID);
        int to = (int) Math.round(Math.max(a.y(), b.y()) / Sheet.GRID);
        for (int y = from + 1; y < to; y++) {
            var nets = upright.computeIfAbsent(key(x, y), _ -> new ArrayList<>(1));
            if (!nets.contains(net)) {
                nets.add(net);
            }
        }
    }

    private static List<Point> crossings(String net, List<Point> way, Map<Long, List<String>> upright) {
        List<Point> hops = new ArrayList<>();
        for (int i = 1; i < way.size(); i++) {
            Point a = way.get(i - 1);
            Point b = way.get(i);
            int step = (int) Math.signum(b.x() - a.x());
            if (step == 0) {
                continue;
            }
            int y = (int) Math.round(a.y() / Sheet.GRID);
            int last = (int) Math.round(b.x() / Sheet.GRID);
            for (int x = (int) Math.round(a.x() / Sheet.GRID) + step; x * step < last * step; x += step) {
                var nets = upright.get(key(x, y));
                if (nets != null && (nets.size() > 1 || !nets.getFirst().equals(net))) {
                    hops.add(new Point(x * Sheet.GRID, a.y()));
                }
            }
        }
        return hops;
    }

    private static long key(int x, int y) {
        return (long) x << 32 | y & 0xFFFF_FFFFL;
    }
}
