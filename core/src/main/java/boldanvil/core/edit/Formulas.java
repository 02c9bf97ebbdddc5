package boldanvil.core.edit;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Library;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Part;
import boldanvil.core.diagram.Project;
import boldanvil.core.diagram.SheetRef;
import boldanvil.core.finding.Place;
import boldanvil.core.stock.OwnBlocks;
import boldanvil.core.stock.Parameter;
import boldanvil.core.stock.Settings;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Every formula of a project with its place. */
final class Formulas {
    private Formulas() {}

    /** What becomes of a formula. */
    @FunctionalInterface
    interface Change {
        /** @param parameters names that stand for parameters of an own block there, and not for variables of the project */
        String of(Place place, String text, Set<String> parameters);
    }

    /** The project with each formula replaced by what is made of it and its place. */
    static Project each(Project p, Change how) {
        Map<SheetRef, List<String>> paths = Paths.of(p);
        Project next = p.withVariables(p.variables().stream()
                .map(v -> v.valued(how.of(new Place.Variable(v.name()), v.value(), Set.of()))).toList())
                .withParts(p.parts().stream().map(q -> times(q, how)).toList());
        next = next.changeAll((ref, s) -> {
            var own = OwnBlock.holds(ref.sheet()) ? p.library().find(OwnBlock.owner(ref.sheet())) : Optional.<OwnBlock>empty();
            Set<String> parameters = own.map(OwnBlock::names).orElse(Set.of());
            return s.withBlocks(s.blocks().stream().map(b -> block(p.library(), b, Paths.first(paths, ref), parameters, how)).toList());
        });
        for (OwnBlock own : p.library().all()) {
            next = next.withLibrary(next.library().with(next.library().find(own.id()).orElseThrow().withParameters(own.parameters().stream()
                    .map(q -> q.valued(how.of(Place.named("own block " + own.id()), q.value(), Set.of()))).toList())));
        }
        return next;
    }

    private static Part times(Part q, Change how) {
        return new Part(q.id(), q.title(), q.kind(), how.of(Place.sheet(q.id(), "sample time"), q.sampleTime(), Set.of()),
                how.of(Place.sheet(q.id(), "step"), q.step(), Set.of()), q.solver(), q.real(), q.x(), q.y(), q.sheets(), q.look());
    }

    /** A block with each of its formulas replaced. */
    static Block block(Library library, Block b, String path, Set<String> parameters, Change how) {
        Block next = b;
        for (var e : b.settings().entrySet()) {
            if (isFormula(library, b, e.getKey())) {
                next = next.with(e.getKey(), how.of(Place.sheet(path + "/" + b.name(), e.getKey()), e.getValue(), parameters));
            }
        }
        return next;
    }

    private static boolean isFormula(Library library, Block b, String setting) {
        if (setting.equals(Settings.SAMPLE_TIME)) {
            return true;
        }
        var type = OwnBlocks.type(library, b).orElse(null);
        if (type == null) {
            return false;
        }
        String present = type.formerParameters().getOrDefault(setting, setting);
        return type.parameters().stream().anyMatch(q -> q.name().equals(present) && (q.kind() == Parameter.Kind.REAL
                || q.kind() == Parameter.Kind.REALS || q.kind() == Parameter.Kind.LIST));
    }
}
