package boldanvil.core.program;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;

/** Collects the functions and tables that procedures use, directly or through functions. */
public final class Usage {
    private final Set<Function> functions = new LinkedHashSet<>();
    private final Set<Table> tables = new LinkedHashSet<>();

    private Usage(List<Procedure> procedures) {
        procedures.forEach(p -> Rewriter.expressions(p.body(), this::note));
    }

    public static Usage of(List<Procedure> procedures) {
        return new Usage(procedures);
    }

    /** Callees first. */
    public List<Function> functions() {
        return List.copyOf(functions);
    }

    public List<Table> tables() {
        return List.copyOf(tables);
    }

    private void note(Expr e) {
        if (e instanceof Expr.Apply a && !functions.contains(a.function())) {
            Rewriter.expressions(a.function().body(), this::note);
            Rewriter.visit(a.function().result(), this::note);
            functions.add(a.function());
        } else if (e instanceof Expr.Element t) {
            tables.add(t.table());
        }
    }
}
