package boldanvil.core.sheet;

import boldanvil.core.diagram.Sheet;
import boldanvil.core.sheet.SheetScene.Node;
import boldanvil.core.sheet.SheetScene.Point;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;

/** Places of plates in rows and columns, by id. */
public final class Arrangement {

    private Arrangement() {}

    private static Map<String, Point> each(List<Node> nodes, Function<Node, Point> place) {
        Map<String, Point> places = new LinkedHashMap<>();
        nodes.forEach(n -> places.put(n.id(), place.apply(n)));
        return places;
    }


    /** All left edges at the leftmost one. */
    public static Map<String, Point> left(List<Node> nodes) {
        double x = nodes.stream().mapToDouble(Node::x).min().orElse(0);
        return each(nodes, n -> new Point(x, n.y()));
    }

    /** All upper edges at the uppermost one. */
    public static Map<String, Point> top(List<Node> nodes) {
        double y = nodes.stream().mapToDouble(Node::y).min().orElse(0);
        return each(nodes, n -> new Point(n.x(), y));
    }

    /** All centres at the height of the leftmost one. */
    public static Map<String, Point> middle(List<Node> nodes) {
        Node first = nodes.stream().min(Comparator.comparingDouble(Node::x)).orElseThrow();
        double y = first.y() + first.height() / 2;
        return each(nodes, n -> new Point(n.x(), Sheet.onGrid(y - n.height() / 2)));
    }

    /** Equal gaps from left to right; the outer ones stay. */
    public static Map<String, Point> distributeAcross(List<Node> nodes) {
        List<Node> row = nodes.stream().sorted(Comparator.comparingDouble(Node::x)).toList();
        double room = row.getLast().x() + row.getLast().width() - row.getFirst().x() - row.stream().mapToDouble(Node::width).sum();
        double gap = room / (row.size() - 1);
        Map<String, Point> places = new LinkedHashMap<>();
        double x = row.getFirst().x();
        for (Node n : row) {
            places.put(n.id(), new Point(Sheet.onGrid(x), n.y()));
            x += n.width() + gap;
        }
        return places;
    }

    /** Equal gaps from top to bottom; the outer ones stay. */
    public static Map<String, Point> distributeDown(List<Node> nodes) {
        List<Node> column = nodes.stream().sorted(Comparator.comparingDouble(Node::y)).toList();
        double room = column.getLast().y() + column.getLast().height() - column.getFirst().y()
                - column.stream().mapToDouble(Node::height).sum();
        double gap = room / (column.size() - 1);
        Map<String, Point> places = new LinkedHashMap<>();
        double y = column.getFirst().y();
        for (Node n : column) {
            places.put(n.id(), new Point(n.x(), Sheet.onGrid(y)));
            y += n.height() + gap;
        }
        return places;
    }
}
