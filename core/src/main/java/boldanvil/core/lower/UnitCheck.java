package boldanvil.core.lower;

import boldanvil.core.finding.Finding;
import boldanvil.core.quantity.Dimension;
import boldanvil.core.stock.BlockType;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Follows units from where they are stated, at inlets, terminals, tunables and constants, through the blocks whose units follow from
 * those of their inputs, and tells where unlike quantities meet. What it cannot know it leaves alone.
 */
final class UnitCheck {
    /** The output has the unit of the inputs named here, which are all alike; {@code *} means every input. */
    private static final Map<String, Set<String>> ALIKE = Map.ofEntries(Map.entry("sum", Set.of("*")), Map.entry("minmax", Set.of("*")),
            Map.entry("switch", Set.of("yes", "no")), Map.entry("saturation", Set.of("u")), Map.entry("limiter", Set.of("*")), Map.entry("deadzone", Set.of("u")),
            Map.entry("ratelimit", Set.of("u")), Map.entry("delay", Set.of("u")), Map.entry("delay of n", Set.of("u")), Map.entry("abs", Set.of("u")),
            Map.entry("hold", Set.of("u")), Map.entry("rate", Set.of("u")), Map.entry("backlash", Set.of("u")), Map.entry("quantiser", Set.of("u")),
            Map.entry("moving", Set.of("u")), Map.entry("median", Set.of("u")), Map.entry("transport delay", Set.of("u")), Map.entry("convert", Set.of("u")),
            Map.entry("round", Set.of("u")), Map.entry("compare", Set.of("*")));

    private final List<FlatBlock> blocks;
    private final List<Finding> findings;
    private final Map<FlatBlock, Dimension> known = new IdentityHashMap<>();

    UnitCheck(List<FlatBlock> blocks, List<Finding> findings) {
        this.blocks = blocks;
        this.findings = findings;
    }

    void check() {
        Map<FlatBlock, List<FlatBlock>> readers = new IdentityHashMap<>();
        for (FlatBlock f : blocks) {
            for (var s : f.sources()) {
                if (s != null) {
                    readers.computeIfAbsent(s.block(), _ -> new ArrayList<>()).add(f);
                }
            }
        }
        var waiting = new ArrayDeque<>(blocks);
        while (!waiting.isEmpty()) {
            FlatBlock f = waiting.poll();
            Dimension d = known.containsKey(f) ? null : stated(f);
            if (d != null) {
                known.put(f, d);
                waiting.addAll(readers.getOrDefault(f, List.of()));
            }
        }
        blocks.forEach(this::judge);
    }

    private Dimension stated(FlatBlock f) {
        String id = f.type().id();
        Set<String> alike = ALIKE.get(id);
        if (alike != null) {
            return id.equals("compare") ? null : inputs(f, alike).values().stream().findFirst().orElse(null);
        }
        Dimension u = f.sources().isEmpty() ? null : input(f, 0);
        return switch (id) {
            case "encoder in" -> Dimension.of("rad").orElseThrow();
            case "inlet", "tunable", "analog in" -> Dimension.of(f.settings().text("unit")).orElse(null);
            case "constant" -> Dimension.ofQuantity(f.settings().text("value")).orElse(null);
            case "time" -> Dimension.TIME;
            case "gain" -> u == null ? null : Dimension.ofQuantity(f.settings().text("k")).map(u::times).orElse(null);
            case "integrator", "accumulator" -> u == null || id.equals("accumulator") && !f.settings().text("k").equals("1") ? null : u.times(Dimension.TIME);
            case "derivative" -> u == null ? null : u.over(Dimension.TIME);
            case "product" -> product(f);
            default -> null;
        };
    }

    private Dimension product(FlatBlock f) {
        String signs = f.settings().text("signs").replaceAll("[^*/×]", "");
        Dimension d = null;
        for (int i = 0; i < f.sources().size(); i++) {
            Dimension u = input(f, i);
            if (u == null || i >= signs.length() || i == 0 && signs.charAt(0) == '/') {
                return null;
            }
            d = d == null ? u : signs.charAt(i) == '/' ? d.over(u) : d.times(u);
        }
        return d;
    }

    private Dimension input(FlatBlock f, int i) {
        var s = f.source(i);
        return s == null || s.output() != 0 ? null : known.get(s.block());
    }

    private Map<String, Dimension> inputs(FlatBlock f, Set<String> names) {
        Map<String, Dimension> found = new java.util.LinkedHashMap<>();
        for (int i = 0; i < f.sources().size(); i++) {
            String name = f.face().inputs().get(i).name();
            Dimension d = input(f, i);
            if (d != null && (names.contains("*") || names.contains(name))) {
                found.put(name, d);
            }
        }
        return found;
    }

    private void judge(FlatBlock f) {
        Set<String> alike = ALIKE.get(f.type().id());
        if (alike != null) {
            String first = null;
            Map<String, Dimension> all = new HashMap<>(inputs(f, alike));
            for (String name : inputs(f, alike).keySet()) {
                if (first == null) {
                    first = name;
                } else if (!all.get(first).fits(all.get(name))) {
                    findings.add(Finding.doubt(f.path() + " · " + name, "It carries " + all.get(name).label() + ", but input " + first + " carries "
                            + all.get(first).label() + ".", "Bring both to one unit, or correct the unit where it is stated."));
                    return;
                }
            }
        }
        boolean says = f.type().role() == BlockType.Role.TAP || f.type().role() == BlockType.Role.OUTLET;
        Dimension carried = says ? input(f, 0) : null;
        if (carried != null) {
            Dimension.of(f.settings().text("unit")).filter(d -> !d.fits(carried)).ifPresent(d -> findings.add(Finding.doubt(f.path() + " · unit",
                    "It says " + f.settings().text("unit") + ", but the signal carries " + carried.label() + ".",
                    "Correct the unit, here or where the signal comes from.")));
        }
    }
}
