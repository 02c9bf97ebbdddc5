package boldanvil.app.model;

import boldanvil.core.diagram.BenchLayout;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout.Control;
import boldanvil.core.diagram.BenchLayout.Shape;
import boldanvil.core.program.Tunable;
import boldanvil.core.program.Type;
import boldanvil.core.quantity.Units;
import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;

/** Changes what is on the bench, each as a step that can be undone. */
public final class BenchEdits {
    private final Workspace workspace;

    public BenchEdits(Workspace workspace) {
        this.workspace = workspace;
    }

    public BenchLayout layout() {
        return workspace.project().bench();
    }

    /** @param name what is done, as undo names it */
    public void change(String name, UnaryOperator<BenchLayout> how) {
        workspace.edit(name, p -> p.withBench(how.apply(p.bench())));
    }

    /** Moves a control before another, into that one's group. */
    public void move(String tunable, String before) {
        var all = new ArrayList<>(layout().controls());
        int from = index(all, tunable);
        if (from < 0 || tunable.equals(before)) {
            return;
        }
        Control moved = all.remove(from);
        int to = index(all, before);
        all.add(to < 0 ? all.size() : to, to < 0 ? moved : moved.grouped(all.get(to).group()));
        change("move the control " + moved.title(), b -> b.withControls(all));
    }

    private static int index(List<Control> all, String tunable) {
        for (int i = 0; i < all.size(); i++) {
            if (all.get(i).tunable().equals(tunable)) {
                return i;
            }
        }
        return -1;
    }

    public void remove(Control c) {
        change("remove the control " + c.title(), b -> b.withControls(b.controls().stream().filter(x -> !x.equals(c)).toList()));
    }

    public void replace(Control old, Control next) {
        change("change the control " + old.title(), b -> b.withControls(b.controls().stream().map(x -> x.equals(old) ? next : x).toList()));
    }

    /** A control that suits a tunable: a switch for logic, a slider where there are limits, else a number. */
    public static Control suiting(String part, Tunable t) {
        String title = t.name().substring(t.name().lastIndexOf('.') + 1).replace('_', ' ');
        String unit = t.slot().unit();
        String address = part + "." + t.name();
        if (t.slot().type() == Type.BOOL) {
            return new Control(Shape.SWITCH, title, address, "", 0, 1, 0);
        }
        boolean limited = t.maximum() - t.minimum() < 1e9;
        double initial = Units.fromSi(unit, t.slot().initial());
        double now = Math.max(1, Math.abs(initial));
        return new Control(limited ? Shape.SLIDER : Shape.NUMBER, title, address, unit, limited ? Units.fromSi(unit, t.minimum())
                : initial < 0 ? -10 * now : 0,
                limited ? Units.fromSi(unit, t.maximum()) : 10 * now, 0);
    }

    /** Adds a control for a tunable, if it has none. */
    public boolean addControl(String part, Tunable t) {
        Control c = suiting(part, t);
        if (index(layout().controls(), c.tunable()) >= 0) {
            return false;
        }
        var all = new ArrayList<>(layout().controls());
        all.add(c);
        change("put " + c.title() + " on the bench", b -> b.withControls(all));
        return true;
    }

    /** Adds a pane for a tap, if it is in none. */
    public boolean addTrace(String address, String unit) {
        if (layout().charts().stream().anyMatch(c -> c.allTaps().contains(address))) {
            return false;
        }
        var all = new ArrayList<>(layout().charts());
        String name = Figures.shortName(address);
        String title = Character.toUpperCase(name.charAt(0)) + name.substring(1);
        String free = title;
        for (int n = 2; title(all, free); n++) {
            free = title + " " + n;
        }
        all.add(new Chart(free, unit, List.of(address)));
        change("put " + address + " on the bench", b -> b.withCharts(all));
        return true;
    }

    private static boolean title(List<Chart> all, String title) {
        return all.stream().anyMatch(c -> c.title().equals(title));
    }

    public void replace(Chart old, Chart next) {
        change("change the pane " + old.title(), b -> b.withCharts(b.charts().stream().map(x -> x.equals(old) ? next : x).toList()));
    }

    public void remove(Chart c) {
        change("remove the pane " + c.title(), b -> b.withCharts(b.charts().stream().filter(x -> !x.equals(c)).toList()));
    }

    public void add(Chart c) {
        var all = new ArrayList<>(layout().charts());
        String title = c.title();
        for (int n = 2; title(all, title); n++) {
            title = c.title() + " " + n;
        }
        all.add(c.titled(title));
        change("add a pane", b -> b.withCharts(all));
    }

    /** Keeps a set of values under its name, in place of one that had it. */
    public void keep(BenchLayout.ValueSet set) {
        var all = new ArrayList<>(layout().sets().stream().filter(s -> !s.name().equals(set.name())).toList());
        all.add(set);
        change("save the values as " + set.name(), b -> b.withSets(all));
    }

    /**
     * Puts a block on the bench: controls for its tunables, panes for its taps.
     *
     * @param path place of the block, such as {@code controller/position loop/target}
     * @return how many there are on the bench now
     */
    public int send(String path) {
        int[] sent = {0};
        var system = workspace.review().system();
        system.parts().keySet().forEach(part -> system.program(part).ifPresent(program -> {
            program.tunables().stream().filter(t -> t.path().equals(path)).forEach(t -> {
                addControl(part, t);
                sent[0]++;
            });
            String name = path.startsWith(part + "/") ? path.substring(part.length() + 1).replace('/', '.').replace(' ', '_') : "";
            program.taps().stream().filter(t -> t.name().equals(name) || t.name().startsWith(name + ".")).forEach(t -> {
                addTrace(part + "." + t.name(), t.unit());
                sent[0]++;
            });
        }));
        return sent[0];
    }
}
