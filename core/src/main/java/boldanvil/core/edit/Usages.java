package boldanvil.core.edit;

import boldanvil.core.diagram.Project;
import boldanvil.core.finding.Place;
import boldanvil.core.lower.Names;
import boldanvil.core.quantity.Formula;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/** Where something is used. */
public final class Usages {
    /** A place that names it, with what stands there. */
    public record Use(Place place, String text) {}

    private Usages() {}

    /** Places whose formulas name a variable. */
    public static List<Use> variable(Project p, String name) {
        return variables(p).getOrDefault(name, List.of());
    }

    /** Places whose formulas name each variable. */
    public static Map<String, List<Use>> variables(Project p) {
        Set<String> known = p.variables().stream().map(v -> v.name()).collect(Collectors.toSet());
        Map<String, List<Use>> uses = new LinkedHashMap<>();
        Formulas.each(p, (place, text, parameters) -> {
            Formula.names(text, known).stream().filter(n -> known.contains(n) && !parameters.contains(n))
                    .forEach(n -> uses.computeIfAbsent(n, _ -> new ArrayList<>()).add(new Use(place, text)));
            return text;
        });
        return uses;
    }

    /** Places outside the sheets that name a block, or what is in it: the bench, patches and rigs. */
    public static List<Use> block(Project p, String path) {
        String address = Names.addressOf(path);
        List<Use> uses = new ArrayList<>();
        p.bench().controls().stream().filter(c -> isWithin(c.tunable(), address))
                .forEach(c -> uses.add(new Use(Place.bench(c.title()), c.tunable())));
        p.bench().charts().forEach(c -> c.allTaps().stream().filter(t -> isWithin(t, address))
                .forEach(t -> uses.add(new Use(Place.bench(c.title()), t))));
        p.bench().readouts().forEach(r -> r.taps().stream().filter(t -> isWithin(t, address))
                .forEach(t -> uses.add(new Use(Place.bench(r.title()), t))));
        p.bench().drawings().forEach(d -> d.bindings().stream().filter(b -> isWithin(b.tap(), address))
                .forEach(b -> uses.add(new Use(Place.bench(d.title()), b.tap()))));
        p.bench().limits().stream().filter(l -> isWithin(l.tap(), address))
                .forEach(l -> uses.add(new Use(Place.bench("limit on " + l.tap()), l.tap())));
        p.bench().sets().forEach(s -> s.values().keySet().stream().filter(k -> isWithin(k, address))
                .forEach(k -> uses.add(new Use(Place.bench("set " + s.name()), k))));
        p.rigs().forEach(r -> r.paths().stream().filter(b -> b.equals(path) || b.startsWith(path + "/"))
                .forEach(b -> uses.add(new Use(Place.rig(r.name(), b), b))));
        int slash = path.indexOf('/');
        if (slash > 0 && path.indexOf('/', slash + 1) < 0 && p.patches().containsKey(path.substring(0, slash))) {
            String name = path.substring(slash + 1);
            p.patches().get(path.substring(0, slash)).rows().stream().filter(r -> r.terminal().equals(name))
                    .forEach(r -> uses.add(new Use(Place.patch(path.substring(0, slash), name), r.peripheral() + " " + r.pin())));
        }
        return uses;
    }

    private static boolean isWithin(String address, String of) {
        return address.equals(of) || address.startsWith(of + ".");
    }
}
