package boldanvil.core.edit;

import boldanvil.core.diagram.BenchLayout;
import boldanvil.core.diagram.BenchLayout.Binding;
import boldanvil.core.diagram.BenchLayout.Chart;
import boldanvil.core.diagram.BenchLayout.Control;
import boldanvil.core.diagram.BenchLayout.Drawing;
import boldanvil.core.diagram.BenchLayout.Limit;
import boldanvil.core.diagram.BenchLayout.Readout;
import boldanvil.core.diagram.BenchLayout.ValueSet;
import boldanvil.core.diagram.Patch;
import boldanvil.core.diagram.Project;
import boldanvil.core.lower.Names;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;

/** What names blocks from outside their sheet: bench layouts, rigs, patches and bindings of tags. */
final class References {
    private References() {}

    /**
     * Lets everything outside the sheets follow blocks that changed their paths.
     *
     * @param paths former diagram paths with the present ones
     */
    static Project follow(Project after, Map<String, String> paths) {
        Map<String, String> addresses = new LinkedHashMap<>();
        paths.forEach((from, to) -> addresses.put(Names.addressOf(from), Names.addressOf(to)));
        UnaryOperator<String> address = a -> moved(a, addresses, '.');
        UnaryOperator<String> path = a -> moved(a, paths, '/');
        Project next = after.withBench(bench(after.bench(), address)).withRigs(after.rigs().stream().map(r -> r.withPaths(path)).toList());
        for (var e : after.patches().entrySet()) {
            next = next.withPatch(e.getKey(), patch(e.getValue(), t -> terminal(e.getKey(), t, paths)));
        }
        for (var e : after.tags().entrySet()) {
            Map<String, String> bindings = new LinkedHashMap<>();
            e.getValue().bindings().forEach((port, tag) -> bindings.put(port.indexOf('.') < 0 ? terminal(e.getKey(), port, paths)
                    : address.apply(port), tag));
            next = next.withTags(e.getKey(), e.getValue().withBindings(bindings));
        }
        return next;
    }

    /** A name that is one of the former ones, or begins with it and a separator. */
    private static String moved(String name, Map<String, String> names, char separator) {
        for (var e : names.entrySet()) {
            if (name.equals(e.getKey())) {
                return e.getValue();
            }
            if (name.startsWith(e.getKey() + separator)) {
                return e.getValue() + name.substring(e.getKey().length());
            }
        }
        return name;
    }

    /** Rows of a patch name terminals as the sheet does: on a part's own sheet by their name alone. */
    private static String terminal(String part, String terminal, Map<String, String> paths) {
        String moved = paths.get(part + "/" + terminal);
        return moved == null ? terminal : moved.substring(part.length() + 1);
    }

    private static Patch patch(Patch p, UnaryOperator<String> terminal) {
        return new Patch(p.board(), p.clock(), p.safeOnLinkLoss(), p.rows().stream().map(r -> new Patch.Row(terminal.apply(r.terminal()),
                r.peripheral(), r.pin(), r.wire())).toList(), p.others().stream().map(o -> patch(o, terminal)).toList());
    }

    /** A bench layout with other addresses. */
    static BenchLayout bench(BenchLayout b, UnaryOperator<String> a) {
        return new BenchLayout(b.controls().stream().map(c -> new Control(c.shape(), c.title(), a.apply(c.tunable()), c.unit(), c.minimum(),
                c.maximum(), c.rate(), c.step(), c.softMinimum(), c.softMaximum(), c.group(), c.choices())).toList(), b.columns(),
                b.charts().stream().map(c -> chart(c, a)).toList(),
                b.readouts().stream().map(r -> new Readout(r.display(), r.title(), all(r.taps(), a), r.unit(), r.minimum(), r.maximum()))
                        .toList(),
                b.drawings().stream().map(d -> new Drawing(d.title(), d.file(), d.bindings().stream().map(x -> new Binding(x.element(),
                        x.effect(), a.apply(x.tap()), x.low(), x.high(), x.from(), x.to())).toList())).toList(),
                b.limits().stream().map(l -> new Limit(a.apply(l.tap()), l.unit(), l.least(), l.most(), l.rate(), l.seconds())).toList(),
                b.sets().stream().map(s -> set(s, a)).toList());
    }

    private static Chart chart(Chart c, UnaryOperator<String> a) {
        return new Chart(c.title(), c.kind(), c.unit(), all(c.taps(), a), c.rightUnit(), all(c.rightTaps(), a), c.style(), c.base(),
                c.period(), c.decoder(), c.baud());
    }

    private static ValueSet set(ValueSet s, UnaryOperator<String> a) {
        Map<String, Double> values = new LinkedHashMap<>();
        s.values().forEach((k, v) -> values.put(a.apply(k), v));
        return new ValueSet(s.name(), values);
    }

    private static List<String> all(List<String> texts, UnaryOperator<String> a) {
        return texts.stream().map(a).toList();
    }
}
