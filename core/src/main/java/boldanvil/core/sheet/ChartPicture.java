package boldanvil.core.sheet;

import boldanvil.core.sheet.Pen.Lettering;
import boldanvil.core.sheet.Pen.Stroke;
import boldanvil.core.sheet.SheetScene.Point;
import boldanvil.core.text.Chart;
import boldanvil.core.text.Chart.Step;
import boldanvil.core.text.Chart.Transition;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

/**
 * A sequential function chart as IEC 61131-3 draws it: steps as boxes, the first with a double edge, transitions as bars across the line
 * with their conditions, a single line where one of several branches is taken, a double one where all are, actions with qualifiers at the
 * right. Where a branch leads to a step that stands elsewhere, an arrow names it.
 */
public final class ChartPicture {
    private static final double STEP_WIDTH = 120;
    private static final double STEP_HEIGHT = 40;
    private static final double QUALIFIER = 46;
    private static final double ACTION_HEIGHT = 22;
    private static final double LINK = 34;
    private static final double GAP = 44;
    private static final double MARGIN = 24;
    private static final double CONDITION = 280;
    private static final double LETTER = 7;

    /** Where a step stands. */
    public record StepBox(Step step, double x, double y) {
        public boolean contains(double px, double py) {
            return px >= x && px <= x + STEP_WIDTH && py >= y && py <= y + STEP_HEIGHT;
        }

        public double middle() {
            return x + STEP_WIDTH / 2;
        }

        public double middleY() {
            return y + STEP_HEIGHT / 2;
        }

        double height() {
            return Math.max(STEP_HEIGHT, step.actions().size() * ACTION_HEIGHT);
        }
    }

    /** Where a transition's bar is; {@code jump} is the step it leads to by an arrow, empty where that stands below. */
    public record Bar(Transition transition, double x, double y, String jump) {
        public boolean contains(double px, double py) {
            return px >= x - 14 && px <= x + conditionWidth(transition) && Math.abs(py - y) < 11;
        }
    }

    private record Line(List<Point> points, boolean twice) {}

    private final Chart chart;
    private final Map<String, StepBox> boxes = new LinkedHashMap<>();
    private final List<Bar> bars = new ArrayList<>();
    private final List<Line> lines = new ArrayList<>();
    private final Set<Transition> joined = new HashSet<>();
    private double width;
    private double height;

    /** Lays out a chart. */
    public ChartPicture(Chart chart) {
        this.chart = chart;
        double x = MARGIN;
        for (Step s : chart.steps()) {
            // Initial steps first; a step that nothing leads to stands beside them.
            if (s.initial() && !boxes.containsKey(key(s.name()))) {
                x = place(s, x, MARGIN) + GAP;
            }
        }
        for (Step s : chart.steps()) {
            if (!boxes.containsKey(key(s.name()))) {
                x = place(s, x, MARGIN) + GAP;
            }
        }
        joins();
        for (StepBox b : boxes.values()) {
            width = Math.max(width, b.x() + stepWidth(b.step()) + MARGIN);
            height = Math.max(height, b.y() + b.height() + MARGIN);
        }
        for (Bar b : bars) {
            width = Math.max(width, b.x() + conditionWidth(b.transition()) + MARGIN);
            height = Math.max(height, b.y() + LINK + MARGIN);
        }
    }

    private static String key(String name) {
        return name.toUpperCase(Locale.ROOT);
    }

    public double width() {
        return width;
    }

    public double height() {
        return height;
    }

    /** The steps in the order in which they were placed. */
    public List<StepBox> steps() {
        return List.copyOf(boxes.values());
    }

    public List<Bar> bars() {
        return List.copyOf(bars);
    }

    private static double stepWidth(Step s) {
        return s.actions().isEmpty() ? STEP_WIDTH : STEP_WIDTH + 16 + QUALIFIER + actionWidth(s);
    }

    private static double actionWidth(Step s) {
        return 14 + LETTER * s.actions().stream().mapToInt(a -> a.action().length()).max().orElse(0);
    }

    private static double conditionWidth(Transition t) {
        return Math.clamp(26 + LETTER * t.condition().length(), 70, CONDITION);
    }

    private List<Transition> from(Step s) {
        return chart.transitions().stream().filter(t -> t.from().getFirst().equalsIgnoreCase(s.name())).toList();
    }

    /** Places a step with all that follows it; gives the right edge of what it took. */
    private double place(Step s, double left, double top) {
        boxes.put(key(s.name()), new StepBox(s, left, top));
        var box = boxes.get(key(s.name()));
        double bottom = top + box.height();
        List<Transition> out = from(s);
        double right = left + stepWidth(s);
        double x = left;
        double branch = bottom + LINK / 2;
        double bar = bottom + LINK;
        List<Double> middles = new ArrayList<>();
        for (Transition t : out) {
            if (t.from().size() > 1) {
                continue;
            }
            double middle = x + STEP_WIDTH / 2;
            middles.add(middle);
            double end = below(t, x, middle, bar);
            right = Math.max(right, end);
            x = end + GAP;
        }
        if (!middles.isEmpty()) {
            double topOfBranch = middles.size() > 1 ? branch : bottom;
            lines.add(new Line(List.of(new Point(box.middle(), top + STEP_HEIGHT),
                    new Point(box.middle(), middles.size() > 1 ? branch : bar)),
                    false));
            if (middles.size() > 1) {
                lines.add(new Line(List.of(new Point(middles.getFirst(), branch), new Point(middles.getLast(), branch)), false));
            }
            for (double m : middles) {
                lines.add(new Line(List.of(new Point(m, topOfBranch), new Point(m, bar)), false));
            }
        }
        return right;
    }

    /** Places transitions that wait for several steps, of which all stand; gives the right edge. */
    private double joins() {
        double right = 0;
        for (Transition t : chart.transitions()) {
            if (t.from().size() > 1 && !joined.contains(t) && t.from().stream().allMatch(n -> boxes.containsKey(key(n)))) {
                joined.add(t);
                right = Math.max(right, join(t));
            }
        }
        return right;
    }

    /** Places a transition and what it leads to; gives the right edge. */
    private double below(Transition t, double left, double middle, double y) {
        List<Step> fresh = t.to().stream().map(chart::step).flatMap(java.util.Optional::stream)
                .filter(s -> !boxes.containsKey(key(s.name()))).toList();
        String jump = t.to().stream().filter(n -> boxes.containsKey(key(n)) || chart.step(n).isEmpty()).findFirst().orElse("");
        bars.add(new Bar(t, middle, y, jump));
        if (fresh.isEmpty() || !jump.isEmpty()) {
            lines.add(new Line(List.of(new Point(middle, y), new Point(middle, y + LINK * 0.7)), false));
            return left + STEP_WIDTH / 2 + conditionWidth(t);
        }
        double top = y + LINK * (fresh.size() > 1 ? 1.4 : 1);
        double x = left;
        double right = left + STEP_WIDTH / 2 + conditionWidth(t);
        List<Double> middles = new ArrayList<>();
        for (Step s : fresh) {
            if (boxes.containsKey(key(s.name()))) {
                continue;
            }
            middles.add(x + STEP_WIDTH / 2);
            double end = place(s, x, top);
            right = Math.max(right, end);
            x = end + GAP;
        }
        if (middles.size() > 1) {
            double both = y + LINK * 0.7;
            lines.add(new Line(List.of(new Point(middle, y), new Point(middle, both)), false));
            lines.add(new Line(List.of(new Point(middles.getFirst() - 10, both), new Point(middles.getLast() + 10, both)), true));
            middles.forEach(m -> lines.add(new Line(List.of(new Point(m, both + 4), new Point(m, top)), false)));
            right = Math.max(right, joins());
        } else {
            lines.add(new Line(List.of(new Point(middle, y), new Point(middles.getFirst(), top)), false));
        }
        return right;
    }

    /** Places a transition that waits for several steps, below the lowest of them; gives the right edge. */
    private double join(Transition t) {
        List<StepBox> waiting = t.from().stream().map(n -> boxes.get(key(n))).filter(java.util.Objects::nonNull).toList();
        double bottom = lowest(waiting) + LINK * 0.7;
        double left = waiting.stream().mapToDouble(StepBox::middle).min().orElse(0);
        double right = waiting.stream().mapToDouble(StepBox::middle).max().orElse(0);
        waiting.forEach(w -> lines.add(new Line(List.of(new Point(w.middle(), w.y() + STEP_HEIGHT), new Point(w.middle(), bottom)),
                false)));
        lines.add(new Line(List.of(new Point(left - 10, bottom), new Point(right + 10, bottom)), true));
        double middle = left;
        lines.add(new Line(List.of(new Point(middle, bottom + 4), new Point(middle, bottom + LINK * 0.7)), false));
        return below(t, left - STEP_WIDTH / 2, middle, bottom + LINK * 0.7);
    }

    private double lowest(List<StepBox> waiting) {
        double lowest = waiting.stream().mapToDouble(w -> w.y() + w.height()).max().orElse(0);
        double left = waiting.stream().mapToDouble(StepBox::x).min().orElse(0);
        double right = waiting.stream().mapToDouble(w -> w.x() + STEP_WIDTH).max().orElse(0);
        for (StepBox b : boxes.values()) {
            if (b.x() < right && b.x() + STEP_WIDTH > left) {
                lowest = Math.max(lowest, b.y() + b.height());
            }
        }
        for (Bar b : bars) {
            if (b.x() >= left && b.x() <= right) {
                lowest = Math.max(lowest, b.y() + LINK);
            }
        }
        return lowest;
    }

    /**
     * Draws the chart.
     *
     * @param active names of the active steps, while it runs
     * @param selected a step or transition that is selected, or null
     */
    public void paint(Pen pen, Set<String> active, Object selected) {
        Stroke ink = Stroke.of(Ink.INK, 1.4);
        for (Line l : lines) {
            pen.line(l.points(), 0, ink);
            if (l.twice()) {
                pen.line(l.points().stream().map(p -> new Point(p.x(), p.y() + 4)).toList(), 0, ink);
            }
        }
        for (StepBox b : boxes.values()) {
            step(pen, b, active.stream().anyMatch(b.step().name()::equalsIgnoreCase), b.step().equals(selected));
        }
        for (Bar b : bars) {
            boolean chosen = b.transition().equals(selected);
            pen.line(List.of(new Point(b.x() - 11, b.y()), new Point(b.x() + 11, b.y())), 0, Stroke.of(chosen ? Ink.STEEL : Ink.INK, 3));
            pen.text(pen.fit(b.transition().condition(), Lettering.MONO, 11.5, CONDITION - 20), b.x() + 17, b.y(), 0, Lettering.MONO, 11.5,
                    chosen ? Ink.STEEL : Ink.INK);
            if (!b.jump().isEmpty()) {
                double y = b.y() + LINK * 0.7;
                pen.polygon(List.of(new Point(b.x(), y + 8), new Point(b.x() - 5, y), new Point(b.x() + 5, y)), Ink.INK);
                pen.text(b.jump(), b.x() + 10, y + 3, 0, Lettering.BOLD, 12, Ink.INK);
            }
        }
    }

    private static void step(Pen pen, StepBox b, boolean active, boolean chosen) {
        pen.box(b.x(), b.y(), STEP_WIDTH, STEP_HEIGHT, 0, Ink.CARD, Stroke.of(chosen ? Ink.STEEL : Ink.INK, chosen ? 2.4 : 1.4));
        if (b.step().initial()) {
            pen.box(b.x() + 4, b.y() + 4, STEP_WIDTH - 8, STEP_HEIGHT - 8, 0, null, Stroke.of(Ink.INK, 1.2));
        }
        if (active) {
            pen.box(b.x() - 4, b.y() - 4, STEP_WIDTH + 8, STEP_HEIGHT + 8, 4, null, Stroke.of(Ink.EMBER, 2.6));
            pen.circle(b.x() + STEP_WIDTH / 2, b.y() + STEP_HEIGHT - 9, 3.5, Ink.EMBER, null);
        }
        double size = 12.5;
        pen.text(pen.fit(b.step().name(), Lettering.BOLD, size, STEP_WIDTH - 18), b.x() + STEP_WIDTH / 2,
                b.y() + (active ? 15 : STEP_HEIGHT / 2),
                0.5, Lettering.BOLD, size, Ink.INK);
        double x = b.x() + STEP_WIDTH + 16;
        double y = b.y();
        double wide = actionWidth(b.step());
        if (!b.step().actions().isEmpty()) {
            pen.line(List.of(new Point(b.x() + STEP_WIDTH, b.y() + ACTION_HEIGHT / 2), new Point(x, b.y() + ACTION_HEIGHT / 2)), 0,
                    Stroke.of(Ink.INK, 1.2));
        }
        for (var a : b.step().actions()) {
            pen.box(x, y, QUALIFIER, ACTION_HEIGHT, 0, Ink.CARD, Stroke.of(Ink.INK, 1));
            pen.box(x + QUALIFIER, y, wide, ACTION_HEIGHT, 0, Ink.CARD, Stroke.of(Ink.INK, 1));
            String qualifier = a.time().isEmpty() ? a.qualifier() : a.qualifier() + " " + a.time().replaceFirst("(?i)^(T|TIME)#", "");
            pen.text(pen.fit(qualifier, Lettering.MONO, 11, QUALIFIER - 6), x + QUALIFIER / 2, y + ACTION_HEIGHT / 2, 0.5, Lettering.MONO,
                    11,
                    Ink.INK);
            pen.text(pen.fit(a.action(), Lettering.MONO, 11.5, wide - 10), x + QUALIFIER + 6, y + ACTION_HEIGHT / 2, 0,
                    Lettering.MONO,
                    11.5, Ink.INK);
            y += ACTION_HEIGHT;
        }
    }
}
