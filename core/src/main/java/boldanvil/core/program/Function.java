package boldanvil.core.program;

import java.util.List;

/**
 * A function written in IR: it becomes a static function in C and a method in Java.
 *
 * @param name an identifier
 * @param parameters the arguments, of role LOCAL
 * @param body statements on LOCAL slots
 * @param result what it returns
 */
public record Function(String name, List<Slot> parameters, List<Stmt> body, Expr result) {
    public Function {
        parameters = List.copyOf(parameters);
        body = List.copyOf(body);
    }

    /** Whether it can raise a fault and so needs to know the instance it works for. */
    public boolean canFault() {
        return FaultPlaces.canFault(body) || FaultPlaces.canFault(result);
    }
}
