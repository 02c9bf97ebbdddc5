package boldanvil.app.sheet;

import boldanvil.app.model.SheetScene;
import boldanvil.app.model.SheetScene.Node;
import boldanvil.app.model.SheetScene.Point;
import boldanvil.app.model.SheetScene.Port;
import boldanvil.app.model.SheetScene.PortKind;
import boldanvil.app.widget.Theme;
import boldanvil.core.diagram.Wire;
import boldanvil.core.program.Type;
import boldanvil.core.diagram.Side;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import javafx.geometry.VPos;
import javafx.scene.canvas.GraphicsContext;
import javafx.scene.paint.Color;
import javafx.scene.text.Font;
import javafx.scene.text.TextAlignment;

/** Draws plates and wires. */
final class SheetPainter {
    private static final double BAND = 5;
    private static final double ROUND = 7;
    private static final double PAD = 9;

    private final GraphicsContext g;
    private final Theme theme;
    private final TextMeasure measure;
    private final Font titleFont = Theme.bold(12.5);
    private final Font summaryFont = Theme.mono(11.5);
    private final Font portFont = Theme.sans(11);

    SheetPainter(GraphicsContext g, Theme theme, TextMeasure measure) {
        this.g = g;
        this.theme = theme;
        this.measure = measure;
    }

    void wires(SheetScene scene, Map<Wire, List<Point>> routes, Set<Wire> selected) {
        for (var link : scene.links()) {
            var route = routes.get(link.wire());
            if (route != null) {
                boolean chosen = selected.contains(link.wire());
                Color color = chosen ? theme.steel() : link.type() == null ? theme.faint() : theme.ink();
                polyline(route, color, chosen ? 2.4 : 1.25, link.type() == Type.BOOL);
                arrow(route.getLast(), color);
            }
        }
        branches(scene, routes);
    }

    void polyline(List<Point> route, Color color, double width, boolean dashed) {
        g.setStroke(color);
        g.setLineWidth(width);
        g.setLineDashes(dashed ? new double[] {5, 3} : new double[0]);
        g.beginPath();
        g.moveTo(route.getFirst().x(), route.getFirst().y());
        for (int i = 1; i < route.size() - 1; i++) {
            Point p = route.get(i);
            Point q = route.get(i + 1);
            g.arcTo(p.x(), p.y(), q.x(), q.y(), 4);
        }
        g.lineTo(route.getLast().x(), route.getLast().y());
        g.stroke();
        g.setLineDashes(null);
    }

    private void arrow(Point tip, Color color) {
        g.setFill(color);
        g.fillPolygon(new double[] {tip.x(), tip.x() - 7, tip.x() - 7}, new double[] {tip.y(), tip.y() - 3.2, tip.y() + 3.2}, 3);
    }

    /** Dots where wires of one output part: cells the signal leaves in three directions. */
    private void branches(SheetScene scene, Map<Wire, List<Point>> routes) {
        Map<String, Map<Long, Set<Integer>>> nets = new HashMap<>();
        for (var link : scene.links()) {
            var route = routes.get(link.wire());
            if (route != null) {
                var cells = nets.computeIfAbsent(link.wire().from() + "\0" + link.wire().fromPort(), _ -> new HashMap<>());
                for (int i = 1; i < route.size(); i++) {
                    walk(route.get(i - 1), route.get(i), cells);
                }
            }
        }
        g.setFill(theme.ink());
        nets.values().forEach(cells -> cells.forEach((cell, directions) -> {
            if (directions.size() >= 3) {
                double x = (int) (cell >> 32) * 10.0;
                double y = (int) (long) cell * 10.0;
                g.fillOval(x - 3, y - 3, 6, 6);
            }
        }));
    }

    private static void walk(Point a, Point b, Map<Long, Set<Integer>> cells) {
        int x = (int) Math.round(a.x() / 10);
        int y = (int) Math.round(a.y() / 10);
        int tx = (int) Math.round(b.x() / 10);
        int ty = (int) Math.round(b.y() / 10);
        int dx = Integer.signum(tx - x);
        int dy = dx != 0 ? 0 : Integer.signum(ty - y);
        int direction = dx > 0 ? 0 : dx < 0 ? 2 : dy > 0 ? 1 : 3;
        while (x != tx && dx != 0 || y != ty && dy != 0) {
            cells.computeIfAbsent(key(x, y), _ -> new HashSet<>()).add(direction);
            x += dx;
            y += dy;
            cells.computeIfAbsent(key(x, y), _ -> new HashSet<>()).add((direction + 2) % 4);
        }
    }

    private static long key(int x, int y) {
        return (long) x << 32 | y & 0xFFFF_FFFFL;
    }

    /** @param live what to show instead of the says line; null for the line itself */
    void plate(Node n, boolean selected, String live) {
        g.setFill(theme.band(n.family()));
        g.fillRoundRect(n.x(), n.y(), 3 * ROUND, n.height(), 2 * ROUND, 2 * ROUND);
        g.setFill(theme.card());
        g.fillRoundRect(n.x() + BAND, n.y(), n.width() - BAND, n.height(), 2 * ROUND, 2 * ROUND);
        g.fillRect(n.x() + BAND, n.y(), ROUND, n.height());
        g.setStroke(n.flagged() ? theme.madder() : selected ? theme.steel() : theme.rule());
        g.setLineWidth(selected ? 2.4 : n.flagged() ? 1.8 : 1.2);
        g.strokeRoundRect(n.x(), n.y(), n.width(), n.height(), 2 * ROUND, 2 * ROUND);
        double left = n.x() + BAND + PAD - 2;
        double room = n.width() - BAND - 2 * PAD + 4;
        g.setTextAlign(TextAlignment.LEFT);
        g.setTextBaseline(VPos.CENTER);
        String mark = n.flagged() ? "!" : n.live() ? "live" : "";
        if (!mark.isEmpty()) {
            Font f = Theme.bold(n.flagged() ? 13 : 10.5);
            g.setFont(f);
            g.setFill(n.flagged() ? theme.madder() : theme.ember());
            g.setTextAlign(TextAlignment.RIGHT);
            g.fillText(mark, n.x() + n.width() - PAD + 2, n.y() + 15);
            g.setTextAlign(TextAlignment.LEFT);
            room -= measure.width(mark, f) + 4;
        }
        g.setFont(titleFont);
        g.setFill(theme.ink());
        g.fillText(measure.fit(n.title(), titleFont, room), left, n.y() + 15);
        g.setFont(summaryFont);
        g.setFill(live == null ? theme.faint() : theme.ember());
        g.fillText(measure.fit(live == null ? n.summary() : live, summaryFont, n.width() - BAND - 2 * PAD + 4), left, n.y() + 32);
        chip(n);
    }

    private void chip(Node n) {
        if (n.chip().isEmpty()) {
            return;
        }
        Font f = Theme.sans(10.5);
        double w = measure.width(n.chip(), f) + 10;
        double x = n.x() + n.width() - w;
        double y = n.y() + n.height() + 3;
        g.setFill(theme.card());
        g.fillRoundRect(x, y, w, 15, 8, 8);
        g.setStroke(theme.steel());
        g.setLineWidth(0.8);
        g.strokeRoundRect(x, y, w, 15, 8, 8);
        g.setFill(theme.steel());
        g.setFont(f);
        g.fillText(n.chip(), x + 5, y + 8);
    }

    void ports(Node n, Set<String> wired, boolean named) {
        int inputs = n.inputs().size();
        int outputs = n.outputs().size();
        boolean labels = inputs + outputs > 2 || Math.max(inputs, outputs) > 1;
        g.setFont(portFont);
        g.setTextBaseline(VPos.CENTER);
        double half = (n.width() - BAND) / 2 - 12;
        for (Port p : n.ports()) {
            Point at = n.at(p);
            if (p.kind() == PortKind.CONTACT) {
                contact(at);
                continue;
            }
            boolean input = p.kind() == PortKind.INPUT;
            dot(at.x(), at.y(), wired.contains((input ? "in " : "out ") + n.id() + "\0" + p.name()));
            if (labels && (named || (input ? inputs : outputs) > 1)) {
                boolean left = p.side() == Side.LEFT;
                g.setFill(theme.ink());
                g.setTextAlign(left ? TextAlignment.LEFT : TextAlignment.RIGHT);
                g.fillText(measure.fit(p.label(), portFont, (input ? outputs : inputs) == 0 ? 2 * half : half), left ? at.x() + BAND + 6
                        : at.x() - 7, at.y());
            }
        }
        g.setTextAlign(TextAlignment.LEFT);
    }

    /** A contact is a small square, so that nobody takes it for an input or an output. */
    private void contact(Point at) {
        g.setStroke(theme.ink());
        g.setLineWidth(1.2);
        g.setFill(theme.paper());
        g.fillRect(at.x() - 3.5, at.y() - 3.5, 7, 7);
        g.strokeRect(at.x() - 3.5, at.y() - 3.5, 7, 7);
    }

    private void dot(double x, double y, boolean wired) {
        g.setStroke(theme.ink());
        g.setLineWidth(1.2);
        g.setFill(wired ? theme.ink() : theme.paper());
        if (!wired) {
            g.fillOval(x - 3.5, y - 3.5, 7, 7);
            g.strokeOval(x - 3.5, y - 3.5, 7, 7);
        }
    }
}
