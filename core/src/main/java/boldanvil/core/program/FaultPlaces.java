package boldanvil.core.program;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Numbers the places of a program that can raise a fault, from 1, in the order of its text. */
public final class FaultPlaces {
    /** Places beyond have a number in common, and no name. */
    private static final int MOST = 0xFFFF;

    private final Map<String, Integer> numbers = new LinkedHashMap<>();
    private final List<String> paths;

    private FaultPlaces(Program program) {
        program.functions().forEach(f -> {
            note(f.body());
            if (canFault(f.result())) {
                number(f.name());
            }
        });
        program.procedures().forEach(p -> note(p.body()));
        paths = List.copyOf(numbers.keySet());
    }

    public static FaultPlaces of(Program program) {
        return new FaultPlaces(program);
    }

    private void note(List<Stmt> body) {
        for (Stmt s : body) {
            if (canFault(s)) {
                number(s.origin().path());
            }
            s.bodies().forEach(this::note);
        }
    }

    private void number(String path) {
        numbers.putIfAbsent(path, Math.min(numbers.size() + 1, MOST));
    }

    /** The number of a place; 0 where nothing can fault. */
    public int numberOf(String path) {
        return numbers.getOrDefault(path, 0);
    }

    /** All places, in the order of their numbers. */
    public List<String> paths() {
        return paths;
    }

    /** The place a fault slot's value names, or an empty text. */
    public String placeOf(int fault) {
        int n = Fault.placeNumber(fault);
        return n >= 1 && n < MOST && n <= paths.size() ? paths.get(n - 1) : "";
    }

    static boolean canFault(List<Stmt> body) {
        return body.stream().anyMatch(s -> canFault(s) || s.bodies().stream().anyMatch(FaultPlaces::canFault));
    }

    /** Whether the statement itself, not its bodies, can raise a fault. */
    public static boolean canFault(Stmt s) {
        return s instanceof Stmt.Raise || s instanceof Stmt.While || s.expressions().stream().anyMatch(FaultPlaces::canFault);
    }

    static boolean canFault(Expr e) {
        boolean own = switch (e) {
            case Expr.Binary b -> (b.op() == Expr.Op.DIV || b.op() == Expr.Op.REM) && b.type().isInteger();
            case Expr.Convert c -> c.a().type().isFloat() && c.type().isInteger();
            case Expr.Apply a -> a.function().canFault();
            default -> false;
        };
        return own || e.children().stream().anyMatch(FaultPlaces::canFault);
    }
}
