package boldanvil.core.sheet;

import boldanvil.core.diagram.Mark;
import boldanvil.core.diagram.Side;
import boldanvil.core.diagram.Wire;
import boldanvil.core.program.Type;
import boldanvil.core.sheet.Pen.Lettering;
import boldanvil.core.sheet.Pen.Stroke;
import boldanvil.core.sheet.SheetScene.Node;
import boldanvil.core.sheet.SheetScene.Point;
import boldanvil.core.sheet.SheetScene.Port;
import boldanvil.core.sheet.SheetScene.PortKind;
import boldanvil.core.stock.Picture;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Draws plates, wires and marks with a pen. Texts never get smaller than 10 units of the screen: at a smaller scale they take more of the
 * plate, and below {@link #SIMPLE} a plate shows its title alone.
 */
public final class SheetPainter {
    /** Below this scale plates have their simple form. */
    public static final double SIMPLE = 0.62;

    private static final double NO_TEXT = 0.3;
    private static final double SMALLEST = 10;
    private static final double BAND = 5;
    private static final double ROUND = 7;
    private static final double PAD = 9;
    private static final double HOP = 4;
    private static final double NOTE_LINE = 16;

    /** How a wire stands out. */
    public enum Emphasis {
        NONE, CHOSEN,
        /** It had a part in a value, by its own. */
        VALUE,
        /** It decided about a value. */
        CHOICE,
        /** It had no part in a value. */
        FADED
    }

    private final Pen pen;
    private final double scale;

    /** @param scale units of the screen for one unit of the sheet */
    public SheetPainter(Pen pen, double scale) {
        this.pen = pen;
        this.scale = scale;
    }

    private double size(double usual) {
        return Math.max(usual, SMALLEST / scale);
    }

    private boolean isSimple() {
        return scale < SIMPLE;
    }

    /** Draws everything, as for a file. */
    public void sheet(SheetScene scene, Routes routes) {
        scene.marks().forEach(m -> mark(m, false));
        wires(scene, routes, Set.of());
        Set<String> wired = wired(scene);
        for (Node n : scene.nodes()) {
            plate(n, false, null);
            ports(n, wired, n.opens());
        }
    }

    /** The ports that have a wire. */
    public static Set<String> wired(SheetScene scene) {
        Set<String> wired = new HashSet<>();
        for (var link : scene.links()) {
            wired.add("out " + link.wire().from() + "\0" + link.wire().fromPort());
            wired.add("in " + link.wire().to() + "\0" + link.wire().toPort());
            if (link.wire().isNet()) {
                net(wired, link.wire().from() + "\0" + link.wire().fromPort());
                net(wired, link.wire().to() + "\0" + link.wire().toPort());
            }
        }
        return wired;
    }

    /** A contact of a net; where several wires of it end there, they part there. */
    private static void net(Set<String> wired, String contact) {
        wired.add((wired.contains("net " + contact) ? "nets " : "net ") + contact);
    }

    /** Draws frames and notes; they lie under everything else. */
    public void mark(Mark m, boolean selected) {
        var edge = new Stroke(selected ? Ink.STEEL : Ink.RULE, selected ? 2 : 1.2, m.kind() == Mark.Kind.FRAME);
        if (m.kind() == Mark.Kind.FRAME) {
            pen.box(m.x(), m.y(), m.width(), m.height(), ROUND, null, edge);
            pen.text(pen.fit(m.text(), Lettering.BOLD, size(13), m.width() - 2 * PAD), m.x() + PAD, m.y() + 14, 0, Lettering.BOLD, size(13),
                    Ink.FAINT);
        } else {
            pen.line(List.of(new Point(m.x(), m.y()), new Point(m.x(), m.y() + m.height())), 0,
                    Stroke.of(selected ? Ink.STEEL : Ink.AMBER, 2));
            if (selected) {
                pen.box(m.x(), m.y(), m.width(), m.height(), 0, null, edge);
            }
            double y = m.y() + 11;
            for (String line : folded(m.text(), m.width() - PAD)) {
                if (y > m.y() + m.height()) {
                    break;
                }
                pen.text(line, m.x() + PAD, y, 0, Lettering.SANS, size(12.5), Ink.INK);
                y += Math.max(NOTE_LINE, size(12.5) * 1.3);
            }
        }
        if (!m.link().isEmpty()) {
            pen.text(pen.fit("→ " + m.link(), Lettering.SANS, size(11), m.width() - PAD), m.x() + PAD, m.y() + m.height() - 8, 0,
                    Lettering.SANS,
                    size(11), Ink.STEEL);
        }
    }

    /** A text folded at spaces. */
    private List<String> folded(String text, double room) {
        List<String> lines = new ArrayList<>();
        for (String paragraph : text.split("\n", -1)) {
            var line = new StringBuilder();
            for (String word : paragraph.split(" ")) {
                String longer = line.isEmpty() ? word : line + " " + word;
                if (!line.isEmpty() && pen.width(longer, Lettering.SANS, size(12.5)) > room) {
                    lines.add(line.toString());
                    line.setLength(0);
                    line.append(word);
                } else {
                    line.setLength(0);
                    line.append(longer);
                }
            }
            lines.add(line.toString());
        }
        return lines;
    }

    /** Draws the wires with their arrows, crossings and branches. */
    public void wires(SheetScene scene, Routes routes, Set<Wire> selected) {
        for (var link : scene.links()) {
            var way = routes.ways().get(link.wire());
            if (way != null) {
                wire(link, way, routes.hops().getOrDefault(link.wire(), List.of()), selected.contains(link.wire())
                        ? Emphasis.CHOSEN : Emphasis.NONE);
            }
        }
        routes.branches().forEach(this::branch);
    }

    /** Draws the dots where wires part, in a part of the sheet. */
    public void branches(Routes routes, Box shown) {
        Box near = shown.grown(4);
        routes.branches().stream().filter(b -> near.contains(b.x(), b.y())).forEach(this::branch);
    }

    private void branch(Point at) {
        pen.circle(at.x(), at.y(), 3, Ink.INK, null);
    }

    /** Draws one wire. */
    public void wire(SheetScene.Link link, List<Point> way, List<Point> hops, Emphasis emphasis) {
        Ink ink = switch (emphasis) {
            case CHOSEN -> Ink.STEEL;
            case VALUE, CHOICE -> Ink.EMBER;
            case FADED -> Ink.RULE;
            case NONE -> link.wire().isNet() ? Ink.COPPER : link.type() == null ? Ink.FAINT : Ink.INK;
        };
        double width = emphasis == Emphasis.CHOSEN || emphasis == Emphasis.VALUE ? 2.4 : 1.25;
        pen.line(hops.isEmpty() || isSimple() ? way : hopping(way, hops), hops.isEmpty() ? 4 : 3,
                new Stroke(ink, width, link.type() == Type.BOOL));
        if (!link.wire().isNet()) {
            arrow(way.get(way.size() - 2), way.getLast(), ink);
        }
    }

    /** The way with a small bow over each wire it crosses. */
    private static List<Point> hopping(List<Point> way, List<Point> hops) {
        List<Point> bowed = new ArrayList<>();
        bowed.add(way.getFirst());
        int next = 0;
        for (int i = 1; i < way.size(); i++) {
            Point a = way.get(i - 1);
            Point b = way.get(i);
            double step = Math.signum(b.x() - a.x());
            while (step != 0 && next < hops.size() && hops.get(next).y() == a.y() && (hops.get(next).x() - a.x()) * step > 0
                    && (b.x() - hops.get(next).x()) * step > 0) {
                Point h = hops.get(next++);
                bowed.add(new Point(h.x() - HOP * step, h.y()));
                bowed.add(new Point(h.x() - HOP * step, h.y() - HOP));
                bowed.add(new Point(h.x() + HOP * step, h.y() - HOP));
                bowed.add(new Point(h.x() + HOP * step, h.y()));
            }
            bowed.add(b);
        }
        return bowed;
    }

    private void arrow(Point before, Point tip, Ink ink) {
        double dx = Math.signum(tip.x() - before.x());
        double dy = dx != 0 ? 0 : Math.signum(tip.y() - before.y());
        double bx = tip.x() - 7 * dx;
        double by = tip.y() - 7 * dy;
        pen.polygon(List.of(tip, new Point(bx - 3.2 * dy, by - 3.2 * dx), new Point(bx + 3.2 * dy, by + 3.2 * dx)), ink);
    }

    /** @param live what to show instead of the summary; null for the summary itself */
    public void plate(Node n, boolean selected, String live) {
        if (n.isSymbol()) {
            symbol(n, selected, live);
            return;
        }
        pen.box(n.x(), n.y(), 3 * ROUND, n.height(), ROUND, Ink.of(n.family()), null);
        pen.box(n.x() + BAND, n.y(), n.width() - BAND, n.height(), ROUND, Ink.CARD, null);
        pen.box(n.x() + BAND, n.y(), ROUND, n.height(), 0, Ink.CARD, null);
        pen.box(n.x(), n.y(), n.width(), n.height(), ROUND, null, n.flagged() ? Stroke.of(Ink.MADDER, selected ? 2.4 : 1.8)
                : selected ? Stroke.of(Ink.STEEL, 2.4) : Stroke.of(Ink.RULE, 1.2));
        double left = n.x() + BAND + PAD - 2;
        double room = n.width() - BAND - 2 * PAD + 4;
        if (scale < NO_TEXT) {
            return;
        }
        if (isSimple()) {
            simple(n, live, left, room);
            return;
        }
        room -= badge(n);
        double title = size(12.5);
        pen.text(pen.fit(n.title(), Lettering.BOLD, title, room), left, n.y() + 14, 0, Lettering.BOLD, title, Ink.INK);
        body(n, live);
        chip(n);
    }

    /** A network element: its symbol, with name and value above and below, or beside it where wires leave above or below. */
    private void symbol(Node n, boolean selected, String live) {
        if (selected || n.flagged()) {
            pen.box(n.x() - 2, n.y() - 2, n.width() + 4, n.height() + 4, ROUND, null, n.flagged()
                    ? Stroke.of(Ink.MADDER, selected ? 2.4 : 1.8)
                    : Stroke.of(Ink.STEEL, 2));
        }
        draw(n.plate().picture(), n.x(), n.y(), n.width(), n.height());
        if (scale < NO_TEXT || isSimple()) {
            return;
        }
        String value = live == null ? n.summary() : live;
        Ink ink = live == null ? Ink.FAINT : Ink.EMBER;
        if (n.ports().stream().allMatch(p -> p.side().isUpright())) {
            pen.text(n.title(), n.x() + n.width() / 2, n.y() - size(11.5) / 2 - 1, 0.5, Lettering.BOLD, size(11.5), Ink.INK);
            pen.text(value, n.x() + n.width() / 2, n.y() + n.height() + size(10.5) / 2 + 1, 0.5, Lettering.MONO, size(10.5), ink);
        } else {
            long right = n.ports().stream().filter(p -> p.side() == Side.RIGHT).count();
            // Beside it; above, beside what leaves there, where several wires leave on the right.
            double x = n.x() + n.width() * (right > 1 ? 0.6 : 0.95);
            double y = right > 1 ? n.y() - size(11.5) * 1.6 : n.y() + n.height() * (right > 0 ? 0.02 : 0.38);
            pen.text(n.title(), x, y, 0, Lettering.BOLD, size(11.5), Ink.INK);
            pen.text(value, x, y + size(11.5) * 1.2, 0, Lettering.MONO, size(10.5), ink);
        }
    }

    /** The title alone, in two lines where it needs them. */
    private void simple(Node n, String live, double left, double room) {
        double size = size(12.5);
        Ink ink = n.flagged() ? Ink.MADDER : live != null ? Ink.EMBER : Ink.INK;
        String text = live != null ? live : n.title();
        double middle = n.y() + n.height() / 2;
        int space = text.lastIndexOf(' ', Math.max(1, text.length() / 2 + 2));
        if (pen.width(text, Lettering.BOLD, size) <= room || space < 0 || n.height() < 2.1 * size) {
            pen.text(pen.fit(text, Lettering.BOLD, size, room), left, middle, 0, Lettering.BOLD, size, ink);
        } else {
            pen.text(pen.fit(text.substring(0, space), Lettering.BOLD, size, room), left, middle - size * 0.55, 0, Lettering.BOLD, size,
                    ink);
            pen.text(pen.fit(text.substring(space + 1), Lettering.BOLD, size, room), left, middle + size * 0.55, 0, Lettering.BOLD, size,
                    ink);
        }
    }

    /** A mark at the right of the title: a finding, or that values can change while running. Gives the width it takes. */
    private double badge(Node n) {
        double x = n.x() + n.width() - PAD;
        if (n.flagged()) {
            pen.text("!", x + 2, n.y() + 14, 1, Lettering.BOLD, size(13), Ink.MADDER);
            return 8;
        }
        if (n.live()) {
            pen.circle(x - 1, n.y() + 13, 4, null, Stroke.of(Ink.EMBER, 1.3));
            pen.circle(x - 1, n.y() + 13, 1.7, Ink.EMBER, null);
            return 10;
        }
        return 0;
    }

    /** The summary, with the picture beside it or in its place. */
    private void body(Node n, String live) {
        double left = n.x() + BAND + PAD - 2;
        double room = n.width() - BAND - 2 * PAD + 4;
        boolean labelled = isLabelled(n);
        double bottom = n.y() + (labelled ? 44 : n.height() - 5);
        double top = n.y() + 23;
        double summary = size(11.5);
        Picture picture = n.plate().picture();
        boolean alone = picture.alone() && live == null;
        if (!picture.isEmpty()) {
            if (labelled) {
                // Beside the names of the inputs there is more room than above them.
                double half = n.outputs().size() > 1 ? 0 : n.width() * 0.5;
                double from = alone ? top : n.y() + 44;
                if (half > 0) {
                    draw(picture, n.x() + n.width() - PAD - half + 4, from, half - 4, n.y() + n.height() - 7 - from);
                }
            } else {
                double high = bottom - top;
                double wide = alone ? room : Math.min(Math.max(28, 1.4 * high), n.width() / 2);
                draw(picture, left + room - wide, top, wide, high);
                room -= wide + 5;
            }
        }
        if (!alone) {
            String text = live == null ? n.summary() : live;
            double y = labelled || n.height() <= 50 ? n.y() + 34 : (top + bottom) / 2;
            pen.text(pen.fit(text, Lettering.MONO, summary, room), left, y, 0, Lettering.MONO, summary, live == null ? Ink.FAINT
                    : Ink.EMBER);
        }
    }

    /** Whether ports have names beside them, which then need the room under the summary. */
    private static boolean isLabelled(Node n) {
        return n.ports(PortKind.INPUT).size() > 1 || n.ports(PortKind.OUTPUT).size() > 1;
    }

    /** Draws a picture into a rectangle. */
    public void draw(Picture picture, double x, double y, double width, double height) {
        for (var shape : picture.shapes()) {
            switch (shape) {
                case Picture.Line l -> {
                    List<Point> points = new ArrayList<>();
                    for (int i = 0; i < l.x().length; i++) {
                        points.add(new Point(x + l.x()[i] * width, y + l.y()[i] * height));
                    }
                    pen.line(points, 0, switch (l.weight()) {
                        case AXIS -> Stroke.of(Ink.FAINT, 0.7);
                        case CURVE -> Stroke.of(Ink.INK, 1.4);
                        case DASHED -> new Stroke(Ink.FAINT, 0.9, true);
                    });
                }
                case Picture.Label l -> {
                    double size = size(Math.min(11.5, height / 2));
                    pen.text(l.text(), x + l.x() * width, y + l.y() * height, l.align(), Lettering.MONO, size, Ink.INK);
                }
                case Picture.Fraction f -> fraction(f, x, y, width, height);
                case Picture.Dot d -> pen.circle(x + d.x() * width, y + d.y() * height, 1.8, Ink.INK, null);
            }
        }
    }

    private void fraction(Picture.Fraction f, double x, double y, double width, double height) {
        double size = Math.min(size(11.5), height / 2.05);
        double longest = Math.max(pen.width(f.above(), Lettering.MONO, size), pen.width(f.below(), Lettering.MONO, size));
        if (longest > width) {
            size = Math.max(SMALLEST / scale, size * width / longest);
            longest = width;
        }
        double middle = x + width / 2;
        double bar = y + height / 2;
        pen.text(pen.fit(f.above(), Lettering.MONO, size, width), middle, bar - size * 0.6, 0.5, Lettering.MONO, size, Ink.INK);
        pen.line(List.of(new Point(middle - longest / 2 - 3, bar), new Point(middle + longest / 2 + 3, bar)), 0, Stroke.of(Ink.INK, 1));
        pen.text(pen.fit(f.below(), Lettering.MONO, size, width), middle, bar + size * 0.62, 0.5, Lettering.MONO, size, Ink.INK);
    }

    private void chip(Node n) {
        if (n.chip().isEmpty()) {
            return;
        }
        double size = size(10.5);
        double w = pen.width(n.chip(), Lettering.SANS, size) + 10;
        double x = n.x() + n.width() - w;
        double y = n.y() + n.height() + 3;
        pen.box(x, y, w, 15, 8, Ink.CARD, Stroke.of(Ink.STEEL, 0.8));
        pen.text(n.chip(), x + 5, y + 7.5, 0, Lettering.SANS, size, Ink.STEEL);
    }

    /**
     * Draws the ports.
     *
     * @param wired see {@link #wired}
     * @param named whether single ports have their name as well
     */
    public void ports(Node n, Set<String> wired, boolean named) {
        if (scale < NO_TEXT) {
            return;
        }
        int inputs = n.inputs().size();
        int outputs = n.outputs().size();
        boolean labels = !isSimple() && !n.isSymbol() && (inputs + outputs > 2 || Math.max(inputs, outputs) > 1);
        double half = (n.width() - BAND) / 2 - 12;
        double size = size(11);
        for (Port p : n.ports()) {
            Point at = n.at(p);
            if (p.kind() == PortKind.CONTACT) {
                // A contact is a small square, so that nobody takes it for an input or an output.
                String contact = n.id() + "\0" + p.name();
                if (wired.contains("nets " + contact)) {
                    pen.circle(at.x(), at.y(), 3, Ink.COPPER, null);
                } else if (!wired.contains("net " + contact)) {
                    pen.box(at.x() - 3, at.y() - 3, 6, 6, 0, Ink.PAPER, Stroke.of(Ink.COPPER, 1.2));
                }
                continue;
            }
            boolean input = p.kind() == PortKind.INPUT;
            if (!wired.contains((input ? "in " : "out ") + n.id() + "\0" + p.name())) {
                pen.circle(at.x(), at.y(), 3.5, Ink.PAPER, Stroke.of(Ink.INK, 1.2));
            }
            if (labels && (named || (input ? inputs : outputs) > 1)) {
                label(p, at, size, (input ? outputs : inputs) == 0 ? 2 * half : half);
            }
        }
    }

    private void label(Port p, Point at, double size, double room) {
        String text = pen.fit(p.label(), Lettering.SANS, size, p.side().isUpright() ? room : 30);
        if (p.side() == Side.LEFT) {
            pen.text(text, at.x() + BAND + 6, at.y(), 0, Lettering.SANS, size, Ink.INK);
        } else if (p.side() == Side.RIGHT) {
            pen.text(text, at.x() - 7, at.y(), 1, Lettering.SANS, size, Ink.INK);
        } else {
            pen.text(text, at.x() + 5, at.y() + (p.side() == Side.TOP ? -9 : 9), 0, Lettering.SANS, size, Ink.INK);
        }
    }

    /** A plate that is not there any more. */
    public void ghost(Node n) {
        pen.box(n.x(), n.y(), n.width(), n.height(), ROUND, null, new Stroke(Ink.MADDER, 1.2, true));
        double size = size(12.5);
        pen.text(pen.fit(n.title(), Lettering.SANS, size, n.width() - 2 * PAD), n.x() + BAND + PAD, n.y() + n.height() / 2, 0,
                Lettering.SANS,
                size, Ink.FAINT);
        tag(n, "removed");
    }

    /** A small text above a plate, at its right. */
    public void tag(Node n, String text) {
        if (!isSimple()) {
            double size = size(10);
            double w = pen.width(text, Lettering.SANS, size) + 8;
            pen.box(n.x() + n.width() - w, n.y() - size - 6, w, size + 5, 3, Ink.CARD, Stroke.of(Ink.FAINT, 0.7));
            pen.text(text, n.x() + n.width() - w + 4, n.y() - size / 2 - 3.5, 0, Lettering.SANS, size, Ink.FAINT);
        }
    }

    /** A line that is being drawn. */
    public void sketch(List<Point> way) {
        pen.line(way, 4, Stroke.of(Ink.STEEL, 2));
    }

    /** Names of signals by wire, drawn before the end of the wire where there is room. */
    public void names(Routes routes, Map<Wire, String> texts, Box shown) {
        onWires(routes, texts, shown, (way, text, size) -> {
            Point b = way.getLast();
            Point a = way.get(way.size() - 2);
            double room = Math.abs(b.x() - a.x()) - 12;
            if (a.y() == b.y() && room > 24) {
                boolean right = b.x() > a.x();
                pen.text(pen.fit(text, Lettering.SANS, size, room), right ? b.x() - 9 : b.x() + 9, b.y() - size / 2 - 2, right ? 1 : 0,
                        Lettering.SANS, size, Ink.FAINT);
            }
        });
    }

    /** Values by wire, drawn where the wire leaves its source. */
    public void values(Routes routes, Map<Wire, String> texts, Ink ink, Box shown) {
        onWires(routes, texts, shown, (way, text, size) -> {
            Point a = way.getFirst();
            double w = pen.width(text, Lettering.MONO, size) + 7;
            double x = way.get(1).x() < a.x() ? a.x() - w - 2 : a.x() + 2;
            double y = a.y() - size - 6;
            pen.box(x, y, w, size + 4, 4, Ink.CARD, Stroke.of(ink, 0.8));
            pen.text(text, x + 3.5, y + size / 2 + 2, 0, Lettering.MONO, size, ink);
        });
    }

    /** Draws a text at the way of a wire. */
    private interface AtWire {
        void draw(List<Point> way, String text, double size);
    }

    /** How far a text may reach beyond its wire. */
    private static final double TEXT_ROOM = 120;

    private void onWires(Routes routes, Map<Wire, String> texts, Box shown, AtWire how) {
        if (!isSimple()) {
            texts.forEach((wire, text) -> {
                var way = routes.ways().get(wire);
                if (way != null && shown.meets(Box.aroundPoints(way), TEXT_ROOM)) {
                    how.draw(way, text, size(10.5));
                }
            });
        }
    }
}
