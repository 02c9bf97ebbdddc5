package boldanvil.core.edit;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.finding.Place;
import boldanvil.core.stock.Parameter;
import boldanvil.core.stock.Settings;
import boldanvil.core.stock.Stock;
import java.util.List;
import java.util.Map;
import java.util.function.BiFunction;

/** Every formula of a project with its place. */
final class Formulas {
    private Formulas() {}

    /** The project with each formula replaced by what is made of it and its place. */
    static Project each(Project p, BiFunction<Place, String, String> how) {
        Map<SheetRef, List<String>> paths = Paths.of(p);
        return p.withVariables(p.variables().stream().map(v -> v.valued(how.apply(new Place.Variable(v.name()), v.value()))).toList())
                .withParts(p.parts().stream().map(q -> part(q, paths, how)).toList());
    }

    private static Part part(Part q, Map<SheetRef, List<String>> paths, BiFunction<Place, String, String> how) {
        Part timed = new Part(q.id(), q.title(), q.kind(), how.apply(Place.sheet(q.id(), "sample time"), q.sampleTime()),
                how.apply(Place.sheet(q.id(), "step"), q.step()), q.solver(), q.real(), q.x(), q.y(), q.sheets(), q.look());
        return timed.withSheets(q.sheets().stream().map(s -> {
            String path = Paths.first(paths, new SheetRef(q.id(), s.id()));
            return s.withBlocks(s.blocks().stream().map(b -> block(b, path, how)).toList());
        }).toList());
    }

    private static Block block(Block b, String path, BiFunction<Place, String, String> how) {
        Block next = b;
        for (var e : b.settings().entrySet()) {
            if (isFormula(b, e.getKey())) {
                next = next.with(e.getKey(), how.apply(Place.sheet(path + "/" + b.name(), e.getKey()), e.getValue()));
            }
        }
        return next;
    }

    private static boolean isFormula(Block b, String setting) {
        if (setting.equals(Settings.SAMPLE_TIME)) {
            return true;
        }
        var type = Stock.find(b.type()).orElse(null);
        if (type == null) {
            return false;
        }
        String present = type.formerParameters().getOrDefault(setting, setting);
        return type.parameters().stream().anyMatch(q -> q.name().equals(present) && (q.kind() == Parameter.Kind.REAL
                || q.kind() == Parameter.Kind.REALS || q.kind() == Parameter.Kind.LIST));
    }
}
