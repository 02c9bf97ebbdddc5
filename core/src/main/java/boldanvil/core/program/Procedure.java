package boldanvil.core.program;

import java.util.List;

/** A named body of statements. */
public record Procedure(String name, String purpose, List<Stmt> body) {
    public Procedure {
        body = List.copyOf(body);
    }
}
