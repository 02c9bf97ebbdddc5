package boldanvil.core.lower;

import boldanvil.core.finding.Finding;
import boldanvil.core.finding.Place;
import boldanvil.core.quantity.Dimension;
import boldanvil.core.stock.BlockType;
import boldanvil.core.stock.Face;
import boldanvil.core.stock.UnitFlow;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Follows kinds of quantities from where they are stated, at inlets, terminals, tunables and constants, through the rules of the block
 * types, and reports where unlike ones meet. What is not known is left alone.
 */
final class UnitCheck {
    private final List<FlatBlock> blocks;
    private final Resolver resolver;
    private final List<Finding> findings;
    private final Map<FlatBlock, Dimension[]> known = new IdentityHashMap<>();

    UnitCheck(List<FlatBlock> blocks, Resolver resolver, List<Finding> findings) {
        this.blocks = blocks;
        this.resolver = resolver;
        this.findings = findings;
    }

    void check() {
        Map<FlatBlock, List<FlatBlock>> readers = new IdentityHashMap<>();
        for (FlatBlock f : blocks) {
            known.put(f, new Dimension[f.face().outputs().size()]);
            for (var s : f.sources()) {
                if (s != null) {
                    readers.computeIfAbsent(s.block(), _ -> new ArrayList<>()).add(f);
                }
            }
        }
        var waiting = new ArrayDeque<>(blocks);
        while (!waiting.isEmpty()) {
            FlatBlock f = waiting.poll();
            var flow = new Flow(f, false);
            f.type().units(flow);
            if (flow.changed) {
                waiting.addAll(readers.getOrDefault(f, List.of()));
            }
        }
        blocks.forEach(this::judge);
    }

    private void judge(FlatBlock f) {
        f.type().units(new Flow(f, true));
        boolean shows = f.type().role() == BlockType.Role.TAP || f.type().role() == BlockType.Role.OUTLET;
        Dimension carried = shows ? input(f, 0) : null;
        if (carried != null) {
            Dimension.of(f.settings().text("unit")).filter(d -> !d.fits(carried))
                    .ifPresent(_ -> findings.add(Finding.warning(Place.sheet(f.path(), "unit"),
                    "Its unit is " + f.settings().text("unit") + ", but the signal carries " + carried.label() + ".",
                    "Correct the unit, here or where the signal comes from.")));
        }
    }

    private Dimension input(FlatBlock f, int i) {
        var s = f.source(i);
        return s == null || known.get(s.block()) == null ? null : known.get(s.block())[s.output()];
    }

    /** One block's signals; in the first pass kinds spread, in the second what does not fit is reported. */
    private final class Flow implements UnitFlow {
        private final FlatBlock f;
        private final boolean reports;
        private final Set<String> reported = new HashSet<>();
        private boolean changed;

        Flow(FlatBlock f, boolean reports) {
            this.f = f;
            this.reports = reports;
        }

        @Override
        public Dimension in(String port) {
            List<Face.In> inputs = f.face().inputs();
            for (int i = 0; i < inputs.size(); i++) {
                if (inputs.get(i).name().equals(port)) {
                    return input(f, i);
                }
            }
            return null;
        }

        @Override
        public Dimension param(String name) {
            return resolver.kind(f, name);
        }

        @Override
        public Dimension[] params(String name) {
            return resolver.kinds(f, name);
        }

        @Override
        public void wrong(String parameter, String cause, String cure) {
            report(parameter + cause, Place.sheet(f.path(), parameter), cause, cure);
        }

        @Override
        public String text(String parameter) {
            return f.settings().text(parameter);
        }

        @Override
        public String[] inputs() {
            return f.face().inputs().stream().map(Face.In::name).toArray(String[]::new);
        }

        @Override
        public void out(String port, Dimension d) {
            int o = f.face().outputs().indexOf(port);
            if (d != null && o >= 0 && known.get(f)[o] == null) {
                known.get(f)[o] = d;
                changed = true;
            }
        }

        private Dimension of(String name) {
            return f.face().input(name).isPresent() ? in(name) : f.type().hasParameter(name) ? param(name) : null;
        }

        @Override
        public Dimension alike(String... names) {
            String first = null;
            Dimension common = null;
            for (String name : names) {
                Dimension d = of(name);
                if (d == null) {
                    continue;
                }
                if (common == null) {
                    common = d;
                    first = name;
                } else if (!common.fits(d)) {
                    report(name, "It carries " + d.label() + ", but " + first + " carries " + common.label() + ".",
                            "Convert both to one unit, or correct the unit where it is set.");
                }
            }
            return common;
        }

        @Override
        public void must(String name, Dimension wanted) {
            Dimension d = of(name);
            if (d != null && wanted != null && !d.fits(wanted)) {
                report(name, "It carries " + d.label() + ", but " + wanted.label() + " is expected.",
                        "Correct the unit, here or where the signal comes from.");
            }
        }

        private void report(String name, String cause, String cure) {
            report(name, Place.sheet(f.path(), name), cause, cure);
        }

        private void report(String key, Place place, String cause, String cure) {
            if (reports && reported.add(key)) {
                findings.add(Finding.warning(place, cause, cure));
            }
        }
    }
}
