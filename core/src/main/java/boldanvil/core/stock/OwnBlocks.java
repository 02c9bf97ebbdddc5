package boldanvil.core.stock;

import boldanvil.core.diagram.Block;
import boldanvil.core.diagram.Library;
import boldanvil.core.diagram.OwnBlock;
import boldanvil.core.diagram.Places;
import boldanvil.core.diagram.Project;
import boldanvil.core.quantity.Formula;
import boldanvil.core.quantity.FormulaException;
import boldanvil.core.quantity.Quantity;
import boldanvil.core.quantity.Unit;
import boldanvil.core.quantity.Units;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiConsumer;

/** The own blocks of a project as block types. */
public final class OwnBlocks {
    private OwnBlocks() {}

    /** The type of a block: of the stock, or of an own block where the block is a use of one. */
    public static Optional<BlockType> type(Library library, Block b) {
        var own = library.of(b);
        return own.isPresent() ? own.map(OwnBlocks::type) : Stock.find(b.type());
    }

    /** An own block as a type: a subsystem with parameters. */
    public static BlockType type(OwnBlock own) {
        var builder = BlockType.named(Structure.SUBSYSTEM.id(), own.title(), Structure.SUBSYSTEM.family()).help(own.help());
        own.parameters().forEach(p -> builder.with(Parameter.real(p.name(), p.value(), p.unit(), p.note())));
        Structure.SUBSYSTEM.parameters().forEach(builder::with);
        return builder.summary(own.caption()).picture(v -> own.curve().isBlank() ? Picture.NONE : picture(own, v))
                .role(BlockType.Role.SUBSYSTEM).does(_ -> { });
    }

    private static Picture picture(OwnBlock own, Values v) {
        var use = Block.of("", Structure.SUBSYSTEM.id(), "", 0, 0, v.settings().texts());
        Map<String, Quantity> scope = scope(own, use, v.variables(), (_, _) -> { });
        try {
            double from = Formula.evaluate(own.curveFrom(), scope);
            double to = Formula.evaluate(own.curveTo(), scope);
            return Pictures.formula(from, to, u -> {
                scope.put("u", Quantity.bare(u));
                return Formula.evaluate(own.curve(), scope);
            });
        } catch (FormulaException e) {
            return Picture.NONE;
        }
    }

    /**
     * What the formulas on an own block's sheets may name: what a use may, and the parameters with the values the use gives them.
     *
     * @param outer values that formulas of the use may name
     * @param wrong gets each parameter whose value cannot be found, and why; it is not among the result
     */
    public static Map<String, Quantity> scope(OwnBlock own, Block use, Map<String, Quantity> outer,
            BiConsumer<OwnBlock.Parameter, FormulaException> wrong) {
        Map<String, Quantity> scope = new HashMap<>(outer);
        for (OwnBlock.Parameter p : own.parameters()) {
            try {
                scope.put(p.name(), value(use.settings().getOrDefault(p.name(), p.value()), p.unit(), outer));
            } catch (FormulaException e) {
                scope.remove(p.name());
                wrong.accept(p, e);
            }
        }
        return scope;
    }

    /** What formulas on the sheet with a diagram path may name: the project's variables, and parameters of own blocks around it. */
    public static Map<String, Quantity> scopeAt(Project p, String path, Map<String, Quantity> variables) {
        int end = path.lastIndexOf('/');
        if (end < 0 || p.library().all().isEmpty()) {
            return variables;
        }
        Map<String, Quantity> around = scopeAt(p, path.substring(0, end), variables);
        return Places.find(p, path).flatMap(at -> p.library().of(at.block()).map(own -> scope(own, at.block(), around, (_, _) -> { })))
                .orElse(around);
    }

    /** A bare number is in the unit of the parameter. */
    private static Quantity value(String text, String unit, Map<String, Quantity> outer) {
        Quantity q = Formula.quantity(text, outer);
        var wanted = unit.isBlank() ? Optional.<Unit>empty() : Units.find(unit);
        return wanted.isEmpty() ? q : new Quantity(q.in(unit), wanted.get().dimension());
    }
}
