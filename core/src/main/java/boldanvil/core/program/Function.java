package boldanvil.core.program;

import java.util.List;

/**
 * A function of one argument, written in IR: it becomes a static function in C and a static method in Java.
 *
 * @param name an identifier
 * @param parameter the argument, of role LOCAL
 * @param body assignments to LOCAL slots
 * @param result what it returns
 */
public record Function(String name, Slot parameter, List<Stmt> body, Expr result) {
    public Function {
        body = List.copyOf(body);
    }
}
