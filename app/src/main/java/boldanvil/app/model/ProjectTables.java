package boldanvil.app.model;

import boldanvil.core.diagram.Patch;
import boldanvil.core.edit.Usages;
import boldanvil.core.estimate.LoadEstimate;
import boldanvil.core.patch.WiringTable;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Variables;
import boldanvil.core.report.Table;
import boldanvil.core.review.Review;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** What a project holds beside its sheets, as tables for people. */
public final class ProjectTables {
    private ProjectTables() {}

    /** Every table that has rows. */
    public static List<Table> of(Review review) {
        List<Table> tables = new ArrayList<>();
        tables.add(variables(review));
        review.project().rigs().forEach(rig -> review.project().parts().forEach(part -> {
            if (!rig.place(part.id()).device().isEmpty()) {
                review.setup(rig, part.id()).ifPresent(setup -> {
                    tables.add(WiringTable.of(setup));
                    tables.add(clock(setup.patch(), part.title()));
                    tables.add(new Table("Tasks of " + part.title() + " on " + setup.board().title(), List.of("Estimated times."),
                            List.of("Task", "Period", "Computing time", "Response time", "Load"), LoadEstimate.of(setup).stream()
                            .map(r -> List.of(r.name(), Figures.seconds(r.periodSeconds()), Figures.seconds(r.seconds()),
                                    Figures.seconds(r.responseSeconds()), String.format(Locale.ROOT, "%.1f %%", 100 * r.load())))
                                    .toList()));
                });
            }
        }));
        tables.add(new Table("Rigs", List.of(), List.of("Rig", "Title", "Terminals", "Part", "Runs as", "Device"),
                review.project().rigs().stream().flatMap(r -> review.project().parts().stream().map(p -> List.of(r.name(), r.title(),
                        r.terminals().name().toLowerCase(Locale.ROOT), p.title(), r.place(p.id()).mode().name().toLowerCase(Locale.ROOT),
                        r.place(p.id()).device()))).toList()));
        tables.add(sizes(review));
        tables.add(new Table("Findings", List.of(), List.of("Severity", "Place", "Cause", "Cure"), review.findings().stream()
                .map(f -> List.of(f.severity().label(), f.place().text(), f.cause(), f.cure())).toList()));
        return tables.stream().filter(t -> !t.rows().isEmpty()).distinct().toList();
    }

    private static Table clock(Patch patch, String part) {
        return new Table("Clock of " + part + " on " + patch.board(), List.of(), List.of("Domain", "Setting"),
                patch.clock().entrySet().stream().map(e -> List.of(e.getKey(), e.getValue())).toList());
    }

    /** The variables with their values and where they are used. */
    public static Table variables(Review review) {
        var values = Variables.resolve(review.project().variableTexts());
        var uses = Usages.variables(review.project());
        return new Table("Variables", List.of(), List.of("Name", "Value", "Computed", "Unit", "Group", "Note", "Uses"),
                review.project().variables().stream().map(v -> {
                    var q = values.values().get(v.name());
                    return List.of(v.name(), v.value(), q == null ? values.errors().getOrDefault(v.name(), "") : computed(q, v.unit()),
                            v.unit().isEmpty() && q != null && q.dimension() != null ? q.dimension().unit() : v.unit(), v.group(), v.note(),
                            Integer.toString(uses.getOrDefault(v.name(), List.of()).size()));
                }).toList());
    }

    /** The value in a unit, or in the basic one where that does not fit. */
    public static String computed(Quantity q, String unit) {
        double v = !unit.isEmpty() && q.fits(unit) ? q.in(unit) : q.value();
        return Figures.text(v, 6, "");
    }

    private static Table sizes(Review review) {
        return new Table("Sizes", List.of("Of the parts as they are computed."), List.of("Part", "Blocks", "Sheets", "Values kept", "Taps",
                "Tunables", "Base sample time"), review.project().parts().stream().map(p -> {
                    var program = review.system().program(p.id());
                    return List.of(p.title(), Integer.toString(p.sheets().stream().mapToInt(s -> s.blocks().size()).sum()),
                            Integer.toString(p.sheets().size()), program.map(q -> Integer.toString(q.slots().size())).orElse(""),
                            program.map(q -> Integer.toString(q.taps().size())).orElse(""),
                            program.map(q -> Integer.toString(q.tunables().size())).orElse(""),
                            program.map(q -> Figures.seconds(q.tickSeconds())).orElse(""));
                }).toList());
    }
}
