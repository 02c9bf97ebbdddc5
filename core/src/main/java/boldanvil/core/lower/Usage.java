package boldanvil.core.lower;

import boldanvil.core.program.Expr;
import boldanvil.core.program.Function;
import boldanvil.core.program.Procedure;
import boldanvil.core.program.Rewriter;
import boldanvil.core.program.Table;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;

/** Collects the functions and tables that procedures use. */
final class Usage {
    private Usage() {}

    static List<Function> functions(List<Procedure> procedures) {
        Set<Function> found = new LinkedHashSet<>();
        procedures.forEach(p -> Rewriter.expressions(p.body(), e -> {
            if (e instanceof Expr.Apply a) {
                found.add(a.function());
            }
        }));
        return List.copyOf(found);
    }

    static List<Table> tables(List<Procedure> procedures) {
        Set<Table> found = new LinkedHashSet<>();
        procedures.forEach(p -> Rewriter.expressions(p.body(), e -> {
            if (e instanceof Expr.Element t) {
                found.add(t.table());
            }
        }));
        return List.copyOf(found);
    }
}
