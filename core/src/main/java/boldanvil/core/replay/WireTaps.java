package boldanvil.core.replay;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.diagram.Wire;
import boldanvil.core.edit.Paths;
import boldanvil.core.lower.Names;
import boldanvil.core.sheet.SheetScene;
import boldanvil.core.sheet.SheetSource;
import boldanvil.core.stock.Elements;
import boldanvil.core.stock.Face;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * A project with a tap on every output that drives a wire.
 *
 * @param project with the taps
 * @param names names of the taps by sheet, block id and port
 * @param fed outputs in place of which recorded values are used
 */
record WireTaps(Project project, Map<Source, String> names, Set<Source> fed) {
    private static final String STEM = "zz wire ";

    /** An output on a sheet. */
    record Source(SheetRef sheet, String block, String port) {}

    /**
     * Taps every output whose type is known, bundles have none, and both quantities of each contact of a network element.
     *
     * @param stands the output for which each of some others stands
     */
    static WireTaps of(SheetSource source, Map<Source, Source> stands) {
        Project p = source.project();
        Map<Source, String> names = new LinkedHashMap<>();
        int n = 0;
        for (var e : Paths.of(p).entrySet()) {
            if (e.getValue().isEmpty()) {
                continue;
            }
            SheetRef ref = e.getKey();
            for (Block b : p.sheet(ref).orElseThrow().blocks()) {
                var contacts = Elements.contacts(b);
                if (!contacts.isEmpty()) {
                    p = p.change(ref, sheet -> sheet.change(b.id(), d -> Elements.measuring(d, Elements.CONTACTS)));
                }
                for (Face.Contact c : contacts) {
                    for (String port : List.of(Elements.potential(c), Elements.flow(c))) {
                        String name = STEM + ++n;
                        names.put(new Source(ref, b.id(), port), name);
                        p = tapped(p, ref, b.id(), port, name);
                    }
                }
            }
            for (var link : SheetScene.of(source, ref, e.getValue().getFirst()).links()) {
                Wire w = link.wire();
                var from = new Source(ref, w.from(), w.fromPort());
                if (link.type() != null && !w.isNet() && !names.containsKey(from)) {
                    String name = STEM + ++n;
                    names.put(from, name);
                    p = tapped(p, ref, w.from(), w.fromPort(), name);
                }
            }
        }
        stands.forEach((feed, output) -> names.put(output, names.remove(feed)));
        return new WireTaps(p, names, Set.copyOf(stands.values()));
    }

    private static Project tapped(Project p, SheetRef ref, String block, String port, String name) {
        return p.change(ref, s -> s.tapped(block, port, name));
    }

    /** The address of the tap at an output of a sheet at a diagram path; null where there is none. */
    String address(Source source, String path) {
        String name = names.get(source);
        return name == null ? null : Names.addressOf(path + "/" + name);
    }

    /** Addresses of the taps on a sheet at a diagram path, by wire source. */
    Map<Source, String> addresses(SheetRef ref, String path) {
        Map<Source, String> all = new HashMap<>();
        names.forEach((source, name) -> {
            if (source.sheet().equals(ref)) {
                all.put(source, Names.addressOf(path + "/" + name));
            }
        });
        return all;
    }

    /** Whether a diagram path is that of one of these taps. */
    static boolean isTap(String path) {
        return path.substring(path.lastIndexOf('/') + 1).startsWith(STEM);
    }

    /** Whether an address is one of these taps. */
    static boolean isOwn(String address) {
        return address.contains("." + Names.address(STEM) + "_");
    }
}
